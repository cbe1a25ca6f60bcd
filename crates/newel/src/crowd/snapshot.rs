//! A crowd as it stood when the tick began: what everyone sees of everyone else, whoever moves first.

use glam::DVec3;

#[cfg(feature = "parallel")]
use super::AT_A_TIME;
use super::pair::{Gap, Seen};
use super::{Heads, Member};
use crate::command::Command;
use crate::math::any_square_to;
use crate::shape::{Form, Shape};
use crate::state::State;
use crate::terrain::Layers;
use crate::terrain::cells::{Cell, Cells};
use crate::tuning::Tuning;

/// Time in which an overlap of soft characters decays to 1/e, seconds.
const SOFT: f64 = 0.1;
/// How fast it slips off a head, m/s.
const SLIPS: f64 = 2.0;
/// A character up to this height over another stands on it, metres.
pub(super) const ON_IT: f64 = 0.02;
/// A foothold that is not where it was by more than this, metres, is none any more.
const KEPT: f64 = 1e-3;
/// Names of those that have none begin here, by their place in the crowd.
const UNNAMED: u64 = 1 << 63;

/// What is further off than a character reaches by more than this, metres, it does not meet: over what counts as touching.
pub(super) const SPARE: f64 = 0.05;

#[derive(Debug, Default)]
pub(super) struct Snapshot {
    all: Vec<One>,
    cells: Cells,
    /// For each whom it may meet in the tick.
    near: Vec<Vec<Near>>,
    /// Surface number of the planes between characters.
    pub surface: u16,
}

/// Another whom one may meet in the tick.
#[derive(Clone, Copy, Debug)]
pub(super) struct Near {
    /// Its place in the crowd.
    pub other: usize,
    /// The gap to it.
    pub gap: Gap,
}

#[derive(Clone, Copy, Debug)]
pub(super) struct One {
    pub seen: Seen,
    pub id: u64,
    /// The body that it stands on, and where on it: 0 and zero if none.
    pub stands_on: u64,
    pub foot: DVec3,
    /// Its feet, and from there to the point of it that its foothold is of.
    pub feet: DVec3,
    pub to_foot: DVec3,
    on: Layers,
    solid: Layers,
    soft: Layers,
    weight: f64,
    heads: Heads,
}

impl Snapshot {
    /// Takes note of everyone.
    pub fn take<M>(&mut self, members: &[Member<M>], tunings: &[Tuning], dt: f64) {
        self.all.clear();
        self.all.extend(
            members.iter().enumerate().map(|(number, member)| one(number, member, &tunings[member.tuning], dt)),
        );
        self.sort_in();
    }

    /// Whoever is carried gets as much further as what carries it: the upper and the lower of each pair, from the lowest up.
    pub fn reach_further(&mut self, carried: &[(usize, usize)]) {
        for (above, below) in carried {
            self.all[*above].seen.reach += self.all[*below].seen.reach;
        }
        self.sort_in();
    }

    /// Finds for each whom it may meet.
    fn sort_in(&mut self) {
        self.cells.clear();
        for (number, one) in self.all.iter().enumerate() {
            let (middle, whole) = (one.seen.middle(), one.seen.whole());
            self.cells.insert(Cell::of(middle, whole), whole, number as u32);
        }
        self.near.resize_with(self.all.len(), Vec::new);
        let (all, cells) = (&self.all, &self.cells);
        let find = |(me, near): (usize, &mut Vec<Near>)| find_near(all, cells, me, near);
        #[cfg(feature = "parallel")]
        {
            use rayon::prelude::*;
            self.near.par_iter_mut().with_min_len(AT_A_TIME).enumerate().for_each(find);
        }
        #[cfg(not(feature = "parallel"))]
        self.near.iter_mut().enumerate().for_each(find);
    }

    pub fn count(&self) -> usize {
        self.all.len()
    }

    pub fn one(&self, number: usize) -> &One {
        &self.all[number]
    }

    pub fn seen(&self, number: usize) -> &Seen {
        &self.all[number].seen
    }

    /// True where one that stood on another does no more stand where it stood on it: somebody was moved by the game.
    pub fn has_lost_foothold(&self, upper: usize, lower: usize) -> bool {
        let (me, it) = (self.one(upper), self.one(lower));
        (it.feet + me.foot - me.feet - me.to_foot).length() > KEPT
    }

    /// True where these two cannot be in one place.
    pub fn are_solid(&self, a: usize, b: usize) -> bool {
        let (a, b) = (&self.all[a], &self.all[b]);
        a.solid.meets(b.on) && b.solid.meets(a.on)
    }

    fn are_soft(&self, a: usize, b: usize) -> bool {
        let (one, other) = (&self.all[a], &self.all[b]);
        one.soft.meets(other.on) && other.soft.meets(one.on) && !self.are_solid(a, b)
    }

    /// Everyone else whom it may meet in the tick, in the order of the crowd.
    pub fn near(&self, me: usize) -> &[Near] {
        &self.near[me]
    }

