//! Seams underfoot and along walls: floors of slivers, T-junctions, unwelded copies, pipes.

mod common;

use common::oracle::Dice;
use common::{Walk, World, every_frame};
use newel::glam::{DVec3, Vec3};
use newel::{Intent, Mode, Tuning};

/// A floor tilted by `degrees` about z, cut across the walk into strips of 1 to 10 mm, each split along a diagonal;
/// about a place `far` from the origin.
fn slivers(degrees: f64, far: f64) -> World {
    let tilt = degrees.to_radians();
    let at = |x: f64, z: f64| DVec3::new(far + x * tilt.cos(), far / 2.0 + x * tilt.sin(), z - far);
    let mut dice = Dice(7);
    let mut world = World::new();
    let mut x = -1.0;
    while x < 5.0 {
        let next = x + dice.between(0.001, 0.010);
        world = world.quad(at(x, -2.0), at(x, 2.0), at(next, 2.0), at(next, -2.0));
        x = next;
    }
    world
}

#[test]
fn a_tilted_floor_of_slivers_is_walked_as_one_here_and_a_kilometre_away() {
    for _ in every_frame() {
        for far in [0.0, 1000.0] {
            for rate in [30.0, 60.0, 240.0] {
                let world = slivers(17.0, far);
                let mut walk = Walk::new(world, Tuning::walker(), [far, far / 2.0 + 0.02, -far]);
                walk.go(1.0 / rate, 0.3, Intent::default());
                walk.go(1.0 / rate, 0.2, Intent::toward(Vec3::X));
                let (tan, gap) = (17f64.to_radians().tan(), walk.hero.position.y - far / 2.0);
                let above = gap - (walk.hero.position.x - far) * tan;
                let (from, mut ticks) = (walk.hero.position, 0.0);
                for tick in 0..(0.6 * rate) as u64 {
                    walk.tick(1.0 / rate, Intent::toward(Vec3::X));
                    ticks += 1.0;
                    let at = walk.hero.position;
                    assert!((walk.hero.velocity.length() - 4.5).abs() < 1e-6, "{far} m, {rate} Hz, tick {tick}");
                    let off = at.y - far / 2.0 - (at.x - far) * tan - above;
                    assert!(off.abs() < 1e-3, "{far} m, {rate} Hz, tick {tick}: {off} off");
                    assert_eq!(walk.hero.mode, Mode::Ground);
                }
                let speed = (walk.hero.position - from).length() * rate / ticks;
                println!("{far} m, {rate} Hz: {:.5} %", (speed / 4.5 - 1.0) * 100.0);
                assert!((speed - 4.5).abs() < 2e-4 * 4.5, "{far} m, {rate} Hz: {speed}");
            }
        }
    }
}

#[test]
fn t_junctions_cracks_and_copies_do_not_catch() {
    for _ in every_frame() {
        let mut dice = Dice(3);
        let p = |x: f64, y: f64, z: f64| DVec3::new(x, y, z);
        // Columns of tiles of different sizes, edges meeting edges midway, some tiles doubled, some 20 micrometres off.
        let mut world = World::new();
        let mut x = -2.0;
        while x < 12.0 {
            let wide = dice.between(0.05, 0.7);
            let mut z = -3.0;
            while z < 3.0 {
                let deep = dice.between(0.05, 0.9);
                let y = if dice.pick(4) == 0 { 2e-5 } else { 0.0 };
                world = world.quad(p(x, y, z), p(x, y, z + deep), p(x + wide, y, z + deep), p(x + wide, y, z));
                if dice.pick(5) == 0 {
                    world = world.quad(p(x, y, z), p(x + wide, y, z), p(x + wide, y, z + deep), p(x, y, z + deep));
                }
                z += deep;
            }
            x += wide;
        }
        for z in [-0.4, 0.0, 0.37] {
            let mut walk = Walk::new(world.clone(), Tuning::walker(), [0.0, 0.01, z]);
            walk.go(1.0 / 60.0, 0.5, Intent::default());
            walk.go(1.0 / 60.0, 0.3, Intent::toward(Vec3::new(1.0, 0.0, 0.1)));
            for tick in 0..120 {
                walk.tick(1.0 / 60.0, Intent::toward(Vec3::new(1.0, 0.0, 0.1)));
                assert!((walk.hero.velocity.length() - 4.5).abs() < 1e-3, "tick {tick}: {}", walk.hero.velocity);
                assert_eq!(walk.hero.mode, Mode::Ground, "tick {tick}: {:?}", walk.events.last());
            }
        }
    }
}

