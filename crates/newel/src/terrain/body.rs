//! Pieces of terrain with a motion of their own.

use glam::{DQuat, DVec3};

/// A piece of terrain that moves as one: where it is at the start of a tick and how it moves during it.
///
/// The motion over one tick is a constant screw: it glides at `velocity` and turns at `spin` about its own place.
/// A static body has both at zero. A character is swept against it as it moves, pushed by it, and carried by it
/// while it stands on it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Body {
    /// The game's own name for it; 0 is the world itself.
    pub id: u64,
    /// Its place at the start of the tick, metres.
    pub place: DVec3,
    /// How it is turned at the start of the tick: a unit quaternion, from its own axes to the world's. A standing character keeps its foothold relative to this and `place`.
    pub orientation: DQuat,
    /// How its place moves, metres per second.
    pub velocity: DVec3,
    /// Axis of its turning times the rate, radians per second, right-handed.
    pub spin: DVec3,
    /// How its surface runs though it stays where it is, m/s in its own axes: a conveyor. It carries standing characters.
    pub belt: DVec3,
}

/// Where a body may be, metres from the world's origin, and how fast it may go and spin, m/s and rad/s.
const FARTHEST: f64 = 1e12;
const FASTEST: f64 = 1e5;

impl Body {
    /// The world itself: it stands still for ever.
    pub const WORLD: Body = Body {
        id: 0,
        place: DVec3::ZERO,
        orientation: DQuat::IDENTITY,
        velocity: DVec3::ZERO,
        spin: DVec3::ZERO,
        belt: DVec3::ZERO,
    };

    /// A body that stands still, its axes those of the world.
    #[must_use]
    pub fn still(id: u64, place: DVec3) -> Body {
        Body { id, place, ..Body::WORLD }
    }

    /// A body that gets from one place and orientation to another in `dt` seconds, along the screw between them and
    /// by the shorter turn.
    ///
    /// ```
    /// use newel::Body;
    /// use newel::glam::{DQuat, DVec3};
    /// let lift = Body::between(7, (DVec3::ZERO, DQuat::IDENTITY), (DVec3::Y, DQuat::IDENTITY), 0.5);
    /// assert_eq!(lift.velocity, DVec3::Y * 2.0);
    /// ```
    #[must_use]
    pub fn between(id: u64, from: (DVec3, DQuat), to: (DVec3, DQuat), dt: f64) -> Body {
        let still = Body { id, place: from.0, orientation: from.1, ..Body::WORLD };
        if dt > 0.0 {
            Body { velocity: (to.0 - from.0) / dt, spin: turning::between(from.1, to.1) / dt, ..still }
        } else {
            still
        }
    }

    /// Where it is `t` seconds into the tick.
    #[must_use]
    pub fn pose(&self, t: f64) -> Pose {
        let rate = self.spin.length();
        let axis = if rate > 0.0 { self.spin / rate } else { DVec3::Z };
        Pose { from: self.place, to: self.place + self.velocity * t, axis, angle: rate * t }
    }

    /// The velocity of the point of the body that is at `at`, `t` seconds into the tick; metres per second.
    #[must_use]
    pub fn velocity_at(&self, at: DVec3, t: f64) -> DVec3 {
        self.velocity + self.spin.cross(at - (self.place + self.velocity * t))
    }

    /// How its belt runs in the world, `t` seconds into the tick; metres per second.
    #[must_use]
    pub fn belt_at(&self, t: f64) -> DVec3 {
        if self.belt == DVec3::ZERO {
            DVec3::ZERO
        } else {
            self.pose(t).turn(turning::turned(self.orientation, self.belt))
        }
    }

    /// Where a point given in the body's own axes is at the start of the tick.
    #[must_use]
    pub fn to_world(&self, local: DVec3) -> DVec3 {
        self.place + turning::turned(self.orientation, local)
    }

    /// The point in the body's own axes that is at `world` at the start of the tick.
    #[must_use]
    pub fn to_local(&self, world: DVec3) -> DVec3 {
        turning::turned(self.orientation.conjugate(), world - self.place)
    }

    /// The same body, or the same standing where it is if a number of it makes no sense: a terrain's mistake must not
    /// become the state's.
    pub(crate) fn sane(self) -> Body {
        let unit = (self.orientation.length_squared() - 1.0).abs() < 1e-6;
        let near = self.place.abs().max_element() <= FARTHEST;
        let slow = [self.velocity, self.spin, self.belt].iter().all(|v| v.length() <= FASTEST);
        if unit && near && slow { self } else { Body { id: self.id, ..Body::WORLD } }
    }

