//! A pendulum in space: round a hook on a taut rope.

use glam::DVec3;

/// One piece of a swing, by the splitting of Strang (1968): half of what drives it at its beginning, the great circle at one speed,
/// half of what drives it at its end. It runs backward as it runs forward, so that its energy comes and goes by a part of a
/// ten-thousandth, and nothing adds up.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Swing {
    /// From the hook to what swings, metres.
    out: DVec3,
    /// Square to that, m/s: after the first half.
    pub velocity: DVec3,
    rate: DVec3,
    span: f64,
}

impl Swing {
    /// From `out` of the hook, where what leads along the rope is spent, driven at `rate` for `span` seconds.
    pub fn new(out: DVec3, velocity: DVec3, rate: DVec3, span: f64) -> Swing {
        let along = out / out.length();
        let square = |v: DVec3| v - along * v.dot(along);
        Swing { out, velocity: square(velocity) + square(rate) * (0.5 * span), rate, span }
    }

    /// Centripetal acceleration, m/s².
    pub fn inward(&self) -> DVec3 {
        self.out * (-self.velocity.length_squared() / self.out.length_squared())
    }

    /// From the hook to where it ends, and its velocity there.
    pub fn end(&self) -> (DVec3, DVec3) {
        let (reach, speed) = (self.out.length(), self.velocity.length());
        let along = self.out / reach;
        let angle = speed * self.span / reach;
        let (sin, cos) = (libm::sin(angle), libm::cos(angle));
        let way = if speed > 0.0 { self.velocity / speed } else { DVec3::ZERO };
        let end = along * cos + way * sin;
        let end = end / end.length();
        let velocity = (way * cos - along * sin) * speed;
        let square = |v: DVec3| v - end * v.dot(end);
        (end * reach, square(velocity) + square(self.rate) * (0.5 * self.span))
    }
}
