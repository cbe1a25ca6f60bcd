//! Surveys and their pictures: how smooth a walk over facets is, what slopes do to it, and what tick rates do not.
//!
//! `cargo run --release -p newel-lab --example surveys -- docs/screenshots`

mod rates;

use std::path::Path;

use newel::glam::{DVec3, Vec3};
use newel::{Character, Intent, Mesh, Modifiers, Tick, Tuning, Workspace};
use plotters::prelude::*;
use plotters::style::{FontStyle, register_font};

type Area<'a> = DrawingArea<BitMapBackend<'a>, plotters::coord::Shift>;
type Drawn = Result<(), Box<dyn std::error::Error>>;

const PAPER: RGBColor = RGBColor(252, 251, 248);
const INK: RGBColor = RGBColor(38, 42, 50);
const LINE: RGBColor = RGBColor(214, 212, 206);
/// Told apart by shade and by width.
const FIRST: RGBColor = RGBColor(208, 70, 24);
const SECOND: RGBColor = RGBColor(24, 34, 74);
const THIRD: RGBColor = RGBColor(60, 140, 120);

fn main() -> Drawn {
    for (style, bytes) in [(FontStyle::Normal, dejavu::sans::regular()), (FontStyle::Bold, dejavu::sans::bold())] {
        let _ = register_font("sans-serif", style, bytes);
    }
    let directory = std::env::args().nth(1).unwrap_or_else(|| "target".to_owned());
    smoothness(&Path::new(&directory).join("smoothness.png"))?;
    slopes(&Path::new(&directory).join("slopes.png"))?;
    rates::survey(&Path::new(&directory).join("rates.png"))
}

/// A picture with a title, drawn and written.
fn draw_to(file: &Path, title: &str, draw: impl FnOnce(&Area<'_>) -> Drawn) -> Drawn {
    let mut pixels = vec![0; 1280 * 800 * 3];
    {
        let root = BitMapBackend::with_buffer(&mut pixels, (1280, 800)).into_drawing_area();
        root.fill(&PAPER)?;
        let bold = ("sans-serif", 22.0, FontStyle::Bold).into_font().color(&INK);
        root.draw(&Text::new(title.to_owned(), (24, 14), bold))?;
        draw(&root)?;
        root.present()?;
    }
    write_png(file, &pixels)
}

fn write_png(file: &Path, pixels: &[u8]) -> Drawn {
    let mut encoder = png::Encoder::new(std::io::BufWriter::new(std::fs::File::create(file)?), 1280, 800);
    encoder.set_color(png::ColorType::Rgb);
    encoder.set_depth(png::BitDepth::Eight);
    encoder.set_compression(png::Compression::High);
    encoder.write_header()?.write_image_data(pixels)?;
    Ok(())
}

/// The program fails if a survey finds a violation.
fn bound(holds: bool, what: &str) -> Drawn {
    if holds { Ok(()) } else { Err(what.into()) }
}

fn font(size: f64) -> TextStyle<'static> {
    ("sans-serif", size).into_font().color(&INK)
}

/// A character walking over a mesh, tick by tick.
struct Walk {
    mesh: Mesh,
    hero: Character,
    work: Workspace,
    tuning: Tuning,
}

impl Walk {
    fn new(triangles: &[[DVec3; 3]], at: DVec3) -> Result<Walk, Box<dyn std::error::Error>> {
        let corners: Vec<[f64; 3]> = triangles.as_flattened().iter().map(|c| c.to_array()).collect();
        let indices: Vec<u32> = (0..corners.len() as u32).collect();
        let (mesh, tuning) = (Mesh::new(&corners, &indices)?, Tuning::walker());
        let hero = Character::spawn(&mesh, &tuning, at)?;
        Ok(Walk { mesh, hero, work: Workspace::new(), tuning })
    }

    fn tick(&mut self, dt: f64, heading: Vec3) -> Drawn {
        let modifiers = Modifiers::default();
        let tick = Tick { number: 0, terrain: &self.mesh, tuning: &self.tuning, modifiers: &modifiers, dt };
        tick.step(&mut self.work, &mut self.hero, &Intent::toward(heading), &[])?;
        Ok(())
    }
}

