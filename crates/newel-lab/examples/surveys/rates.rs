//! How far apart runs at different tick rates are: from the same run at 1000 Hz, and beside a plain per-frame integration.

use std::path::Path;

use newel::glam::{DVec3, Vec3};
use newel::{Button, Change, Character, Heading, Intent, Mesh, Modifiers, Tick, Timed, Tuning, Workspace};
use plotters::prelude::*;

use super::{Drawn, INK, LINE, bound, draw_to, font};

const SECONDS: f64 = 20.0;
const RATES: [f64; 5] = [15.0, 30.0, 60.0, 144.0, 240.0];
/// Less than this, millimetres, is drawn as this: it has no place on a logarithmic axis.
const LEAST: f64 = 1e-8;

/// Wishes from a moment on.
type Moment = (f64, Change);

/// Headings every 0.37 s and a jump every 1.51 s, between ticks of any rate.
fn moments() -> Vec<Moment> {
    let ways = [(1.0, 0.0), (0.6, 0.8), (0.0, 0.0), (0.0, 1.0), (-0.8, 0.6), (0.3, -0.2), (-1.0, 0.0)];
    let heading = |k: usize| {
        let (x, z) = ways[k % ways.len()];
        Change::Heading(Heading::World(Vec3::new(x, 0.0, z)))
    };
    let mut moments: Vec<Moment> = (0..54).map(|k| (0.013 + k as f64 * 0.37, heading(k))).collect();
    for k in 1..13 {
        let at = f64::from(k) * 1.51;
        moments.extend([(at, Change::Button(Button::Jump, true)), (at + 0.2, Change::Button(Button::Jump, false))]);
    }
    moments.sort_by(|a, b| a.0.total_cmp(&b.0));
    moments
}

/// The intent of the ticks up to `now`, and what changes in the next `dt` seconds.
fn wanted(moments: &[Moment], now: f64, dt: f64) -> Intent {
    let mut intent = Intent::default();
    for (at, change) in moments {
        match *change {
            Change::Heading(heading) if *at <= now + 1e-9 => intent.heading = heading,
            Change::Button(button, down) if *at <= now + 1e-9 => intent.buttons = intent.buttons.with(button, down),
            change if *at < now + dt - 1e-9 => {
                intent = intent.then(Timed { at: at - now, change }).unwrap_or(intent);
            }
            _ => {}
        }
    }
    intent
}

/// A run over open ground, told where it is at each of `times`, in ticks of at most `dt`.
fn run(times: &[f64], dt: f64) -> Result<Vec<DVec3>, Box<dyn std::error::Error>> {
    let corners = [[-500.0, 0.0, -500.0], [-500.0, 0.0, 500.0], [500.0, 0.0, 500.0], [500.0, 0.0, -500.0f64]];
    let (mesh, tuning) = (Mesh::new(&corners, &[0, 1, 2, 0, 2, 3])?, Tuning::brisk_hero());
    let mut hero = Character::spawn(&mesh, &tuning, [0.0; 3])?;
    let (mut work, modifiers, moments) = (Workspace::new(), Modifiers::default(), moments());
    let mut places = Vec::new();
    for end in times {
        while hero.clock < end - 1e-9 {
            let dt = dt.min(end - hero.clock);
            let intent = wanted(&moments, hero.clock, dt);
            let tick = Tick { number: 0, terrain: &mesh, tuning: &tuning, modifiers: &modifiers, dt };
            tick.step(&mut work, &mut hero, &intent, &[])?;
        }
        places.push(hero.position);
    }
    Ok(places)
}

/// The same, as it is done in an afternoon: once a frame, ask what is held, add to the velocity, add to the place.
fn plain(times: &[f64], dt: f64) -> Vec<DVec3> {
    let tuning = Tuning::brisk_hero();
    let (values, moments) = (tuning.values(), moments());
    let (mut place, mut velocity, mut held) = (DVec3::ZERO, DVec3::ZERO, false);
    let mut places = Vec::new();
    for end in times {
        let intent = wanted(&moments, end - dt, 1e-12);
        let Heading::World(way) = intent.heading else { continue };
        let grounded = place.y <= 0.0;
        let pressed = intent.buttons.has(Button::Jump) && !held;
        held = intent.buttons.has(Button::Jump);
        let wish = way.as_dvec3() * f64::from(values.ground.speed);
        let rate = if grounded { values.ground.acceleration } else { values.air.acceleration };
        let apart = DVec3::new(wish.x - velocity.x, 0.0, wish.z - velocity.z);
        velocity += apart * (f64::from(rate) * dt / apart.length().max(1e-9)).min(1.0);
        if grounded && pressed {
            velocity.y = tuning.take_off_speed();
        } else if !grounded {
            velocity.y -= dt * if velocity.y > 0.0 { tuning.rising_gravity() } else { tuning.falling_gravity() };
        }
        place += velocity * dt;
        if place.y <= 0.0 {
            (place.y, velocity.y) = (0.0, velocity.y.max(0.0));
        }
        places.push(place);
    }
    places
}

