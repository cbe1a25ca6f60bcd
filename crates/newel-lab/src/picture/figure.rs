//! The outline of a character, as sheets that show it at scale draw it.

use newel::{Form, Shape};
use plotters::backend::DrawingBackend;
use plotters::coord::Shift;
use plotters::prelude::*;

use super::canvas::Drawn;

/// The outline from the side, closed: metres across and up from the feet.
pub(crate) fn outline(shape: &Shape) -> Vec<(f64, f64)> {
    let (radius, height) = (f64::from(shape.radius), f64::from(shape.height));
    let round = if shape.form == Form::Box { 0.0 } else { radius };
    let corner = |turn: f64| {
        let (sine, cosine) = (turn.to_radians().sin(), turn.to_radians().cos());
        let middle = if sine >= 0.0 { height - round } else { round };
        let side = if shape.form == Form::Box { cosine.signum() } else { cosine };
        (radius * side, middle + round * sine)
    };
    (0..=72).map(|i| corner(2.5 + 5.0 * f64::from(i))).collect()
}

/// Draws it where `at` puts its points, pixels.
pub(crate) fn draw_outline<DB: DrawingBackend>(
    root: &DrawingArea<DB, Shift>,
    shape: &Shape,
    colour: RGBColor,
    at: impl Fn(f64, f64) -> (i32, i32),
) -> Drawn
where
    DB::ErrorType: 'static,
{
    let points: Vec<_> = outline(shape).into_iter().map(|(x, y)| at(x, y)).collect();
    root.draw(&Polygon::new(points.clone(), colour.mix(0.16)))?;
    root.draw(&PathElement::new(points, colour.stroke_width(1)))?;
    Ok(())
}
