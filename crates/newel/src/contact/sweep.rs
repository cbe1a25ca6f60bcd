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
use crate::terrain::{Body, Facet, Patch, Round};

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
}

/// How the ends of a core move past obstacles that are taken to stand still.
pub(super) trait Motion: Copy {
    /// After this many advances the last safe pose is returned as the touch. Ten are usual; only motion that grazes a
    /// curved part for a long way needs more.
    const MOST_ADVANCES: usize;
    /// How far the low and the high end have moved after `t` seconds.
    fn at(&self, t: f32) -> (Vec3, Vec3);
    /// The first time from `t` on at which an end's height over a plane, square to `normal`, falls from what it is at
    /// `t` to zero or less; `None` for never.
    fn first_zero(&self, t: f32, heights: (f32, f32), normal: Vec3) -> Option<f32>;
    /// The speed at `t` of the point of the core that is closest to an obstacle, away from it.
    fn leaving(&self, t: f32, core: &Core, closest: &Closest) -> f32;
    /// The bounds of what each end passes, and the fastest that any part moves.
    fn bounds(&self, span: f32) -> [(Vec3, Vec3); 2];
}

/// One arc in the single precision of a patch.
#[derive(Clone, Copy)]
pub(super) struct Arc {
    pub velocity: Vec3,
    pub rate: Vec3,
}

impl Arc {
    fn of(path: &Path) -> Arc {
        Arc { velocity: path.velocity.as_vec3(), rate: path.rate.as_vec3() }
    }

    fn at(&self, t: f32) -> Vec3 {
        self.velocity * t + self.rate * (0.5 * t * t)
    }

    fn speed(&self, t: f32, normal: Vec3) -> f32 {
        (self.velocity + self.rate * t).dot(normal)
    }

    fn first_zero(&self, t: f32, height: f32, normal: Vec3) -> Option<f32> {
        first_zero(height, self.speed(t, normal), self.rate.dot(normal)).map(|wait| t + wait)
    }

    /// An arc stays within the corners of its control polygon.
    fn bounds(&self, span: f32) -> (Vec3, Vec3) {
        let (bend, end) = (self.velocity * (0.5 * span), self.at(span));
        (Vec3::ZERO.min(bend).min(end), Vec3::ZERO.max(bend).max(end))
    }
}

/// Past what stands still both ends move alike.
impl Motion for Arc {
    const MOST_ADVANCES: usize = 48;
    fn at(&self, t: f32) -> (Vec3, Vec3) {
        let moved = Arc::at(self, t);
        (moved, moved)
    }
    fn first_zero(&self, t: f32, heights: (f32, f32), normal: Vec3) -> Option<f32> {
        Arc::first_zero(self, t, heights.0.min(heights.1), normal)
    }
    fn leaving(&self, t: f32, _core: &Core, closest: &Closest) -> f32 {
        self.speed(t, closest.normal)
    }
    fn bounds(&self, span: f32) -> [(Vec3, Vec3); 2] {
        [Arc::bounds(self, span); 2]
    }
}

/// Seen from a body that turns, each end has an arc of its own.
#[derive(Clone, Copy)]
pub(super) struct TwoArcs {
    pub low: Arc,
    pub high: Arc,
}

