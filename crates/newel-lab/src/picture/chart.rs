//! What charts share: axes in ink and units, lines with a key, marks.

use plotters::backend::DrawingBackend;
use plotters::coord::Shift;
use plotters::coord::types::RangedCoordf64;
use plotters::prelude::*;

use super::canvas::{Drawn, FAINT, INK, LINE, PAPER, font};

/// A chart with plain axes.
pub(crate) type Chart<'a, DB> = ChartContext<'a, DB, Cartesian2d<RangedCoordf64, RangedCoordf64>>;

/// Label and range of an axis.
pub(crate) struct Axis<'a> {
    pub words: &'a str,
    pub range: (f64, f64),
    /// About how many figures stand along it.
    pub labels: usize,
}

/// Subject of a part of a sheet.
pub(crate) fn heading<DB: DrawingBackend>(area: &DrawingArea<DB, Shift>, words: &str) -> Drawn
where
    DB::ErrorType: 'static,
{
    let bold = ("sans-serif", 15.0, FontStyle::Bold).into_font().color(&INK);
    area.draw(&Text::new(words.to_owned(), (66, 8), bold))?;
    Ok(())
}

/// Draws the axes of a chart into `area`, with a title over it.
pub(crate) fn axes<'a, DB: DrawingBackend>(
    area: &'a DrawingArea<DB, Shift>,
    title: &str,
    x: &Axis<'_>,
    y: &Axis<'_>,
) -> Result<Chart<'a, DB>, Box<dyn std::error::Error>>
where
    DB::ErrorType: 'static,
{
    let mut chart = ChartBuilder::on(area)
        .margin_top(30)
        .margin_right(16)
        .x_label_area_size(38)
        .y_label_area_size(58)
        .build_cartesian_2d(x.range.0..x.range.1, y.range.0..y.range.1)?;
    area.draw(&Text::new(title.to_owned(), (58, 8), ("sans-serif", 15.0, FontStyle::Bold).into_font().color(&INK)))?;
    chart
        .configure_mesh()
        .light_line_style(TRANSPARENT)
        .bold_line_style(LINE)
        .axis_style(FAINT)
        .x_labels(x.labels)
        .y_labels(y.labels)
        .x_label_formatter(&|v| short(*v))
        .y_label_formatter(&|v| short(*v))
        .x_desc(x.words)
        .y_desc(y.words)
        .label_style(font(12.0))
        .axis_desc_style(font(13.0))
        .draw()?;
    Ok(chart)
}

/// A figure without needless noughts.
pub(crate) fn short(value: f64) -> String {
    let text = format!("{value:.2}");
    let text = if text.contains('.') { text.trim_end_matches('0').trim_end_matches('.') } else { &text };
    if text == "-0" { "0".to_owned() } else { text.to_owned() }
}

/// A line of a key: a stroke of colour and words.
pub(crate) fn key<DB: DrawingBackend>(
    area: &DrawingArea<DB, Shift>,
    (x, y): (i32, i32),
    colour: RGBColor,
    words: &str,
) -> Drawn
where
    DB::ErrorType: 'static,
{
    area.draw(&PathElement::new(vec![(x, y + 7), (x + 26, y + 7)], colour.stroke_width(3)))?;
    area.draw(&Text::new(words.to_owned(), (x + 34, y), font(13.0)))?;
    Ok(())
}

/// A numbered mark on a line.
pub(crate) fn numbered<DB: DrawingBackend>(
    area: &DrawingArea<DB, Shift>,
    (x, y): (i32, i32),
    number: usize,
    colour: RGBColor,
) -> Drawn
where
    DB::ErrorType: 'static,
{
    let middle = plotters::style::text_anchor::Pos::new(
        plotters::style::text_anchor::HPos::Center,
        plotters::style::text_anchor::VPos::Center,
    );
    area.draw(&Circle::new((x, y), 9, PAPER.filled()))?;
    area.draw(&Circle::new((x, y), 9, colour.stroke_width(2)))?;
    area.draw(&Text::new(number.to_string(), (x, y + 1), font(12.0).pos(middle)))?;
    Ok(())
}