    /// True where it neither glides nor turns in this tick.
    #[must_use]
    pub fn is_still(&self) -> bool {
        self.velocity == DVec3::ZERO && self.spin == DVec3::ZERO
    }

    /// True where it moves what stands on it.
    pub(crate) fn carries(&self) -> bool {
        !self.is_still() || self.belt != DVec3::ZERO
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

    /// Where a point was when the tick began that the body has carried to `now`.
    #[must_use]
    pub fn trace_back(&self, now: DVec3) -> DVec3 {
        self.from + Pose { angle: -self.angle, ..*self }.turn(now - self.to)
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

/// Turning by quaternions in plain arithmetic: glam's own may change with features that any crate can switch on.
pub(crate) mod turning {
    use glam::{DQuat, DVec3};

    /// `v` turned by `q`.
    pub fn turned(q: DQuat, v: DVec3) -> DVec3 {
        let axis = DVec3::new(q.x, q.y, q.z);
        let across = axis.cross(v) * 2.0;
        v + across * q.w + axis.cross(across)
    }

    /// `from` turned on by axis times angle.
    pub fn onward(from: DQuat, turn: DVec3) -> DQuat {
        let angle = turn.length();
        if angle == 0.0 {
            return from;
        }
        let (sin, cos) = (libm::sin(0.5 * angle), libm::cos(0.5 * angle));
        let (a, b) = (turn * (sin / angle), DVec3::new(from.x, from.y, from.z));
        let v = b * cos + a * from.w + a.cross(b);
        DQuat::from_xyzw(v.x, v.y, v.z, cos * from.w - a.dot(b))
    }

    /// The turn from `from` to `to` as axis times angle, the shorter way.
    pub fn between(from: DQuat, to: DQuat) -> DVec3 {
        let (a, b) = (DVec3::new(to.x, to.y, to.z), DVec3::new(-from.x, -from.y, -from.z));
        let (axis, cos) = (b * to.w + a * from.w + a.cross(b), to.w * from.w - a.dot(b));
        let sin = axis.length();
        if sin == 0.0 {
            return DVec3::ZERO;
        }
        let half = if cos < 0.0 { -libm::atan2(sin, -cos) } else { libm::atan2(sin, cos) };
        axis * (2.0 * half / sin)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_screw_between_two_poses_leads_from_one_to_the_other() {
        let from = (DVec3::new(1.0, 2.0, 3.0), DQuat::from_axis_angle(DVec3::new(0.6, 0.8, 0.0), 2.5));
        let to = (DVec3::new(-1.0, 2.5, 3.0), DQuat::from_axis_angle(DVec3::new(0.0, 0.6, 0.8), -2.0));
        let body = Body::between(1, from, to, 0.25);
        let local = DVec3::new(0.3, -4.0, 1.5);
        let start = body.to_world(local);
        assert!((start - (from.0 + from.1 * local)).length() < 1e-12);
        let end = body.pose(0.25).carry(start);
        assert!((end - (to.0 + to.1 * local)).length() < 1e-12, "{end}");
        assert!((body.pose(0.25).trace_back(end) - start).length() < 1e-12);
        assert!((body.to_local(start) - local).length() < 1e-12);
        let (before, after) = (body.pose(0.1 - 1e-6).carry(start), body.pose(0.1 + 1e-6).carry(start));
        let speed = body.velocity_at(body.pose(0.1).carry(start), 0.1);
        assert!(((after - before) / 2e-6 - speed).length() < 1e-5, "{speed}");
        let nonsense = Body { spin: DVec3::splat(f64::NAN), ..body };
        assert!(nonsense.sane().is_still() && nonsense.sane().id == 1 && body.sane() == body);
    }

    #[test]
    fn a_quarter_turn_and_a_glide() {
        let body = Body {
            id: 1,
            place: DVec3::new(10.0, 0.0, 0.0),
            velocity: DVec3::new(0.0, 2.0, 0.0),
            spin: DVec3::new(0.0, 0.0, core::f64::consts::PI),
            belt: DVec3::ZERO,
            ..Body::WORLD
        };
        let there = body.pose(0.5).carry(DVec3::new(11.0, 0.0, 0.0));
        assert!((there - DVec3::new(10.0, 2.0, 0.0)).length() < 1e-12, "{there}");
        let speed = body.velocity_at(DVec3::new(11.0, 0.0, 0.0), 0.0);
        assert!((speed - DVec3::new(0.0, 2.0 + core::f64::consts::PI, 0.0)).length() < 1e-12, "{speed}");
        assert!(Body::WORLD.is_still() && !body.is_still());
    }
}
