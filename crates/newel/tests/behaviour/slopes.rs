//! Slopes and crests as tuned: the same speed everywhere or along a curve, holding on or flying off, steps that cost.

use crate::common::{SIX_RATES, Walk, World, east, every_frame};
use newel::glam::{DVec3, Vec3};
use newel::{EventKind, Intent, Tuning, TuningValues};

fn tuned(change: impl Fn(&mut TuningValues)) -> Tuning {
    let mut values = TuningValues::default();
    change(&mut values);
    Tuning::new(values).unwrap()
}

/// A ramp of `degrees` from x = 0 to 6, then level.
fn ramp_and_top(degrees: f64) -> World {
    let rise = 6.0 * degrees.to_radians().tan();
    let p = |x: f64, y: f64, z: f64| DVec3::new(x, y, z);
    World::new()
        .quad(p(-20.0, 0.0, -9.0), p(-20.0, 0.0, 9.0), p(0.0, 0.0, 9.0), p(0.0, 0.0, -9.0))
        .quad(p(0.0, 0.0, -9.0), p(0.0, 0.0, 9.0), p(6.0, rise, 9.0), p(6.0, rise, -9.0))
        .quad(p(6.0, rise, -9.0), p(6.0, rise, 9.0), p(60.0, rise, 9.0), p(60.0, rise, -9.0))
}

/// An arched hill of the given radius, cut into facets of `degrees` each, with 20 degrees of slope at its foot.
fn hill(radius: f64, degrees: f64) -> World {
    let at = |turn: f64| DVec3::new(radius * turn.sin(), radius * turn.cos(), 0.0);
    let mut world = World::new();
    let side = DVec3::Z * 9.0;
    let first = -20f64.to_radians();
    let before = DVec3::new(-first.cos(), first.sin(), 0.0) * 30.0;
    world = world.quad(at(first) + before - side, at(first) + before + side, at(first) + side, at(first) - side);
    let facets = (40.0 / degrees).round() as u32;
    for i in 0..facets {
        let turn = |k: u32| first + f64::from(k) * degrees.to_radians();
        let (from, to) = (at(turn(i)), at(turn(i + 1)));
        world = world.quad(from - side, from + side, to + side, to - side);
    }
    world
}

fn left_ground(walk: &Walk) -> Option<(DVec3, DVec3)> {
    let left = walk.events.iter().find(|e| matches!(e.kind, EventKind::LeftGround { .. }));
    left.map(|e| (e.place, e.velocity))
}

#[test]
fn a_lip_holds_or_lets_fly_as_tuned_at_the_same_place_at_every_rate() {
    for _ in every_frame() {
        // At 6 m/s up 30 degrees the lip throws 3 m/s: 9 / 36 = 0.25 m high under a gravity of 18.
        for (fly_off, flies) in [(None, false), (Some(0.3), false), (Some(0.2), true), (Some(0.05), true)] {
            let tuning = tuned(|v| (v.ground.speed, v.ground.fly_off) = (6.0, fly_off));
            let places = SIX_RATES.map(|rate| {
                let mut walk = Walk::new(ramp_and_top(30.0), tuning, [-3.0, 0.0, 0.0]);
                walk.go(1.0 / rate, 3.0, east());
                let left = left_ground(&walk);
                assert_eq!(left.is_some(), flies, "{fly_off:?} at {rate} Hz: {:?}", walk.events);
                if let Some((_, velocity)) = left {
                    // Less what gravity has taken while the foot rolled over the lip, at most 0.16 m of way.
                    let rise = velocity.y;
                    assert!(
                        (3.0 - 18.0 * 0.16 / 6.0..3.01).contains(&rise),
                        "{fly_off:?} at {rate} Hz leaves with {rise} m/s up"
                    );
                }
                left.unwrap_or_default().0
            });
            let apart = places.iter().map(|p| (*p - places[5]).length()).fold(0.0, f64::max);
            println!("{fly_off:?}: {:.2} mm apart over six rates", apart * 1e3);
            assert!(apart < 0.01, "{fly_off:?}: {places:?}");
        }
    }
}

