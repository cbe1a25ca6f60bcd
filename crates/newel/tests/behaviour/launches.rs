//! Throws and arcs, and how hard it comes down.

use crate::common::oracle::Dice;
use crate::common::{SIX_RATES, Walk, World, every_frame};
use newel::glam::{DQuat, DVec3, Vec3};
use newel::{
    Aim, Axes, Button, Character, Command, Effect, EventKind, Intent, Launch, Mode, Modifiers, Phase, Refusal, Scene,
    Solid, Spawn, Tick, Tuning, TuningValues, Workspace, Zone,
};

fn tuned(change: impl Fn(&mut TuningValues)) -> Tuning {
    let mut values = TuningValues::default();
    change(&mut values);
    Tuning::new(values).expect("a tuning")
}

/// Where a thrown character is after `seconds`, in a world with nothing in it.
fn flown(hero: &Character, launch: Launch, tuning: &Tuning, rate: f64, seconds: f64) -> DVec3 {
    let (mut hero, empty) = (hero.clone(), Scene::new());
    let (mut work, modifiers) = (Workspace::new(), Modifiers::default());
    let mut number = 0;
    while hero.clock < seconds - 1e-9 {
        let dt = (1.0 / rate).min(seconds - hero.clock);
        let commands = [Command::Launch(launch)];
        let tick = Tick { number, terrain: &empty, tuning, modifiers: &modifiers, dt };
        let commands = if number == 0 { &commands[..] } else { &[] };
        tick.step(&mut work, &mut hero, &Intent::toward(Vec3::X), commands).expect("a valid tick");
        number += 1;
    }
    hero.position
}

/// Ticks up to a moment of the character's clock, the last one cut to end there.
fn until(walk: &mut Walk, rate: f64, end: f64, intent: Intent) {
    while walk.hero.clock < end - 1e-9 {
        let dt = (1.0 / rate).min(end - walk.hero.clock);
        walk.tick(dt, intent);
    }
}

#[test]
fn ten_thousand_arcs_just_within_reach_arrive_at_every_rate_and_none_beyond_is_granted() {
    let (tuning, modifiers) = (Tuning::walker(), Modifiers::default());
    let gravity = 18.0;
    let mut worst = 0.0f64;
    for seed in 0..10_000 {
        let mut dice = Dice(seed * 7 + 1);
        let up = if seed % 2 == 0 { DVec3::Y } else { dice.direction() };
        let start = dice.direction() * dice.between(0.0, 500.0);
        let hero = Character::spawn(&Scene::new(), &tuning, Spawn::at(start).up(up.as_vec3())).expect("a clear place");
        let (way, fastest) = (dice.direction(), dice.magnitude(2.0, 40.0));
        // Straight down anything falls any distance.
        let way = if way.dot(up) < -0.95 { -way } else { way };
        // The parabola of safety (Torricelli, 1644): how far this speed throws along `way`.
        let reach = fastest * fastest / (gravity * (1.0 + way.dot(up)));
        let aimed =
            |part: f64| Launch::onto(start + way * (reach * part), Aim::Least, fastest, &hero, &tuning, &modifiers);
        let far = aimed(1.01).expect_err("out of reach");
        let off = (far.nearest - (start + way * reach)).length();
        assert!(off < 1e-4 * reach && far.needed > fastest, "seed {seed}: {off} {far:?}");
        let launch = aimed(0.99).expect("within reach");
        let rates = if seed % 10 == 0 { &SIX_RATES[..] } else { &SIX_RATES[seed as usize % 6..][..1] };
        for rate in rates {
            let place = flown(&hero, launch, &tuning, *rate, f64::from(launch.lasts));
            worst = worst.max((place - (start + way * (reach * 0.99))).length());
        }
    }
    println!("at most {:.4} mm off", worst * 1e3);
    assert!(worst < 0.01, "{worst}");
}

