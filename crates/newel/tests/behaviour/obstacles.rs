//! Obstacles that are got over or round: steps too blunt, or too high, for the round of a foot, and corners. The way
//! takes the time it takes, the same at every tick rate.

use crate::common::oracle::Dice;
use crate::common::worlds::dome;
use crate::common::{SIX_RATES, Walk, World, east, every_frame};
use newel::glam::{DQuat, DVec3, Vec3};
use newel::{EventKind, Intent, Mode, OnGround, Tuning, TuningValues};

/// A character whose step is higher than its foot is round.
fn slender() -> Tuning {
    let mut values = *Tuning::walker().values();
    (values.size.radius, values.ground.step) = (0.2, 0.36);
    Tuning::new(values).expect("a valid tuning")
}

/// A dome that is too steep at its foot and walkable on top, on a floor.
fn domes(at: DVec3) -> World {
    World::new().floor(30.0, 0.0).and(dome(0.35, 24, 10).mapped(|p| at + p))
}

/// Worlds with steps of that kind, east of the origin.
fn worlds() -> [(&'static str, World); 3] {
    [
        ("stairs higher than the foot is round", World::new().floor(30.0, 0.0).stairs(0.6, 0.34, 0.5, 8, 30.0)),
        ("domes", domes(DVec3::new(1.1, 0.0, 0.05))),
        (
            "a slanted curb",
            World::new()
                .floor(30.0, 0.0)
                .quad(
                    DVec3::new(0.7, 0.0, -9.0),
                    DVec3::new(0.7, 0.0, 9.0),
                    DVec3::new(0.85, 0.3, 9.0),
                    DVec3::new(0.85, 0.3, -9.0),
                )
                .quad(
                    DVec3::new(0.85, 0.3, -9.0),
                    DVec3::new(0.85, 0.3, 9.0),
                    DVec3::new(9.0, 0.3, 9.0),
                    DVec3::new(9.0, 0.3, -9.0),
                ),
        ),
    ]
}

#[test]
fn a_step_takes_the_time_of_its_way_and_is_the_same_at_every_rate() {
    for (name, world) in worlds() {
        for _ in every_frame() {
            for angle in [0.0f64, 0.5, 1.0] {
                let mut ends = Vec::new();
                for rate in SIX_RATES {
                    let mut walk = Walk::new(world.clone(), slender(), [0.0, 0.0, 0.0]);
                    let way = Intent::toward(DVec3::new(angle.cos(), 0.0, angle.sin()).as_vec3());
                    for tick in 0..rate as u64 {
                        let before = walk.hero.position;
                        walk.tick(1.0 / rate, way);
                        let gone = walk.hero.position - before;
                        let across = (gone - DVec3::Y * gone.y).length();
                        assert!(across <= 4.5 / rate + 1e-6, "{name}, {rate} Hz, tick {tick}: {across} m in a tick");
                        // Down the far side of a dome it slides.
                        let on_ground = walk.hero.mode == Mode::Ground;
                        assert!(on_ground || walk.hero.position.x > 1.1, "{name}, {rate} Hz, tick {tick}");
                    }
                    ends.push(walk.hero.position);
                }
                let apart = ends.iter().map(|end| (*end - ends[0]).length()).fold(0.0, f64::max);
                println!("{name} at {angle}: {:.4}, {apart:.6} m apart", ends[0]);
                assert!(apart < 5e-3, "{name} at {angle}: {apart} m apart: {ends:?}");
            }
        }
    }
}

/// What happens where it stops, or turns back, a few centimetres into a step over a dome.
fn interrupted(rate: f64, then: Intent) -> Walk {
    let mut walk = Walk::new(domes(DVec3::new(0.6, 0.0, 0.0)), slender(), [0.0, 0.0, 0.0]);
    while walk.hero.activity.step().remaining == 0.0 {
        walk.tick(1.0 / rate, Intent::toward(DVec3::X.as_vec3() * 0.1));
        assert!(walk.hero.clock < 3.0, "no step was taken");
    }
    walk.go(1.0 / rate, 0.05, then);
    walk
}

#[test]
fn who_stops_in_mid_step_stands_there_to_the_bit_and_who_turns_back_comes_down() {
    for rate in [60.0, 240.0, 1000.0] {
        let mut walk = interrupted(rate, Intent::default());
        let held = walk.hero.position;
        assert!(
            walk.hero.activity.step().remaining > 0.0 && walk.hero.mode == Mode::Ground,
            "{rate} Hz: {:?}",
            walk.hero.state()
        );
        for _ in 0..2000 {
            walk.tick(1.0 / rate, Intent::default());
            assert_eq!((walk.hero.position, walk.hero.velocity), (held, DVec3::ZERO));
        }
        let mut back = interrupted(rate, Intent::toward(DVec3::NEG_X.as_vec3()));
        back.go(1.0 / rate, 0.3, Intent::toward(DVec3::NEG_X.as_vec3()));
        assert!(
            back.hero.mode == Mode::Ground && back.hero.position.y.abs() < 1e-4,
            "{rate} Hz: {:?}",
            back.hero.state()
        );
    }
}

#[test]
fn round_a_corner_it_is_led_the_same_way_at_every_rate() {
    for name in Tuning::PRESETS {
        let tuning = Tuning::preset(name).unwrap();
        let radius = f64::from(tuning.values().size.radius);
        for _ in every_frame() {
            for (turn, onto) in [(0.0, 0.25), (0.6, 0.3), (0.6, 0.5)] {
                let box_ = World::new().block([-1.0, 0.0, -1.0], [1.0, 3.0, 1.0]);
                let turned = DQuat::from_rotation_y(turn);
                let corner = (turned * DVec3::new(1.0, 0.0, turn.signum() - 1.0)).x.max(1.0);
                let floor = World::new().floor(30.0, 0.0);
                let world = box_.mapped(|p| turned * p - DVec3::Z * 3.0).and(floor);
                let ends = SIX_RATES.map(|rate| {
                    let mut walk = Walk::new(world.clone(), tuning, [corner + radius - onto, 0.0, 0.0]);
                    walk.go(1.0 / rate, 2.0, Intent::toward(DVec3::new(0.1, 0.0, -1.0).as_vec3()));
                    assert!(walk.hero.position.z < -3.0, "{name} at {rate} Hz is past it: {}", walk.hero.position);
                    walk.hero.position
                });
                let apart = ends.map(|end| (end - ends[5]).length()).into_iter().fold(0.0, f64::max);
                println!("{name}, turned by {turn}, {onto} m onto it: {:.2} mm", apart * 1e3);
                assert!(apart < 2e-4, "{name}, turned by {turn}, {onto} m onto it: {apart}: {ends:?}");
            }
        }
    }
}

/// A post with so many sides, in the way of who walks east.
fn post(at: DVec3, radius: f64, sides: u32) -> World {
    column(at, radius, sides, 3.0)
}

fn column(at: DVec3, radius: f64, sides: u32, height: f64) -> World {
    let rim = |n: u32| {
        let angle = f64::from(n) * std::f64::consts::TAU / f64::from(sides);
        at + DVec3::new(angle.cos(), 0.0, angle.sin()) * radius
    };
    let high = DVec3::Y * height;
    (0..sides).fold(World::new(), |world, n| world.quad(rim(n), rim(n) + high, rim(n + 1) + high, rim(n + 1)))
}

#[test]
fn all_but_head_on_at_a_post_it_is_led_round_it_the_same_way_at_every_rate() {
    for name in Tuning::PRESETS {
        let tuning = Tuning::preset(name).unwrap();
        for (sides, aside) in [(8, 0.1), (16, 0.004), (24, 0.02)] {
            for _ in every_frame() {
                let world = World::new().floor(30.0, 0.0).and(post(DVec3::new(2.0, 0.0, aside), 0.2, sides));
                let ends = SIX_RATES.map(|rate| {
                    let mut walk = Walk::new(world.clone(), tuning, [0.0, 0.0, 0.0]);
                    walk.go(1.0 / rate, 2.0, east());
                    assert!(walk.hero.position.x > 2.2, "{name} at {rate} Hz is past it: {}", walk.hero.position);
                    walk.hero.position
                });
                let apart = ends.map(|end| (end - ends[5]).length()).into_iter().fold(0.0, f64::max);
                println!("{name}, {sides} sides, {aside} m aside: {:.3} mm", apart * 1e3);
                assert!(apart < 1e-3, "{name}, {sides} sides, {aside} m aside: {apart}: {ends:?}");
            }
        }
    }
}

#[test]
fn nor_does_it_matter_where_the_seams_of_its_sides_run() {
    let mut dice = Dice(41);
    for _ in 0..60 {
        let tuning = Tuning::preset(Tuning::PRESETS[dice.pick(Tuning::PRESETS.len())]).unwrap();
        let (sides, radius, height) = (5 + dice.pick(28) as u32, dice.between(0.1, 0.5), dice.between(0.8, 3.0));
        let aside = dice.between(0.3, 0.9) * radius;
        let world = World::new().floor(30.0, 0.0).and(column(DVec3::new(2.0, 0.0, aside), radius, sides, height));
        let ends = SIX_RATES.map(|rate| {
            let mut walk = Walk::new(world.clone(), tuning, [0.0, 0.0, 0.0]);
            walk.go(1.0 / rate, 2.0, east());
            walk.hero.position
        });
        let apart = ends.map(|end| (end - ends[5]).length()).into_iter().fold(0.0, f64::max);
        println!("{sides} sides, radius {radius:.3} m, {height:.3} m high, {aside:.3} m aside: {:.3} mm", apart * 1e3);
        assert!(apart < 5e-4, "{sides} sides, radius {radius}, {height} high, {aside} aside: {apart}: {ends:?}");
    }
}

#[test]
fn who_stands_against_a_step_sets_out_over_it() {
    for _ in every_frame() {
        for high in [0.05, 0.1, 0.17, 0.25, 0.33] {
            let world = World::new().floor(9.0, 0.0).block([1.0, 0.0, -5.0], [4.0, high, 5.0]);
            // Touching it exactly, with the round of the foot or with its side.
            let reach = (0.09 - (0.3 - high).max(0.0).powi(2)).sqrt();
            for rate in [30.0, 240.0] {
                let mut walk = Walk::new(world.clone(), Tuning::walker(), [1.0 - reach, 0.0, 0.0]);
                walk.go(1.0 / rate, 0.5, Intent::default());
                walk.go(1.0 / rate, 0.5, east());
                let at = walk.hero.position;
                assert!(at.x > 1.8 && (at.y - high).abs() < 1e-4, "{high} m at {rate} Hz: {at}");
            }
        }
    }
}

#[test]
fn who_slips_off_an_edge_slips_the_same_way_at_every_rate() {
    for name in Tuning::PRESETS {
        let tuning = Tuning::preset(name).unwrap();
        let radius = f64::from(tuning.values().size.radius);
        let world = World::new().floor(30.0, -9.0).block([-5.0, -0.5, -5.0], [0.0, 0.0, 5.0]);
        for (heading, over) in [(Vec3::ZERO, 0.7), (Vec3::NEG_X, 0.75), (Vec3::new(-0.2, 0.0, 1.0), 0.8)] {
            for _ in every_frame() {
                let ends = SIX_RATES.map(|rate| {
                    let mut walk = Walk::new(world.clone(), tuning, [over * radius, 0.05, 0.0]);
                    walk.go(1.0 / rate, 1.0, Intent::toward(heading));
                    walk.hero.position
                });
                let apart = ends.map(|end| (end - ends[5]).length()).into_iter().fold(0.0, f64::max);
                println!("{name}, {over} of its radius over, heading {heading}: {:.3} mm, {}", apart * 1e3, ends[5]);
                assert!(apart < 2e-3, "{name}, {over} of its radius over, heading {heading}: {apart}: {ends:?}");
            }
        }
    }
}

#[test]
fn between_a_wall_and_an_edge_that_it_slips_off_it_is_held_and_never_flickers() {
    let tuning = Tuning::new(TuningValues {
        ground: OnGround { steepest: 45.0, ..OnGround::default() },
        ..TuningValues::default()
    });
    let tuning = tuning.expect("a tuning");
    let radius = f64::from(tuning.values().size.radius);
    let wall = World::new().quad(
        DVec3::new(0.0, -9.0, -9.0),
        DVec3::new(0.0, -9.0, 9.0),
        DVec3::new(0.0, 9.0, 9.0),
        DVec3::new(0.0, 9.0, -9.0),
    );
    // A beam along the wall that rises by 28 degrees, so far from it that its edge is about as steep as can be walked.
    for n in 0..40 {
        let off = radius * (1.597 + 1e-4 * f64::from(n));
        let rises = DQuat::from_rotation_x(-28f64.to_radians());
        let beam = World::new().block([-9.0, -1.0, -9.0], [-off, 0.0, 9.0]).mapped(|p| rises * p);
        for rate in [15.0, 60.0, 1000.0] {
            let world = wall.clone().and(beam.clone()).and(World::new().floor(30.0, -8.0));
            let mut walk = Walk::new(world, tuning, [-radius - 0.001, 0.5, 0.0]);
            walk.go(1.0 / rate, 1.5, Intent::toward(Vec3::new(0.6, 0.0, 0.8)));
            let falls = walk.events.iter().filter(|e| matches!(e.kind, EventKind::LeftGround { .. })).count();
            assert!(falls <= 1, "{n}, {rate} Hz: {falls} falls, {}", walk.hero.position);
        }
    }
}