/// A strip along x: uneven slivers, rolling facets, eight stairs and a landing.
fn strip() -> Vec<[DVec3; 3]> {
    let mut heights: Vec<(f64, f64)> = vec![(-3.0, 0.0), (0.0, 0.0)];
    let mut x = 0.0;
    for i in 0..40 {
        x += 0.03 + 0.02 * f64::from(i % 3);
        heights.push((x, 0.0));
    }
    for i in 0..24 {
        x += 0.16 + 0.07 * f64::from(i % 4);
        heights.push((x, 0.11 * (f64::from(i) * 1.1).sin() + 0.03 * f64::from(i % 2)));
    }
    heights.extend([(x + 0.3, 0.0), (x + 1.0, 0.0)]);
    x += 1.0;
    for i in 1..=8 {
        heights.extend([(x, 0.17 * f64::from(i)), (x + 0.29, 0.17 * f64::from(i))]);
        x += 0.29;
    }
    heights.push((x + 4.0, 0.17 * 8.0));
    let mut triangles = Vec::new();
    for pair in heights.windows(2) {
        let p = |(x, y): (f64, f64), z: f64| DVec3::new(x, y, z);
        let [a, b, c, d] = [p(pair[0], -3.0), p(pair[0], 3.0), p(pair[1], 3.0), p(pair[1], -3.0)];
        triangles.extend([[a, b, c], [a, c, d]]);
    }
    triangles
}

/// The exact height of the feet of a foot of this radius resting on the strip at `x`: the highest that any of its edges,
/// seen from the side, holds a circle.
fn support(triangles: &[[DVec3; 3]], x: f64, radius: f64) -> f64 {
    let mut highest = f64::NEG_INFINITY;
    for pair in triangles.chunks_exact(2) {
        let (p, q) = (pair[0][0], pair[0][2]);
        for corner in [p, q] {
            let off = x - corner.x;
            if off.abs() <= radius {
                highest = highest.max(corner.y + (radius * radius - off * off).sqrt() - radius);
            }
        }
        let (run, rise) = (q.x - p.x, q.y - p.y);
        let length = run.hypot(rise);
        if run > 0.0 {
            // The circle's middle lies over the face, out along its normal.
            let foot = x + radius * rise / length;
            if (p.x..=q.x).contains(&foot) {
                highest = highest.max(p.y + rise * (foot - p.x) / run + radius * run / length - radius);
            }
        }
    }
    highest
}

