//! Worlds nobody would build on purpose, and what must hold in them all the same: never deeper than the skin, never
//! stuck, every number finite, and all but never a tick whose time is not used up.

mod common;

use common::oracle::Dice;
use common::{Walk, World, every_frame};
use newel::glam::{DVec3, Vec3};
use newel::{Button, Character, EventKind, Intent, Modifiers, Spawn, Tick, Tuning, Workspace};

/// A random world of one of a few hostile kinds, about the origin.
fn world(dice: &mut Dice) -> (&'static str, World) {
    match dice.pick(6) {
        0 => ("spikes", height_field(dice, 1.6)),
        1 => ("rubble", height_field(dice, 0.5)),
        2 => ("soup", soup(dice)),
        3 => ("boxes", boxes(dice)),
        4 => ("cave", cave(dice)),
        _ => ("stairs", crooked_stairs(dice)),
    }
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

/// What the tests allow each hostile run, so that a failure names its seed and a passing run says what it saw.
#[derive(Default)]
struct Seen {
    ticks: u64,
    deepest: f64,
    dropped: u32,
    stuck: u32,
}

#[test]
fn hostile_worlds_break_nothing() {
    let mut seen = Seen::default();
    let mut failures = Vec::new();
    for seed in 0..600 {
        let mut dice = Dice(seed);
        let (kind, world) = world(&mut dice);
        let far = [0.0, 0.0, 10_000.0][dice.pick(3)];
        let world = world.mapped(|p| p + DVec3::splat(far));
        let tuning = Tuning::preset(Tuning::PRESETS[dice.pick(Tuning::PRESETS.len())]).unwrap();
        // Upright, with gravity along +x, and oblique, by turns.
        every_frame().nth(dice.pick(3));
        let start = DVec3::new(0.0, 4.0, 0.0) + DVec3::splat(far);
        let Some(mut walk) = Walk::try_new(world, tuning, start.to_array()) else { continue };
        let skin = f64::from(tuning.shape().skin());
        let rate = [15.0, 60.0, 240.0][dice.pick(3)];
        let mut intent = Intent::default();
        for tick in 0..(6.0 * rate) as u64 {
            if dice.pick((0.4 * rate) as usize + 1) == 0 {
                let way = dice.direction().as_vec3();
                intent = Intent::toward(Vec3::new(way.x, 0.0, way.z) * 1.5);
                for &button in Button::ALL {
                    if dice.pick(3) == 0 {
                        intent = intent.hold(button);
                    }
                }
            }
            walk.tick(1.0 / rate, intent);
            let gap = walk.gap();
            seen.ticks += 1;
            seen.deepest = seen.deepest.max(-gap / skin);
            let dropped = walk.events.iter().filter(|e| matches!(e.kind, EventKind::TimeDropped { .. })).count();
            let stuck =
                walk.events.iter().filter(|e| matches!(e.kind, EventKind::Stuck | EventKind::PushedOut { .. })).count();
            walk.events.clear();
            (seen.dropped, seen.stuck) = (seen.dropped + dropped as u32, seen.stuck + stuck as u32);
            if gap < -skin || stuck > 0 || !walk.hero.velocity.is_finite() {
                failures.push(format!(
                    "seed {seed} ({kind}, {rate} Hz, {far} m) tick {tick}: gap {:.3} mm, {stuck} stuck",
                    gap * 1e3
                ));
                break;
            }
        }
    }
    println!("{} ticks, deepest {:.2} skins, {} dropped, {} stuck", seen.ticks, seen.deepest, seen.dropped, seen.stuck);
    assert!(seen.dropped == 0, "{} ticks of {} lost time", seen.dropped, seen.ticks);
    assert!(failures.is_empty(), "{} failures:\n{}", failures.len(), failures[..failures.len().min(25)].join("\n"));
}

#[test]
fn from_a_centimetre_to_a_hundred_metres_and_in_any_orientation_a_walk_is_a_walk() {
    for height in [0.012f32, 0.1, 1.8, 20.0, 150.0] {
        for up in [Vec3::Y, Vec3::NEG_X, Vec3::new(0.48, -0.6, 0.64)] {
            let mut values = *Tuning::walker().values();
            let scale = height / 1.8;
            values.size.height *= scale;
            values.size.radius = (values.size.radius * scale).max(0.002);
            values.ground.step *= scale;
            values.ground.speed *= scale;
            values.ground.acceleration *= scale;
            let tuning = Tuning::new(values).unwrap();
            let normal = up.as_dvec3() / up.as_dvec3().length();
            let world = World::new().plane(DVec3::ZERO, normal, 60.0 * f64::from(scale));
            let mesh = world.mesh();
            let mut hero = Character::spawn(&mesh, &tuning, Spawn::at(DVec3::ZERO).up(up)).unwrap();
            let mut work = Workspace::new();
            let ahead = hero.facing;
            for number in 0..120 {
                let tick =
                    Tick { number, terrain: &mesh, tuning: &tuning, modifiers: &Modifiers::default(), dt: 1.0 / 60.0 };
                tick.step(&mut work, &mut hero, &Intent::toward(ahead), &[]).unwrap();
                assert_eq!(hero.mode, newel::Mode::Ground, "{height} m, up {up}, tick {number}");
            }
            let gone = hero.position.dot(ahead.as_dvec3()) / f64::from(scale);
            assert!((gone - (4.5 * 2.0 - 0.3375)).abs() < 1e-3, "{height} m, up {up}: {gone}");
        }
    }
}