#[test]
fn arcs_by_time_and_by_top_and_with_a_fastest_fall_arrive_and_land_on_floors() {
    let (mut worst, mut landed, mut rims) = (0.0f64, 0, 0);
    for seed in 0..400 {
        let mut dice = Dice(seed * 11 + 3);
        let terminal = [None, Some(9.0)][seed as usize % 2];
        let tuning = tuned(|v| v.air.terminal = terminal);
        let height = dice.between(-8.0, 5.0);
        let target = DVec3::new(dice.between(-9.0, 9.0), height, dice.between(2.5, 9.0));
        let aim = match seed % 3 {
            0 => Aim::Time(dice.between(1.2, 3.0)),
            1 => Aim::Top(height.max(0.0) + dice.between(0.1, 3.0)),
            _ => Aim::Least,
        };
        let world = World::new()
            .block([-0.4, -9.0, -0.4], [0.4, 0.0, 0.4])
            .block([target.x - 1.0, height - 0.2, target.z - 1.0], [target.x + 1.0, height, target.z + 1.0]);
        let rate = SIX_RATES[seed as usize % 6];
        let mut walk = Walk::new(world, tuning, [0.0; 3]);
        let launch =
            Launch::onto(target, aim, 100.0, &walk.hero, &walk.tuning, &Modifiers::default()).expect("in reach");
        // What comes from below or grazes the rim meets that first: such throws are not of this test.
        if launch.velocity.y - 18.0 * f64::from(launch.lasts) > -5.0 {
            continue;
        }
        landed += 1;
        walk.commands.push(launch.into());
        while walk.hero.clock < f64::from(launch.lasts) + 0.3 {
            walk.tick(1.0 / rate, Intent::default());
        }
        let Some(landing) = walk.first(|k| matches!(k, EventKind::Landed { .. })) else {
            panic!("{seed}: never landed")
        };
        if (landing.place.y - height).abs() < 1e-3 {
            worst = worst.max((landing.place - target).length());
        } else {
            rims += 1;
        }
        if let Aim::Top(top) = aim {
            let highest = 0.5 * launch.velocity.y.powi(2) / 18.0;
            assert!((highest - top).abs() < 1e-6, "{highest} {top}");
        }
    }
    println!("{landed} thrown, {rims} of them met the rim, the others land at most {:.3} mm off", worst * 1e3);
    assert!(worst < 0.01 && landed > 150 && rims * 10 < landed, "{worst} {rims} of {landed}");
}

#[test]
fn what_cannot_be_aimed_at_says_so() {
    let tuning = Tuning::walker();
    let hero = Character::spawn(&Scene::new(), &tuning, [0.0; 3]).expect("a clear place");
    let place = DVec3::new(3.0, 2.0, 0.0);
    for (target, aim) in [
        (place, Aim::Top(1.9)),
        (place, Aim::Time(0.0)),
        (place, Aim::Time(f64::NAN)),
        (DVec3::splat(f64::INFINITY), Aim::Least),
    ] {
        let refused = Launch::onto(target, aim, 50.0, &hero, &tuning, &Modifiers::default()).unwrap_err();
        assert!(refused.needed == f64::INFINITY && refused.nearest.is_finite(), "{aim:?}: {refused}");
    }
}

#[test]
fn falls_from_a_hand_to_a_hundred_metres_tell_speed_and_height_at_any_rate() {
    let mut worst = 0.0f64;
    for _ in every_frame() {
        for (i, height) in [0.1, 0.3, 1.0, 3.0, 10.0, 30.0, 100.0].into_iter().enumerate() {
            for (slope, dts) in [0.0f64, 20.0, 35.0].into_iter().flat_map(|s| (0..7).map(move |dts| (s, dts))) {
                let normal = DVec3::new(-slope.to_radians().sin(), slope.to_radians().cos(), 0.0);
                // Where a round foot touches a slope its lowest point is this far above it.
                let above = 0.3 * (1.0 / slope.to_radians().cos() - 1.0);
                let world = World::new().plane(DVec3::ZERO, normal, 4.0);
                let mut walk = Walk::new(world, Tuning::walker(), [0.0, height + above, 0.0]);
                let mut dice = Dice(i as u64 + dts as u64);
                while walk.first(|k| matches!(k, EventKind::Landed { .. })).is_none() {
                    let dt = SIX_RATES.get(dts).map_or_else(|| dice.between(0.001, 0.1), |rate| 1.0 / rate);
                    walk.tick(dt, Intent::default());
                }
                let told = walk.first(|k| matches!(k, EventKind::Landed { .. })).expect("just seen").kind;
                let EventKind::Landed { speed, fell, hardness, damage, .. } = told else { unreachable!() };
                let formula = (2.0 * 18.0 * height).sqrt();
                let off = (f64::from(speed) / formula - 1.0).abs().max((f64::from(fell) / height - 1.0).abs());
                worst = worst.max(off);
                let hard = ((formula - 9.0) / 11.0).clamp(0.0, 1.0);
                assert!((f64::from(hardness) - hard).abs() < 0.002, "{height} m: {hardness} {hard}");
                assert!((f64::from(damage) - (formula - 9.0).max(0.0) * 10.0).abs() < 0.5, "{height} m: {damage}");
            }
        }
    }
    println!("at most {:.4} % off", worst * 100.0);
    assert!(worst < 1e-3, "{worst}");
}

