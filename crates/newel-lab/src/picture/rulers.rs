//! Coordinates along the edges of a view: what lies where can be read in metres of the world.

use newel::glam::DVec3;
use plotters::backend::DrawingBackend;
use plotters::coord::Shift;
use plotters::prelude::*;
use plotters::style::text_anchor::{HPos, Pos, VPos};

use super::canvas::{Drawn, INK, font};
use super::chart::short;
use super::labels::{Labels, rimmed, width_of};
use super::view::Frame;

/// Between two numbers along an edge at least so many pixels.
const APART: f64 = 62.0;
/// How long the ticks are, and how large the numbers, pixels.
const TICK: i32 = 5;
const NUMBERS: f64 = 10.5;

/// Ticks with numbers along the lower and the left edge.
pub(super) fn draw_rulers<DB: DrawingBackend>(
    root: &DrawingArea<DB, Shift>,
    frame: &Frame,
    labels: &mut Labels,
) -> Drawn
where
    DB::ErrorType: 'static,
{
    let (w, h) = frame.size();
    let (left, bottom) = (frame.at.0, frame.at.1 + h as i32);
    for (value, x) in ticks(frame, frame.right(), w) {
        let (x, words) = (left + x, short(value));
        let half = width_of(words.len()) / 2;
        let place = [x - half, bottom - TICK - 13, x + half, bottom - 3];
        if x - half < left + 24 || !labels.is_free(place) {
            continue;
        }
        root.draw(&PathElement::new(vec![(x, bottom), (x, bottom - TICK)], INK))?;
        let style = font(NUMBERS).pos(Pos::new(HPos::Center, VPos::Bottom));
        rimmed(root, (x, bottom - TICK - 1), &words, style)?;
        labels.keep_clear((place[0], place[1]), (place[2], place[3]));
    }
    for (value, y) in ticks(frame, frame.down(), h) {
        let (y, words) = (frame.at.1 + y, short(value));
        let place = [left + 3, y - 7, left + TICK + 3 + width_of(words.len()), y + 7];
        if y > bottom - 22 || !labels.is_free(place) {
            continue;
        }
        root.draw(&PathElement::new(vec![(left, y), (left + TICK, y)], INK))?;
        rimmed(root, (left + TICK + 3, y), &words, font(NUMBERS).pos(Pos::new(HPos::Left, VPos::Center)))?;
        labels.keep_clear((place[0], place[1]), (place[2], place[3]));
    }
    Ok(())
}

/// The coordinates that get a tick, and how many pixels from the frame's corner each is.
fn ticks(frame: &Frame, along: DVec3, pixels: usize) -> Vec<(f64, i32)> {
    let corner = frame.seen_at(0, 0, 0.0, 1);
    // Coordinates grow along an axis of the world, which may run against the picture.
    let sense = (along.x + along.y + along.z).signum();
    let first = (corner * along.abs()).element_sum();
    let step = round_step(APART / frame.scale);
    let last = first + sense * pixels as f64 / frame.scale;
    let (low, high) = (first.min(last), first.max(last));
    let count = ((high - low) / step).ceil() as usize + 1;
    let values = (0..count).map(|n| ((low / step).ceil() + n as f64) * step).filter(|value| *value <= high);
    values.map(|value| (value, ((value - first) * sense * frame.scale).round() as i32)).collect()
}

/// The least of 1, 2, 5, 10, 20, 50 and so on, or a tenth of these, that is no less.
fn round_step(least: f64) -> f64 {
    let power = 10f64.powf(least.log10().floor());
    [1.0, 2.0, 5.0, 10.0].into_iter().map(|m| m * power).find(|step| *step >= least * 0.999).unwrap_or(10.0 * power)
}
