//! Ground that does not flicker, steps, slopes and walls.

use crate::common::{SIX_RATES, Walk, World, east, every_frame, sample};
use newel::glam::{DVec3, Vec3};
use newel::{EventKind, Intent, Mode, Support, Tuning};

/// A number between 0 and 1 that depends on nothing but its arguments.
fn hash(x: i64, z: i64, seed: u64) -> f64 {
    let mut h = (x as u64).wrapping_mul(0x9E37_79B9_7F4A_7C15) ^ (z as u64).wrapping_mul(0xC2B2_AE3D_27D4_EB4F) ^ seed;
    for _ in 0..2 {
        h = (h ^ (h >> 31)).wrapping_mul(0xD6E8_FEB8_6659_FD93);
    }
    (h >> 11) as f64 / (1u64 << 53) as f64
}

/// Random land of square cells, each split along a random diagonal.
fn rolling(seed: u64, cell: f64, height: f64) -> World {
    let p = |i: i64, k: i64| DVec3::new(i as f64 * cell, height * hash(i, k, seed), k as f64 * cell);
    let mut world = World::new();
    for i in -20..20 {
        for k in -20..20 {
            let (a, b, c, d) = (p(i, k), p(i, k + 1), p(i + 1, k + 1), p(i + 1, k));
            let diagonal = hash(i, k, seed + 99) < 0.5;
            world = if diagonal {
                world.triangle(a, b, c).triangle(a, c, d)
            } else {
                world.triangle(b, c, d).triangle(b, d, a)
            };
        }
    }
    world
}

#[test]
fn walking_over_rolling_land_never_leaves_it_sinks_or_slows() {
    for _ in every_frame() {
        for seed in 0..60u64 {
            let (cell, height) = [(1.0, 0.4), (0.5, 0.2), (0.25, 0.1), (2.0, 1.0)][seed as usize % 4];
            let rate = [20.0, 60.0, 144.0, 240.0][seed as usize / 4 % 4];
            let speed = [1.0f32, 4.5, 8.0, 12.0][seed as usize / 15];
            let mut values = *Tuning::walker().values();
            (values.ground.speed, values.ground.acceleration) = (speed, 60.0);
            let tuning = Tuning::new(values).expect("a valid tuning");
            let mut walk = Walk::new(rolling(seed, cell, height), tuning, [0.0, height + 0.01, 0.0]);
            let speed = f64::from(speed);
            walk.go(1.0 / rate, 0.6, Intent::default());
            let angle = seed as f32;
            let intent = Intent::toward(Vec3::new(angle.cos(), 0.0, angle.sin()));
            walk.go(1.0 / rate, 0.4, intent);
            for tick in 0..((cell * 17.0 - 2.0 - 0.4 * speed).max(1.0) / speed * rate) as u64 {
                walk.tick(1.0 / rate, intent);
                assert_eq!(walk.hero.mode, Mode::Ground, "seed {seed} tick {tick}: {:?}", walk.events.last());
                let now = walk.hero.velocity.length();
                assert!((now - speed).abs() < 1e-3, "seed {seed} tick {tick}: {now}");
                assert!(walk.gap().abs() < 2e-4, "seed {seed} tick {tick}: {}", walk.gap());
            }
        }
    }
}

fn staircase() -> World {
    World::new().floor(50.0, 0.0).stairs(1.0, 0.18, 0.28, 12, 3.0)
}

