//! A way over a bend of a surface: a line and an arc, in either order, in the upright plane of the way.

use glam::{DVec2, DVec3};

/// A line and an arc that begin along one direction and end along another.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Bend {
    /// Distance from the start to the point where the tangents at both ends meet, metres.
    pub before: f64,
    /// Distance from that point to the end, metres.
    pub after: f64,
    /// Angle between the tangents, radians.
    pub angle: f64,
}

impl Bend {
    /// The bend of a displacement that begins along `first` and ends along `last`. `None` if the tangents do not meet over it.
    pub fn between(gone: DVec3, [first, last]: [DVec3; 2], up: DVec3) -> Option<Bend> {
        // In the upright plane: horizontal distance and height.
        let flat = |v: DVec3| DVec2::new((v - up * v.dot(up)).length(), v.dot(up));
        let (gone, first, last) = (flat(gone), flat(first).normalize(), flat(last).normalize());
        let turn = first.perp_dot(last);
        let (before, after) = (gone.perp_dot(last) / turn, first.perp_dot(gone) / turn);
        let angle = libm::atan2(turn.abs(), first.dot(last));
        (before >= 0.0 && after >= 0.0).then_some(Bend { before, after, angle })
    }

    /// Length of the line and the arc, metres.
    pub fn length(&self) -> f64 {
        // An arc of this angle is as long as its tangents times this.
        let half = 0.5 * self.angle;
        (self.before - self.after).abs() + 2.0 * self.before.min(self.after) * half / libm::tan(half)
    }
}
