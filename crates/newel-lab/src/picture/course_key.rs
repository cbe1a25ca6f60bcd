//! The key of the picture of a run, and the figures of it below: as many lines of either as it takes.

use newel::{Mode, Stance};
use plotters::backend::DrawingBackend;
use plotters::coord::Shift;
use plotters::prelude::*;

use super::canvas::{AIR, Drawn, FAINT, GROUND, INK, SIZE, TEAL, font};
use super::marks::{MarkKind, PLANNED, dashes, is_as_ever, mark, mark_of};
use crate::course::{Course, MOVING};
use crate::summary::Summary;
use crate::trace::Trace;

/// About as wide as a letter is, in the key and in the figures, pixels.
const LETTER: f64 = 6.6;
/// Between two entries, and from one line of them to the next.
const GAP: i32 = 20;
const DOWN: i32 = 18;
/// From a figure's name to its value, and from one line to the next.
const INDENT: i32 = 82;
const FIGURE_DOWN: i32 = 15;
/// Where the lines end.
const RIGHT: i32 = SIZE.0 as i32 - 20;

/// A symbol of the picture.
enum Sample {
    Whole(RGBColor, u32),
    Dashed(RGBColor),
    Mark(MarkKind),
    Ring,
    Swatch(RGBColor, bool),
}

impl Sample {
    fn width(&self) -> i32 {
        if matches!(self, Sample::Whole(..) | Sample::Dashed(_)) { 34 } else { 12 }
    }

    fn draw<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>, (x, y): (i32, i32)) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let corners = [(x, y - 6), (x + 12, y + 6)];
        match self {
            Sample::Whole(colour, width) => {
                root.draw(&PathElement::new(vec![(x, y), (x + 34, y)], colour.stroke_width(*width)))?;
            }
            Sample::Dashed(colour) => {
                for dash in dashes(&[(x, y), (x + 34, y)]) {
                    root.draw(&PathElement::new(dash, colour.stroke_width(3)))?;
                }
            }
            Sample::Mark(kind) => mark(root, (x + 6, y), *kind)?,
            Sample::Ring => root.draw(&Circle::new((x + 6, y), 3, GROUND))?,
            Sample::Swatch(colour, true) => root.draw(&Rectangle::new(corners, colour.filled()))?,
            Sample::Swatch(colour, false) => {
                root.draw(&Rectangle::new(corners, colour.mix(0.16).filled()))?;
                root.draw(&Rectangle::new(corners, *colour))?;
            }
        }
        Ok(())
    }
}

/// Draws the key from `at` on, and the figures of the run below it, down to `bottom`.
pub(super) fn draw_key<DB: DrawingBackend>(
    root: &DrawingArea<DB, Shift>,
    (course, trace): (&Course, &Trace),
    (left, top): (i32, i32),
    bottom: i32,
) -> Drawn
where
    DB::ErrorType: 'static,
{
    let (mut x, mut y) = (left, top);
    for (sample, words) in entries(course, trace) {
        let width = sample.width() + 8 + (words.len() as f64 * LETTER) as i32;
        if x + width > RIGHT {
            (x, y) = (left, y + DOWN);
        }
        sample.draw(root, (x, y))?;
        root.draw(&Text::new(words, (x + sample.width() + 8, y - 8), font(13.0)))?;
        x += width + GAP;
    }
    y += DOWN - 6;
    let room = ((bottom - y) / FIGURE_DOWN).max(0) as usize;
    for line in figures(trace, room, ((RIGHT - left - INDENT) as f64 / LETTER) as usize) {
        root.draw(&Text::new(line.0, (left, y), font(12.5).color(&FAINT)))?;
        root.draw(&Text::new(line.1, (left + INDENT, y), font(12.5)))?;
        y += FIGURE_DOWN;
    }
    Ok(())
}

/// Symbols of this picture that the key explains.
fn entries(course: &Course, trace: &Trace) -> Vec<(Sample, &'static str)> {
    let rows = &trace.rows;
    let does = |mode: Mode| rows.iter().any(|r| r.mode == mode);
    let marked = |kind: MarkKind| trace.events.iter().any(|event| mark_of(event) == Some(kind));
    let mut entries = vec![(Sample::Whole(GROUND, 2), "on the ground")];
    entries.extend(does(Mode::Air).then_some((Sample::Dashed(AIR), "in the air")));
    let floating = match (does(Mode::Hover), does(Mode::Swim)) {
        (true, true) => Some("hovering, swimming"),
        (false, true) => Some("swimming"),
        (true, false) => Some("hovering"),
        (false, false) => None,
    };
    entries.extend(floating.map(|words| (Sample::Dashed(TEAL), words)));
    let mut add = |is: bool, sample: Sample, words: &'static str| entries.extend(is.then_some((sample, words)));
    let words = [
        (MarkKind::Jump, "jump"),
        (MarkKind::Fall, "ground left"),
        (MarkKind::Land, "landing"),
        (MarkKind::Dash, "dash"),
        (MarkKind::Crush, "crushed, stuck"),
        (MarkKind::Refusal, "refused"),
    ];
    words.into_iter().for_each(|(kind, words)| add(marked(kind), Sample::Mark(kind), words));
    add(trace.rows.last().is_some_and(|row| row.time >= 5.0), Sample::Ring, "every 5 s");
    add(does(Mode::Climb) || does(Mode::Ledge), Sample::Dashed(GROUND), "holding on");
    add(does(Mode::Slide), Sample::Whole(TEAL, 3), "sliding");
    add(!trace.planned.is_empty(), Sample::Whole(PLANNED, 9), "route planned");
    if rows.iter().any(|r| !is_as_ever(r, rows[0].axis)) {
        add(true, Sample::Swatch(FAINT, false), "standing");
        add(rows.iter().any(|r| r.stance != Stance::Stand), Sample::Swatch(INK, false), "crouched or flat");
    }
    let moving = MOVING.map(|c| (c * 255.0) as u8);
    let moving = Sample::Swatch(RGBColor(moving[0], moving[1], moving[2]), true);
    add(course.scene.solids.is_moving(), moving, "moves, drawn where it starts");
    entries
}

/// The run in figures, in at most so many lines of so many letters. Where there is no room for all, what the picture shows by itself goes
/// first.
fn figures(trace: &Trace, room: usize, letters: usize) -> Vec<(&'static str, String)> {
    let mut lines = Summary::of(trace).lines();
    let mut broken: Vec<(&str, String)> = lines.iter().flat_map(|line| broken_up(line, letters)).collect();
    for spare in ["state", "came into", "driven", "ended"] {
        if broken.len() > room {
            lines.retain(|line| line.0 != spare);
            broken = lines.iter().flat_map(|line| broken_up(line, letters)).collect();
        }
    }
    broken
}

/// A value over several lines, broken after commas, where it is longer than one; only the first has the name.
fn broken_up((name, value): &(&'static str, String), letters: usize) -> Vec<(&'static str, String)> {
    let mut lines = vec![(*name, String::new())];
    for word in value.split_inclusive([',', ';']) {
        let last = lines.len() - 1;
        if !lines[last].1.is_empty() && lines[last].1.len() + word.len() > letters {
            lines.push(("", String::new()));
        }
        let last = lines.len() - 1;
        let word = if lines[last].1.is_empty() { word.trim_start() } else { word };
        lines[last].1.push_str(word);
    }
    lines
}
