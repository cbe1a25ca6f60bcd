//! When a moving core first touches: conservative advancement along the true path.
//!
//! A path is a closed-form arc, `v t + a t² / 2`, not a chord. Along any direction in which an obstacle is known to
//! lie behind a plane the gap is a quadratic of time, so the first moment it can close is exact; advancing to the
//! latest such moment and asking for closest points again converges on first touch and never passes it
//! (Mirtich, *Impulse-based Dynamic Simulation*, 1996, chapter 3, with a quadratic in place of a speed bound).
//!
//! Two directions serve: the one between the closest points, and the face's own normal. The second is what keeps
//! floors of any triangulation free of bumps: a facet in the plane one moves along never closes along its normal.

use glam::{DVec3, Vec3};

use super::closest::{Closest, to_facet, to_round};
use crate::math::first_zero;
use crate::shape::Core;
use crate::terrain::{Facet, Patch, Round};

/// A closed-form motion: displacement `velocity * t + rate * t² / 2` for `span` seconds.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Path {
    /// Velocity at the start, m/s.
    pub velocity: DVec3,
    /// Constant acceleration, m/s².
    pub rate: DVec3,
    /// How long it lasts, seconds.
    pub span: f64,
}

impl Path {
    /// A straight way, gone in one second.
    pub fn straight(way: Vec3) -> Path {
        Path { velocity: way.as_dvec3(), rate: DVec3::ZERO, span: 1.0 }
    }

    /// How far it has gone after `t` seconds.
    pub fn at(&self, t: f64) -> DVec3 {
        self.velocity * t + self.rate * (0.5 * t * t)
    }

    /// The velocity after `t` seconds.
    pub fn velocity_at(&self, t: f64) -> DVec3 {
        self.velocity + self.rate * t
    }

    /// A bound on the distance it can go.
    pub fn reach(&self) -> f64 {
        self.velocity.length() * self.span + self.rate.length() * (0.5 * self.span * self.span)
    }

    /// Bounds of all it passes: an arc stays within the corners of its control polygon.
    pub fn bounds(&self) -> (Vec3, Vec3) {
        let bend = (self.velocity * (0.5 * self.span)).as_vec3();
        let end = self.at(self.span).as_vec3();
        (Vec3::ZERO.min(bend).min(end), Vec3::ZERO.max(bend).max(end))
    }

    fn local(&self) -> LocalPath {
        LocalPath { velocity: self.velocity.as_vec3(), rate: self.rate.as_vec3(), span: self.span as f32 }
    }
}

/// The same in the single precision of a patch.
#[derive(Clone, Copy)]
struct LocalPath {
    velocity: Vec3,
    rate: Vec3,
    span: f32,
}

impl LocalPath {
    fn at(&self, t: f32) -> Vec3 {
        self.velocity * t + self.rate * (0.5 * t * t)
    }
}

/// What was touched first.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Obstacle {
    /// Index into the patch's facets.
    Facet(usize),
    /// Index into the patch's rounds.
    Round(usize),
}

/// The first touch of a sweep.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Hit {
    /// Seconds along the path; every earlier pose is clear.
    pub time: f32,
    /// The closest points at that pose.
    pub closest: Closest,
    /// Whose they are.
    pub obstacle: Obstacle,
}

/// A motion that closes by less than this part of its length only grazes: single precision tells no better.
const GRAZING: f32 = 1e-6;
/// After this many advances the last safe pose is returned as the touch. Ten are usual; only motion that grazes a
/// curved part for a long way needs more.
const MOST_ADVANCES: usize = 48;

/// The first touch of `core` along `path` among all that is in `patch`.
///
/// Touching means a gap of zero within `tolerance`. What already touches only stops motion that would close it
/// further by more than `tolerance`: leaving and grazing are free.
pub(crate) fn first_hit(core: &Core, path: &Path, patch: &Patch, tolerance: f32) -> Option<Hit> {
    let (least, most) = path.bounds();
    let pad = Vec3::splat(core.radius + 4.0 * tolerance);
    let min = core.low.min(core.high) + least - pad;
    let max = core.low.max(core.high) + most + pad;
    let local = path.local();
    let graze = GRAZING * local.velocity.length().max(local.rate.length() * local.span);
    let mut search = Search { core, path: local, tolerance, graze, limit: local.span, found: None };
    for (index, facet) in patch.facets.iter().enumerate() {
        let (low, high) = facet.bounds();
        if low.cmple(max).all() && high.cmpge(min).all() {
            search.facet(index, facet);
        }
    }
    for (index, round) in patch.rounds.iter().enumerate() {
        let (low, high) = round.bounds();
        if low.cmple(max).all() && high.cmpge(min).all() {
            search.round(index, round);
        }
    }
    search.found
}