fn distances(a: &[DVec3], b: &[DVec3]) -> Vec<f64> {
    a.iter().zip(b).map(|(a, b)| ((*a - *b).length() * 1e3).max(LEAST)).collect()
}

/// Draws it, and fails where any rate is more than a millimetre off.
pub fn survey(file: &Path) -> Drawn {
    let ticks = |rate: f64| (1..=(SECONDS * rate) as u32).map(|i| f64::from(i) / rate).collect::<Vec<_>>();
    let mut lines = Vec::new();
    for rate in RATES {
        let times = ticks(rate);
        let off = distances(&run(&times, 1.0 / rate)?, &run(&times, 1e-3)?);
        let worst = off.iter().copied().fold(0.0, f64::max);
        println!("at {rate} Hz at most {worst:.6} mm from 1000 Hz in {SECONDS} s of running and jumping");
        bound(worst < 1.0, "a tick rate is more than a millimetre off")?;
        let fast = ticks(1000.0);
        let own = distances(&plain(&times, 1.0 / rate), &at(&plain(&fast, 1e-3), &times));
        lines.push((rate, times, off, own));
    }
    draw_to(file, "The same run at five tick rates: distance from the run at 1000 Hz", |root| {
        let area = root.margin(50, 6, 14, 20);
        let mut chart = ChartBuilder::on(&area)
            .margin_top(60)
            .x_label_area_size(42)
            .y_label_area_size(80)
            .build_cartesian_2d(0.0..SECONDS, (LEAST..1e5).log_scale())?;
        chart
            .configure_mesh()
            .light_line_style(TRANSPARENT)
            .bold_line_style(LINE)
            .x_labels(11)
            .y_labels(13)
            .y_label_formatter(&|y| if *y <= LEAST { "0".to_owned() } else { format!("1e{:.0}", y.log10()) })
            .x_desc("time, s")
            .y_desc("distance, mm")
            .label_style(font(13.0))
            .axis_desc_style(font(13.0))
            .draw()?;
        chart.draw_series([PathElement::new(vec![(0.0, 1.0), (SECONDS, 1.0)], INK.stroke_width(2))])?;
        chart.draw_series([Text::new("the bound: 1 mm", (0.84 * SECONDS, 0.6), font(13.0))])?;
        let colours = [(24, 34, 74), (208, 70, 24), (0, 128, 112), (150, 60, 140), (150, 130, 20)];
        for (i, ((rate, times, off, own), (r, g, b))) in lines.iter().zip(colours).enumerate() {
            let colour = RGBColor(r, g, b);
            let points = |values: &[f64]| times.iter().copied().zip(values.to_vec()).collect::<Vec<_>>();
            chart.draw_series(LineSeries::new(points(off), colour.stroke_width(2)))?;
            chart.draw_series(LineSeries::new(points(own), colour.mix(0.45).stroke_width(1)))?;
            let x = 96 + 110 * i as i32;
            area.draw(&PathElement::new(vec![(x, 16), (x + 26, 16)], colour.stroke_width(3)))?;
            area.draw(&Text::new(format!("{rate} Hz"), (x + 32, 8), font(13.0)))?;
        }
        let words = "strong lines: newel; faint lines above: velocity and place added up once a frame, against the same at 1000 Hz";
        area.draw(&Text::new(words, (96, 34), font(13.0)))?;
        Ok(())
    })
}

/// The run at 1000 Hz at other times.
fn at(fast: &[DVec3], times: &[f64]) -> Vec<DVec3> {
    let place = |time: &f64| {
        let (index, part) = ((time * 1e3 - 1.0).max(0.0) as usize, (time * 1e3).fract());
        let next = (index + 1).min(fast.len() - 1);
        fast[index].lerp(fast[next], part)
    };
    times.iter().map(place).collect()
}
