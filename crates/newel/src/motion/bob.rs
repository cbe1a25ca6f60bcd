//! Floating: what is too high sinks, what is too deep is lifted, and the water holds what moves.
//!
//! With a height `y` over where it floats and a speed `u` along up, `y' = u` and `u' = -stiffness y - drag u`: the damped oscillator of
//! any textbook, closed in time, and the same in any pieces.

/// A height over where it floats, and how it changes.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Bob {
    /// Metres.
    pub height: f64,
    /// Metres per second.
    pub speed: f64,
    /// Per second.
    drag: f64,
    /// Per second squared.
    stiffness: f64,
    rests: bool,
}

/// Nearer to its line than this, metres, and slower than that, m/s, it has come to rest.
const THERE: f64 = 1e-4;
const SLOW: f64 = 5e-4;

impl Bob {
    /// From a height over where it floats at a speed along up. Near enough, and slow enough, it comes to rest; and stays where it is.
    pub fn new(height: f64, speed: f64, drag: f64, stiffness: f64) -> Bob {
        let near = if speed == 0.0 { 2.0 * THERE } else { THERE };
        let rests = height.abs() < near && speed.abs() < SLOW && stiffness > 0.0;
        Bob { height, speed: if rests { 0.0 } else { speed }, drag, stiffness, rests }
    }

    /// True where it floats, and moves no more.
    pub fn is_at_rest(&self) -> bool {
        self.rests
    }

    /// Its height and speed after `t` seconds.
    pub fn at(&self, t: f64) -> (f64, f64) {
        if self.rests {
            return (self.height, 0.0);
        }
        let half = 0.5 * self.drag;
        let square = half * half - self.stiffness;
        // The cosine and the sine over its rate, or the hyperbolic ones; near neither of them, the beginning of their series. All of
        // them fading.
        let (cos, sin) = if (square * t * t).abs() < 1e-6 {
            let (q, fades) = (square * t * t, libm::exp(-half * t));
            (fades * (1.0 + q * (0.5 + q / 24.0)), fades * t * (1.0 + q * (1.0 / 6.0 + q / 120.0)))
        } else if square < 0.0 {
            let (rate, fades) = ((-square).sqrt(), libm::exp(-half * t));
            (fades * libm::cos(rate * t), fades * libm::sin(rate * t) / rate)
        } else {
            let rate = square.sqrt();
            let (slow, fast) = (libm::exp((rate - half) * t), libm::exp(-(rate + half) * t));
            (0.5 * (slow + fast), 0.5 * (slow - fast) / rate)
        };
        let height = self.height * cos + (self.speed + half * self.height) * sin;
        let speed = self.speed * cos - (self.stiffness * self.height + half * self.speed) * sin;
        (height, speed)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn it_is_what_a_million_small_steps_make_of_it_and_the_same_in_any_pieces() {
        for (drag, stiffness) in
            [(0.0, 12.0), (1.5, 12.0), (8.0, 16.0), (8.0, 15.999), (30.0, 12.0), (2.0, 0.0), (0.0, 0.0)]
        {
            let (mut y, mut u, step) = (0.4, -1.5, 1e-6);
            for _ in 0..1_000_000 {
                let (half_y, half_u) = (y + 0.5 * step * u, u - 0.5 * step * (stiffness * y + drag * u));
                y += step * half_u;
                u -= step * (stiffness * half_y + drag * half_u);
            }
            let whole = Bob { height: 0.4, speed: -1.5, drag, stiffness, rests: false };
            let (found_y, found_u) = whole.at(1.0);
            assert!((found_y - y).abs() < 1e-9 && (found_u - u).abs() < 1e-9, "{drag} {stiffness}: {found_y} {y}");
            let (mut y, mut u) = (0.4, -1.5);
            for piece in [0.1, 1e-9, 0.37, 0.03, 0.5 - 1e-9] {
                (y, u) = Bob { height: y, speed: u, drag, stiffness, rests: false }.at(piece);
            }
            assert!((found_y - y).abs() < 1e-12 && (found_u - u).abs() < 1e-12, "{drag} {stiffness}: in pieces");
        }
    }

    #[test]
    fn it_comes_to_rest_and_stays_there() {
        let (mut bob, mut steps) = (Bob::new(0.4, 0.0, 3.0, 12.0), 0);
        while !bob.is_at_rest() {
            let (height, speed) = bob.at(0.01);
            bob = Bob::new(height, speed, 3.0, 12.0);
            steps += 1;
        }
        assert!((100..1000).contains(&steps), "{steps}");
        assert_eq!(bob.at(1000.0), (bob.height, 0.0));
    }
}
