//! How a jump rises and a fall speeds up: constant gravity, and less of it while slow about the top.
//!
//! Rising and falling are the same motion run both ways, so one set of formulas serves both. With gravity `g`, hang speed
//! `u` and the factor `k` on gravity below it, a rise from speed `v >= u` is `(v² + a u²) / 2g` high and takes
//! `(v + a u) / g`, where `a = 1/k - 1`.

/// Gravity on one side of a jump's top.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Leap {
    /// Gravity above the hang speed, m/s².
    pub gravity: f64,
    /// Below this speed along up gravity is less, m/s.
    pub hang_speed: f64,
    /// Factor on gravity there.
    pub hang_gravity: f64,
}

impl Leap {
    /// The leap that covers `height` in `time`, where its mean speed is above the hang speed.
    pub fn timed(height: f64, time: f64, hang_speed: f64, hang_gravity: f64) -> Leap {
        let twice_mean = 2.0 * height / time;
        let extra = (1.0 / hang_gravity - 1.0) * hang_speed;
        let root = (twice_mean * twice_mean + 4.0 * extra * (twice_mean - hang_speed)).max(0.0).sqrt();
        let speed = 0.5 * (twice_mean + root);
        Leap { gravity: (speed + extra) / time, hang_speed, hang_gravity }
    }

    /// The speed at the bottom of a leap over `height`.
    pub fn speed_over(&self, height: f64) -> f64 {
        let hang = self.hang_speed * self.hang_speed;
        let square = 2.0 * self.gravity * height - (1.0 / self.hang_gravity - 1.0) * hang;
        if square >= hang { square.sqrt() } else { (2.0 * self.hang_gravity * self.gravity * height).sqrt() }
    }

    /// Gravity at this speed along up, and the speed along up at which it is another: none where it stays.
    pub fn at(&self, rise: f64) -> (f64, Option<f64>) {
        if self.hang_speed == 0.0 {
            return (self.gravity, None);
        }
        // A hair inside: after a piece that ends at the very border the next one must be beyond it.
        let (hang, border) = (self.hang_speed, 1e-9 * self.hang_speed);
        if rise > hang + border {
            (self.gravity, Some(hang))
        } else if rise > border - hang {
            (self.gravity * self.hang_gravity, Some(-hang))
        } else {
            (self.gravity, None)
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A million small steps: slow, and written without a thought for the formulas.
    fn climbed(leap: &Leap, speed: f64) -> (f64, f64) {
        let (mut v, mut height, mut time) = (speed, 0.0, 0.0);
        let step = 1e-6;
        while v > 0.0 {
            let g = leap.gravity * if v < leap.hang_speed { leap.hang_gravity } else { 1.0 };
            height += (v - 0.5 * g * step) * step;
            time += step;
            v -= g * step;
        }
        (height, time)
    }

    #[test]
    fn a_timed_leap_covers_its_height_in_its_time() {
        for (height, time, hang_speed, hang_gravity) in
            [(1.2, 0.4, 0.0, 1.0), (1.2, 0.4, 2.0, 0.5), (3.0, 0.9, 5.0, 0.3)]
        {
            let leap = Leap::timed(height, time, hang_speed, hang_gravity);
            let (reached, took) = climbed(&leap, leap.speed_over(height));
            assert!((reached - height).abs() < 1e-4 && (took - time).abs() < 1e-4, "{reached} {took}");
            // A leap so low that it hangs all the way.
            let low = 0.1 * hang_speed * hang_speed / leap.gravity;
            let (reached, _) = climbed(&leap, leap.speed_over(low));
            assert!((reached - low).abs() < 1e-4, "{low} {reached}");
        }
    }
}
