//! A rectangle of pixels.

use glam::DVec2;

use super::Scale;
use crate::shape::{Form, Shape};

/// A rectangle in the picture.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Rect {
    /// The corner with the least x and y, pixels.
    pub min: DVec2,
    /// The opposite corner.
    pub max: DVec2,
}

impl Rect {
    /// The rectangle of a shape with its feet (in a top view its middle) at a place of the picture: gravity's up and
    /// the way from its feet to its head are ways in the picture, pixels to the metre.
    pub(super) fn of(shape: &Shape, feet: DVec2, [up, axis]: [DVec2; 2], scale: &Scale) -> Rect {
        let (radius, height) = (f64::from(shape.radius), f64::from(shape.height));
        let round = DVec2::splat(scale.pixels(radius));
        if scale.is_top_view() {
            return Rect { min: feet - round, max: feet + round };
        }
        let (middle, half) = match shape.form {
            Form::Box => {
                let reach = axis.abs() * (0.5 * height) + axis.perp().abs() * radius;
                (feet + up * (0.5 * height), reach)
            }
            Form::Capsule => {
                let straight = axis * (0.5 * height - radius);
                (feet + up * radius + straight, straight.abs() + round)
            }
        };
        Rect { min: middle - half, max: middle + half }
    }

    /// Width and height, pixels.
    #[must_use]
    pub fn size(&self) -> DVec2 {
        self.max - self.min
    }
}