#[test]
fn a_jump_and_a_throw_fall_from_their_top() {
    for rate in SIX_RATES {
        let mut walk = Walk::new(World::new().floor(9.0, 0.0), Tuning::walker(), [0.0; 3]);
        walk.go(1.0 / rate, 1.2, Intent::default().hold(Button::Jump));
        walk.commands.push(Launch::at(DVec3::Y * 12.0).into());
        walk.go(1.0 / rate, 2.0, Intent::default());
        let fell: Vec<f32> = walk
            .events
            .iter()
            .filter_map(|e| if let EventKind::Landed { fell, .. } = e.kind { Some(fell) } else { None })
            .collect();
        assert!((fell[0] - 1.1).abs() < 1e-4 && (fell[1] - 4.0).abs() < 1e-4 && fell.len() == 2, "{rate} Hz: {fell:?}");
    }
}

#[test]
fn a_hard_landing_slows_or_locks_and_then_is_over() {
    let mut ends = Vec::new();
    for (slowed, rate) in [0.0f32, 0.3].into_iter().flat_map(|s| SIX_RATES.map(|rate| (s, rate))) {
        let tuning = tuned(|v| (v.impact.slowed, v.impact.lasts, v.impact.lethal) = (slowed, 0.8, 10.0));
        let mut walk = Walk::new(World::new().floor(30.0, 0.0), tuning, [0.0, 4.0, 0.0]);
        until(&mut walk, rate, 0.8, Intent::default());
        assert_eq!((walk.hero.phase, walk.hero.control), (Phase::Shaken, slowed), "{rate} Hz");
        until(&mut walk, rate, 1.2, Intent::toward(Vec3::X).hold(Button::Jump));
        let speed = walk.hero.velocity.x;
        assert!((speed - 4.5 * f64::from(slowed)).abs() < 1e-6 || slowed > 0.0, "{rate} Hz: {speed}");
        let refused = EventKind::Refused { ability: newel::Ability::Jump, why: Refusal::InTheAir };
        let jumped = walk.first(|k| matches!(k, EventKind::Jumped { .. })).is_some();
        assert_eq!(jumped, slowed > 0.0, "{rate} Hz: {:?} {refused:?}", walk.events);
        until(&mut walk, rate, 3.7, Intent::toward(Vec3::X));
        assert_eq!((walk.hero.phase, walk.hero.control), (Phase::Plain, 1.0));
        assert!((walk.hero.velocity.x - 4.5).abs() < 1e-6);
        ends.push(walk.hero.position.x);
    }
    for of_one_tuning in ends.chunks(SIX_RATES.len()) {
        let off = of_one_tuning.iter().map(|x| (x - of_one_tuning[5]).abs()).fold(0.0, f64::max);
        assert!(off < 1e-3, "it lasts as long at every rate: {of_one_tuning:?}");
    }
}

