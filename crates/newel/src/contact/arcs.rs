//! Closed-form paths, and how they look from a body that moves.

use glam::{DVec3, Vec3};

use super::closest::Closest;
use crate::math::first_zero;
use crate::shape::Core;
use crate::terrain::{Body, Patch};

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

    /// The beginning of the path, no longer than `most` metres.
    pub fn cut_to(self, most: f64) -> Path {
        if self.reach() <= most {
            return self;
        }
        // Reach grows at least as fast as time, so this part of the time stays within the length.
        Path { span: self.span * (most / self.reach()), ..self }
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
    /// The first time from the start on at which both ends have risen along `up` as far as they lack.
    fn risen(&self, rise: (f32, f32), up: Vec3) -> Option<f32>;
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
    pub fn of(path: &Path) -> Arc {
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
    fn risen(&self, rise: (f32, f32), up: Vec3) -> Option<f32> {
        Arc::first_zero(self, 0.0, rise.0.max(rise.1), -up)
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
    fn risen(&self, rise: (f32, f32), up: Vec3) -> Option<f32> {
        let end = |arc: &Arc, rise: f32| if rise > 0.0 { arc.first_zero(0.0, rise, -up) } else { Some(0.0) };
        Some(end(&self.low, rise.0)?.max(end(&self.high, rise.1)?))
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

/// How the ends of a core move in the frame of a body, and how fast the body passes them.
///
/// In a frame that glides and turns with the body, `r` from its place, a point with velocity `w` against the glide and
/// rate `a` has the velocity `w - s × r` and the rate `a - 2 s × w + s × (s × r)`. The error grows with the cube
/// of time; [`smooth_span`] says how long that is small.
pub(super) fn seen_from(body: &Body, core: &Core, path: &Path, patch: &Patch) -> (TwoArcs, f32) {
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