#[test]
fn a_round_crest_lets_fly_where_speed_and_gravity_say_however_finely_it_is_cut() {
    for _ in every_frame() {
        // The least speed that leaves a crest of radius 12 m under 18 m/s²: the root of 216, 14.7 m/s.
        for (speed, flies) in [(13.5, false), (18.0, true)] {
            let tuning =
                tuned(|v| (v.ground.speed, v.ground.acceleration, v.ground.fly_off) = (speed, 200.0, Some(0.05)));
            let mut places = Vec::new();
            for degrees in [0.25, 0.5, 1.0] {
                for rate in [30.0, 60.0, 1000.0] {
                    let mut walk = Walk::new(hill(12.0, degrees), tuning, [-14.0, 8.0, 0.0]);
                    walk.go(1.0 / rate, 0.2, Intent::default());
                    walk.events.clear();
                    // As far as the hill's other foot.
                    while walk.hero.position.x < 4.0 && walk.hero.clock < 4.0 {
                        walk.tick(1.0 / rate, east());
                    }
                    let left = left_ground(&walk);
                    assert_eq!(left.is_some(), flies, "{speed} m/s, {degrees} degrees, {rate} Hz: {:?}", walk.events);
                    places.extend(left.map(|l| l.0.x));
                }
            }
            let (least, most) =
                places.iter().fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), x| (a.min(*x), b.max(*x)));
            println!("{speed} m/s leaves between {least:.3} and {most:.3} m");
            assert!(places.is_empty() || most - least < 0.4, "{places:?}");
        }
    }
}

#[test]
fn the_speed_over_a_slope_is_the_same_or_follows_the_curve() {
    for _ in every_frame() {
        let steepest = 45f64.to_radians().sin();
        for degrees in [0.0, 10.0, 25.0, 40.0] {
            for turn in [0.0f64, 0.7, 1.5, 2.4, 3.1] {
                let tilt = f64::to_radians(degrees);
                let plane = World::new().plane(DVec3::ZERO, DVec3::new(-tilt.sin(), tilt.cos(), 0.0), 60.0);
                for (uphill, downhill) in [(1.0, 1.0), (0.5, 1.3)] {
                    let tuning = tuned(|v| (v.ground.uphill, v.ground.downhill) = (uphill, downhill));
                    let mut walk = Walk::new(plane.clone(), tuning, [0.0, 0.3, 0.0]);
                    walk.go(1.0 / 60.0, 1.5, Intent::toward(Vec3::new(turn.cos() as f32, 0.0, turn.sin() as f32)));
                    let velocity = walk.hero.velocity;
                    let sine = velocity.y / velocity.length();
                    let full = f64::from(if sine > 0.0 { uphill } else { downhill });
                    let expected = 4.5 * (1.0 + (full - 1.0) * sine.abs() / steepest);
                    let speed = velocity.length();
                    assert!(
                        (speed - expected).abs() < 1e-4,
                        "{degrees} degrees, turned {turn}: {speed}, not {expected}"
                    );
                }
            }
        }
    }
}

#[test]
fn a_step_costs_what_is_tuned() {
    for _ in every_frame() {
        for (loss, height) in [(0.0, 0.35), (0.5, 0.35), (0.5, 0.175), (0.9, 0.3)] {
            let tuning = tuned(|v| v.ground.step_loss = loss);
            for rate in SIX_RATES {
                let world = World::new().floor(30.0, 0.0).block([2.0, -1.0, -9.0], [30.0, height, 9.0]);
                let mut walk = Walk::new(world, tuning, [0.0; 3]);
                walk.go(1.0 / rate, 0.4, east());
                let before = walk.hero.velocity.length();
                // With hardly any acceleration what is lost stays lost.
                let mut values = *tuning.values();
                values.ground.acceleration = 1e-3;
                walk.tuning = Tuning::new(values).unwrap();
                walk.go(1.0 / rate, 2.0, east());
                assert!((walk.hero.position.y - height).abs() < 1e-4, "{:?}", walk.hero.position);
                let expected = before * (1.0 - f64::from(loss)).powf(height / 0.35);
                let after = walk.hero.velocity.length();
                assert!(
                    (after - expected).abs() < 0.01 * before,
                    "{loss} of {height} m at {rate} Hz: {after}, not {expected}"
                );
            }
        }
    }
}