#[test]
fn walls_and_ceilings_tell_how_hard_they_were_hit() {
    for rate in SIX_RATES {
        let world = World::new().floor(9.0, 0.0).block([3.0, 0.0, -9.0], [4.0, 9.0, 9.0]);
        let mut walk = Walk::new(world.clone(), Tuning::walker(), [0.0; 3]);
        walk.go(1.0 / rate, 1.5, Intent::toward(Vec3::X));
        let ran = walk.first(|k| matches!(k, EventKind::HitWall { .. })).expect("a hit").kind;
        let EventKind::HitWall { speed, hardness, .. } = ran else { unreachable!() };
        assert!((speed - 4.5).abs() < 0.02 && hardness == 0.0, "{rate} Hz: {speed}");
        let mut walk = Walk::new(world, Tuning::walker(), [0.0; 3]);
        walk.commands.push(Launch::at(DVec3::new(15.0, 6.0, 0.0)).steered(0.0, 9.0).until_wall().into());
        walk.go(1.0 / rate, 0.1, Intent::default());
        assert!(walk.hero.phase.is_thrown());
        walk.go(1.0 / rate, 0.15, Intent::default());
        let flew = walk.first(|k| matches!(k, EventKind::HitWall { .. })).expect("a hit").kind;
        let EventKind::HitWall { speed, damage, .. } = flew else { unreachable!() };
        assert!((speed - 15.0).abs() < 1e-3 && (damage - 60.0).abs() < 0.1, "{rate} Hz: {speed} {damage}");
        assert_eq!(walk.hero.phase, Phase::Plain, "the wall gave it its steering back");
        let low = World::new().floor(9.0, 0.0).block([-9.0, 2.3, -9.0], [9.0, 3.0, 9.0]);
        let mut walk = Walk::new(low, Tuning::walker(), [0.0; 3]);
        walk.commands.push(Launch::at(DVec3::Y * 8.0).into());
        walk.go(1.0 / rate, 0.3, Intent::default());
        let bumped = walk.first(|k| matches!(k, EventKind::Bumped { .. })).expect("a bump").kind;
        let EventKind::Bumped { speed, .. } = bumped else { unreachable!() };
        let formula = (64.0f32 - 2.0 * 18.0 * 0.5).sqrt();
        assert!((speed - formula).abs() < 1e-2, "{rate} Hz: {speed} {formula}");
    }
}

#[test]
fn launches_go_along_their_axes_and_keep_what_they_do_not_set() {
    for frame in every_frame() {
        let mut walk = Walk::new(World::new().floor(40.0, 0.0), Tuning::walker(), [0.0; 3]);
        walk.go(1.0 / 60.0, 1.0, Intent::toward(Vec3::X));
        let knock = Launch { adds: [false, false, true], ..Launch::at(DVec3::new(0.0, 5.0, -6.0)).along(Axes::Facing) };
        walk.commands.push(knock.into());
        walk.tick(1e-3, Intent::toward(Vec3::X));
        let v = walk.hero.velocity;
        assert!((v.x + 1.5).abs() < 0.02 && v.z.abs() < 1e-3 && (v.y - 5.0).abs() < 0.02, "{frame}: {v}");
        let before = walk.hero.velocity;
        let lift = Launch { adds: [true, false, true], ..Launch::at(DVec3::new(0.0, 9.0, 0.0)).along(Axes::Gravity) };
        walk.commands.push(lift.into());
        walk.tick(1e-3, Intent::default());
        let v = walk.hero.velocity;
        assert!((v.y - 9.0).abs() < 0.02 && (v.x - before.x).abs() < 0.02, "{frame}: {v}");
    }
}

#[test]
fn thrown_it_steers_as_weakly_as_told_for_as_long_as_told_and_no_launch_leaves_it_on_the_ground() {
    for frame in every_frame() {
        let ends = SIX_RATES.map(|rate| {
            let mut walk = Walk::new(World::new().floor(90.0, 0.0), Tuning::walker(), [0.0; 3]);
            walk.commands.push(Launch::at(DVec3::Y * 18.0).steered(0.25, 0.6137).into());
            until(&mut walk, rate, 0.5, Intent::toward(Vec3::X));
            assert!(walk.airborne() && walk.hero.phase.is_thrown(), "{rate} Hz");
            // A quarter of 10 m/s², and all of it from then on.
            assert!((walk.hero.velocity.x - 2.5 * 0.5).abs() < 1e-6, "{rate} Hz: {}", walk.hero.velocity);
            until(&mut walk, rate, 0.8, Intent::toward(Vec3::X));
            let formula = 2.5 * 0.6137 + 10.0 * (0.8 - 0.6137);
            // A timer counts down in single precision: a few microseconds off after a thousand ticks.
            assert!((walk.hero.velocity.x - formula).abs() < 1e-4, "{rate} Hz: {}", walk.hero.velocity);
            walk.hero.position.x
        });
        assert!(ends.iter().all(|x| (x - ends[5]).abs() < 1e-5), "{frame}: {ends:?}");
        // However weak: what is thrown upward has left the ground.
        for rate in SIX_RATES {
            let mut walk = Walk::new(World::new().floor(9.0, 0.0), Tuning::walker(), [0.0; 3]);
            walk.commands.push(Launch::at(DVec3::Y * 0.05).into());
            walk.tick(1.0 / rate, Intent::default());
            assert!(walk.first(|k| *k == EventKind::Launched).is_some());
            let landed = walk.first(|k| matches!(k, EventKind::Landed { .. })).map(|e| e.time);
            assert!(landed.is_none_or(|at| (at - 2.0 * 0.05 / 18.0).abs() < 1e-4), "{rate} Hz: {landed:?}");
        }
    }
}

