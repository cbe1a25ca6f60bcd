//! Worlds nobody would build on purpose, and villages anybody might.

use std::f64::consts::{PI, TAU};

use newel::glam::{DQuat, DVec3};

use super::World;
use super::oracle::Dice;

/// A world of one of twelve makes about the origin, for a grown-up; how much above it there is room.
pub fn strange(dice: &mut Dice) -> (World, f64) {
    let kind = dice.pick(12);
    let world = match kind {
        0 => heights(dice),
        1..=3 => rounds(dice, kind),
        4 => slabs(dice),
        5 => crystals(dice),
        6 => height_field(dice, 1.6),
        7 => height_field(dice, 0.5),
        8 => soup(dice),
        9 => boxes(dice),
        10 => cave(dice),
        _ => crooked_stairs(dice),
    };
    let world = if kind == 2 { world } else { world.floor(60.0, -6.0) };
    (world, if kind < 6 { 3.0 } else { 4.0 })
}

fn heights(dice: &mut Dice) -> World {
    let (cell, high) = (dice.magnitude(0.1, 2.0), dice.magnitude(0.05, 3.0));
    let noise: Vec<f64> = (0..25 * 25).map(|_| dice.between(-high, high)).collect();
    let p = |i: usize, k: usize| DVec3::new((i as f64 - 12.0) * cell, noise[i * 25 + k], (k as f64 - 12.0) * cell);
    let cells = (0..24).flat_map(|i| (0..24).map(move |k| (i, k)));
    cells.fold(World::new(), |world, (i, k)| world.quad(p(i, k), p(i, k + 1), p(i + 1, k + 1), p(i + 1, k)))
}

/// A ball, a pipe from inside, or a torus.
fn rounds(dice: &mut Dice, kind: usize) -> World {
    let (around, along) = (16 + dice.pick(20), 10 + dice.pick(16));
    let radius = dice.magnitude(1.5, 6.0);
    let p = |i: usize, k: usize| {
        let (a, part) = ((i % around) as f64 / around as f64 * TAU, k as f64 / along as f64);
        let (b, c) = (part * PI, part * TAU);
        match kind {
            1 => DVec3::new(a.cos() * b.sin(), b.cos() - 1.0, a.sin() * b.sin()) * radius,
            2 => DVec3::new(a.cos(), a.sin() + 0.8, 8.0 * (part - 0.5)) * radius,
            _ => {
                let out = 1.0 + 0.4 * c.cos();
                DVec3::new(out * a.cos(), 0.4 * (c.sin() - 1.0), out * a.sin()) * radius
            }
        }
    };
    let cells = (0..around).flat_map(|i| (0..along).map(move |k| (i, k)));
    cells.fold(World::new(), |world, (i, k)| world.quad(p(i, k), p(i + 1, k), p(i + 1, k + 1), p(i, k + 1)))
}

fn somewhere(dice: &mut Dice) -> DVec3 {
    DVec3::new(dice.between(-4.0, 4.0), dice.between(-3.0, 1.3), dice.between(-4.0, 4.0))
}

fn slabs(dice: &mut Dice) -> World {
    (0..30).fold(World::new(), |world, _| {
        let (at, turn) = (somewhere(dice), DQuat::from_scaled_axis(dice.direction() * dice.between(0.0, 3.0)));
        let (u, v) = (turn * DVec3::X * dice.magnitude(0.2, 3.0), turn * DVec3::Z * dice.magnitude(0.2, 3.0));
        world.quad(at - u - v, at + u - v, at + u + v, at - u + v)
    })
}

fn crystals(dice: &mut Dice) -> World {
    (0..60).fold(World::new(), |world, _| {
        let (at, size) = (somewhere(dice), dice.magnitude(0.02, 3.0));
        let [a, b, c, d] = std::array::from_fn(|_| at + dice.direction() * size);
        world.triangle(a, b, c).triangle(a, b, d).triangle(a, c, d).triangle(b, c, d)
    })
}