fn smoothness(file: &Path) -> Drawn {
    let triangles = strip();
    let radius = f64::from(Tuning::walker().shape().radius);
    let mut lines = Vec::new();
    for (rate, colour, width) in [(15.0, FIRST, 4), (60.0, SECOND, 2), (240.0, THIRD, 1)] {
        let mut walk = Walk::new(&triangles, DVec3::new(-1.5, 0.0, 0.0))?;
        let mut points = Vec::new();
        while walk.hero.position.x < 12.0 && walk.hero.clock < 8.0 {
            walk.tick(1.0 / rate, Vec3::X)?;
            let at = walk.hero.position;
            points.push((at.x, (at.y - support(&triangles, at.x, radius)) * 1e3, at.y));
        }
        let worst = points.iter().map(|p| p.1.abs()).fold(0.0, f64::max);
        println!("smoothness at {rate} Hz: at most {worst:.4} mm off the exact support height");
        bound(worst <= 0.01, "a walk is off the exact support height by more than 0.01 mm")?;
        lines.push((rate, colour, width, points));
    }
    draw_to(file, "Over slivers, rolling facets and stairs at 4.5 m/s", |root| {
        let (upper, lower) = root.margin(50, 6, 14, 34).split_vertically(300);
        let mut chart = ChartBuilder::on(&upper)
            .margin_top(8)
            .x_label_area_size(2)
            .y_label_area_size(78)
            .build_cartesian_2d(-1.5..12.0, -0.5..1.6)?;
        chart
            .configure_mesh()
            .disable_x_mesh()
            .light_line_style(TRANSPARENT)
            .bold_line_style(LINE)
            .disable_x_axis()
            .y_desc("height, m")
            .y_label_formatter(&|y: &f64| format!("{:.1}", if y.abs() < 0.05 { 0.0 } else { *y }))
            .label_style(font(13.0))
            .axis_desc_style(font(13.0))
            .draw()?;
        let profile =
            triangles.chunks_exact(2).flat_map(|t| [t[0][0], t[0][2]]).filter(|p| (-1.5..=12.0).contains(&p.x));
        chart.draw_series(LineSeries::new(profile.map(|p| (p.x, p.y)), INK.stroke_width(2)))?;
        chart.draw_series(LineSeries::new(lines[1].3.iter().map(|p| (p.0, p.2)), SECOND.stroke_width(1)))?;
        upper.draw(&Text::new("the ground (black) and the feet (blue)", (96, 12), font(13.0)))?;
        let most = 0.01;
        let mut chart = ChartBuilder::on(&lower)
            .margin_top(30)
            .x_label_area_size(42)
            .y_label_area_size(78)
            .build_cartesian_2d(-1.5..12.0, -most..most)?;
        chart
            .configure_mesh()
            .disable_x_mesh()
            .light_line_style(TRANSPARENT)
            .bold_line_style(LINE)
            .x_desc("distance, m; ticks below mark the edges of facets")
            .y_desc("off the exact support height, mm")
            .label_style(font(13.0))
            .axis_desc_style(font(13.0))
            .draw()?;
        for x in triangles.chunks_exact(2).map(|t| t[0][0].x).filter(|x| *x > -1.5) {
            chart.draw_series([PathElement::new(vec![(x, -most), (x, -most * 0.92)], INK.stroke_width(1))])?;
        }
        let mut at = 96;
        for (rate, colour, width, points) in &lines {
            chart.draw_series(LineSeries::new(points.iter().map(|p| (p.0, p.1)), colour.stroke_width(*width)))?;
            lower.draw(&PathElement::new(vec![(at, 16), (at + 26, 16)], colour.stroke_width(*width)))?;
            lower.draw(&Text::new(format!("{rate} Hz"), (at + 32, 8), font(13.0)))?;
            at += 110;
        }
        Ok(())
    })
}

/// A walker on a plane of one slope.
struct OnSlope {
    degrees: f64,
    /// Speed along the plane after a second and a half of heading up, down and across, m/s: up, down, and along across.
    speeds: [f64; 3],
    /// How far ten seconds without input have moved it, millimetres.
    creep: f64,
}

fn on_slope(degrees: f64) -> Result<OnSlope, Box<dyn std::error::Error>> {
    let tilt = degrees.to_radians();
    // The plane rises along +x. Long enough to slide down.
    let (ahead, up) = (DVec3::new(tilt.cos(), tilt.sin(), 0.0), DVec3::new(-tilt.sin(), tilt.cos(), 0.0));
    let p = |x: f64, z: f64| ahead * x + DVec3::Z * z;
    let [a, b, c, d] = [p(-2000.0, -50.0), p(-2000.0, 50.0), p(50.0, 50.0), p(50.0, -50.0)];
    let triangles = [[a, b, c], [a, c, d]];
    // In touch: the foot's middle a radius off the plane.
    let start = up * 0.3 - DVec3::Y * 0.3 + DVec3::Y * 1e-4;
    let start = if degrees > 89.9 { DVec3::new(-0.3001, 0.0, 0.0) } else { start };
    let mut speeds = [0.0; 3];
    for (speed, (heading, along)) in
        speeds.iter_mut().zip([(Vec3::X, ahead), (Vec3::NEG_X, -ahead), (Vec3::Z, DVec3::Z)])
    {
        let mut walk = Walk::new(&triangles, start)?;
        for _ in 0..60 {
            walk.tick(1.0 / 60.0, heading)?;
        }
        *speed = walk.hero.velocity.dot(along);
    }
    let mut walk = Walk::new(&triangles, start)?;
    for _ in 0..10 {
        walk.tick(1.0 / 60.0, Vec3::ZERO)?;
    }
    let from = walk.hero.position;
    for _ in 0..600 {
        walk.tick(1.0 / 60.0, Vec3::ZERO)?;
    }
    Ok(OnSlope { degrees, speeds, creep: (walk.hero.position - from).length() * 1e3 })
}

