//! A crowd as it stood when the tick began: what everyone sees of everyone else, whoever moves first.

use glam::DVec3;

use super::pair::{Gap, Seen};
use super::{Heads, Member};
use crate::command::Command;
use crate::math::any_square_to;
use crate::terrain::Layers;
use crate::terrain::cells::{Cell, Cells};
use crate::tuning::Tuning;

/// What soft ones are in each other is gone to 1/e in this time, seconds.
const SOFT: f64 = 0.1;
/// How fast it slips off a head, m/s, and how near to it, metres.
const SLIPS: f64 = 2.0;
const ON_IT: f64 = 0.02;
/// Names of those that have none begin here, by their place in the crowd.
const UNNAMED: u64 = 1 << 63;

#[derive(Debug, Default)]
pub(super) struct Snapshot {
    all: Vec<One>,
    cells: Cells,
    /// What the walls between them are made of.
    pub surface: u16,
}

#[derive(Clone, Copy, Debug)]
struct One {
    seen: Seen,
    id: u64,
    on: Layers,
    solid: Layers,
    soft: Layers,
    weight: f64,
    heads: Heads,
    /// How far it looks for others, metres from its middle.
    looks: f64,
}

impl Snapshot {
    /// Takes note of everyone.
    pub fn take<M>(&mut self, members: &[Member<M>], tunings: &[Tuning], dt: f64) {
        self.all.clear();
        self.cells.clear();
        for (number, member) in members.iter().enumerate() {
            let Some(tuning) = tunings.get(member.tuning) else { continue };
            let seen = seen(member, tuning, dt);
            self.cells.insert(Cell::of(seen.middle(), seen.whole()), number as u32);
            let who = member.modifiers.who;
            self.all.push(One {
                seen,
                id: if who.id == 0 { UNNAMED + number as u64 } else { who.id },
                on: who.on,
                solid: member.solid,
                soft: member.soft,
                weight: f64::from(member.weight),
                heads: member.heads,
                looks: seen.whole(),
            });
        }
    }

    pub fn seen(&self, number: usize) -> &Seen {
        &self.all[number].seen
    }

    pub fn id(&self, number: usize) -> u64 {
        self.all[number].id
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

    /// Hands on everyone else whom it may meet in the tick.
    pub fn each_near(&self, me: usize, mut found: impl FnMut(usize, &Seen)) {
        let mine = &self.all[me];
        let (middle, looks) = (mine.seen.middle(), DVec3::splat(mine.looks));
        self.cells.each_near(middle - looks, middle + looks, |other| {
            let other = other as usize;
            let it = &self.all[other].seen;
            if other != me && (it.middle() - middle).length() <= it.whole() + mine.looks {
                found(other, it);
            }
        });
    }

    /// The gap between two. Those in one place part to one side and to the other, by their names.
    pub fn gap(&self, me: usize, other: usize) -> Gap {
        let (mine, its) = (&self.all[me], &self.all[other]);
        let side = any_square_to(mine.seen.up.as_vec3()).as_dvec3();
        mine.seen.gap(&its.seen, if mine.id < its.id { side } else { -side })
    }

    /// How far it is pushed in a tick of `dt` seconds: out of those that are soft to it, the lighter of two further; and off heads that nobody
    /// stands on.
    pub fn pushed(&self, me: usize, dt: f64) -> DVec3 {
        let mine = &self.all[me];
        let parts = 1.0 - libm::exp(-dt / SOFT);
        // They are found in any order, and added up by their names.
        let mut pushes: Vec<(u64, DVec3)> = Vec::new();
        self.each_near(me, |other, _| {
            let it = &self.all[other];
            let (soft, slips) = (self.are_soft(me, other), it.heads == Heads::SlipOff && self.are_solid(me, other));
            if !soft && !slips {
                return;
            }
            let gap = self.gap(me, other);
            let flat = gap.away - mine.seen.up * gap.away.dot(mine.seen.up);
            if soft && gap.wide < 0.0 && mine.weight + it.weight > 0.0 {
                pushes.push((it.id, flat * (-gap.wide * parts * it.weight / (mine.weight + it.weight))));
            } else if slips && gap.wide < ON_IT && gap.is_over(mine.seen.up) {
                let side = any_square_to(mine.seen.up.as_vec3()).as_dvec3();
                let out = flat.try_normalize().unwrap_or(side);
                pushes.push((it.id, out * (SLIPS * dt)));
            }
        });
        pushes.sort_unstable_by_key(|push| push.0);
        pushes.into_iter().map(|push| push.1).sum()
    }
}

/// What the others see of one.
fn seen<M>(member: &Member<M>, tuning: &Tuning, dt: f64) -> Seen {
    let me = &member.character.state;
    let shape = tuning.shape_in(me.stance);
    let radius = f64::from(shape.radius.min(0.5 * shape.height));
    let (up, axis) = (me.up.as_dvec3(), me.axis.as_dvec3());
    let low = me.position + up * radius;
    let high = low + axis * (f64::from(shape.height) - 2.0 * radius);
    Seen { low, high, radius, up, velocity: me.velocity, reach: reach(member, tuning, dt) }
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
