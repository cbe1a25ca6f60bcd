//! A velocity that goes straight to its target at a constant rate.

use glam::DVec3;

/// From a velocity straight to a target, at a constant rate in m/s².
///
/// The path in velocity space is a straight line whose direction does not depend on when one looks, so cutting the
/// time into other pieces changes nothing.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Ramp {
    from: DVec3,
    to: DVec3,
    way: DVec3,
    rate: f64,
    duration: f64,
}

/// Velocities closer than this, m/s, are the same.
const THERE: f64 = 2e-5;

impl Ramp {
    /// The ramp from `from` to `to`; a rate without limit gets there at once.
    pub fn new(from: DVec3, to: DVec3, rate: f64) -> Ramp {
        let apart = to - from;
        let length = apart.length();
        // What is closer than this is there: against walls, smaller differences are rounding and no motion.
        if length <= THERE || rate.is_infinite() {
            return Ramp { from: to, to, way: DVec3::ZERO, rate: 0.0, duration: 0.0 };
        }
        Ramp { from, to, way: apart / length, rate, duration: if rate > 0.0 { length / rate } else { f64::INFINITY } }
    }

    /// Seconds until the target is reached: 0 where it is already, infinite where the rate is zero.
    pub fn duration(&self) -> f64 {
        self.duration
    }

    /// The velocity now.
    pub fn start(&self) -> DVec3 {
        self.from
    }

    /// The constant acceleration until the target is reached, m/s².
    pub fn acceleration(&self) -> DVec3 {
        self.way * self.rate
    }

    /// The velocity after `t` seconds; exactly the target from `duration` on.
    pub fn at(&self, t: f64) -> DVec3 {
        if t >= self.duration { self.to } else { self.from + self.way * (self.rate * t) }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn it_arrives_on_time_whatever_the_pieces() {
        let (from, to) = (DVec3::new(3.0, 0.0, -1.0), DVec3::new(-1.0, 2.0, 0.5));
        let whole = Ramp::new(from, to, 4.0);
        let mut v = from;
        for _ in 0..7 {
            v = Ramp::new(v, to, 4.0).at(whole.duration() / 9.0);
        }
        assert!((v - whole.at(whole.duration() * 7.0 / 9.0)).length() < 1e-12);
        assert_eq!(whole.at(whole.duration()), to);
        assert_eq!(Ramp::new(from, to, f64::INFINITY).start(), to);
        assert_eq!(Ramp::new(from, to, 0.0).at(100.0), from);
    }
}
