//! Zones on the picture of a run: a dashed outline, and in a few words what holds inside.

use newel::glam::DVec3;
use newel::{Effect, Pull, Water, Waves};
use plotters::backend::DrawingBackend;
use plotters::coord::Shift;
use plotters::prelude::*;

use super::canvas::{Drawn, FAINT};
use super::labels::width_of;
use super::marks::dashes;
use super::view::Frame;

/// Draws as much of a box as is in the frame.
pub(super) fn draw_box<DB: DrawingBackend>(
    root: &DrawingArea<DB, Shift>,
    frame: &Frame,
    (min, max): (DVec3, DVec3),
) -> Drawn
where
    DB::ErrorType: 'static,
{
    let (left, top, right, bottom) = sides(frame, (min, max));
    let (w, h) = frame.size();
    let (low, high) = (frame.at, (frame.at.0 + w as i32, frame.at.1 + h as i32));
    let clip = |(x, y): (i32, i32)| (x.clamp(low.0, high.0), y.clamp(low.1, high.1));
    let corners = [(left, top), (right, top), (right, bottom), (left, bottom), (left, top)];
    for side in corners.windows(2) {
        let (from, to) = (clip(side[0]), clip(side[1]));
        // A side that lies outside of the frame is not drawn along its border.
        let on = |p: (i32, i32)| p.0 != low.0 && p.0 != high.0 && p.1 != low.1 && p.1 != high.1;
        let shown =
            if from.0 == to.0 { on((from.0, (low.1 + high.1) / 2)) } else { on(((low.0 + high.0) / 2, from.1)) };
        if shown && from != to {
            for dash in dashes(&[from, to]) {
                root.draw(&PathElement::new(dash, FAINT.stroke_width(1)))?;
            }
        }
    }
    Ok(())
}

/// The sides of a box on the picture: left, top, right, bottom.
fn sides(frame: &Frame, (min, max): (DVec3, DVec3)) -> (i32, i32, i32, i32) {
    let (a, b) = (frame.pixel(min), frame.pixel(max));
    (a.0.min(b.0), a.1.min(b.1), a.0.max(b.0), a.1.max(b.1))
}

/// Where words of so many letters may stand: in the box's upper left corner, and where it is too narrow under it, over it or beside it.
pub(super) fn box_places(frame: &Frame, corners: (DVec3, DVec3), letters: usize) -> impl Iterator<Item = (i32, i32)> {
    let (left, top, right, bottom) = sides(frame, corners);
    let (w, h) = frame.size();
    let shown =
        left < frame.at.0 + w as i32 && right > frame.at.0 && top < frame.at.1 + h as i32 && bottom > frame.at.1;
    let clip = |(x, y): (i32, i32)| (x.max(frame.at.0 + 3), y.max(frame.at.1 + 3));
    let width = width_of(letters);
    let within = (right - left > width + 8 && bottom - top > 16).then(|| clip((left + 5, top + 3)));
    let around = [(left, bottom + 3), (left, top - 15), (right + 4, top + 2), (left - 4 - width, top + 2)];
    let under = [(left - width / 2, bottom + 17), (left - width / 2, top - 29)];
    within.into_iter().chain(around).chain(under).filter(move |_| shown)
}

/// Effect of a zone, and its direction in the picture.
pub(super) fn zone_words(effect: &Effect, frame: &Frame) -> String {
    match effect {
        Effect::Gravity(factor) => format!("gravity × {factor}"),
        Effect::Pull(Pull::Along(pull)) => format!("gravity {}", arrow(pull.as_dvec3(), frame)),
        Effect::Pull(Pull::Ground(_)) => "gravity toward the ground".to_owned(),
        Effect::Pull(_) => "gravity toward a middle".to_owned(),
        Effect::Launch(launch) => format!("throws {}", arrow(launch.velocity, frame)),
        Effect::Wind(wind) => {
            let velocity = wind.velocity.as_dvec3();
            let how = if wind.gusts.is_some() { "gusts" } else { "wind" };
            format!("{how} of {:.0} m/s {}", velocity.length(), arrow(velocity, frame))
        }
        Effect::Hold { hold, .. } => format!("holds: {}", hold.words()),
        Effect::Water(water) if water.current.length() > 0.0 => {
            let current = water.current.as_dvec3();
            format!("water, {:.1} m/s {}", current.length(), arrow(current, frame))
        }
        Effect::Water(Water { waves: Waves::Swells(swells), .. }) => {
            let height: f32 = swells.iter().flatten().map(|swell| swell.height).sum();
            format!("water, swells of {height:.2} m")
        }
        Effect::Water(_) => "water".to_owned(),
        _ => "zone".to_owned(),
    }
}

/// The nearest of eight arrows to a direction as it is seen; none along the line of sight.
fn arrow(way: DVec3, frame: &Frame) -> &'static str {
    let (x, y) = (way.dot(frame.right()), way.dot(frame.down()));
    if x.hypot(y) < 1e-3 * way.length() || way == DVec3::ZERO {
        return "";
    }
    let eighth = (y.atan2(x) / std::f64::consts::FRAC_PI_4).round() as i32;
    ["→", "↘", "↓", "↙", "←", "↖", "↑", "↗"][eighth.rem_euclid(8) as usize]
}