#[test]
fn without_gravity_anything_in_line_can_be_thrown_onto_and_it_arrives() {
    let tuning = Tuning::walker();
    let spawn = Spawn::at([0.0; 3]).pulled(Vec3::ZERO);
    let mut hero = Character::spawn(&Scene::new(), &tuning, spawn).expect("a clear place");
    let (empty, modifiers, mut work) = (Scene::new(), Modifiers::default(), Workspace::new());
    let tick = Tick { number: 0, terrain: &empty, tuning: &tuning, modifiers: &modifiers, dt: 0.1 };
    tick.step(&mut work, &mut hero, &Intent::default(), &[]).expect("a valid tick");
    let target = DVec3::new(3.0, 4.0, -2.0);
    let launch = Launch::onto(target, Aim::Least, 7.0, &hero, &tuning, &modifiers).expect("in reach");
    assert!((launch.velocity.length() - 7.0).abs() < 1e-6, "{}", launch.velocity);
    let end = hero.clock + f64::from(launch.lasts);
    let place = flown(&hero, launch, &tuning, 60.0, end);
    assert!((place - target).length() < 1e-5, "{place}");
    assert!(Launch::onto(target, Aim::Least, 0.0, &hero, &tuning, &modifiers).is_err());
    assert!(Launch::onto(target, Aim::Top(9.0), 50.0, &hero, &tuning, &modifiers).is_err(), "it never tops out");
}

#[test]
fn a_jump_pad_throws_whoever_comes_in_once_and_alike_at_every_rate() {
    let pad = Launch::at(DVec3::new(3.0, 10.0, 0.0)).steered(0.0, 5.0);
    let zone = Zone::new(4, DVec3::new(2.0, 0.0, -1.0), DVec3::new(3.0, 2.0, 1.0), Effect::Launch(pad));
    let tuning = Tuning::walker();
    let ends = SIX_RATES.map(|rate| {
        let scene = Scene::new().with(World::new().floor(40.0, 0.0).mesh()).with_zone(zone);
        let mut hero = Character::spawn(&scene, &tuning, [0.0; 3]).expect("a clear place");
        let (mut work, modifiers) = (Workspace::new(), Modifiers::default());
        let mut thrown = 0;
        for number in 0..(2.0 * rate) as u64 {
            let tick = Tick { number, terrain: &scene, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / rate };
            let heading = if hero.mode == Mode::Ground && thrown > 0 { Vec3::ZERO } else { Vec3::X };
            let outcome = tick.step(&mut work, &mut hero, &Intent::toward(heading), &[]).expect("a valid tick");
            thrown += outcome.events.iter().filter(|e| e.kind == EventKind::Launched).count();
            if outcome.events.iter().any(|e| matches!(e.kind, EventKind::Landed { .. })) {
                return (
                    thrown,
                    outcome.events.iter().find(|e| matches!(e.kind, EventKind::Landed { .. })).unwrap().place,
                );
            }
        }
        panic!("never landed");
    });
    for (thrown, place) in ends {
        assert!(thrown == 1 && (place - ends[5].1).length() < 1e-4 && place.x > 4.0, "{ends:?}");
    }
}