    /// How far it is pushed in a tick of `dt` seconds: out of those that are soft to it, the lighter of two further; and off heads that nobody
    /// stands on.
    pub fn pushed(&self, me: usize, dt: f64) -> DVec3 {
        let mine = &self.all[me];
        let parts = 1.0 - libm::exp(-dt / SOFT);
        // They are added up by their names.
        let mut pushes: Vec<(u64, DVec3)> = Vec::new();
        for &Near { other, gap } in self.near(me) {
            let it = &self.all[other];
            let (soft, slips) = (self.are_soft(me, other), it.heads == Heads::SlipOff && self.are_solid(me, other));
            if !soft && !slips {
                continue;
            }
            let flat = gap.away - mine.seen.up * gap.away.dot(mine.seen.up);
            if soft && gap.wide < 0.0 && mine.weight + it.weight > 0.0 {
                pushes.push((it.id, flat * (-gap.wide * parts * it.weight / (mine.weight + it.weight))));
            } else if slips && gap.wide < ON_IT && gap.is_over(mine.seen.up) {
                let side = any_square_to(mine.seen.up.as_vec3()).as_dvec3();
                let out = flat.try_normalize().unwrap_or(side);
                pushes.push((it.id, out * (SLIPS * dt)));
            }
        }
        pushes.sort_unstable_by_key(|push| push.0);
        pushes.into_iter().map(|push| push.1).sum()
    }
}

/// Finds whom one may meet in the tick, in the order of the crowd.
fn find_near(all: &[One], cells: &Cells, me: usize, near: &mut Vec<Near>) {
    let mine = &all[me];
    let (middle, looks) = (mine.seen.middle(), mine.seen.whole());
    near.clear();
    cells.each_near(middle - looks, middle + looks, |other| {
        let other = other as usize;
        let its = &all[other];
        let most = its.seen.whole() + looks;
        if other == me || (its.seen.middle() - middle).length_squared() > most * most {
            return;
        }
        let gap = mine.gap(its);
        if gap.wide <= mine.seen.reach + its.seen.reach + SPARE {
            near.push(Near { other, gap });
        }
    });
    near.sort_unstable_by_key(|near| near.other);
}

impl One {
    /// The gap to another. Those in one place part to one side and to the other, by their names.
    pub fn gap(&self, its: &One) -> Gap {
        let side = any_square_to(self.seen.up.as_vec3()).as_dvec3();
        self.seen.gap(&its.seen, if self.id < its.id { side } else { -side })
    }
}

fn one<M>(number: usize, member: &Member<M>, tuning: &Tuning, dt: f64) -> One {
    let (me, who) = (&member.character.state, member.modifiers.who);
    let shape = tuning.shape_in(me.stance);
    One {
        seen: Seen { velocity: me.velocity, reach: reach(member, tuning, dt), ..seen(me, &shape) },
        id: if who.id == 0 { UNNAMED + number as u64 } else { who.id },
        stands_on: if me.is_on_ground() { me.ground.body() } else { 0 },
        foot: me.foot.as_dvec3(),
        feet: me.position,
        to_foot: (me.up * shape.rounding()).as_dvec3(),
        on: who.on,
        solid: member.solid,
        soft: member.soft,
        weight: f64::from(member.weight),
        heads: member.heads,
    }
}

/// Where one is that stands still.
pub(super) fn seen(me: &State, shape: &Shape) -> Seen {
    let (up, axis) = (me.up.as_dvec3(), me.axis.as_dvec3());
    let placed =
        Seen { low: me.position, high: me.position, radius: 0.0, sides: None, up, velocity: DVec3::ZERO, reach: 0.0 };
    if shape.form == Form::Box {
        let plane = me.keeps.normal;
        let middle = me.position + up * f64::from(0.5 * shape.height);
        let upright = !me.keeps.is_top_view(me.up);
        let along = if upright { me.axis * (0.5 * shape.height) } else { any_square_to(me.up) * shape.radius };
        let across = plane.cross(along).normalize_or_zero() * shape.radius;
        let deep = plane * if upright { shape.radius } else { 0.5 * shape.height };
        return Seen {
            low: middle,
            high: middle,
            sides: Some([along, across, deep].map(|side| side.as_dvec3())),
            ..placed
        };
    }
    let radius = f64::from(shape.radius.min(0.5 * shape.height));
    let low = me.position + up * radius;
    Seen { low, high: low + axis * (f64::from(shape.height) - 2.0 * radius), radius, ..placed }
}

/// The furthest that it can get in a tick: by its speed, by all it may gain, and by what the game does to it.
fn reach<M>(member: &Member<M>, tuning: &Tuning, dt: f64) -> f64 {
    let (me, values, now) = (&member.character.state, tuning.values(), &member.modifiers);
    let ground = values.ground;
    let own = f64::from(ground.acceleration.max(ground.reversal).max(ground.deceleration).max(values.air.acceleration));
    let eased = ground.ease.map_or(0.0, |ease| f64::from(ground.speed * now.speed / ease.max(1e-3)));
    let pull = tuning.falling_gravity().max(tuning.rising_gravity())
        * f64::from(now.gravity)
        * f64::from(me.weight.length().max(1.0));
    let gains = own * f64::from(now.acceleration) + eased + pull;
    let jumps = tuning.take_off_speed() * f64::from(now.jump_height.max(1.0)).sqrt();
    let dashes = values.dash.map_or(0.0, |dash| f64::from(dash.distance / dash.time.max(1e-3)));
    let mut reach = (me.velocity.length() + jumps + dashes + gains * dt) * dt + f64::from(ground.step);
    for command in &member.commands {
        reach += match command {
            Command::Displace { by } | Command::Shift { by } => by.length(),
            Command::Teleport { to, .. } => (*to - me.position).length(),
            Command::Launch(launch) => launch.velocity.length() * dt,
            _ => 0.0,
        };
    }
    reach.min(FARTHEST)
}

/// Nobody is looked for further off than this, metres.
const FARTHEST: f64 = 2000.0;
