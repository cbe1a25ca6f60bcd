//! A run as lanes under one time axis: buttons, what waits, what carries it, what it is about, and what was refused why.

use newel::{Button, EventKind, Mode, Phase, Stance};
use plotters::backend::DrawingBackend;
use plotters::coord::Shift;
use plotters::prelude::*;

use super::Format;
use super::canvas::{AIR, BLUE, Drawn, FAINT, GROUND, INK, LINE, PAPER, SIZE, Sheet, TEAL, font, render, title};
use super::chart::short;
use crate::names::{event_name, mode_name, refusal_words};
use crate::trace::{Row, Trace};

/// Draws the seconds `from` to `to` of a run.
///
/// # Errors
/// Only where a drawing backend fails.
pub fn lanes_sheet(
    trace: &Trace,
    (from, to): (f64, f64),
    format: Format,
) -> Result<Vec<u8>, Box<dyn std::error::Error>> {
    render(&LanesSheet { trace, from, to }, format)
}

struct LanesSheet<'a> {
    trace: &'a Trace,
    from: f64,
    to: f64,
}

/// Left and right of the lanes, and the top of the first, pixels.
const LEFT: i32 = 150;
const RIGHT: i32 = SIZE.0 as i32 - 24;
const TOP: i32 = 60;
/// From one lane to the next at most, and the part of it that its bars fill.
const MOST_STEP: i32 = 76;
const BAR: f64 = 0.62;
/// Rows that what happened is spread over, so that words do not overlap, and the height of one.
const ROWS: usize = 6;
const ROW: i32 = 20;
/// Notes below the lanes beside those rows.
const FOOT: i32 = 60;
/// Pixels of a letter.
const LETTER: i32 = 7;

