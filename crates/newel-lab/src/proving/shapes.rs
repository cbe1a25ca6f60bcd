//! Closed shapes, loose blocks and tilted slabs.

use fastrand::Rng;
use newel::glam::{DQuat, DVec3};
use noise::{Fbm, MultiFractal, NoiseFn, Perlin};

use super::heights::HeightField;
use super::parts::{Triangle, between, floor, tilted};

/// Cells along each side of the cube that a closed shape is blown up from.
const CELLS: usize = 24;
/// How far noise moves the surface of a closed shape, in parts of its radius.
const UNEVEN: f64 = 0.3;
/// Loose blocks on one piece of land.
const BLOCKS: usize = 400;
/// Slabs in one city.
const SLABS: usize = 70;

/// A closed uneven shape about the middle.
pub(super) fn closed_shape(rng: &mut Rng, radius: f64) -> Vec<Triangle> {
    let noise = Fbm::<Perlin>::new(rng.u32(..)).set_octaves(4);
    let waves = between(rng, 0.7, 2.0);
    let out = |on_cube: DVec3| {
        let way = on_cube / on_cube.length();
        way * (radius * (1.0 + UNEVEN * noise.get((way * waves).to_array())))
    };
    let mut triangles = Vec::with_capacity(12 * CELLS * CELLS);
    for face in 0..6 {
        let at = |i: usize, k: usize| {
            let [u, v] = [i, k].map(|n| 2.0 * n as f64 / CELLS as f64 - 1.0);
            let side = if face < 3 { 1.0 } else { -1.0 };
            out(match face % 3 {
                0 => DVec3::new(side, u, v),
                1 => DVec3::new(u, side, v),
                _ => DVec3::new(u, v, side),
            })
        };
        for (i, k) in (0..CELLS).flat_map(|i| (0..CELLS).map(move |k| (i, k))) {
            let [a, b, c, d] = [at(i, k), at(i, k + 1), at(i + 1, k + 1), at(i + 1, k)];
            triangles.extend([[a, b, c], [a, c, d]]);
        }
    }
    triangles
}

/// Loose blocks of 10 to 80 cm on land.
pub(super) fn scree(rng: &mut Rng, land: &HeightField) -> Vec<Triangle> {
    let block = |_| {
        let half = DVec3::new(between(rng, 0.05, 0.4), between(rng, 0.05, 0.3), between(rng, 0.05, 0.4));
        let place = land.random_corner(rng) + DVec3::new(rng.f64() - 0.5, 0.0, rng.f64() - 0.5);
        cuboid(place, half, tilted(rng, 0.5))
    };
    (0..BLOCKS).flat_map(block).collect()
}

/// Slabs of 1 to 8 m, tilted by up to 35 degrees, run into each other on a floor with a wall round it.
pub(super) fn slabs(rng: &mut Rng) -> Vec<Triangle> {
    let mut triangles = floor(30.0, 0.0).to_vec();
    for side in 0..4 {
        let turn = DQuat::from_rotation_y(f64::from(side) * std::f64::consts::FRAC_PI_2);
        triangles.extend(cuboid(turn * DVec3::new(29.0, 3.0, 0.0), DVec3::new(1.0, 6.0, 30.0), turn));
    }
    for _ in 0..SLABS {
        let half = DVec3::new(between(rng, 0.5, 4.0), between(rng, 0.05, 0.5), between(rng, 0.5, 4.0));
        let place = DVec3::new(between(rng, -24.0, 24.0), between(rng, -0.3, 2.5), between(rng, -24.0, 24.0));
        triangles.extend(cuboid(place, half, tilted(rng, 35f64.to_radians())));
    }
    triangles
}

/// The twelve triangles of a turned cuboid.
pub(super) fn cuboid(middle: DVec3, half: DVec3, turn: DQuat) -> [Triangle; 12] {
    let corner = |i: usize| {
        let sign = |bit: usize| if i >> bit & 1 == 0 { -1.0 } else { 1.0 };
        middle + turn * (half * DVec3::new(sign(0), sign(1), sign(2)))
    };
    let quads = [[0, 4, 6, 2], [1, 3, 7, 5], [0, 1, 5, 4], [2, 6, 7, 3], [0, 2, 3, 1], [4, 5, 7, 6]];
    let mut triangles = [[DVec3::ZERO; 3]; 12];
    for (n, [a, b, c, d]) in quads.into_iter().enumerate() {
        triangles[2 * n] = [corner(a), corner(b), corner(c)];
        triangles[2 * n + 1] = [corner(a), corner(c), corner(d)];
    }
    triangles
}
