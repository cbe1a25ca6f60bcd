//! What planning costs: beside the search crate alone on the same grid, on the islet and on a square kilometre of rolling land with walls;
//! and how long each call takes on six square kilometres of rough land, prepared and not, to goals that can be reached and that cannot.
//!
//! `cargo run --release -p newel-lab --example planning`

mod wide;

use std::time::Instant;

use newel::glam::DVec3;
use newel::{Mesh, Terrain, Tuning};
use newel_lab::Course;
use newel_routes::{Routes, Survey};
use pathfinding::directed::astar::astar;

/// Trips planned on each land.
const TRIPS: usize = 60;

struct Dice(u64);

impl Dice {
    fn between(&mut self, low: f64, high: f64) -> f64 {
        self.0 = self.0.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        low + (high - low) * (self.0 >> 11) as f64 / (1u64 << 53) as f64
    }
}

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let course = Course::load(concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/courses/gull-rock.toml"))?;
    let survey = Survey::of(&course.tuning);
    measure("the islet, 94 by 72 m", &course.scene, &course.tuning, survey, [[-40.0, -32.0], [48.0, 34.0]])?;
    let (land, tuning) = (rolling_land()?, Tuning::walker());
    let survey = Survey { cell: 1.0, jumps: false, ..Survey::of(&tuning) };
    measure("rolling land with walls, 1 km by 1 km", &land, &tuning, survey, [[5.0, 5.0], [995.0, 995.0]])?;
    wide::measure(&tuning)
}

fn measure(
    name: &str,
    level: &dyn Terrain,
    tuning: &Tuning,
    survey: Survey,
    [low, high]: [[f64; 2]; 2],
) -> Result<(), Box<dyn std::error::Error>> {
    let routes = Routes::new(survey, tuning)?;
    let corners = [low, high].map(|[x, z]| DVec3::new(x, 0.0, z));
    let began = Instant::now();
    routes.prepare(level, corners[0], corners[1])?;
    let surveyed = began.elapsed().as_secs_f64();
    let size = routes.surveyed();
    println!("{name}, cells of {:.2} m", survey.cell);
    println!(
        "  surveyed in {surveyed:.2} s: {} places in {} tiles, {:.1} MB",
        size.places,
        size.tiles,
        size.bytes as f64 / 1e6
    );
    let mut dice = Dice(3);
    let (mut ours, mut bare, mut looked, mut longest) = (Vec::new(), Vec::new(), 0, 0.0f64);
    while ours.len() < TRIPS {
        let mut anywhere = || {
            let aim = DVec3::new(dice.between(low[0], high[0]), 80.0, dice.between(low[1], high[1]));
            routes.pick(level, aim, newel::glam::Vec3::NEG_Y).ok()
        };
        let (Some(from), Some(to)) = (anywhere(), anywhere()) else { continue };
        let began = Instant::now();
        let route = routes.plan_at_once(level, from, to)?;
        let time = began.elapsed().as_secs_f64();
        // The search alone: over the same places and ways, in plain tables, made before the clock starts.
        let Some(grid) = routes.grid(level, from, to) else { continue };
        let began = Instant::now();
        let found = astar(
            &grid.start,
            |n| grid.onward[*n as usize].iter().copied(),
            |n| grid.left[*n as usize],
            |n| *n == grid.end,
        );
        let alone = began.elapsed().as_secs_f64();
        if found.is_none() || route.short.is_some() {
            continue;
        }
        longest = longest.max(route.length);
        looked = looked.max(grid.onward.len());
        ours.push(time);
        bare.push(alone);
    }
    let median = |values: &mut Vec<f64>| {
        values.sort_by(f64::total_cmp);
        1e3 * values[values.len() / 2]
    };
    let sums = [ours.iter().sum::<f64>(), bare.iter().sum::<f64>()];
    let most = 1e3 * ours.iter().copied().fold(0.0, f64::max);
    let (ours, bare) = (median(&mut ours), median(&mut bare));
    println!("  {TRIPS} routes, to {longest:.0} m: median {ours:.2} ms, most {most:.1} ms");
    println!(
        "  the search alone over {looked} places: median {bare:.2} ms; all together {:.2} times that",
        sums[0] / sums[1]
    );
    Ok(())
}

/// A square kilometre of hills, in facets of 4 m, with a wall every 40 m that has a gap every 90 m.
fn rolling_land() -> Result<Mesh, newel::MeshError> {
    let (side, facet) = (251usize, 4.0f64);
    let height = |x: f64, z: f64| 3.0 * (x / 31.0).sin() + 2.5 * (z / 23.0).cos() + 0.4 * ((x + 2.0 * z) / 7.0).sin();
    let mut corners: Vec<[f32; 3]> = Vec::new();
    for n in 0..side * side {
        let (x, z) = ((n % side) as f64 * facet, (n / side) as f64 * facet);
        corners.push([x as f32, height(x, z) as f32, z as f32]);
    }
    let mut indices = Vec::new();
    for n in (0..side * (side - 1)).filter(|n| n % side + 1 < side) {
        let (a, b, c, d) = (n as u32, n as u32 + 1, (n + side) as u32, (n + side) as u32 + 1);
        indices.extend([a, b, d, a, d, c]);
    }
    for row in 1..25 {
        let z = 40.0 * f64::from(row);
        for piece in 0..250 {
            let (x, next) = (4.0 * f64::from(piece), 4.0 * f64::from(piece) + 4.0);
            if (x + 37.0 * f64::from(row)) % 90.0 < 4.0 {
                continue;
            }
            let n = corners.len() as u32;
            for (x, up) in [(x, -1.0), (next, -1.0), (next, 2.5), (x, 2.5)] {
                corners.push([x as f32, (height(x, z) + up) as f32, z as f32]);
            }
            indices.extend([0, 1, 2, 0, 2, 3].map(|i| n + i));
        }
    }
    Mesh::new(&corners, &indices)
}
