//! The widest gap that is crossed, over how high the landing is.

use newel::Tuning;
use plotters::backend::DrawingBackend;
use plotters::coord::Shift;
use plotters::prelude::*;

use super::canvas::{AIR, Drawn, FAINT, GROUND, INK, PAPER, TEAL};
use super::chart::{Axis, axes, key};
use crate::measure::{Gaps, Start, gaps};

/// How wide gaps may be.
pub(super) struct GapPanel {
    gaps: Gaps,
    /// Narrower ones are hopped over whatever the jump, and say nothing about it.
    least: f64,
}

/// Where the key is: left of the lines, where gaps are narrow.
const KEY: (i32, i32) = (76, 150);
/// Of each start.
const COLOURS: [(Start, RGBColor); 6] = [
    (Start::Standing, TEAL),
    (Start::Running, GROUND),
    (Start::RunningLate, AIR),
    (Start::Sprinting, RGBColor(150, 60, 140)),
    (Start::ExtraJump, RGBColor(196, 150, 20)),
    (Start::OffWall, FAINT),
];

impl GapPanel {
    pub fn new(tuning: &Tuning) -> GapPanel {
        GapPanel { gaps: gaps(tuning), least: 4.0 * f64::from(tuning.values().size.radius) }
    }

    pub fn draw<DB: DrawingBackend>(&self, area: &DrawingArea<DB, Shift>) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let points = || self.gaps.iter().flat_map(|g| &g.1);
        let Some(low) = points().map(|g| g.height).reduce(f64::min) else {
            return Ok(());
        };
        let high = points().map(|g| g.height).fold(low, f64::max);
        let widest = points().filter_map(|g| g.widest).fold(1.0, f64::max);
        let room = 0.08 * (high - low).max(0.1);
        let x = Axis { words: "widest gap, m", range: (0.0, 1.06 * widest), labels: 12 };
        let y = Axis { words: "landing over take-off, m", range: (low - room, high + room), labels: 6 };
        let mut chart =
            axes(area, "the widest gap it crosses: one to the left of a line is crossed by that start", &x, &y)?;
        chart.draw_series(LineSeries::new([(0.0, 0.0), (1.06 * widest, 0.0)], INK))?;
        for (start, row) in &self.gaps {
            let colour = colour_of(*start);
            let line: Vec<_> =
                row.iter().filter_map(|g| Some((g.widest.filter(|w| *w >= self.least)?, g.height))).collect();
            chart.draw_series(LineSeries::new(line.iter().copied(), colour.stroke_width(3)))?;
            chart.draw_series(line.iter().map(|p| Circle::new(*p, 3, colour.filled())))?;
        }
        let down = 24 * self.gaps.len() as i32;
        area.draw(&Rectangle::new([(KEY.0 - 6, KEY.1 - 4), (KEY.0 + 300, KEY.1 + down - 4)], PAPER.mix(0.9).filled()))?;
        for (i, (start, row)) in self.gaps.iter().enumerate() {
            let level = row.iter().find(|g| g.height == 0.0).and_then(|g| g.widest);
            let words = level.map_or(start.words().to_owned(), |w| format!("{}: {w:.2} m on the level", start.words()));
            key(area, (KEY.0, KEY.1 + 24 * i as i32), colour_of(*start), &words)?;
        }
        Ok(())
    }
}

fn colour_of(start: Start) -> RGBColor {
    COLOURS.into_iter().find(|(known, _)| *known == start).map_or(INK, |(_, colour)| colour)
}