/// Content of a lane at a row: words and colour, or nothing.
type Shows = fn(&Row) -> Option<(&'static str, RGBColor)>;

const LANES: [(&str, Shows); 14] = [
    ("jump held", |r| r.held.has(Button::Jump).then_some(("", INK))),
    ("sprint held", |r| r.held.has(Button::Sprint).then_some(("", INK))),
    ("dash held", |r| r.held.has(Button::Dash).then_some(("", INK))),
    ("slide held", |r| r.held.has(Button::Slide).then_some(("", INK))),
    ("hover held", |r| r.held.has(Button::Hover).then_some(("", INK))),
    ("drop held", |r| r.held.has(Button::Drop).then_some(("", INK))),
    ("grab held", |r| r.held.has(Button::Grab).then_some(("", INK))),
    ("press waits", |r| (r.buffer > 0.0).then_some(("", TEAL))),
    ("coyote time", |r| (r.coyote > 0.0).then_some(("", TEAL))),
    ("underfoot", |r| {
        Some((
            r.support,
            if r.mode == Mode::Air {
                FAINT
            } else if r.support == "firm" {
                GROUND
            } else if r.mode == Mode::Swim {
                BLUE
            } else {
                TEAL
            },
        ))
    }),
    ("mode", |r| {
        Some((
            mode_name(r.mode),
            match r.mode {
                Mode::Ground => GROUND,
                Mode::Slide | Mode::Climb | Mode::Ledge => TEAL,
                Mode::Swim => BLUE,
                _ => AIR,
            },
        ))
    }),
    ("phase", |r| {
        let colour = if r.phase.is_rising() { AIR } else { TEAL };
        (r.phase != Phase::Plain).then_some((r.phase.words(), colour))
    }),
    ("stance", |r| r.stance.is_low().then_some((r.stance.words(), if r.stance == Stance::Prone { INK } else { TEAL }))),
    ("sprints", |r| r.sprinting.then_some(("", TEAL))),
];

impl LanesSheet<'_> {
    fn x(&self, time: f64) -> i32 {
        LEFT + ((time - self.from) / (self.to - self.from) * f64::from(RIGHT - LEFT)) as i32
    }

    fn shown(&self, time: f64) -> bool {
        (self.from..=self.to).contains(&time)
    }

    /// The bars of one lane: one for each stretch of rows that show the same.
    fn lane<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>, (top, bar): (i32, i32), shows: Shows) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let tick = 1.0 / self.trace.rate;
        let rows: Vec<&Row> = self.trace.rows.iter().filter(|r| r.tick > 0 && self.shown(r.time)).collect();
        for stretch in rows.chunk_by(|a, b| shows(a) == shows(b)) {
            let Some((words, colour)) = shows(stretch[0]) else { continue };
            let (left, right) =
                (self.x((stretch[0].time - tick).max(self.from)), self.x(stretch[stretch.len() - 1].time));
            // A hair between stretches, so that two of one colour are two.
            let right = (right - 1).max(left + 2);
            root.draw(&Rectangle::new([(left, top), (right, top + bar)], colour.mix(0.85).filled()))?;
            if words.len() as i32 * LETTER + 8 < right - left {
                root.draw(&Text::new(words, (left + 6, top + bar / 2 - 7), font(13.0).color(&PAPER)))?;
            }
        }
        Ok(())
    }

    /// Events with words, spread over rows; refusals say why.
    fn happened<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>, top: i32) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let mut free = [LEFT; ROWS];
        let mut labels = Vec::new();
        for event in self.trace.events.iter().filter(|e| self.shown(e.time)) {
            let (words, colour) = match event.kind {
                EventKind::Footstep { .. } | EventKind::Stepped { .. } => continue,
                EventKind::Refused { ability, why } => (refusal_words(ability, why), AIR),
                EventKind::StanceChanged { to, .. } => (to.words().to_owned(), TEAL),
                EventKind::NoRoom { wanted, .. } => (format!("no room to {}", room_words(wanted)), AIR),
                EventKind::SlideEnded { distance, reason, .. } => {
                    (format!("slid {distance:.2} m: {}", reason.words()), TEAL)
                }
                EventKind::Jumped { off } => (format!("jumped off {}", off_words(off)), GROUND),
                kind => (event_name(&kind).replace('_', " "), FAINT),
            };
            let x = self.x(event.time);
            let width = words.len() as i32 * LETTER;
            // Words at the right end stand before their mark.
            let from = if x + 8 + width > RIGHT { x - 8 - width } else { x + 8 };
            let Some(row) = (0..ROWS).find(|row| free[*row] <= from.min(x - 5)) else { continue };
            free[row] = from.max(x) + width.max(8) + 10;
            let y = top + ROW * row as i32;
            root.draw(&PathElement::new(vec![(x, TOP - 6), (x, y + 12)], colour.mix(0.45).stroke_width(1)))?;
            root.draw(&Circle::new((x, y + 8), 4, colour.filled()))?;
            labels.push((words, (from, y), width, colour));
        }
        // Over the lines, so that none crosses a word.
        for (words, (x, y), width, colour) in labels {
            root.draw(&Rectangle::new([(x - 2, y + 1), (x + width, y + 15)], PAPER.filled()))?;
            root.draw(&Text::new(words, (x, y), font(13.0).color(&colour)))?;
        }
        Ok(())
    }

    fn axis<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>, bottom: i32) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let length = self.to - self.from;
        let step = [0.02, 0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 60.0];
        let step = step.into_iter().find(|s| length / s <= 16.0).unwrap_or(600.0);
        let mut time = (self.from / step).ceil() * step;
        while time <= self.to + 1e-9 {
            let x = self.x(time);
            root.draw(&PathElement::new(vec![(x, TOP - 6), (x, bottom)], LINE.stroke_width(1)))?;
            root.draw(&Text::new(short(time), (x - 8, bottom + 6), font(12.0)))?;
            time += step;
        }
        root.draw(&Text::new("time, s", (RIGHT - 44, bottom + 24), font(13.0)))?;
        Ok(())
    }
}

fn room_words(wanted: Stance) -> &'static str {
    match wanted {
        Stance::Stand => "stand",
        Stance::Crouch => "crouch",
        Stance::Prone => "lie flat",
    }
}

fn off_words(off: newel::Off) -> &'static str {
    match off {
        newel::Off::Ground => "the ground",
        newel::Off::LostGround => "lost ground",
        newel::Off::Wall => "a wall",
        newel::Off::Air => "nothing, in the air",
        _ => "something",
    }
}

impl Sheet for LanesSheet<'_> {
    fn draw<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let words = format!("{}, {} to {} s", self.trace.title, short(self.from), short(self.to));
        title(root, words)?;
        let used = |shows: Shows| self.trace.rows.iter().any(|r| self.shown(r.time) && shows(r).is_some());
        let lanes: Vec<_> = LANES.into_iter().filter(|(_, shows)| used(*shows)).collect();
        let foot = ROW * ROWS as i32 + FOOT;
        let step = ((SIZE.1 as i32 - TOP - foot) / lanes.len().max(1) as i32).min(MOST_STEP);
        let bar = (f64::from(step) * BAR) as i32;
        let happened = TOP + step * lanes.len() as i32;
        self.axis(root, happened + ROW * ROWS as i32 + 8)?;
        for (i, (name, shows)) in lanes.into_iter().enumerate() {
            let top = TOP + step * i as i32;
            root.draw(&Text::new(name, (20, top + bar / 2 - 8), font(14.0)))?;
            self.lane(root, (top, bar), shows)?;
        }
        root.draw(&Text::new("happened", (20, happened + 2), font(14.0)))?;
        self.happened(root, happened)
    }
}
