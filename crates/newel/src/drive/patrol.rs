//! Going to and fro, or about, by itself: a driver for simple agents. It turns at what bars its way, and at bounds.

use glam::{DVec3, Vec3};

use super::heading::{Face, Heading};
use super::intent::Intent;
use super::part_of_full;
use crate::math::{any_square_to, direction, flatten, turned_left};
use crate::outcome::Readout;
use crate::state::State;

/// How a [`Patrol`] goes.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(default))]
pub struct Pacing {
    /// How fast, 0 to 1: 1 is full speed.
    pub speed: f32,
    /// How long it stands before it turns, seconds.
    pub pause: f64,
    /// Whether it turns at edges; else it walks off them.
    pub guard: bool,
    /// The corners of a box, in the world, metres, that it turns back into. The lower one first.
    pub bounds: Option<[DVec3; 2]>,
    /// After how long it takes another way for no reason, seconds; a random way then, and wherever it turns. To and fro if `None`.
    pub wanders: Option<f64>,
}

impl Default for Pacing {
    /// To and fro at full speed, turning at once, never off an edge.
    fn default() -> Pacing {
        Pacing { speed: 1.0, pause: 0.0, guard: true, bounds: None, wanders: None }
    }
}

/// Something that it touches turns it, if it is in its way by at least this much: a wall met more askew leads along.
const IN_THE_WAY: f32 = 0.3;
/// A random way leads off what barred it, and back into bounds, by at least this much.
const LEADS_OFF: f32 = 0.3;
/// A bound that is further off than this, metres, is not looked at; and at one that is nearer than this it turns.
const FAR: f64 = 100.0;
const AT_BOUND: f64 = 0.002;
/// A character that reaches a bound within this time is about to stop, seconds.
const STOPS: f64 = 0.3;
/// Random ways tried for that.
const TRIES: u32 = 8;

/// Goes one way until something is in its way, then back: the driver for a guard, a fish, or a gull on a rail.
///
/// A small plain state. Once a tick [`Patrol::drive`] makes the intent. Several that walk into each other turn, as at walls.
///
/// ```
/// use newel::{Intent, Mesh, Patrol, Pacing, Runner, Tuning, glam::Vec3};
/// // A roof of 8 m; nothing below.
/// let roof = [[-4.0, 0.0, -4.0], [4.0, 0.0, -4.0], [4.0, 0.0, 4.0], [-4.0, 0.0, 4.0f32]];
/// let level = Mesh::new(&roof, &[0, 1, 2, 0, 2, 3])?;
/// let tuning = Tuning::walker();
/// let mut gull = Runner::spawn(&level, &tuning, [0.0, 0.0, 0.0])?;
/// let mut patrol = Patrol::new(Pacing::default(), Vec3::X, 1);
/// for _frame in 0..600 {
///     gull.advance(1.0 / 60.0, &level, &tuning, |me| patrol.drive(Intent::default(), me, me.last), |_| {})?;
/// }
/// assert!(patrol.turns() >= 4 && gull.character.mode == newel::Mode::Ground);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Patrol {
    /// How it goes; may be changed on the way.
    pub pacing: Pacing,
    /// Where it goes; only the part square to up counts.
    way: Vec3,
    seed: u64,
    turns: u32,
    /// When it last took a way, by the character's clock, and until when it stands; nothing before it is first asked.
    taken: Option<f64>,
    stands_until: f64,
}

impl Patrol {
    /// One that goes along `way` at first. The seed decides the ways of one that wanders.
    #[must_use]
    pub fn new(pacing: Pacing, way: Vec3, seed: u64) -> Patrol {
        Patrol { pacing, way, seed, turns: 0, taken: None, stands_until: f64::NEG_INFINITY }
    }

    /// How often it has turned.
    #[must_use]
    pub fn turns(&self) -> u32 {
        self.turns
    }