impl Motion for TwoArcs {
    const MOST_ADVANCES: usize = 480;
    fn at(&self, t: f32) -> (Vec3, Vec3) {
        (self.low.at(t), self.high.at(t))
    }
    fn first_zero(&self, t: f32, heights: (f32, f32), normal: Vec3) -> Option<f32> {
        let (low, high) = (self.low.first_zero(t, heights.0, normal), self.high.first_zero(t, heights.1, normal));
        match (low, high) {
            (Some(low), Some(high)) => Some(low.min(high)),
            (one, other) => one.or(other),
        }
    }
    fn leaving(&self, t: f32, core: &Core, closest: &Closest) -> f32 {
        let axis = core.high - core.low;
        let on_core = closest.on_obstacle + closest.normal * closest.distance;
        let part = (on_core - core.low).dot(axis) / axis.length_squared().max(f32::MIN_POSITIVE);
        let (low, high) = (self.low.speed(t, closest.normal), self.high.speed(t, closest.normal));
        low + (high - low) * part.clamp(0.0, 1.0)
    }
    fn bounds(&self, span: f32) -> [(Vec3, Vec3); 2] {
        [self.low.bounds(span), self.high.bounds(span)]
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

/// The first touch of a shape's segments along `path` among all that is in `patch`; what moves does so if `passing`, and is taken
/// to stand still where it is if not.
///
/// Touching means a gap of zero within `tolerance`. What already touches only stops motion that would close it
/// further by more than `tolerance`: leaving and grazing are free.
pub(crate) fn first_hit(cores: &[Core], path: &Path, patch: &Patch, tolerance: f32, passing: bool) -> Option<Hit> {
    let mut limit = path.span as f32;
    let mut first = None;
    for core in cores {
        if let Some(hit) = first_hit_of(core, path, patch, tolerance, passing, limit) {
            limit = hit.time;
            first = Some(hit);
        }
    }
    first
}

/// The first touch of one of the segments before `limit` seconds.
fn first_hit_of(core: &Core, path: &Path, patch: &Patch, tolerance: f32, passing: bool, mut limit: f32) -> Option<Hit> {
    let fastest = path.velocity.length().max(path.rate.length() * path.span) as f32;
    let Some(stretches) = patch.stretches().filter(|_| passing) else {
        let all = (&patch.facets[..], &patch.rounds[..], (0, 0));
        return Search::of(core, Arc::of(path), tolerance, GRAZING * fastest, limit).through(all);
    };
    let mut found = None;
    for stretch in stretches {
        let body = patch.body(stretch.body);
        let from = (stretch.facets.start, stretch.rounds.start);
        let these = (&patch.facets[stretch.facets.clone()], &patch.rounds[stretch.rounds.clone()], from);
        let hit = if body.is_still() {
            Search::of(core, Arc::of(path), tolerance, GRAZING * fastest, limit).through(these)
        } else {
            let (arcs, speed) = seen_from(&body, core, path, patch);
            Search::of(core, arcs, tolerance, GRAZING * (fastest + speed), limit).through(these)
        };
        if let Some(hit) = hit {
            limit = hit.time;
            found = Some(hit);
        }
    }
    found
}

/// How the ends of a core move in the frame of a body, and how fast the body passes them.
///
/// In a frame that glides and turns with the body, `r` from its place, a point with velocity `w` against the glide and
/// rate `a` has the velocity `w - s × r` and the rate `a - 2 s × w + s × (s × r)`. What is left out grows with the cube
/// of time; [`smooth_span`] says how long that is small.
fn seen_from(body: &Body, core: &Core, path: &Path, patch: &Patch) -> (TwoArcs, f32) {
    let (spin, place) = (body.spin, body.place + body.velocity * patch.posed());
    let against = path.velocity - body.velocity;
    let arc = |end: Vec3| {
        let swept = spin.cross(patch.origin() + end.as_dvec3() - place);
        let velocity = against - swept;
        let rate = path.rate - spin.cross(against) * 2.0 + spin.cross(swept);
        (Arc { velocity: velocity.as_vec3(), rate: rate.as_vec3() }, (body.velocity + swept).length())
    };
    let ((low, one), (high, other)) = (arc(core.low), arc(core.high));
    (TwoArcs { low, high }, one.max(other) as f32)
}

/// The longest that the arcs of [`seen_from`] are right to within `allowed` metres, for every body of the patch.
pub(crate) fn smooth_span(cores: &[Core], path: &Path, patch: &Patch, allowed: f32) -> f64 {
    let mut jerk = 0.0f64;
    for body in patch.bodies().iter().filter(|b| b.spin != DVec3::ZERO) {
        let spin = body.spin.length();
        let place = body.place + body.velocity * patch.posed();
        let off = |end: Vec3| (patch.origin() + end.as_dvec3() - place).length();
        let off = cores.iter().map(|core| off(core.low).max(off(core.high))).fold(0.0, f64::max);
        let against = (path.velocity - body.velocity).length() + path.rate.length() * path.span;
        jerk = jerk.max(spin * (3.0 * path.rate.length() + 3.0 * spin * against + spin * spin * off));
    }
    if jerk > 0.0 { libm::cbrt(6.0 * f64::from(allowed) / jerk) } else { f64::INFINITY }
}

struct Search<'a, M> {
    core: &'a Core,
    motion: M,
    tolerance: f32,
    /// Closing slower than this is grazing, m/s.
    graze: f32,
    limit: f32,
    found: Option<Hit>,
}

/// Facets and rounds, and the index in the patch at which each begin.
type Obstacles<'a> = (&'a [Facet], &'a [Round], (usize, usize));

impl<'a, M: Motion> Search<'a, M> {
    fn of(core: &'a Core, motion: M, tolerance: f32, graze: f32, limit: f32) -> Search<'a, M> {
        Search { core, motion, tolerance, graze, limit, found: None }
    }

    fn through(mut self, (facets, rounds, (first_facet, first_round)): Obstacles<'_>) -> Option<Hit> {
        let pad = Vec3::splat(self.core.radius + 4.0 * self.tolerance);
        let [low, high] = self.motion.bounds(self.limit);
        let min = (self.core.low + low.0).min(self.core.high + high.0) - pad;
        let max = (self.core.low + low.1).max(self.core.high + high.1) + pad;
        for (index, facet) in facets.iter().enumerate() {
            let (low, high) = facet.bounds();
            if low.cmple(max).all() && high.cmpge(min).all() {
                self.facet(first_facet + index, facet);
            }
        }
        for (index, round) in rounds.iter().enumerate() {
            let (low, high) = round.bounds();
            if low.cmple(max).all() && high.cmpge(min).all() {
                self.round(first_round + index, round);
            }
        }
        self.found
    }

    fn facet(&mut self, index: usize, facet: &Facet) {
        // Most facets are passed over here: their plane alone says that they cannot be met in time.
        if self.plane_is_safe(facet, 0.0, -self.tolerance).is_none_or(|t| t >= self.limit) || self.edge_is_safe(facet) {
            return;
        }
        let plane = |search: &Search<'_, M>, t: f32, level: f32| search.plane_is_safe(facet, t, level);
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
        let (low, high) = self.motion.at(t);
        let (low, high) = (facet.height_of(self.core.low + low), facet.height_of(self.core.high + high));
        let side = if low + high < 0.0 { -1.0 } else { 1.0 };
        let under = self.core.radius + facet.uneven + level;
        let heights = (low * side - under, high * side - under);
        if heights.0.min(heights.1) <= 0.0 {
            return Some(t);
        }
        self.motion.first_zero(t, heights, facet.normal * side)
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
            let under = self.core.radius + facet.uneven - self.tolerance;
            let reach = |end: Vec3| away.dot(end - edge.from) - under;
            let heights = (reach(self.core.low), reach(self.core.high));
            heights.0.min(heights.1) > 0.0 && self.motion.first_zero(0.0, heights, away).is_none_or(|t| t >= self.limit)
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
        plane: impl Fn(&Search<'_, M>, f32, f32) -> Option<f32>,
    ) -> Option<(f32, Closest)> {
        let mut t = 0.0;
        let mut core = *self.core;
        let mut closest = closest_to(&core);
        let level = self.level(closest.distance - self.core.radius);
        for _ in 0..M::MOST_ADVANCES {
            let height = closest.distance - self.core.radius - level;
            let touching = height <= 0.5 * self.tolerance && self.motion.leaving(t, &core, &closest) < -self.graze;
            let next = if touching {
                t
            } else {
                self.motion.first_zero(t, self.heights(&core, &closest, height), closest.normal)?
            };
            // Either direction alone keeps the core clear: a face that never closes outranks a closest point that
            // rounding has tilted.
            let next = next.max(plane(self, t, level)?);
            if next >= self.limit {
                return None;
            }
            if next <= t {
                return Some((t, closest));
            }
            t = next;
            let (low, high) = self.motion.at(t);
            core = Core { low: self.core.low + low, high: self.core.high + high, radius: self.core.radius };
            closest = closest_to(&core);
        }
        Some((t, closest))
    }

    /// How high each end of the core is over the plane through the closest points, of which the nearer is `height`.
    fn heights(&self, core: &Core, closest: &Closest, height: f32) -> (f32, f32) {
        let over = (core.high - core.low).dot(closest.normal);
        if over >= 0.0 { (height, height + over) } else { (height - over, height) }
    }
}

#[cfg(test)]
#[path = "sweep_tests.rs"]
mod tests;
