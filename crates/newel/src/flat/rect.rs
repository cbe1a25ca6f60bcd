//! A rectangle of pixels.

use glam::DVec2;

use super::Scale;
use crate::shape::Shape;

/// A rectangle in the picture.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Rect {
    /// The corner with the least x and y, pixels.
    pub min: DVec2,
    /// The opposite corner.
    pub max: DVec2,
}

impl Rect {
    /// What a shape takes up with its feet, in a top view its middle, at a place of the picture.
    pub(super) fn of(shape: &Shape, feet: DVec2, scale: &Scale) -> Rect {
        let (half, tall) = (scale.pixels(f64::from(shape.radius)), scale.pixels(f64::from(shape.height)));
        if scale.is_top_view() {
            return Rect { min: feet - half, max: feet + half };
        }
        let head = if scale.is_y_down() { -tall } else { tall };
        Rect {
            min: DVec2::new(feet.x - half, feet.y.min(feet.y + head)),
            max: DVec2::new(feet.x + half, feet.y.max(feet.y + head)),
        }
    }

    /// Width and height, pixels.
    #[must_use]
    pub fn size(&self) -> DVec2 {
        self.max - self.min
    }
}