#[test]
fn nothing_gets_over_the_top_speed_whatever_adds_up() {
    let mut scene = Scene::new().with(World::new().floor(9e3, 0.0).mesh());
    let slab = World::new().floor(9e3, 0.1).mesh();
    scene.add(1, Solid::mesh(slab), DVec3::ZERO, DQuat::IDENTITY).unwrap();
    let mut dice = Dice(23);
    let (mut work, mut fastest) = (Workspace::new(), 0.0f64);
    let fast = tuned(|v| (v.ground.speed, v.ground.acceleration, v.air.acceleration) = (1000.0, 1000.0, 1000.0));
    let modifiers = Modifiers { speed: 100.0, acceleration: 100.0, gravity: 100.0, ..Modifiers::default() };
    let mut hero = Character::spawn(&scene, &fast, [0.0, 0.12, 0.0]).unwrap();
    for number in 0..600 {
        let dt = [0.004, 0.016, 0.1][number as usize % 3];
        let throw = Launch::at(dice.direction() * 9900.0).added();
        let commands = if number % 60 > 50 { vec![Command::Launch(throw)] } else { Vec::new() };
        let to = DVec3::X * 300.0 * (hero.clock + dt);
        scene.take(1, to, DQuat::IDENTITY, number..number + 1).unwrap();
        let tick = Tick { number, terrain: &scene, tuning: &fast, modifiers: &modifiers, dt };
        let before = hero.position;
        let heading = Intent::toward(Vec3::new(1.0, 0.0, if number % 200 > 100 { -1.0 } else { 0.1 }));
        let outcome = tick.step(&mut work, &mut hero, &heading, &commands).unwrap();
        let told = outcome.events.iter().map(|e| e.velocity.length()).fold(0.0, f64::max);
        let moved = (hero.position - before).length() / dt;
        fastest = fastest.max(hero.velocity.length()).max(told);
        assert!(fastest <= 10_000.0 * (1.0 + 1e-9), "tick {number}: {fastest} m/s");
        // Within a tick gravity and what carries it may add to it before it is held.
        let added = 300.0 + 100.0 * f64::from(fast.values().air.gravity) * dt;
        assert!(moved <= 10_000.0 + added, "tick {number}: moved at {moved} m/s");
        if (hero.position - to).length() > 8e3 {
            hero = Character::spawn(&scene, &fast, [to.x, 0.12, 0.0]).unwrap();
        }
    }
    assert!(fastest > 9000.0, "{fastest} m/s");
}

#[test]
fn a_shove_staggers_on_the_ground_for_its_time() {
    let ground = Tuning::walker().values().ground;
    let ends = SIX_RATES.map(|rate| {
        let mut walk = Walk::new(World::new().floor(90.0, 0.0), Tuning::walker(), [0.0; 3]);
        walk.commands.push(Launch::at(DVec3::new(-4.0, 0.5, 0.0)).steered(0.1, 0.75).into());
        until(&mut walk, rate, 0.25, Intent::toward(Vec3::X));
        assert!(walk.hero.mode == Mode::Ground && walk.hero.phase.is_thrown(), "{rate} Hz: {:?}", walk.hero.phase);
        let (from, start) = (walk.hero.velocity.x, walk.hero.clock);
        until(&mut walk, rate, 0.5, Intent::toward(Vec3::X));
        let gained = (walk.hero.velocity.x - from) / (walk.hero.clock - start);
        let weak = 0.1 * f64::from(ground.reversal);
        assert!((gained - weak).abs() < 0.02 * weak, "{rate} Hz: {gained} m/s² of {weak}");
        until(&mut walk, rate, 1.5, Intent::toward(Vec3::X));
        assert!((walk.hero.velocity.x - f64::from(ground.speed)).abs() < 1e-6, "{rate} Hz: in control again");
        walk.hero.position.x
    });
    assert!(ends.iter().all(|x| (x - ends[5]).abs() < 1e-4), "{ends:?}");
    // What is locked, as on an arc onto a place, is free once it has landed.
    let mut walk = Walk::new(World::new().floor(90.0, 0.0), Tuning::walker(), [0.0; 3]);
    walk.commands.push(Launch::at(DVec3::new(-4.0, 0.5, 0.0)).steered(0.0, 9.0).into());
    until(&mut walk, 60.0, 1.0, Intent::toward(Vec3::X));
    assert!(walk.hero.phase == Phase::Plain && walk.hero.velocity.x > 1.0, "{:?}", walk.hero.phase);
}
