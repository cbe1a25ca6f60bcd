//! Response of a stick: dead zone, response, and four or eight ways.

use glam::Vec2;

use crate::tuning::{Stick, Ways};

/// The tangent of 22.5 degrees: half of one of eight ways.
const HALF_OF_EIGHT: f32 = 0.414_213_57;

impl Stick {
    /// Response to a stick position, right and ahead: at most one long.
    ///
    /// The dead zone and the curve work on how far it is pressed, never on each axis alone, so that they do not bend
    /// directions.
    ///
    /// ```
    /// use newel::{Stick, glam::Vec2};
    /// let stick = Stick { dead_zone: 0.2, ..Stick::default() };
    /// assert_eq!(stick.shaped(Vec2::new(0.1, 0.1)), Vec2::ZERO);
    /// assert!((stick.shaped(Vec2::new(0.0, 0.6)) - Vec2::new(0.0, 0.5)).length() < 1e-6);
    /// ```
    #[must_use]
    pub fn shaped(&self, raw: Vec2) -> Vec2 {
        let most = raw.abs().max_element();
        if most == 0.0 || !raw.is_finite() {
            return Vec2::ZERO;
        }
        // Scaled first: the length of a huge but finite vector would overflow, and of a tiny one vanish.
        let scaled = raw / most;
        let way = scaled / scaled.length();
        let pressed = (scaled.length() * most).min(1.0);
        if pressed <= self.dead_zone {
            return Vec2::ZERO;
        }
        let part = ((pressed - self.dead_zone) / (self.full_zone - self.dead_zone)).min(1.0);
        let part = if self.curve == 1.0 { part } else { libm::powf(part, self.curve) };
        self.nearest_way(way) * part
    }

    fn nearest_way(&self, way: Vec2) -> Vec2 {
        let (x, y) = (way.x.abs(), way.y.abs());
        // On the border ahead and back win, so that it never depends on rounding.
        let straight = if x > y { Vec2::new(way.x.signum(), 0.0) } else { Vec2::new(0.0, way.y.signum()) };
        match self.ways {
            Ways::Any => way,
            Ways::Four => straight,
            Ways::Eight if x.min(y) <= x.max(y) * HALF_OF_EIGHT => straight,
            Ways::Eight => Vec2::new(way.x.signum(), way.y.signum()) * core::f32::consts::FRAC_1_SQRT_2,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_response_rises_from_the_dead_zone_to_full_and_keeps_directions() {
        let stick = Stick { dead_zone: 0.15, full_zone: 0.9, curve: 1.7, ways: Ways::Any };
        let mut last = 0.0;
        for i in 0..=1000 {
            let raw = Vec2::new(0.6, 0.8) * (i as f32 / 1000.0);
            let shaped = stick.shaped(raw);
            assert!(shaped.length() >= last - 1e-6, "{raw}");
            assert!(shaped.perp_dot(raw).abs() < 1e-6, "the way is the same");
            last = shaped.length();
        }
        assert_eq!(stick.shaped(Vec2::new(0.0, 0.15)), Vec2::ZERO);
        assert_eq!(stick.shaped(Vec2::new(0.0, -0.9)), Vec2::NEG_Y);
        assert!((stick.shaped(Vec2::splat(f32::MAX)).length() - 1.0).abs() < 1e-6);
        assert_eq!(stick.shaped(Vec2::new(f32::NAN, 1.0)), Vec2::ZERO);
    }

    #[test]
    fn ways_are_the_nearest_of_four_or_eight() {
        for degrees in 0..360 {
            let angle = (degrees as f32 + 0.25).to_radians();
            let raw = Vec2::new(libm::sinf(angle), libm::cosf(angle));
            for (ways, apart) in [(Ways::Four, 45.0f32), (Ways::Eight, 22.5)] {
                let shaped = Stick { ways, ..Stick::default() }.shaped(raw);
                assert!((shaped.length() - 1.0).abs() < 1e-6);
                assert!(shaped.dot(raw) >= libm::cosf((apart + 0.01).to_radians()), "{degrees} {shaped}");
            }
        }
    }
}
