//! Six square kilometres of rough land: what a call of planning costs, whatever the goal.

use std::time::Instant;

use newel::glam::{DVec3, Vec3};
use newel::{Mesh, Tuning};
use newel_routes::{Planning, Routes, Survey};

/// Half of the land along each axis, and how wide its facets are, metres.
const HALF: [f64; 2] = [1500.0, 1000.0];
const FACET: f64 = 6.3;
/// Octaves of its noise: the widest is so many metres wide and so high, each next half as wide and about half as high.
const OCTAVES: u32 = 7;
const WIDEST: f64 = 400.0;
const HIGHEST: f64 = 240.0;
const FALLS_TO: f64 = 0.52;
/// A tableland that nobody gets up onto: its corners on the map, and how high it stands out.
const TABLE: [[f64; 2]; 2] = [[700.0, 300.0], [900.0, 500.0]];
const TABLE_HEIGHT: f64 = 60.0;

pub fn measure(tuning: &Tuning) -> Result<(), Box<dyn std::error::Error>> {
    let land = land()?;
    println!("rough land, 3 km by 2 km, {} triangles, cells of 1 m", land.triangles());
    let survey = Survey { cell: 1.0, most_places: 1_000_000, ..Survey::of(tuning) };
    let goals = [[60.0, 20.0], [300.0, 100.0], [1000.0, 600.0], [-1400.0, 900.0], [800.0, 400.0]];
    let unprepared = Routes::new(survey, tuning)?;
    println!("  not prepared:");
    goals[..3].iter().for_each(|goal| plan(&land, &unprepared, *goal));
    let routes = Routes::new(survey, tuning)?;
    let began = Instant::now();
    routes.prepare(&land, DVec3::new(-HALF[0], 0.0, -HALF[1]), DVec3::new(HALF[0], 0.0, HALF[1]))?;
    let (size, took) = (routes.surveyed(), began.elapsed().as_secs_f64());
    println!("  prepared in {took:.0} s: {} places, {:.0} MB", size.places, size.bytes as f64 / 1e6);
    goals.iter().for_each(|goal| plan(&land, &routes, *goal));
    Ok(())
}

/// Plans from the middle of the land, call by call, and prints what the calls took.
fn plan(land: &Mesh, routes: &Routes, goal: [f64; 2]) {
    let near = |[x, z]: [f64; 2]| {
        let tries = (0..60).map(|n| DVec3::new(x + 2.0 * f64::from(n), 500.0, z));
        tries.filter_map(|from| routes.pick(land, from, Vec3::NEG_Y).ok()).next().unwrap_or_default()
    };
    let mut planning = Planning::new(near([0.0, 0.0]), near(goal));
    let mut calls = Vec::new();
    let route = loop {
        let began = Instant::now();
        let route = routes.plan(land, &mut planning, Planning::PLACES);
        calls.push(1e3 * began.elapsed().as_secs_f64());
        if let Some(route) = route {
            break route;
        }
    };
    let sum: f64 = calls.iter().sum();
    calls.sort_by(f64::total_cmp);
    let at = |part: f64| calls[((calls.len() - 1) as f64 * part) as usize];
    let end = route.map_or_else(
        |why| why.to_string(),
        |route| format!("{:.0} m, {}", route.length, route.short.map_or("all the way", |short| short.words())),
    );
    println!(
        "  to {goal:?}: {} calls, median {:.2} ms, 99 % {:.2}, most {:.2}, {sum:.0} in all: {end}",
        calls.len(),
        at(0.5),
        at(0.99),
        at(1.0)
    );
}

fn land() -> Result<Mesh, newel::MeshError> {
    let count = HALF.map(|half| (2.0 * half / FACET) as u32 + 1);
    let place = |i: u32, axis: usize| f64::from(i) * FACET - HALF[axis];
    let corners: Vec<[f32; 3]> = (0..count[1])
        .flat_map(|k| (0..count[0]).map(move |i| (place(i, 0), place(k, 1))))
        .map(|(x, z)| [x as f32, height(x, z) as f32, z as f32])
        .collect();
    let cells = (0..count[1] - 1).flat_map(|k| (0..count[0] - 1).map(move |i| k * count[0] + i));
    let indices: Vec<u32> =
        cells.flat_map(|a| [a, a + count[0], a + 1, a + 1, a + count[0], a + count[0] + 1]).collect();
    Mesh::new(&corners, &indices)
}

fn height(x: f64, z: f64) -> f64 {
    let on_table = [x, z].iter().enumerate().all(|(axis, at)| (TABLE[0][axis]..TABLE[1][axis]).contains(at));
    let octaves = (0..OCTAVES).map(|octave| {
        let finer = f64::from(1u32 << octave) / WIDEST;
        HIGHEST * FALLS_TO.powi(octave as i32) * (noise(x * finer, z * finer, octave) - 0.5)
    });
    octaves.sum::<f64>() + if on_table { TABLE_HEIGHT } else { 0.0 }
}

/// Value noise, 0 to 1, smooth between whole places.
fn noise(x: f64, z: f64, seed: u32) -> f64 {
    let (i, k) = (x.floor(), z.floor());
    let smooth = |t: f64| t * t * (3.0 - 2.0 * t);
    let (u, v) = (smooth(x - i), smooth(z - k));
    let at = |a: f64, b: f64| hash((i + a) as i64, (k + b) as i64, seed);
    let mix = |a: f64, b: f64, t: f64| a + (b - a) * t;
    mix(mix(at(0.0, 0.0), at(1.0, 0.0), u), mix(at(0.0, 1.0), at(1.0, 1.0), u), v)
}

fn hash(i: i64, k: i64, seed: u32) -> f64 {
    let mut h = (i as u64).wrapping_mul(0x9E37_79B9_7F4A_7C15) ^ (k as u64).wrapping_mul(0xC2B2_AE3D_27D4_EB4F);
    h ^= u64::from(seed).wrapping_mul(0x1656_67B1_9E37_79F9);
    h = (h ^ h >> 29).wrapping_mul(0xBF58_476D_1CE4_E5B9);
    h = (h ^ h >> 32).wrapping_mul(0x94D0_49BB_1331_11EB);
    ((h ^ h >> 31) >> 11) as f64 / (1u64 << 53) as f64
}
