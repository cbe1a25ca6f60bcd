//! Queries of a slide about its slice.

use glam::DVec3;

use super::Run;
use crate::math::flatten64;
use crate::phase::Mode;

/// A heading this near to the way it slides, radians, is that way.
const AHEAD: f64 = 1e-6;
/// And one this near to straight back, radians, is that.
const BACK: f64 = 1e-5;

impl Run<'_> {
    /// The angle from the way it slides to its heading, radians, positive to the left; 0 without one.
    pub fn slide_angle(&self, way: DVec3) -> f64 {
        let heading = self.heading_flat().as_dvec3();
        let angle = libm::atan2(self.up.dot(way.cross(heading)), way.dot(heading));
        // All but straight back is to the left too, so that rounding never chooses the way.
        let angle = if angle < BACK - core::f64::consts::PI { -angle } else { angle };
        if heading == DVec3::ZERO || angle.abs() < AHEAD { 0.0 } else { angle }
    }

    /// True where the way it slides turns: then it is sampled on the grid.
    pub fn steers_slide(&self) -> bool {
        if self.me.mode != Mode::Slide || self.tuning.values().slide.is_none_or(|slide| slide.steer == 0.0) {
            return false;
        }
        let flat = flatten64(self.me.velocity, self.up);
        flat.length() > 0.0 && self.slide_angle(flat / flat.length()) != 0.0
    }

    /// How far along the ground it has slid in the piece under way.
    pub fn slid_in_piece(&self) -> f64 {
        self.slid_in(self.near.time() - self.now)
    }

    /// The same once the piece is over and took `used` seconds: it is counted from then on.
    pub fn count_slide(&mut self, used: f64) {
        if self.me.mode == Mode::Slide {
            self.me.activity.set_slid(self.me.activity.slid() + self.slid_in(used) as f32);
        }
        self.piece.place = self.near.place;
    }

    fn slid_in(&self, used: f64) -> f64 {
        (self.near.place - self.piece.place - self.piece.carried * used).length()
    }
}