#[test]
fn stairs_up_and_down_are_ground_at_full_speed_and_the_same_at_every_rate() {
    for _ in every_frame() {
        let ends: Vec<(DVec3, DVec3)> = SIX_RATES
            .iter()
            .map(|&rate| {
                let mut walk = Walk::new(staircase(), Tuning::walker(), [0.0; 3]);
                let mut lowest = 0.0f64;
                for _ in 0..rate as u64 {
                    walk.tick(1.0 / rate, east());
                    assert_eq!(walk.hero.mode, Mode::Ground, "{rate} Hz up: {:?}", walk.events.last());
                    lowest = lowest.min(walk.gap());
                }
                let top = walk.hero.position;
                assert!((top.x - (4.5 - 0.3375)).abs() < 5e-3, "{rate} Hz: no time is lost on the way up: {top}");
                for _ in 0..(2.0 * rate) as u64 {
                    walk.tick(1.0 / rate, Intent::toward(Vec3::NEG_X));
                    assert_eq!(walk.hero.mode, Mode::Ground, "{rate} Hz down: {:?}", walk.events.last());
                    lowest = lowest.min(walk.gap());
                }
                assert!(lowest > -1e-5, "{rate} Hz: {lowest}");
                (top, walk.hero.position)
            })
            .collect();
        for (end, rate) in ends.iter().zip(SIX_RATES) {
            let (up, down) = ((end.0 - ends[5].0).length(), (end.1 - ends[5].1).length());
            println!("{rate} Hz: {:.3} mm up, {:.3} mm down and back", up * 1e3, down * 1e3);
            assert!(up < 1e-4 && down < 1e-4, "{rate} Hz: {up} {down}");
        }
    }
}

#[test]
fn a_ramp_up_over_and_down_is_the_same_at_every_rate() {
    for _ in every_frame() {
        let p = DVec3::new;
        let world = World::new()
            .floor(50.0, 0.0)
            .quad(p(2.0, 0.0, -3.0), p(2.0, 0.0, 3.0), p(6.0, 2.31, 3.0), p(6.0, 2.31, -3.0))
            .quad(p(6.0, 2.31, -3.0), p(6.0, 2.31, 3.0), p(9.0, 2.31, 3.0), p(9.0, 2.31, -3.0))
            .quad(p(9.0, 2.31, -3.0), p(9.0, 2.31, 3.0), p(13.0, 0.0, 3.0), p(13.0, 0.0, -3.0));
        let end = |rate: f64| {
            let mut walk = Walk::new(world.clone(), Tuning::walker(), [0.0; 3]);
            for _ in 0..(4.0 * rate) as u64 {
                walk.tick(1.0 / rate, east());
                assert_eq!(walk.hero.mode, Mode::Ground, "{rate} Hz: {:?}", walk.events.last());
            }
            walk.hero.position
        };
        let exact = end(1000.0);
        for rate in SIX_RATES {
            let off = (end(rate) - exact).length();
            println!("{rate} Hz: {:.3} mm", off * 1e3);
            assert!(off < 5e-3, "{rate} Hz: {off}");
        }
    }
}

#[test]
fn the_step_height_is_decided_to_the_millimetre_at_every_rate() {
    for _ in every_frame() {
        for rate in SIX_RATES {
            for (height, over) in [(0.349, true), (0.351, false), (0.05, true), (0.30, true)] {
                let world = World::new().floor(30.0, 0.0).block([2.0, 0.0, -9.0], [9.0, height, 9.0]);
                let mut walk = Walk::new(world, Tuning::walker(), [0.0; 3]);
                walk.go(1.0 / rate, 1.4, Intent::toward(Vec3::new(1.0, 0.0, 0.4)));
                let up = walk.hero.position.y > height - 0.01;
                assert_eq!(up, over, "{height} m at {rate} Hz: {}", walk.hero.position);
                assert_eq!(walk.hero.mode, Mode::Ground);
            }
        }
    }
}

#[test]
fn a_drop_over_the_step_height_is_air_at_the_same_place_at_every_rate() {
    for _ in every_frame() {
        let ledge = World::new().floor(30.0, -2.0).block([-5.0, -2.0, -5.0], [3.0, 0.0, 5.0]);
        for rate in SIX_RATES {
            let mut walk = Walk::new(ledge.clone(), Tuning::walker(), [0.0; 3]);
            walk.go(1.0 / rate, 2.0, east());
            let left: Vec<_> = walk.events.iter().filter(|e| matches!(e.kind, EventKind::LeftGround { .. })).collect();
            assert_eq!(left.len(), 1, "{rate} Hz");
            assert_eq!(left[0].kind, EventKind::LeftGround { support: Support::Slipping });
            assert!(
                (left[0].place.x - 3.15).abs() < 2e-3,
                "{rate} Hz: half a radius beyond the edge: {}",
                left[0].place.x
            );
        }
    }
}