    /// The intent for the next tick of the character `me`: `own` with the heading of the patrol. `last` is what the tick before read;
    /// without it, it turns at bounds only.
    pub fn drive(&mut self, own: Intent, me: &State, last: Option<&Readout>) -> Intent {
        let taken = *self.taken.get_or_insert(me.clock);
        if let Some(off) = self.turned_by(me, last) {
            self.take_another(me, Some(off));
            self.stands_until = me.clock + self.pacing.pause.max(0.0);
        } else if self.pacing.wanders.is_some_and(|after| me.clock - taken >= after) && !self.is_stopping(me) {
            self.take_another(me, self.back(me));
        }
        let stands = me.clock < self.stands_until;
        let speed = part_of_full(self.pacing.speed);
        let way = self.way_over_the_map(me);
        let heading = match self.end_of_way(me, way) {
            _ if stands => Heading::World(Vec3::ZERO),
            Some((place, _)) => Heading::To { place, speed },
            None => Heading::World(way * speed),
        };
        let mut intent = own.led(heading, Face::Movement);
        intent.guard |= self.pacing.guard;
        intent
    }

    fn way_over_the_map(&self, me: &State) -> Vec3 {
        direction(me.keeps.flat(flatten(self.way, me.up)))
            .or_else(|| direction(me.keeps.flat(me.facing)))
            .unwrap_or(me.facing)
    }

    /// The way off what turns it now, if anything does.
    fn turned_by(&self, me: &State, last: Option<&Readout>) -> Option<Vec3> {
        let way = self.way_over_the_map(me);
        let at_bound = self.end_of_way(me, way).filter(|(place, _)| (*place - me.position).length() < AT_BOUND);
        let back = self.back(me).or(at_bound.map(|(_, off)| off)).filter(|back| back.dot(way) < 0.0);
        let bar = last.and_then(|last| last.barred).map(|by| by.normal);
        back.or(bar.filter(|off| off.dot(way) < -IN_THE_WAY))
    }

    /// The way back into its bounds, if it is out of them.
    fn back(&self, me: &State) -> Option<Vec3> {
        let [low, high] = self.pacing.bounds?;
        let inside = me.position.max(low).min(high);
        direction(flatten((inside - me.position).as_vec3(), me.up))
    }

    /// True where it is soon to stop at a bound, and could not turn aside before that.
    fn is_stopping(&self, me: &State) -> bool {
        let end = self.end_of_way(me, self.way_over_the_map(me));
        end.is_some_and(|(place, _)| (place - me.position).length() < STOPS * me.velocity.length())
    }

    /// Where its way comes to a bound, if that is near, and the way off that: it stops there, and does not run out first.
    fn end_of_way(&self, me: &State, way: Vec3) -> Option<(DVec3, Vec3)> {
        let [low, high] = self.pacing.bounds?;
        let (from, way) = (me.position, way.as_dvec3());
        let side = |axis: usize| {
            let bound = if way[axis] > 0.0 { high[axis] } else { low[axis] };
            let time = (bound - from[axis]) / way[axis];
            (0.0..FAR).contains(&time).then_some((time, axis))
        };
        let (time, axis) = (0..3).filter_map(side).min_by(|a, b| a.0.total_cmp(&b.0))?;
        let mut off = Vec3::ZERO;
        off[axis] = -way[axis].signum() as f32;
        Some((from + way * time, direction(flatten(off, me.up))?))
    }

    fn take_another(&mut self, me: &State, off: Option<Vec3>) {
        let way = self.way_over_the_map(me);
        self.turns += 1;
        self.taken = Some(me.clock);
        self.way = if self.pacing.wanders.is_some() { self.random_way(me, off) } else { -way };
    }

    fn random_way(&self, me: &State, off: Option<Vec3>) -> Vec3 {
        let any = any_square_to(me.up);
        let ways = (0..TRIES).map(|n| {
            let dice = mixed(self.seed ^ (u64::from(self.turns) << 8 | u64::from(n)));
            turned_left(any, me.up, (dice >> 40) as f32 / (1 << 24) as f32 * core::f32::consts::TAU)
        });
        let leads_off = |way: &Vec3| {
            let flat = direction(me.keeps.flat(*way));
            flat.is_some_and(|flat| off.is_none_or(|off| flat.dot(off) > LEADS_OFF))
        };
        ways.into_iter().find(leads_off).or(off).unwrap_or(any)
    }
}

/// After SplitMix64 by Steele, Lea and Flood, 2014: every bit of the seed reaches every bit of the result.
fn mixed(seed: u64) -> u64 {
    let z = seed.wrapping_mul(0x9E37_79B9_7F4A_7C15).wrapping_add(0x9E37_79B9_7F4A_7C15);
    let z = (z ^ (z >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
    let z = (z ^ (z >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
    z ^ (z >> 31)
}