fn height_field(dice: &mut Dice, height: f64) -> World {
    let cell = dice.between(0.15, 0.8);
    let seed = dice.unit().to_bits();
    let p = |i: i64, k: i64| {
        let mut own = Dice(seed ^ ((i * 73_856_093) ^ (k * 19_349_663)) as u64);
        DVec3::new(i as f64 * cell, own.between(0.0, height), k as f64 * cell)
    };
    let mut world = World::new();
    for i in -14..14 {
        for k in -14..14 {
            world =
                world.triangle(p(i, k), p(i, k + 1), p(i + 1, k + 1)).triangle(p(i, k), p(i + 1, k + 1), p(i + 1, k));
        }
    }
    world
}

/// Triangles thrown about at random, above a floor so that the fun does not end in a fall.
fn soup(dice: &mut Dice) -> World {
    let mut world = World::new().floor(12.0, 0.0);
    for _ in 0..90 {
        let at = DVec3::new(dice.between(-5.0, 5.0), dice.between(-0.5, 3.0), dice.between(-5.0, 5.0));
        let size = dice.magnitude(0.05, 4.0);
        world = world.triangle(at, at + dice.direction() * size, at + dice.direction() * size);
    }
    world
}

fn boxes(dice: &mut Dice) -> World {
    let mut world = World::new().floor(12.0, 0.0);
    for _ in 0..40 {
        let from = DVec3::new(dice.between(-5.0, 5.0), dice.between(-0.3, 2.5), dice.between(-5.0, 5.0));
        let size = DVec3::new(dice.magnitude(0.05, 2.0), dice.magnitude(0.02, 1.5), dice.magnitude(0.05, 2.0));
        world = world.block(from.to_array(), (from + size).to_array());
    }
    world
}

/// A tunnel of rings of random width, bending and pinching, closed at both ends by nothing: out of it one falls.
fn cave(dice: &mut Dice) -> World {
    let sides = 9;
    let mut rings: Vec<Vec<DVec3>> = Vec::new();
    let (mut y, mut z) = (5.0, 0.0);
    for k in -14i32..=14 {
        let wide = if k.abs() < 2 { 2.0 } else { dice.between(0.7, 2.4) };
        (y, z) = (
            y + dice.between(-0.3, 0.3) * f64::from(k.abs().min(1)),
            z + dice.between(-0.3, 0.3) * f64::from(k.abs().min(1)),
        );
        let turn = |i: usize| std::f64::consts::TAU * i as f64 / sides as f64;
        let mut point = |i: usize| {
            let radius = wide * dice.between(0.8, 1.2);
            DVec3::new(f64::from(k) * 0.7, y + radius * turn(i).sin(), z + radius * turn(i).cos())
        };
        rings.push((0..sides).map(&mut point).collect());
    }
    let mut world = World::new().floor(30.0, -3.0);
    for pair in rings.windows(2) {
        for i in 0..sides {
            let j = (i + 1) % sides;
            world = world.quad(pair[0][i], pair[1][i], pair[1][j], pair[0][j]);
        }
    }
    world
}

fn crooked_stairs(dice: &mut Dice) -> World {
    let mut world = World::new().floor(12.0, 0.0);
    let (mut x, mut y) = (1.0, 0.0);
    for _ in 0..14 {
        let (rise, tread, lean) = (dice.between(0.02, 0.45), dice.between(0.03, 0.5), dice.between(-0.1, 0.1));
        let p = |x: f64, y: f64, z: f64| DVec3::new(x, y + lean * z, z);
        world = world.quad(p(x, y - 0.5, -3.0), p(x, y + rise, -3.0), p(x, y + rise, 3.0), p(x, y - 0.5, 3.0)).quad(
            p(x, y + rise, -3.0),
            p(x, y + rise, 3.0),
            p(x + tread, y + rise, 3.0),
            p(x + tread, y + rise, -3.0),
        );
        (x, y) = (x + tread, y + rise);
    }
    world
}

