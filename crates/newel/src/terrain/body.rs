//! Pieces of terrain with a motion of their own.

use glam::DVec3;

/// A piece of terrain that moves as one: where it is at the start of a tick and how it moves during it.
///
/// The motion over one tick is a constant screw: it glides at `velocity` and turns at `spin` about its own place.
/// What stands still has both at zero. Ticks do not move along with bodies yet: a facet counts where it is when the
/// tick begins, and a character that a body has come to overlap by then is pushed out.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Body {
    /// The game's own name for it; 0 is the world itself.
    pub id: u64,
    /// Its place at the start of the tick, metres.
    pub place: DVec3,
    /// How its place moves, metres per second.
    pub velocity: DVec3,
    /// Axis of its turning times the rate, radians per second, right-handed.
    pub spin: DVec3,
}

impl Body {
    /// The world itself: it stands still for ever.
    pub const WORLD: Body = Body { id: 0, place: DVec3::ZERO, velocity: DVec3::ZERO, spin: DVec3::ZERO };

    /// Where it is `t` seconds into the tick.
    #[must_use]
    pub fn pose(&self, t: f64) -> Pose {
        let rate = self.spin.length();
        let axis = if rate > 0.0 { self.spin / rate } else { DVec3::Z };
        Pose { from: self.place, to: self.place + self.velocity * t, axis, angle: rate * t }
    }

    /// The velocity of the point of the body that is at `at` now, metres per second.
    #[must_use]
    pub fn velocity_at(&self, at: DVec3) -> DVec3 {
        self.velocity + self.spin.cross(at - self.place)
    }

    /// True where it neither glides nor turns in this tick.
    #[must_use]
    pub fn is_still(&self) -> bool {
        self.velocity == DVec3::ZERO && self.spin == DVec3::ZERO
    }
}

/// How a body has moved since the tick began: a turn about its place, then a glide.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Pose {
    from: DVec3,
    to: DVec3,
    axis: DVec3,
    angle: f64,
}

impl Pose {
    /// Where a point of the body is now that was at `start` when the tick began.
    #[must_use]
    pub fn carry(&self, start: DVec3) -> DVec3 {
        self.to + self.turn(start - self.from)
    }

    /// Where a direction of the body points now that pointed along `start` when the tick began.
    #[must_use]
    pub fn turn(&self, start: DVec3) -> DVec3 {
        if self.angle == 0.0 {
            return start;
        }
        // Rodrigues' rotation formula.
        let (sin, cos) = (libm::sin(self.angle), libm::cos(self.angle));
        start * cos + self.axis.cross(start) * sin + self.axis * (self.axis.dot(start) * (1.0 - cos))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_quarter_turn_and_a_glide() {
        let body = Body {
            id: 1,
            place: DVec3::new(10.0, 0.0, 0.0),
            velocity: DVec3::new(0.0, 2.0, 0.0),
            spin: DVec3::new(0.0, 0.0, core::f64::consts::PI),
        };
        let there = body.pose(0.5).carry(DVec3::new(11.0, 0.0, 0.0));
        assert!((there - DVec3::new(10.0, 2.0, 0.0)).length() < 1e-12, "{there}");
        let speed = body.velocity_at(DVec3::new(11.0, 0.0, 0.0));
        assert!((speed - DVec3::new(0.0, 2.0 + core::f64::consts::PI, 0.0)).length() < 1e-12, "{speed}");
        assert!(Body::WORLD.is_still() && !body.is_still());
    }
}
