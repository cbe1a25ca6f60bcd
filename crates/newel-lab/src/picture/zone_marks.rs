//! Zones on the picture of a run: a dashed outline, and in a few words what holds inside.

use newel::glam::DVec3;
use newel::{Effect, Pull, Water, Waves, Zone};
use plotters::backend::DrawingBackend;
use plotters::coord::Shift;
use plotters::prelude::*;

use super::canvas::{Drawn, FAINT};
use super::course_sheet::{dashes, inside, label};
use super::view::Frame;

/// Draws as much of a zone as is in the frame; where there is room, says what it does.
pub(super) fn draw_zone<DB: DrawingBackend>(
    root: &DrawingArea<DB, Shift>,
    frame: &Frame,
    zone: &Zone,
    worded: bool,
) -> Drawn
where
    DB::ErrorType: 'static,
{
    draw_box(root, frame, (zone.min, zone.max), &words(&zone.effect, frame), worded)
}

/// The same for any box, with its words.
pub(super) fn draw_box<DB: DrawingBackend>(
    root: &DrawingArea<DB, Shift>,
    frame: &Frame,
    (min, max): (DVec3, DVec3),
    words: &str,
    worded: bool,
) -> Drawn
where
    DB::ErrorType: 'static,
{
    let (a, b) = (frame.pixel(min), frame.pixel(max));
    let (left, right) = (a.0.min(b.0), a.0.max(b.0));
    let (top, bottom) = (a.1.min(b.1), a.1.max(b.1));
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
    let at = clip((left, top));
    // Where it is too narrow for words they stand under it.
    let at = if right - left > 120 { (at.0 + 5, at.1 + 3) } else { clip((left, bottom + 3)) };
    if worded && inside(frame, (at.0 + 60, at.1 + 14)) && right > low.0 && bottom > low.1 {
        label(root, at, words)?;
    }
    Ok(())
}

/// What a zone does, and the way it does in the picture.
fn words(effect: &Effect, frame: &Frame) -> String {
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