/// A closed room of uneven walls about the origin, half of its facets the wrong way round.
pub fn room(dice: &mut Dice) -> World {
    let (around, along) = (5 + dice.pick(14), 4 + dice.pick(10));
    let even = dice.pick(2) == 0;
    let reach: Vec<f64> = (0..around * (along + 1)).map(|_| if even { 4.0 } else { dice.between(3.0, 6.0) }).collect();
    let p = |i: usize, k: usize| {
        let (a, b) = ((i % around) as f64 / around as f64 * TAU, k as f64 / along as f64 * PI);
        let pole = k == 0 || k == along;
        let far = if pole { 4.0 } else { reach[(i % around) * (along + 1) + k] };
        DVec3::new(a.cos() * b.sin(), b.cos(), a.sin() * b.sin()) * far
    };
    let mut world = World::new();
    for (i, k) in (0..around).flat_map(|i| (0..along).map(move |k| (i, k))) {
        let (a, b, c, d) = (p(i, k), p(i + 1, k), p(i + 1, k + 1), p(i, k + 1));
        for [a, b, c] in [[a, b, c], [a, c, d]] {
            if (b - a).cross(c - a).length() > 1e-9 {
                world = if dice.pick(2) == 0 { world.triangle(a, b, c) } else { world.triangle(a, c, b) };
            }
        }
    }
    world
}

/// A village: blocks, ramps, stairs, pillars and domes, turned anyhow and run into each other, on a floor.
pub fn village(dice: &mut Dice) -> World {
    let mut village = World::new().floor(40.0, 0.0);
    for _ in 0..30 {
        let at = DVec3::new(dice.between(-8.0, 8.0), 0.0, dice.between(-8.0, 8.0));
        let turn = DQuat::from_rotation_y(dice.between(0.0, TAU));
        if at.length() > 1.5 {
            village = village.and(house(dice).mapped(|p| at + turn * p));
        }
    }
    village
}

fn house(dice: &mut Dice) -> World {
    let p = DVec3::new;
    let round = |part: f64, radius: f64, y: f64| p(radius * (part * TAU).cos(), y, radius * (part * TAU).sin());
    match dice.pick(5) {
        0 => {
            let (x, y, z) = (dice.between(0.1, 1.5), dice.magnitude(0.05, 3.0), dice.between(0.1, 1.5));
            World::new().block([-x, -0.1, -z], [x, y, z])
        }
        1 => {
            let (x, y, z) = (dice.between(0.5, 3.0), dice.between(0.1, 2.0), dice.between(0.5, 1.5));
            let sides = World::new().triangle(p(0.0, 0.0, -z), p(x, y, -z), p(x, 0.0, -z));
            let sides = sides.triangle(p(0.0, 0.0, z), p(x, 0.0, z), p(x, y, z));
            let ramp = sides.quad(p(0.0, 0.0, -z), p(0.0, 0.0, z), p(x, y, z), p(x, y, -z));
            ramp.quad(p(x, 0.0, -z), p(x, y, -z), p(x, y, z), p(x, 0.0, z))
        }
        2 => World::new().stairs(0.0, dice.between(0.05, 0.28), dice.between(0.15, 0.5), 6, 0.8),
        3 => {
            let (sides, radius, y) = (8 + dice.pick(12), dice.between(0.2, 1.2), dice.between(0.1, 2.0));
            let at = |k: usize, y: f64| round(k as f64 / sides as f64, radius, y);
            (0..sides).fold(World::new(), |pillar, k| {
                let pillar = pillar.quad(at(k, 0.0), at(k, y), at(k + 1, y), at(k + 1, 0.0));
                pillar.triangle(at(k, y), at(k + 1, y), DVec3::Y * y)
            })
        }
        _ => dome(dice.between(0.3, 2.0), 12, 5),
    }
}

/// Half a ball on the ground about the origin, of so many sides and rings.
pub fn dome(radius: f64, sides: usize, rings: usize) -> World {
    let at = |k: usize, ring: usize| {
        let (around, up) = (k as f64 / sides as f64 * TAU, ring as f64 / rings as f64 * TAU / 4.0);
        DVec3::new(around.cos() * up.cos(), up.sin(), around.sin() * up.cos()) * radius
    };
    let cells = (0..sides).flat_map(|k| (0..rings).map(move |ring| (k, ring)));
    cells.fold(World::new(), |dome, (k, ring)| {
        let lower = dome.triangle(at(k, ring), at(k, ring + 1), at(k + 1, ring));
        if ring + 1 == rings { lower } else { lower.triangle(at(k, ring + 1), at(k + 1, ring + 1), at(k + 1, ring)) }
    })
}
