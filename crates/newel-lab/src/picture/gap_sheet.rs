//! The widest gap that is crossed, over how high the landing is.

use newel::Tuning;
use plotters::backend::DrawingBackend;
use plotters::coord::Shift;
use plotters::prelude::*;

use super::Format;
use super::canvas::{AIR, Drawn, GROUND, INK, SIZE, Sheet, TEAL, font, render, title};
use super::chart::{Axis, axes, key};
use crate::measure::{Gaps, gaps};

/// Draws how wide gaps may be.
///
/// # Errors
/// Only where a drawing backend fails.
pub fn gap_sheet(title: &str, tuning: &Tuning, format: Format) -> Result<Vec<u8>, Box<dyn std::error::Error>> {
    let least = 4.0 * f64::from(tuning.values().size.radius);
    render(&GapSheet { title: title.to_owned(), gaps: gaps(tuning), least }, format)
}

struct GapSheet {
    title: String,
    gaps: Gaps,
    /// Narrower ones are hopped over whatever the jump, and say nothing about it.
    least: f64,
}

impl Sheet for GapSheet {
    fn draw<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        title(root, format!("{}: the widest gap it crosses", self.title))?;
        let points = || self.gaps.iter().flat_map(|g| &g.1);
        let Some(low) = points().map(|g| g.height).reduce(f64::min) else {
            root.draw(&Text::new("This tuning has no jump.", (70, 100), font(16.0)))?;
            return Ok(());
        };
        let high = points().map(|g| g.height).fold(low, f64::max);
        let widest = points().filter_map(|g| g.widest).fold(1.0, f64::max);
        let area = root.clone().shrink((8, 44), (SIZE.0 - 16, SIZE.1 - 50));
        let room = 0.08 * (high - low).max(0.1);
        let x = Axis { words: "widest gap, m", range: (0.0, 1.06 * widest), labels: 12 };
        let y = Axis { words: "landing over take-off, m", range: (low - room, high + room), labels: 10 };
        let mut chart = axes(&area, "a gap to the left of a line is crossed by that start", &x, &y)?;
        chart.draw_series(LineSeries::new([(0.0, 0.0), (1.06 * widest, 0.0)], INK))?;
        for ((_, row), colour) in self.gaps.iter().zip([TEAL, GROUND, AIR]) {
            let line: Vec<_> =
                row.iter().filter_map(|g| Some((g.widest.filter(|w| *w >= self.least)?, g.height))).collect();
            chart.draw_series(LineSeries::new(line.iter().copied(), colour.stroke_width(3)))?;
            chart.draw_series(line.iter().map(|p| Circle::new(*p, 3, colour.filled())))?;
        }
        for (i, ((start, row), colour)) in self.gaps.iter().zip([TEAL, GROUND, AIR]).enumerate() {
            let level = row.iter().find(|g| g.height == 0.0).and_then(|g| g.widest);
            let words = level.map_or(start.words().to_owned(), |w| format!("{}: {w:.2} m on the level", start.words()));
            // Below the lines there is room.
            key(&area, (84, SIZE.1 as i32 - 190 + 24 * i as i32), colour, &words)?;
        }
        Ok(())
    }
}
