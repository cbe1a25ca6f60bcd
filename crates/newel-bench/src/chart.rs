//! A picture of the measurements.

use newel_bench::Doing;
use plotters::prelude::*;
use plotters::style::{FontStyle, register_font};

use super::Row;

const INK: RGBColor = RGBColor(38, 42, 50);
const LINE: RGBColor = RGBColor(214, 212, 206);
const PAPER: RGBColor = RGBColor(252, 251, 248);
/// One shade for each size of land, light to dark.
const SHADES: [RGBColor; 4] =
    [RGBColor(190, 206, 222), RGBColor(122, 156, 192), RGBColor(52, 92, 146), RGBColor(20, 34, 74)];
const TARGET: RGBColor = RGBColor(208, 70, 24);

type Drawn = Result<(), Box<dyn std::error::Error>>;

/// Draws ticks in microseconds by what is done and how large the land is, and the growth of a walk across country.
pub fn draw(file: &str, rows: &[Row], growth: &[(usize, f64)]) -> Drawn {
    for (style, bytes) in [(FontStyle::Normal, dejavu::sans::regular()), (FontStyle::Bold, dejavu::sans::bold())] {
        let _ = register_font("sans-serif", style, bytes);
    }
    let mut pixels = vec![0; 1280 * 800 * 3];
    {
        let root = BitMapBackend::with_buffer(&mut pixels, (1280, 800)).into_drawing_area();
        root.fill(&PAPER)?;
        let title = ("sans-serif", 22.0, FontStyle::Bold).into_font().color(&INK);
        root.draw(&Text::new("What a tick costs", (24, 14), title))?;
        bars(&root.clone().shrink((10, 52), (1260, 440)), rows)?;
        lines(&root.clone().shrink((10, 500), (1260, 290)), growth)?;
        root.present()?;
    }
    let mut encoder = png::Encoder::new(std::io::BufWriter::new(std::fs::File::create(file)?), 1280, 800);
    encoder.set_color(png::ColorType::Rgb);
    encoder.set_depth(png::BitDepth::Eight);
    encoder.write_header()?.write_image_data(&pixels)?;
    Ok(())
}

fn font(size: f64) -> TextStyle<'static> {
    ("sans-serif", size).into_font().color(&INK)
}

/// A group of bars for each thing done, one for each size, in rays of the same sites.
fn bars<DB: DrawingBackend>(area: &DrawingArea<DB, plotters::coord::Shift>, rows: &[Row]) -> Drawn
where
    DB::ErrorType: 'static,
{
    // On a land that fits in the cache a ray costs next to nothing: ratios are told for the two large ones.
    let top = rows.iter().map(|r| r.tick / 1e3).fold(0.0, f64::max) * 1.2;
    let groups = Doing::ALL.len() as f64;
    let mut chart = ChartBuilder::on(area)
        .margin_top(30)
        .margin_right(20)
        .x_label_area_size(30)
        .y_label_area_size(64)
        .build_cartesian_2d(0.0..groups, 0.0..top)?;
    chart
        .configure_mesh()
        .disable_x_mesh()
        .disable_x_axis()
        .light_line_style(TRANSPARENT)
        .bold_line_style(LINE)
        .axis_style(INK)
        .y_desc("tick of 1/60 s, microseconds")
        .y_label_formatter(&|y| format!("{y:.0}"))
        .label_style(font(13.0))
        .axis_desc_style(font(13.0))
        .draw()?;
    for (g, doing) in Doing::ALL.iter().enumerate() {
        for (i, row) in rows.iter().filter(|r| r.doing == *doing).enumerate() {
            let left = g as f64 + 0.1 + 0.2 * i as f64;
            let height = row.tick / 1e3;
            chart
                .plotting_area()
                .draw(&Rectangle::new([(left, 0.0), (left + 0.18, height)], SHADES[i % 4].filled()))?;
            let at = chart.plotting_area().map_coordinate(&(left + 0.09, height));
            let (base_x, base_y) = area.get_base_pixel();
            let rays = row.tick / row.ray;
            let words = if rays < 9.95 { format!("{rays:.1}") } else { format!("{rays:.0}") };
            area.draw(&Text::new(words, (at.0 - base_x - 8, at.1 - base_y - 16), font(12.0)))?;
        }
        let at = chart.plotting_area().map_coordinate(&(g as f64 + 0.5, 0.0));
        let (base_x, base_y) = area.get_base_pixel();
        let half = doing.name().len() as i32 * 33 / 10;
        area.draw(&Text::new(doing.name(), (at.0 - base_x - half, at.1 - base_y + 8), font(13.0)))?;
    }
    let mut x = 470;
    area.draw(&Text::new("over each bar: the same in ray casts", (74, 6), font(13.0)))?;
    for (i, row) in rows.iter().filter(|r| r.doing == Doing::Walking).enumerate() {
        area.draw(&Rectangle::new([(x, 8), (x + 14, 20)], SHADES[i % 4].filled()))?;
        area.draw(&Text::new(format!("{} triangles", row.triangles), (x + 20, 6), font(13.0)))?;
        x += 180;
    }
    Ok(())
}

fn lines<DB: DrawingBackend>(area: &DrawingArea<DB, plotters::coord::Shift>, growth: &[(usize, f64)]) -> Drawn
where
    DB::ErrorType: 'static,
{
    let least = growth.first().map_or(1.0, |g| g.1);
    let points: Vec<(f64, f64)> = growth.iter().map(|(n, tick)| ((*n as f64).log10(), tick / least)).collect();
    let mut chart = ChartBuilder::on(area)
        .margin_top(30)
        .margin_right(20)
        .x_label_area_size(42)
        .y_label_area_size(64)
        .build_cartesian_2d(2.9..6.1, 0.0..2.5)?;
    chart
        .configure_mesh()
        .light_line_style(TRANSPARENT)
        .bold_line_style(LINE)
        .axis_style(INK)
        .x_labels(4)
        .x_label_formatter(&|x| format!("{:.0}", 10f64.powf(*x)))
        .y_labels(5)
        .y_label_formatter(&|y| format!("{y:.1}"))
        .x_desc("triangles of the land")
        .y_desc("times the smallest")
        .label_style(font(13.0))
        .axis_desc_style(font(13.0))
        .draw()?;
    area.draw(&Text::new("a walk across country: growth with the size of the land", (74, 6), font(13.0)))?;
    chart.draw_series(LineSeries::new([(2.9, 2.0), (6.1, 2.0)], TARGET.stroke_width(2)))?;
    let at = chart.plotting_area().map_coordinate(&(2.95, 2.0));
    let (base_x, base_y) = area.get_base_pixel();
    area.draw(&Text::new("at most twice is the aim", (at.0 - base_x, at.1 - base_y - 18), font(13.0).color(&TARGET)))?;
    chart.draw_series(LineSeries::new(points.iter().copied(), SHADES[2].stroke_width(3)))?;
    for (point, (_, tick)) in points.iter().zip(growth) {
        chart.plotting_area().draw(&Circle::new(*point, 5, SHADES[3].filled()))?;
        let at = chart.plotting_area().map_coordinate(point);
        let words = format!("{:.2} ({:.1} µs)", point.1, tick / 1e3);
        area.draw(&Text::new(words, (at.0 - base_x - 34, at.1 - base_y + 10), font(13.0)))?;
    }
    Ok(())
}
