//! Height and speed over time, with the times in the air shaded and marked.

use newel::{EventKind, Mode};
use plotters::backend::DrawingBackend;
use plotters::coord::Shift;
use plotters::coord::types::RangedCoordf64;
use plotters::prelude::*;

use super::canvas::{AIR, Drawn, FAINT, GROUND, INK, LINE, font};
use super::chart::short;
use crate::trace::{Row, Trace};

type Chart<'a, DB> = ChartContext<'a, DB, Cartesian2d<RangedCoordf64, RangedCoordf64>>;

/// Two charts under each other with one time axis.
pub(crate) struct Timeline<'a> {
    trace: &'a Trace,
    end: f64,
}

impl<'a> Timeline<'a> {
    pub fn new(trace: &'a Trace) -> Timeline<'a> {
        Timeline { trace, end: trace.rows.last().map_or(1.0, |r| r.time.max(1e-3)) }
    }

    pub fn draw<DB: DrawingBackend>(&self, area: &DrawingArea<DB, Shift>) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let (upper, lower) = area.split_vertically(146);
        self.chart(&upper, "feet, m", |r| r.feet.y, false)?;
        self.chart(&lower, "speed, m/s", |r| r.velocity.length(), true)
    }

    fn chart<DB: DrawingBackend>(
        &self,
        area: &DrawingArea<DB, Shift>,
        name: &str,
        value: fn(&Row) -> f64,
        with_time: bool,
    ) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let rows: Vec<&Row> = self.trace.rows.iter().filter(|r| !self.trace.is_out(r)).collect();
        let (low, high) =
            rows.iter().fold((f64::INFINITY, f64::NEG_INFINITY), |(l, h), r| (l.min(value(r)), h.max(value(r))));
        let room = ((high - low) * 0.12).max(0.1);
        let low = if with_time { 0.0 } else { low - room };
        let mut chart = ChartBuilder::on(area)
            .margin_top(6)
            .margin_right(8)
            .x_label_area_size(if with_time { 34 } else { 4 })
            .y_label_area_size(58)
            .build_cartesian_2d(0.0..self.end, low..high + room)?;
        self.shade_air(&mut chart, low, high + room)?;
        chart
            .configure_mesh()
            .disable_x_mesh()
            .light_line_style(TRANSPARENT)
            .bold_line_style(LINE)
            .axis_style(FAINT)
            .x_labels(if with_time { 14 } else { 0 })
            .y_labels(5)
            .x_label_formatter(&|t| short(*t))
            .y_label_formatter(&|v| short(*v))
            .x_desc(if with_time { "time, s" } else { "" })
            .y_desc(name)
            .label_style(font(12.0))
            .axis_desc_style(font(13.0))
            .draw()?;
        let points: Vec<(f64, f64)> = rows.iter().map(|r| (r.time, value(r))).collect();
        chart.draw_series(to_and_fro(&points).map(|piece| PathElement::new(piece.to_vec(), GROUND.stroke_width(2))))?;
        if !with_time {
            self.name_events(&mut chart, high + room, low)?;
        }
        Ok(())
    }

    /// A tinted band wherever it is in the air.
    fn shade_air<DB: DrawingBackend>(&self, chart: &mut Chart<'_, DB>, low: f64, high: f64) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let spells = self.trace.rows.chunk_by(|a, b| a.mode == b.mode).filter(|s| s[0].mode == Mode::Air);
        let before = |r: &Row| if r.tick == 0 { 0.0 } else { r.time - 1.0 / self.trace.rate };
        let bands =
            spells.map(|s| Rectangle::new([(before(&s[0]), low), (s[s.len() - 1].time, high)], AIR.mix(0.16).filled()));
        chart.draw_series(bands)?;
        Ok(())
    }

    fn name_events<DB: DrawingBackend>(&self, chart: &mut Chart<'_, DB>, top: f64, low: f64) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let mut last = f64::NEG_INFINITY;
        for event in &self.trace.events {
            let name = match event.kind {
                EventKind::Jumped { .. } => "jump",
                EventKind::LeftGround { .. } => "fall",
                EventKind::DroppedThrough { .. } => "drop",
                EventKind::Launched => "launch",
                EventKind::HoverBegan => "hover",
                EventKind::ClimbBegan { .. } => "climb",
                EventKind::Caught { .. } => "catch",
                EventKind::PulledUp { .. } => "pull up",
                EventKind::Vaulted { .. } => "vault",
                EventKind::SwimBegan => "swim",
                EventKind::WentUnder => "under",
                EventKind::Teleported => "teleport",
                _ => continue,
            };
            // Names that would overlap are left to the bands.
            if event.time - last > self.end * 0.045 {
                let at = (event.time + self.end * 0.002, top - (top - low) * 0.03);
                chart.draw_series([Text::new(name, at, font(11.0).color(&INK))])?;
                last = event.time;
            }
        }
        Ok(())
    }
}

/// A line in pieces that only rise or only fall, each from where the one before ended: a stroke that turns back on itself ends in a long tip.
fn to_and_fro(points: &[(f64, f64)]) -> impl Iterator<Item = &[(f64, f64)]> {
    let mut from = 0;
    std::iter::from_fn(move || {
        let rest = points.get(from..).filter(|rest| rest.len() > 1)?;
        let sense = |pair: &[(f64, f64)]| pair[1].1.total_cmp(&pair[0].1);
        let first = rest.windows(2).map(sense).find(|s| s.is_ne());
        let last = rest.windows(2).position(|pair| sense(pair).is_ne() && Some(sense(pair)) != first);
        let piece = &rest[..=last.unwrap_or(rest.len() - 1)];
        from += piece.len() - 1;
        Some(piece)
    })
}
