//! A velocity that goes to its target: at a constant rate, or eased.

use glam::DVec3;

/// From a velocity to a target: at a constant rate in m/s², or by the same part in equal times.
///
/// Either way the path in velocity space is a straight line whose direction does not depend on when one looks, so
/// cutting the time into other pieces changes nothing.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Ramp {
    from: DVec3,
    to: DVec3,
    way: DVec3,
    rate: f64,
    /// The time constant of an eased one, seconds; 0 at a constant rate.
    ease: f64,
    duration: f64,
}

/// Velocities closer than this, m/s, are the same.
const THERE: f64 = 2e-5;

/// Parts of its time constant in which an eased velocity is as good as a parabola.
const SMOOTH: f64 = 1.0 / 8.0;

impl Ramp {
    /// The ramp from `from` to `to`; a rate without limit gets there at once.
    pub fn new(from: DVec3, to: DVec3, rate: f64) -> Ramp {
        let apart = to - from;
        let length = apart.length();
        // What is closer than this is there: against walls, smaller differences are rounding and no motion.
        if length <= THERE || rate.is_infinite() {
            return Ramp::hold(to);
        }
        let duration = if rate > 0.0 { length / rate } else { f64::INFINITY };
        Ramp { from, to, way: apart / length, rate, ease: 0.0, duration }
    }

    /// The same, of which the part that is left falls by `1/e` in each `ease` seconds; the last hair of it at once.
    pub fn eased(from: DVec3, to: DVec3, ease: f64) -> Ramp {
        let length = (to - from).length();
        if length <= THERE || ease <= 0.0 {
            return Ramp::hold(to);
        }
        let duration = ease * libm::log(length / THERE);
        Ramp { from, to, way: (to - from) / length, rate: 0.0, ease, duration }
    }

    /// The velocity stays as it is.
    pub fn hold(velocity: DVec3) -> Ramp {
        Ramp { from: velocity, to: velocity, way: DVec3::ZERO, rate: 0.0, ease: 0.0, duration: 0.0 }
    }

    /// Seconds until the target is reached: 0 where it is already, infinite where the rate is zero.
    pub fn duration(&self) -> f64 {
        self.duration
    }

    /// The velocity now.
    pub fn start(&self) -> DVec3 {
        self.from
    }

    /// The constant acceleration until the target is reached, m/s²; zero where it is eased.
    pub fn acceleration(&self) -> DVec3 {
        self.way * self.rate
    }

    /// Seconds for which its path is as good as a parabola.
    pub fn smooth_span(&self) -> f64 {
        if self.ease > 0.0 { SMOOTH * self.ease } else { f64::INFINITY }
    }

    /// The velocity after `t` seconds; exactly the target from `duration` on.
    pub fn at(&self, t: f64) -> DVec3 {
        if t >= self.duration {
            self.to
        } else if self.ease > 0.0 {
            self.to + (self.from - self.to) * libm::exp(-t / self.ease)
        } else {
            self.from + self.way * (self.rate * t)
        }
    }

    /// The mean velocity over the first `t` seconds, at most `duration` of them.
    pub fn mean(&self, t: f64) -> DVec3 {
        if self.ease > 0.0 {
            self.to - (self.from - self.to) * (libm::expm1(-t / self.ease) * self.ease / t)
        } else {
            (self.from + self.at(t)) * 0.5
        }
    }

    /// True where it is eased.
    pub fn is_eased(&self) -> bool {
        self.ease > 0.0
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn it_arrives_on_time_whatever_the_pieces() {
        let (from, to) = (DVec3::new(3.0, 0.0, -1.0), DVec3::new(-1.0, 2.0, 0.5));
        let ways: [fn(DVec3, DVec3) -> Ramp; 2] = [|a, b| Ramp::new(a, b, 4.0), |a, b| Ramp::eased(a, b, 0.3)];
        for way in ways {
            let whole = way(from, to);
            let piece = whole.duration() / 9.0;
            let (mut v, mut gone) = (from, DVec3::ZERO);
            for _ in 0..7 {
                let ramp = way(v, to);
                gone += ramp.mean(piece) * piece;
                v = ramp.at(piece);
            }
            assert!((v - whole.at(piece * 7.0)).length() < 1e-12);
            assert!((gone - whole.mean(piece * 7.0) * (piece * 7.0)).length() < 1e-12);
            assert_eq!(whole.at(whole.duration()), to);
        }
        assert_eq!(Ramp::new(from, to, f64::INFINITY).start(), to);
        assert_eq!(Ramp::new(from, to, 0.0).at(100.0), from);
    }
}
