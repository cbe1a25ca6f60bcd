//! A velocity that goes to its target: at a constant rate, eased, or turning.

use glam::DVec3;

use crate::math::turned_left64;

/// From a velocity to a target: at a constant rate in m/s², or by the same part in equal times.
///
/// Either of those ways the path in velocity space is a straight line whose direction does not depend on when one looks, so
/// cutting the time into other pieces changes nothing. Or its direction turns steadily while its length changes steadily.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Ramp {
    from: DVec3,
    to: DVec3,
    way: DVec3,
    rate: f64,
    /// The time constant of an eased one, seconds; 0 at a constant rate.
    ease: f64,
    duration: f64,
    /// By how much its mean over all of `duration` is off that of a constant rate, m/s.
    bow: DVec3,
    /// How fast a turning one turns to the left, radians per second, and about which unit axis.
    turn: f64,
    axis: DVec3,
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
        // A velocity closer than this has arrived: against walls, smaller differences are rounding and no motion.
        if length <= THERE || rate.is_infinite() {
            return Ramp::hold(to);
        }
        let duration = if rate > 0.0 { length / rate } else { f64::INFINITY };
        Ramp { from, to, way: apart / length, rate, duration, ..Ramp::hold(to) }
    }

    /// The same, of which the part that is left falls by `1/e` in each `ease` seconds; the last hair of it at once.
    pub fn eased(from: DVec3, to: DVec3, ease: f64) -> Ramp {
        let length = (to - from).length();
        if length <= THERE || ease <= 0.0 {
            return Ramp::hold(to);
        }
        let duration = ease * libm::log(length / THERE);
        Ramp { from, to, way: (to - from) / length, ease, duration, ..Ramp::hold(to) }
    }

    /// From `from` to `to` in `duration` seconds, with `mean` on the way.
    pub fn through(from: DVec3, to: DVec3, mean: DVec3, duration: f64) -> Ramp {
        let apart = to - from;
        let (rate, bow) = (apart.length() / duration, mean - (from + to) * 0.5);
        Ramp { from, to, way: apart.normalize_or_zero(), rate, duration, bow, ..Ramp::hold(to) }
    }

    /// The velocity stays as it is.
    pub fn hold(velocity: DVec3) -> Ramp {
        let still = DVec3::ZERO;
        Ramp {
            from: velocity,
            to: velocity,
            way: still,
            rate: 0.0,
            ease: 0.0,
            duration: 0.0,
            bow: still,
            turn: 0.0,
            axis: still,
        }
    }

    /// For `duration` seconds turning by `angle` radians to the left about `axis`, while the speed changes by `rate` m/s².
    pub fn turning(from: DVec3, axis: DVec3, angle: f64, rate: f64, duration: f64) -> Ramp {
        let speed = from.length();
        if speed == 0.0 || duration <= 0.0 {
            return Ramp::hold(from);
        }
        let way = from / speed;
        let to = turned_left64(way, axis, angle) * (speed + rate * duration);
        Ramp { from, to, way, rate, duration, turn: angle / duration, axis, ..Ramp::hold(to) }
    }

    /// Seconds until the target is reached: 0 where it is already, infinite where the rate is zero.
    pub fn duration(&self) -> f64 {
        self.duration
    }

    /// The velocity now.
    pub fn start(&self) -> DVec3 {
        self.from
    }

    /// The constant acceleration until the target is reached, m/s²; zero where it is eased. Of no meaning where it turns.
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
        } else if self.turn != 0.0 {
            turned_left64(self.from + self.way * (self.rate * t), self.axis, self.turn * t)
        } else {
            self.from + self.way * (self.rate * t) + self.bowed(t / self.duration)
        }
    }

    /// What a bowed one has beside its rate, after this part of the time.
    fn bowed(&self, part: f64) -> DVec3 {
        if self.is_bowed() { self.bow * (6.0 * part * (1.0 - part)) } else { DVec3::ZERO }
    }

    /// The mean velocity over the first `t` seconds, at most `duration` of them.
    pub fn mean(&self, t: f64) -> DVec3 {
        if self.ease > 0.0 {
            self.to - (self.from - self.to) * (libm::expm1(-t / self.ease) * self.ease / t)
        } else if self.turn != 0.0 {
            // By Simpson's rule, exact to a fifth power of the angle, which is small.
            (self.from + self.at(0.5 * t) * 4.0 + self.at(t)) / 6.0
        } else if self.is_bowed() {
            let part = t / self.duration;
            self.from + self.way * (0.5 * self.rate * t) + self.bow * ((3.0 - 2.0 * part) * part)
        } else {
            (self.from + self.at(t)) * 0.5
        }
    }

    /// True where its way is no parabola, but only as long as one.
    pub fn is_curved(&self) -> bool {
        self.ease > 0.0 || self.turn != 0.0 || self.is_bowed()
    }

    fn is_bowed(&self) -> bool {
        self.bow != DVec3::ZERO
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