#[test]
fn a_wall_of_many_quads_feels_like_one() {
    for _ in every_frame() {
        let p = |x: f64, y: f64, z: f64| DVec3::new(x, y, z);
        let mut dice = Dice(11);
        let mut world = World::new().floor(400.0, 0.0);
        let mut z = -20.0;
        while z < 320.0 {
            let (next, split) = (z + dice.between(0.05, 1.3), dice.between(0.2, 1.6));
            for (low, high) in [(0.0, split), (split, 3.0)] {
                world = world.quad(p(1.0, low, z), p(1.0, high, z), p(1.0, high, next), p(1.0, low, next));
            }
            z = next;
        }
        let heading = Vec3::new(0.1f32.to_radians().sin(), 0.0, 0.1f32.to_radians().cos());
        for rate in [15.0, 60.0, 240.0] {
            let mut walk = Walk::new(world.clone(), Tuning::walker(), [0.69, 0.0, 0.0]);
            walk.go(1.0 / rate, 2.0, Intent::toward(Vec3::new(0.3, 0.0, 1.0)));
            let along = 4.5 * f64::from(heading.z);
            walk.go(1.0 / rate, 1.0, Intent::toward(heading));
            let (from, start) = (walk.hero.position.z, walk.hero.clock);
            for _ in 0..(60.0 * rate) as u64 {
                walk.tick(1.0 / rate, Intent::toward(heading));
                assert!(walk.gap() > -0.0045, "{}", walk.gap());
            }
            let speed = (walk.hero.position.z - from) / (walk.hero.clock - start);
            assert!((speed - along).abs() < 2e-4 * along, "{rate} Hz: {speed} {along}");
            walk.go(1.0 / rate, 0.5, Intent::toward(-heading));
            assert!(walk.hero.velocity.z < -4.0, "it reverses freely: {}", walk.hero.velocity);
        }
    }
}

#[test]
fn round_a_pipe_of_64_sides_pressing_out_the_speed_is_the_formulas() {
    for _ in every_frame() {
        // Walking inside a 64-sided pit with the heading always along the wall at the present place, turned out a little.
        let sides = 64;
        let radius = 6.0;
        let corner = |i: i32, y: f64| {
            let angle = std::f64::consts::TAU * f64::from(i) / f64::from(sides);
            DVec3::new(radius * angle.cos(), y, radius * angle.sin())
        };
        let wall = |w: World, i: i32| w.quad(corner(i, 0.0), corner(i, 3.0), corner(i + 1, 3.0), corner(i + 1, 0.0));
        let world = (0..sides).fold(World::new().floor(20.0, 0.0), wall);
        for rate in [60.0, 240.0] {
            let mut walk = Walk::new(world.clone(), Tuning::walker(), [5.0, 0.0, 0.0]);
            let mut slowest = f64::INFINITY;
            for tick in 0..(30.0 * rate) as u64 {
                let at = walk.hero.position;
                let out = DVec3::new(at.x, 0.0, at.z) / at.x.hypot(at.z);
                let along = DVec3::new(-out.z, 0.0, out.x);
                walk.tick(1.0 / rate, Intent::toward((along + out * 0.3).as_vec3()));
                assert!(walk.gap() > -0.0045, "tick {tick}: {}", walk.gap());
                assert_eq!(walk.hero.mode, Mode::Ground);
                if tick as f64 > 2.0 * rate {
                    slowest = slowest.min(walk.hero.velocity.length());
                }
            }
            // A facet lies at most half a side's angle off the tangent, and a corner takes the cosine of a whole one.
            let bend = std::f64::consts::TAU / f64::from(sides);
            let along = 4.5 * (0.3f64.atan() + 0.5 * bend).cos() * bend.cos();
            assert!(slowest > along, "{rate} Hz: {slowest} {along}");
        }
    }
}

#[test]
fn planes_a_hundredth_of_a_degree_apart_and_wedges_hold_still() {
    for _ in every_frame() {
        let p = |x: f64, y: f64, z: f64| DVec3::new(x, y, z);
        let lean = 0.01f64.to_radians();
        let world = World::new()
            .floor(30.0, 0.0)
            .quad(p(1.0, 0.0, -9.0), p(1.0, 3.0, -9.0), p(1.0, 3.0, 0.0), p(1.0, 0.0, 0.0))
            .quad(
                p(1.0, 0.0, 0.0),
                p(1.0, 3.0, 0.0),
                p(1.0 - 9.0 * lean.tan(), 3.0, 9.0),
                p(1.0 - 9.0 * lean.tan(), 0.0, 9.0),
            );
        for rate in [30.0, 60.0, 240.0] {
            let mut walk = Walk::new(world.clone(), Tuning::walker(), [0.5, 0.0, -4.0]);
            let heading = Vec3::new(0.5, 0.0, 1.0);
            walk.go(1.0 / rate, 1.5, Intent::toward(heading));
            let along = 4.5 * f64::from(heading.z / heading.length());
            assert!((walk.hero.velocity.length() - along).abs() < 1e-3, "{rate} Hz: {}", walk.hero.velocity);
        }
        // Pressed for a minute into a narrowing gap under a sloping roof: it stays put and never sinks in.
        let gap = World::new().floor(30.0, 0.0).quad(
            p(0.0, 2.4, -5.0),
            p(0.0, 2.4, 5.0),
            p(6.0, 0.9, 5.0),
            p(6.0, 0.9, -5.0),
        );
        let mut walk = Walk::new(gap, Tuning::walker(), [1.0, 0.0, 0.0]);
        walk.go(1.0 / 60.0, 3.0, Intent::toward(Vec3::X));
        let held = walk.hero.position;
        walk.go(1.0 / 60.0, 60.0, Intent::toward(Vec3::X));
        assert!((walk.hero.position - held).length() < 1e-4, "{held} to {}", walk.hero.position);
        assert!(walk.gap() > -1e-4, "{}", walk.gap());
        assert!(walk.events.iter().all(|e| !matches!(e.kind, newel::EventKind::TimeDropped { .. })));
        walk.go(1.0 / 60.0, 0.5, Intent::toward(Vec3::NEG_X));
        assert!(walk.hero.position.x < held.x - 0.5, "and comes out freely");
    }
}
