//! Moving through what resists: a velocity that approaches where it tends, and the faster the further off it is.
//!
//! With drag `k` and everything else constant `v' = k (to - v)`: a textbook exponential, closed in time and in way.

use glam::DVec3;

/// A velocity on its way to where it tends; or, without drag, at a constant rate.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Drift {
    from: DVec3,
    /// Where it tends with drag; how fast it changes without, m/s².
    to: DVec3,
    /// Per second.
    drag: f64,
}

impl Drift {
    /// From a velocity toward where it tends, so that what is left falls by `1/e` in each `1/drag` seconds.
    pub fn toward(from: DVec3, to: DVec3, drag: f64) -> Drift {
        Drift { from, to, drag }
    }

    /// From a velocity at a constant rate, m/s².
    pub fn at_rate(from: DVec3, rate: DVec3) -> Drift {
        Drift { from, to: rate, drag: 0.0 }
    }

    /// The velocity after `t` seconds.
    pub fn at(&self, t: f64) -> DVec3 {
        match self.drag > 0.0 {
            true => self.to + (self.from - self.to) * libm::exp(-self.drag * t),
            false => self.from + self.to * t,
        }
    }

    /// The mean velocity over the first `t` seconds, which is more than 0.
    pub fn mean(&self, t: f64) -> DVec3 {
        match self.drag > 0.0 {
            true => self.to - (self.from - self.to) * (libm::expm1(-self.drag * t) / (self.drag * t)),
            false => self.from + self.to * (0.5 * t),
        }
    }

    /// How it changes now, m/s².
    pub fn rate(&self) -> DVec3 {
        if self.drag > 0.0 { (self.to - self.from) * self.drag } else { self.to }
    }

    /// Seconds until its part along the unit vector `way` is `speed`; infinite where it never is.
    pub fn time_to(&self, speed: f64, way: DVec3) -> f64 {
        let now = self.from.dot(way);
        let time = match self.drag > 0.0 {
            true => {
                let to = self.to.dot(way);
                // The remaining part then, relative to now.
                let left = (speed - to) / (now - to);
                if left > 0.0 && left < 1.0 { -libm::log(left) / self.drag } else { f64::INFINITY }
            }
            false => (speed - now) / self.to.dot(way),
        };
        if time > 0.0 { time } else { f64::INFINITY }
    }

    /// Seconds for which its path is as good as a parabola that ends where it does, to two micrometres; at most an eighth of its
    /// time constant has to do, however fast it is.
    pub fn smooth_span(&self) -> f64 {
        if self.drag == 0.0 {
            return f64::INFINITY;
        }
        // A parabola that has both ends and the first velocity of a cubic is off it by at most 2/81 of its third derivative times the
        // cube of time.
        let third = self.rate().length() * self.drag;
        if third > 0.0 { libm::cbrt(OFF * 40.5 / third).max(0.125 / self.drag) } else { f64::INFINITY }
    }
}

/// How far a piece of way may be off in its middle, metres.
const OFF: f64 = 2e-6;

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn it_is_the_same_in_any_pieces_and_what_a_million_small_steps_make_of_it() {
        let (from, to, drag) = (DVec3::new(9.0, -4.0, 1.0), DVec3::new(2.0, -30.0, 0.0), 0.7);
        let whole = Drift::toward(from, to, drag);
        let (mut v, mut gone) = (from, DVec3::ZERO);
        for piece in [0.1, 0.37, 0.03, 0.5] {
            let drift = Drift::toward(v, to, drag);
            gone += drift.mean(piece) * piece;
            v = drift.at(piece);
        }
        assert!((v - whole.at(1.0)).length() < 1e-12 && (gone - whole.mean(1.0)).length() < 1e-12);
        let (mut v, mut gone, step) = (from, DVec3::ZERO, 1e-6);
        for _ in 0..1_000_000 {
            let middle = v + (to - v) * (0.5 * drag * step);
            gone += middle * step;
            v += (to - middle) * (drag * step);
        }
        assert!((v - whole.at(1.0)).length() < 1e-9 && (gone - whole.mean(1.0)).length() < 1e-6, "{v} {gone}");
        let fell = whole.time_to(-12.0, DVec3::Y);
        assert!((whole.at(fell).y + 12.0).abs() < 1e-12);
        assert_eq!([whole.time_to(-31.0, DVec3::Y), whole.time_to(-3.0, DVec3::Y)], [f64::INFINITY; 2]);
        let falling = Drift::at_rate(from, DVec3::Y * -8.0);
        assert_eq!([falling.time_to(-12.0, DVec3::Y), falling.at(0.5).y, falling.mean(0.5).y], [1.0, -8.0, -6.0]);
    }
}