#[test]
fn pushing_into_what_is_too_steep_never_climbs() {
    for _ in every_frame() {
        let p = DVec3::new;
        for degrees in [50.0f64, 60.0, 75.0, 85.0] {
            let top = 4.0 * degrees.to_radians().tan();
            let face = World::new().floor(90.0, 0.0).quad(
                p(2.0, 0.0, -60.0),
                p(2.0, 0.0, 60.0),
                p(6.0, top, 60.0),
                p(6.0, top, -60.0),
            );
            for rate in [15.0, 60.0, 240.0] {
                for z in [0.0, 0.3, 3.0] {
                    let mut walk = Walk::new(face.clone(), Tuning::walker(), [0.0; 3]);
                    let mut highest = 0.0f64;
                    for _ in 0..(5.0 * rate) as u64 {
                        walk.tick(1.0 / rate, Intent::toward(Vec3::new(1.0, 0.0, z)));
                        highest = highest.max(walk.hero.position.y);
                    }
                    assert!(highest < 1e-3, "{degrees} degrees at {rate} Hz along {z}: {highest}");
                    // Jumping into it gains the jump and no more.
                    let mut walk = Walk::new(face.clone(), Tuning::walker(), [1.0, 0.0, 0.0]);
                    for tick in 0..(8.0 * rate) as u64 {
                        let mut intent = Intent::toward(Vec3::new(1.0, 0.0, z));
                        if tick % 2 == 0 {
                            intent = intent.hold(newel::Button::Jump);
                        }
                        walk.tick(1.0 / rate, intent);
                        highest = highest.max(walk.hero.position.y);
                    }
                    assert!(highest < 1.101, "{degrees} degrees at {rate} Hz along {z}: jumped to {highest}");
                }
            }
        }
    }
}

#[test]
fn pressing_along_a_wall_keeps_the_speed_along_it_and_a_corner_holds_still() {
    for frame in every_frame() {
        let wall = World::new().floor(300.0, 0.0).block([2.0, 0.0, -300.0], [3.0, 3.0, 300.0]);
        for rate in [30.0, 60.0, 240.0] {
            let mut walk = Walk::new(wall.clone(), Tuning::walker(), [1.5, 0.0, -200.0]);
            let heading = Vec3::new(0.3, 0.0, 0.954);
            let along = 4.5 * f64::from(heading.z / heading.length());
            walk.go(1.0 / rate, 2.0, Intent::toward(heading));
            for _ in 0..(60.0 * rate) as u64 {
                walk.tick(1.0 / rate, Intent::toward(heading));
                assert!((walk.hero.velocity.z - along).abs() < 2e-4 * along, "{rate} Hz: {}", walk.hero.velocity);
                assert!((walk.hero.position.x - 1.7).abs() < 1e-4, "{rate} Hz: {}", walk.hero.position);
            }
            walk.go(1.0 / rate, 0.5, Intent::toward(Vec3::new(-1.0, 0.0, -1.0)));
            assert!(walk.hero.position.x < 1.0, "it comes off freely");
        }
        let corner = wall.block([-9.0, 0.0, 3.0], [2.0, 3.0, 4.0]);
        let mut walk = Walk::new(corner, Tuning::walker(), [0.0; 3]);
        walk.go(1.0 / 60.0, 3.0, Intent::toward(Vec3::new(1.0, 0.0, 0.7)));
        let held = walk.hero.position;
        walk.go(1.0 / 60.0, 10.0, Intent::toward(Vec3::new(1.0, 0.0, 0.7)));
        let moved = (walk.hero.position - held).length();
        assert!(moved <= if frame == 0 { 0.0 } else { 1e-6 }, "{held}, and ten seconds later {moved} m off");
        assert!(walk.hero.velocity.length() < 1e-5, "{}", walk.hero.velocity);
    }
}

