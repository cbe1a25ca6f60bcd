//! Limits of walkable ground.

use glam::Vec3;

use crate::math::flatten;

/// The least that a foot may be beyond a rim where that is measured about the face, as a part of the radius: a rounding.
const LEAST_REACH: f32 = 1e-3;

/// Limits of walkable ground: from the tuning, ready for use.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Limits {
    /// Cosine of the steepest slope that can be walked on.
    pub least_up: f32,
    /// The same for what is stood on already.
    pub least_up_to_stay: f32,
    /// How far the foot's middle may be beyond an edge, metres.
    pub overhang: f32,
    /// The step height, metres.
    pub step: f32,
    /// Whether the overhang is also kept about the face stood on, so that the way along what tilts has no dents.
    pub evenly: bool,
    /// Whether gravity goes round edges with the foot: what is rolled over is followed as it is touched, not as a rim.
    pub rolls: bool,
}

impl Limits {
    /// The same, as it takes to stay on the ground: a hair more than to land on it, so that what is on the very limit
    /// is one or the other and not both by turns.
    pub fn to_stay(self) -> Limits {
        Limits { least_up: self.least_up_to_stay, overhang: self.overhang * 1.002, ..self }
    }

    /// True where a round foot, which touches `out` from the middle of its round, is no further beyond a rim of the face with normal
    /// `face` than it may be, or than a part of that.
    ///
    /// Measured on the flat alone a foot reaches less far out along an edge that tilts than about the corner at its end. Measured
    /// about the face it reaches as far out everywhere: so far that on the flat it is never further than it may be.
    pub fn holds_beyond_rim(&self, out: Vec3, face: Vec3, up: Vec3, part: f32) -> bool {
        let holds_on_flat = flatten(out, up).length() <= self.overhang * part;
        if !(self.evenly && holds_on_flat) {
            return holds_on_flat;
        }
        let radius = out.length();
        let (sine, slope) = (self.overhang / radius, flatten(face, up).length());
        let cosine = |sine: f32| (1.0 - sine * sine).max(0.0).sqrt();
        let reach = (sine * cosine(slope) - slope * cosine(sine)).max(LEAST_REACH);
        flatten(out, face).length() <= reach * part * radius
    }

    pub fn walkable(&self, normal: Vec3, up: Vec3) -> bool {
        // A slope of exactly the limit is walkable, rounding or not.
        normal.dot(up) >= self.least_up - 2e-6
    }
}