fn slopes(file: &Path) -> Drawn {
    let rows = (0..=180).map(|i| on_slope(f64::from(i) * 0.5)).collect::<Result<Vec<_>, _>>()?;
    let walked: Vec<&OnSlope> = rows.iter().filter(|r| r.degrees <= 45.0).collect();
    let (least, most) =
        walked.iter().flat_map(|r| r.speeds).fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), s| (a.min(s), b.max(s)));
    let creep = walked.iter().map(|r| r.creep).fold(0.0, f64::max);
    println!("slopes to 45 degrees: {least:.6} to {most:.6} m/s up, down and across; creep {creep} mm in 10 s");
    let climbed = rows.iter().filter(|r| r.degrees > 45.0).map(|r| r.speeds[0]).fold(f64::NEG_INFINITY, f64::max);
    println!("steeper: at most {climbed:.6} m/s up");
    bound(most - least < 1e-5 && creep == 0.0, "slopes up to the limit change the speed, or creep")?;
    bound(climbed < 0.0, "something steeper than the limit was climbed")?;

    draw_to(file, "What a slope does: a walker whose limit is 45 degrees", |root| {
        let (upper, lower) = root.margin(50, 6, 14, 34).split_vertically(420);
        let mut chart = ChartBuilder::on(&upper)
            .margin_top(30)
            .x_label_area_size(30)
            .y_label_area_size(70)
            .build_cartesian_2d(0.0..90.0, -20.0..20.0)?;
        chart
            .configure_mesh()
            .light_line_style(TRANSPARENT)
            .bold_line_style(LINE)
            .x_labels(10)
            .y_desc("speed along the surface after 1 s, m/s")
            .label_style(font(13.0))
            .axis_desc_style(font(13.0))
            .draw()?;
        chart.draw_series([PathElement::new(vec![(45.0, -20.0), (45.0, 20.0)], INK.stroke_width(1))])?;
        let kinds = [("heading up", FIRST, 4, 0), ("heading down", SECOND, 2, 1), ("heading across", THIRD, 2, 2)];
        for (i, (name, colour, width, which)) in kinds.into_iter().enumerate() {
            let points = rows.iter().map(|r| (r.degrees, r.speeds[which]));
            chart.draw_series(LineSeries::new(points, colour.stroke_width(width)))?;
            let x = 86 + 170 * i as i32;
            upper.draw(&PathElement::new(vec![(x, 16), (x + 26, 16)], colour.stroke_width(width)))?;
            upper.draw(&Text::new(name, (x + 32, 8), font(13.0)))?;
        }
        upper.draw(&Text::new("below zero: it slides down however it heads up", (86 + 540, 8), font(13.0)))?;
        // Zero has no place on a logarithmic axis: it is drawn at the bottom.
        let shown = |creep: f64| creep.max(1e-6);
        let mut chart = ChartBuilder::on(&lower)
            .margin_top(30)
            .x_label_area_size(42)
            .y_label_area_size(70)
            .build_cartesian_2d(0.0..90.0, (1e-6..1e7).log_scale())?;
        chart
            .configure_mesh()
            .light_line_style(TRANSPARENT)
            .bold_line_style(LINE)
            .x_labels(10)
            .y_labels(8)
            .y_label_formatter(&|y| if *y <= 1e-6 { "0".to_owned() } else { format!("{y:e}") })
            .x_desc("slope, degrees")
            .y_desc("creep in 10 s, mm")
            .label_style(font(13.0))
            .axis_desc_style(font(13.0))
            .draw()?;
        chart.draw_series([PathElement::new(vec![(45.0, 1e-6), (45.0, 1e7)], INK.stroke_width(1))])?;
        let points = rows.iter().map(|r| (r.degrees, shown(r.creep)));
        chart.draw_series(LineSeries::new(points, SECOND.stroke_width(3)))?;
        lower.draw(&Text::new(
            "without input: not a bit up to the limit, a free slide beyond it",
            (86, 8),
            font(13.0),
        ))?;
        Ok(())
    })
}