#[test]
fn stairs_of_any_make_at_any_angle_cost_no_speed() {
    for _ in every_frame() {
        let mut failures = Vec::new();
        for seed in 0..sample(400) {
            let mut dice = crate::common::oracle::Dice(seed);
            let mut values = *Tuning::walker().values();
            values.size.radius = dice.between(0.15, 0.45) as f32;
            values.ground.step = dice.between(0.2, 0.5) as f32;
            values.ground.speed = dice.between(1.0, 8.0) as f32;
            values.ground.acceleration = 1e5;
            let tuning = Tuning::new(values).unwrap();
            // As steep as a ship's companionway, no steeper.
            let tread = dice.between(0.2, 0.7);
            let rise = dice.between(0.02, (f64::from(values.ground.step) - 0.002).min(tread));
            let angle = dice.between(-1.2, 1.2);
            let rate = SIX_RATES[dice.pick(6)];
            let world = World::new().floor(90.0, 0.0).stairs(1.0, rise, tread, 40, 40.0);
            let mut walk = Walk::new(world, tuning, [0.0; 3]);
            let speed = f64::from(values.ground.speed);
            let seconds = ((0.7 + tread * 25.0) / (speed * angle.cos())).min(6.0);
            let intent = Intent::toward(Vec3::new(angle.cos() as f32, 0.0, angle.sin() as f32));
            let ticks = (seconds * rate).ceil();
            for tick in 0..ticks as u64 {
                walk.tick(1.0 / rate, intent);
                if walk.hero.mode != Mode::Ground {
                    failures.push(format!("seed {seed}: airborne at tick {tick}, {:?}", walk.events.last()));
                    break;
                }
            }
            let flat = walk.hero.position.x.hypot(walk.hero.position.z);
            let lost = speed * ticks / rate - flat;
            if lost.abs() > 0.001 {
                failures.push(format!(
                "seed {seed}: {lost:.3} m of {flat:.2} lost; rise {rise:.3} tread {tread:.3} radius {:.3} step {:.3} {speed:.1} m/s {rate} Hz at {angle:.2}",
                values.size.radius, values.ground.step
            ));
            }
        }
        assert!(failures.is_empty(), "{} of them:\n{}", failures.len(), failures[..failures.len().min(30)].join("\n"));
    }
}

#[test]
fn off_a_rim_along_a_wall_that_leans_away_is_no_flight() {
    for _ in every_frame() {
        for seed in 0..60 {
            let mut dice = crate::common::oracle::Dice(seed);
            let (height, lean) = (dice.between(0.01, 0.12), dice.between(0.03, 0.2));
            let p = |x: f64, y: f64| DVec3::new(x, y, -lean * y);
            let world = World::new().floor(30.0, 0.0).block([-4.0, -0.5, -4.0], [1.0, height, 4.0]);
            let world = world.quad(p(-9.0, -1.0), p(9.0, -1.0), p(9.0, 3.0), p(-9.0, 3.0));
            let mut walk = Walk::new(world, Tuning::walker(), [0.0, height, 0.36]);
            let rate = SIX_RATES[dice.pick(6)];
            let intent = Intent::toward(Vec3::new(dice.between(0.3, 1.0) as f32, 0.0, -dice.between(0.1, 1.0) as f32));
            walk.go(1.0 / rate, 2.0, intent);
            let past = walk.hero.position.x > 1.2 && walk.hero.position.y < 1e-3;
            assert!(past, "seed {seed}: {}", walk.hero.position);
            let left = walk.first(|k| matches!(k, EventKind::LeftGround { .. }));
            assert!(left.is_none(), "seed {seed}, {rate} Hz, {height} m beside a lean of {lean}: {left:?}");
        }
    }
}
