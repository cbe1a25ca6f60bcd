//! The limits of a level: what they do to whoever comes to them.

use glam::{DVec3, Vec3};

use super::heading::Heading;
use super::intent::Intent;
use crate::command::Command;
use crate::fingerprint::Fingerprint;
use crate::math::{direction, flatten};
use crate::state::State;
use crate::terrain::{Facet, Footing, Hold, Patch, RayHit, Sensor, Terrain, Timetable, When};

/// Effect of a bound.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(rename_all = "snake_case"))]
pub enum AtBounds {
    /// It stops there, as at a wall that nobody sees: see [`Bounds::around`].
    #[default]
    Stops,
    /// It goes on at the other side: see [`Bounds::crossed`].
    Wraps,
    /// It is led back inside: see [`Bounds::drive`].
    TurnsBack,
    /// Nothing but that the game hears of it: see [`Bounds::crossed`].
    Reports,
}

/// A box that a level's characters are kept to, in one way or another. A side at infinity is none.
///
/// ```
/// use newel::{AtBounds, Bounds, Intent, Mesh, Runner, Tuning, glam::{DVec3, Vec3}};
/// let floor = [[-20.0, 0.0, -20.0], [20.0, 0.0, -20.0], [20.0, 0.0, 20.0], [-20.0, 0.0, 20.0f32]];
/// let level = Mesh::new(&floor, &[0, 1, 2, 0, 2, 3])?;
/// let tuning = Tuning::walker();
/// let bounds = Bounds::across([-5.0, -5.0], [5.0, 5.0], AtBounds::Stops);
/// let mut hero = Runner::spawn(&level, &tuning, [0.0, 0.0, 0.0])?;
/// for _frame in 0..180 {
///     hero.advance(1.0 / 60.0, &bounds.around(&level), &tuning, |_| Intent::toward(Vec3::X), |_| {})?;
/// }
/// assert!((hero.pose().position.x - 4.7).abs() < 1e-3, "its radius from the bound");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Bounds {
    /// The lower corner, in the world, metres.
    pub low: DVec3,
    /// The upper corner.
    pub high: DVec3,
    /// Effect of the bounds.
    pub at: AtBounds,
    /// Surface number of walls that stop: the game's own number.
    pub surface: u16,
}

/// A bound that was crossed.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Crossed {
    /// Unit vector out of the bounds: the side where it is farthest out.
    pub side: Vec3,
    /// How far out it is there, metres.
    pub by: f64,
    /// The command for the game, if the character goes on at the other side.
    pub command: Option<Command>,
}

/// Where a heading that leads out is turned round it leads in by at least this much.
const LEADS_IN: f32 = 0.1;
/// Walls that nobody sees reach this far beyond the box asked for, metres.
const BEYOND: f32 = 1.0;
/// Their numbers among the world's facets are the last ones.
const LAST_FACET: u32 = u32::MAX;

impl Bounds {
    /// A box between two corners.
    #[must_use]
    pub fn new(low: DVec3, high: DVec3, at: AtBounds) -> Bounds {
        Bounds { low: low.min(high), high: low.max(high), at, surface: 0 }
    }

    /// The same over the map where +Y is up, x and z: open above and below.
    #[must_use]
    pub fn across(low: [f64; 2], high: [f64; 2], at: AtBounds) -> Bounds {
        let [low, high] = [(low, f64::NEG_INFINITY), (high, f64::INFINITY)].map(|([x, z], y)| DVec3::new(x, y, z));
        Bounds::new(low, high, at)
    }

    /// How far a place is out, along each axis, and which way; zero inside.
    #[must_use]
    pub fn out(&self, place: DVec3) -> DVec3 {
        place - place.max(self.low).min(self.high)
    }