struct Search<'a> {
    core: &'a Core,
    path: LocalPath,
    tolerance: f32,
    /// Closing slower than this is grazing, m/s.
    graze: f32,
    limit: f32,
    found: Option<Hit>,
}

impl Search<'_> {
    fn facet(&mut self, index: usize, facet: &Facet) {
        // Most facets are passed over here: their plane alone says that they cannot be met in time.
        if self.plane_is_safe(facet, 0.0, -self.tolerance).is_none_or(|t| t >= self.limit) || self.edge_is_safe(facet) {
            return;
        }
        let plane = |search: &Search<'_>, t: f32, level: f32| search.plane_is_safe(facet, t, level);
        if let Some((time, closest)) = self.advance(|core| to_facet(core, facet), plane) {
            self.limit = time;
            self.found = Some(Hit { time, closest, obstacle: Obstacle::Facet(index) });
        }
    }

    fn round(&mut self, index: usize, round: &Round) {
        if let Some((time, closest)) = self.advance(|core| to_round(core, round), |_, t, _| Some(t)) {
            self.limit = time;
            self.found = Some(Hit { time, closest, obstacle: Obstacle::Round(index) });
        }
    }

    /// The time until which the face's own plane keeps the gap over `level`, from the pose at `t` on: `None` for
    /// ever, and `t` itself where the plane says nothing.
    fn plane_is_safe(&self, facet: &Facet, t: f32, level: f32) -> Option<f32> {
        let moved = self.path.at(t);
        let (low, high) = (facet.height_of(self.core.low + moved), facet.height_of(self.core.high + moved));
        let side = if low + high < 0.0 { -1.0 } else { 1.0 };
        let gap = (low * side).min(high * side) - self.core.radius - facet.uneven;
        if gap <= level {
            return Some(t);
        }
        let normal = facet.normal * side;
        let speed = (self.path.velocity + self.path.rate * t).dot(normal);
        first_zero(gap - level, speed, self.path.rate.dot(normal)).map(|wait| t + wait)
    }

    /// True where one of the edges alone says that the facet cannot be met in time: seen straight at the edge from the
    /// end of the core nearer to the plane, all of the facet lies behind it.
    fn edge_is_safe(&self, facet: &Facet) -> bool {
        let (low, high) = (facet.height_of(self.core.low), facet.height_of(self.core.high));
        let (near, height) = if low.abs() <= high.abs() { (self.core.low, low) } else { (self.core.high, high) };
        facet.edges().iter().any(|edge| {
            let beyond = edge.beyond(near);
            if beyond <= 0.0 {
                return false;
            }
            let away = facet.normal * height + edge.outward * (beyond / edge.outward.length_squared());
            let length = away.length();
            let away = away / length;
            let reach = |end: Vec3| away.dot(end - edge.from);
            let gap = reach(self.core.low).min(reach(self.core.high)) - self.core.radius - facet.uneven;
            gap > -self.tolerance
                && first_zero(gap + self.tolerance, self.path.velocity.dot(away), self.path.rate.dot(away))
                    .is_none_or(|t| t >= self.limit)
        })
    }

    /// How deep a gap that is `start` at first may become: to the tolerance, or by about half of it where it is that
    /// deep already. Whatever closes further is stopped, and set back by more than that.
    fn level(&self, start: f32) -> f32 {
        (-self.tolerance).min(start - 0.6 * self.tolerance)
    }

    fn advance(
        &self,
        closest_to: impl Fn(&Core) -> Closest,
        plane: impl Fn(&Search<'_>, f32, f32) -> Option<f32>,
    ) -> Option<(f32, Closest)> {
        let mut t = 0.0;
        let mut closest = closest_to(self.core);
        let level = self.level(closest.distance - self.core.radius);
        for _ in 0..MOST_ADVANCES {
            let height = closest.distance - self.core.radius - level;
            let speed = (self.path.velocity + self.path.rate * t).dot(closest.normal);
            let touching = height <= 0.5 * self.tolerance && speed < -self.graze;
            let wait = if touching { 0.0 } else { first_zero(height, speed, self.path.rate.dot(closest.normal))? };
            // Either direction alone keeps the core clear: a face that never closes outranks a closest point that
            // rounding has tilted.
            let next = (t + wait).max(plane(self, t, level)?);
            if next >= self.limit {
                return None;
            }
            if next <= t {
                return Some((t, closest));
            }
            t = next;
            closest = closest_to(&self.core.moved(self.path.at(t)));
        }
        Some((t, closest))
    }
}

#[cfg(test)]
#[path = "sweep_tests.rs"]
mod tests;
