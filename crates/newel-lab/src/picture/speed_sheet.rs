//! Speed over time: up to the top and to a stop, and turning about.

use newel::Tuning;
use plotters::backend::DrawingBackend;
use plotters::coord::Shift;
use plotters::prelude::*;

use super::Format;
use super::canvas::{AIR, Drawn, GROUND, INK, SIZE, Sheet, font, render, title};
use super::chart::{Axis, axes, key, numbered};
use crate::measure::{Measure, Sample, measure, paced};

/// Draws how speed comes and goes with a tuning.
///
/// # Errors
/// Only where a drawing backend fails.
pub fn speed_sheet(title: &str, tuning: &Tuning, format: Format) -> Result<Vec<u8>, Box<dyn std::error::Error>> {
    render(&SpeedSheet::new(title, tuning), format)
}

struct Run {
    samples: Vec<Sample>,
    turn: f64,
    colour: RGBColor,
    words: &'static str,
    /// Prefix of the names of its figures.
    prefix: &'static str,
}

struct SpeedSheet {
    title: String,
    measured: Measure,
    stops: Vec<Run>,
    turns: Vec<Run>,
}

impl SpeedSheet {
    fn new(title: &str, tuning: &Tuning) -> SpeedSheet {
        let runs = |then: Option<f64>| {
            let kinds = [(false, GROUND, "running", ""), (true, AIR, "sprinting", "sprint: ")];
            let wanted = kinds.into_iter().filter(|kind| !kind.0 || tuning.values().sprint.is_some());
            let run = |(sprints, colour, words, prefix)| {
                let (trial, turn) = paced(tuning, sprints, then, 0.3)?;
                Some(Run { samples: trial.samples, turn, colour, words, prefix })
            };
            wanted.filter_map(run).collect()
        };
        SpeedSheet { title: title.to_owned(), measured: measure(tuning), stops: runs(None), turns: runs(Some(-1.0)) }
    }

    fn figure(&self, run: &Run, name: &str) -> f64 {
        self.measured.figure(&format!("{}{name}", run.prefix)).unwrap_or(f64::NAN)
    }

    fn chart<DB: DrawingBackend>(
        &self,
        area: &DrawingArea<DB, Shift>,
        title: &str,
        runs: &[Run],
        marks: impl Fn(&Run) -> Vec<Mark>,
    ) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let marked = runs.iter().flat_map(&marks).map(|mark| mark.time + 0.05);
        let end = runs.iter().filter_map(settled).chain(marked).fold(0.5, f64::max);
        let shown = || runs.iter().flat_map(|r| &r.samples).filter(|s| s.time <= end);
        let (low, high) = shown().fold((0.0f64, 0.0f64), |(l, h), s| (l.min(s.velocity.x), h.max(s.velocity.x)));
        let room = 0.12 * (high - low);
        let y = Axis { words: "speed, m/s", range: (if low < 0.0 { low - room } else { 0.0 }, high + room), labels: 8 };
        let (left, right) = area.split_horizontally(SIZE.0 as i32 - 330);
        let mut chart = axes(&left, title, &Axis { words: "time, s", range: (0.0, end), labels: 12 }, &y)?;
        if low < 0.0 {
            chart.draw_series(LineSeries::new([(0.0, 0.0), (end, 0.0)], INK))?;
        }
        for run in runs {
            let line = run.samples.iter().filter(|s| s.time <= end).map(|s| (s.time, s.velocity.x));
            chart.draw_series(LineSeries::new(line, run.colour.stroke_width(3)))?;
        }
        let mut row = 30;
        for run in runs {
            key(&right, (14, row), run.colour, run.words)?;
            row += 24;
            for (number, mark) in marks(run).into_iter().enumerate() {
                let at = chart.backend_coord(&(mark.time, mark.speed));
                let at = (at.0 - area.get_base_pixel().0, at.1 - area.get_base_pixel().1);
                numbered(area, at, number + 1, run.colour)?;
                numbered(&right, (27, row + 7), number + 1, run.colour)?;
                right.draw(&Text::new(mark.words, (48, row), font(13.0)))?;
                row += 24;
            }
            row += 10;
        }
        Ok(())
    }
}

struct Mark {
    time: f64,
    speed: f64,
    words: String,
}

/// When the last of it is over, and a little more.
fn settled(run: &Run) -> Option<f64> {
    let last = run.samples.last()?.velocity;
    let moving = run.samples.iter().rposition(|s| (s.velocity - last).length() > 0.02 * last.length().max(1.0))?;
    Some(run.samples[moving].time + 0.25)
}

impl Sheet for SpeedSheet {
    fn draw<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        title(root, format!("{}: speed along the ground", self.title))?;
        let charts = root.clone().shrink((8, 44), (SIZE.0 - 16, SIZE.1 - 50));
        let (upper, lower) = charts.split_vertically(372);
        self.chart(&upper, "full speed, then no input", &self.stops, |run| {
            let (near, there) = (self.figure(run, "to 90 %"), self.figure(run, "to top speed"));
            let (top, stop) = (self.figure(run, "top speed"), self.figure(run, "stops in"));
            let way = self.figure(run, "way to top speed");
            let after = self.figure(run, "stops after");
            vec![
                Mark { time: near, speed: 0.9 * top, words: format!("90 % after {near:.3} s") },
                Mark { time: there, speed: top, words: format!("{top:.2} m/s after {there:.3} s, {way:.2} m") },
                Mark { time: run.turn, speed: top, words: "let go".to_owned() },
                Mark { time: run.turn + stop, speed: 0.0, words: format!("stops in {stop:.3} s, {after:.2} m") },
            ]
        })?;
        self.chart(&lower, "full speed, then the other way", &self.turns, |run| {
            let (top, about) = (self.figure(run, "top speed"), self.figure(run, "turns about in"));
            vec![
                Mark { time: run.turn, speed: top, words: "the other way".to_owned() },
                Mark { time: run.turn + about, speed: -top, words: format!("turned about in {about:.3} s") },
            ]
        })
    }
}