    /// The terrain with walls at the bounds, where they [stop](AtBounds::Stops); else as it is.
    #[must_use]
    pub fn around<'a>(&self, terrain: &'a dyn Terrain) -> Bounded<'a> {
        Bounded { bounds: *self, terrain }
    }

    /// The intent for the next tick: the player's `own`, but led back inside where it is outside and [turns
    /// back](AtBounds::TurnsBack).
    #[must_use]
    pub fn drive(&self, own: Intent, me: &State) -> Intent {
        let back = direction(flatten((-self.out(me.position)).as_vec3(), me.up));
        let Some(back) = back.filter(|_| self.at == AtBounds::TurnsBack) else { return own };
        // A velocity that leads in is left alone.
        if let Heading::World(way) = own.heading
            && direction(flatten(way, me.up)).is_some_and(|way| way.dot(back) >= LEADS_IN)
        {
            return own;
        }
        own.led(Heading::World(back), own.face)
    }

    /// Whether it is out of bounds after a tick, and what to command for that. Feet count, not the whole shape.
    #[must_use]
    pub fn crossed(&self, me: &State) -> Option<Crossed> {
        let out = self.out(me.position);
        let axis = (0..3).reduce(|a, b| if out[b].abs() > out[a].abs() { b } else { a })?;
        if out[axis] == 0.0 || !out.is_finite() {
            return None;
        }
        let mut side = Vec3::ZERO;
        side[axis] = out[axis].signum() as f32;
        let wraps = (self.at == AtBounds::Wraps).then(|| Command::Shift { by: self.round(me.position) - me.position });
        Some(Crossed { side, by: out[axis].abs(), command: wraps })
    }

    /// The same place inside, by whole lengths of the box.
    fn round(&self, place: DVec3) -> DVec3 {
        let size = self.high - self.low;
        let wrapped = self.low + (place - self.low - size * ((place - self.low) / size).floor());
        DVec3::select(size.is_finite_mask() & size.cmpgt(DVec3::ZERO), wrapped, place)
    }
}

/// A terrain with the walls of [`Bounds`] that stop.
#[derive(Clone, Copy)]
pub struct Bounded<'a> {
    bounds: Bounds,
    terrain: &'a dyn Terrain,
}

impl Bounds {
    /// Adds the walls that reach into a patch: where they [stop](AtBounds::Stops).
    pub fn gather(&self, patch: &mut Patch) {
        if self.at != AtBounds::Stops {
            return;
        }
        let (low, high) = patch.bounds();
        let (low, high) = (low - BEYOND, high + BEYOND);
        for (number, plane) in [self.low, self.high].into_iter().enumerate() {
            let local = (plane - patch.origin()).as_vec3();
            for axis in (0..3).filter(|&axis| local[axis] >= low[axis] && local[axis] <= high[axis]) {
                let at = |x: f32, y: f32| {
                    let mut p = Vec3::splat(local[axis]);
                    p[(axis + 1) % 3] = x;
                    p[(axis + 2) % 3] = y;
                    p
                };
                let (u, v) = ((axis + 1) % 3, (axis + 2) % 3);
                let corners = [at(low[u], low[v]), at(high[u], low[v]), at(high[u], high[v]), at(low[u], high[v])];
                let id = LAST_FACET - 4 * axis as u32 - 2 * number as u32;
                for (n, [a, b, c]) in [[0, 1, 2], [0, 2, 3]].into_iter().enumerate() {
                    let facet = Facet::new(corners[a], corners[b], corners[c]);
                    facet
                        .into_iter()
                        .for_each(|f| patch.add_facet(Facet { surface: self.surface, id: id - n as u32, ..f }));
                }
            }
        }
    }
}

impl Bounded<'_> {
    /// The stamp of a terrain within these bounds.
    fn marked(&self, terrain: u64) -> u64 {
        let mut print = Fingerprint::new();
        print.u64(terrain);
        self.bounds.low.to_array().iter().chain(&self.bounds.high.to_array()).for_each(|x| print.f64(*x));
        print.u64(self.bounds.at as u64 | u64::from(self.bounds.surface) << 8);
        print.value()
    }
}

impl Terrain for Bounded<'_> {
    fn gather(&self, when: When, patch: &mut Patch) {
        self.terrain.gather(when, patch);
        self.bounds.gather(patch);
    }

    fn stamp(&self, when: When, within: (DVec3, DVec3)) -> Option<u64> {
        Some(self.marked(self.terrain.stamp(when, within)?))
    }

    fn timetable(&self, when: When, within: (DVec3, DVec3)) -> Option<Timetable> {
        let table = self.terrain.timetable(when, within)?;
        Some(Timetable { stamp: self.marked(table.stamp), ..table })
    }

    fn sensors(&self, when: When, within: (DVec3, DVec3), found: &mut Vec<Sensor>) {
        self.terrain.sensors(when, within, found);
    }

    fn footing(&self, surface: u16) -> Footing {
        self.terrain.footing(surface)
    }

    fn hold(&self, surface: u16) -> Hold {
        self.terrain.hold(surface)
    }

    fn wave(&self, zone: u64, place: DVec3, when: When, t: f64) -> f64 {
        self.terrain.wave(zone, place, when, t)
    }

    /// Nobody sees the walls: a ray goes through.
    fn cast(&self, when: When, from: DVec3, along: Vec3, length: f64) -> Option<RayHit> {
        self.terrain.cast(when, from, along, length)
    }
}

impl core::fmt::Debug for Bounded<'_> {
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        write!(f, "Bounded({:?})", self.bounds)
    }
}
