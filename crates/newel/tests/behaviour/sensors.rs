//! Sensors tell who passes, in order and at the right moment, however fast.

use crate::common::oracle::Dice;
use crate::common::{SIX_RATES, World};
use newel::glam::{DQuat, DVec3, Vec3};
use newel::{
    Button, Command, Ending, EventKind, Intent, Key, Launch, Layers, Modifiers, Runner, Scene, Sensor, Solid, Track,
    Tuning, TuningValues, Who,
};

#[derive(Debug, Clone, Copy, PartialEq)]
struct Pass {
    sensor: u64,
    entered: bool,
    time: f64,
    at: DVec3,
}

/// Runs for some seconds; what sensors told.
fn run(hero: &mut Runner, scene: &Scene, tuning: &Tuning, seconds: f64, intent: Intent) -> Vec<Pass> {
    let mut told = Vec::new();
    let rate = 1.0 / hero.clock.step();
    for _ in 0..(seconds * rate).round() as usize {
        hero.advance(
            1.0 / rate,
            scene,
            tuning,
            |_| intent,
            |tick| {
                let inside = tick.outcome.inside.to_vec();
                for event in tick.events() {
                    let (sensor, entered) = match event.kind {
                        EventKind::SensorEntered { sensor } => (sensor, true),
                        EventKind::SensorLeft { sensor } => (sensor, false),
                        _ => continue,
                    };
                    told.push(Pass { sensor, entered, time: event.time, at: event.place });
                }
                // Who is in one at the end has come in and not left.
                for sensor in inside {
                    assert!(told.iter().rev().find(|p| p.sensor == sensor).is_none_or(|p| p.entered));
                }
            },
        )
        .unwrap();
    }
    told
}

fn floor() -> Scene {
    Scene::new().with(World::new().floor(900.0, 0.0).mesh())
}

fn cube(id: u64, middle: DVec3, half: f64) -> Sensor {
    Sensor::new(id, middle - half, middle + half)
}

#[test]
fn a_row_of_gates_crossed_at_500_metres_a_second_and_10_hertz_is_told_in_order_and_in_time() {
    let tuning = Tuning::walker();
    let radius = f64::from(tuning.shape().radius);
    let mut scene = floor();
    for gate in 0..60u64 {
        // The gates get thinner, to two millimetres.
        let (x, half) = (5.0 + 7.3 * gate as f64, 0.5 * 0.9f64.powi(gate as i32).max(1e-3));
        scene.add_sensor(0, Sensor::new(900 - gate, DVec3::new(x - half, 0.0, -5.0), DVec3::new(x + half, 900.0, 5.0)));
    }
    for rate in [10.0, 15.0, 60.0, 240.0] {
        let mut hero = Runner::spawn(&scene, &tuning, [0.0, 20.0, 0.0]).unwrap().with_rate(rate).unwrap();
        hero.command(Command::Launch(Launch::at(DVec3::new(500.0, 0.0, 0.0))));
        let told = run(&mut hero, &scene, &tuning, 1.0, Intent::default());
        assert_eq!(told.len(), 120, "{rate} Hz");
        assert!(told.windows(2).all(|w| w[0].time <= w[1].time), "{rate} Hz");
        for gate in 0..60u64 {
            let mine: Vec<_> = told.iter().filter(|p| p.sensor == 900 - gate).collect();
            assert!(mine.len() == 2 && mine[0].entered && !mine[1].entered, "{rate} Hz, gate {gate}: {mine:?}");
            let (x, half) = (5.0 + 7.3 * gate as f64, 0.5 * 0.9f64.powi(gate as i32).max(1e-3));
            for (pass, edge) in [(mine[0], x - half - radius), (mine[1], x + half + radius)] {
                assert!((pass.at.x - edge).abs() < 2e-3, "{rate} Hz, gate {gate}: at {} for {edge}", pass.at.x);
            }
        }
    }
}

#[test]
fn a_jump_through_hoops_is_told_at_the_same_moments_at_every_rate() {
    let tuning = Tuning::walker();
    let mut scene = floor();
    let mut dice = Dice(5);
    for id in 1..30 {
        let middle = DVec3::new(dice.between(0.0, 12.0), dice.between(0.0, 3.0), dice.between(-0.5, 0.5));
        scene.add_sensor(0, cube(id, middle, dice.between(0.05, 0.5)));
    }
    let play = |rate: f64| {
        let mut hero = Runner::spawn(&scene, &tuning, [-2.0, 0.0, 0.0]).unwrap().with_rate(rate).unwrap();
        let mut told = run(&mut hero, &scene, &tuning, 1.0, Intent::toward(Vec3::X));
        told.extend(run(&mut hero, &scene, &tuning, 1.0, Intent::toward(Vec3::X).hold(Button::Jump)));
        told.extend(run(&mut hero, &scene, &tuning, 2.0, Intent::toward(Vec3::X)));
        told
    };
    let exact = play(1000.0);
    assert!(exact.len() > 30, "{}", exact.len());
    for rate in [15.0, 30.0, 60.0, 250.0] {
        let told = play(rate);
        assert_eq!(told.len(), exact.len(), "{rate} Hz");
        // What comes within rounding of another may change places with it.
        for pass in &exact {
            let same = told.iter().filter(|p| (p.sensor, p.entered) == (pass.sensor, pass.entered));
            let off = same.map(|p| (p.time - pass.time).abs()).fold(f64::INFINITY, f64::min);
            assert!(off < 1e-3, "{rate} Hz: {pass:?} is {off} s off");
        }
    }
}

#[test]
fn it_sees_whom_it_is_to_see_and_stays_on_what_it_is_on() {
    const GHOSTS: Layers = Layers::of(3);
    let tuning = Tuning::walker();
    // One on a turntable comes round to who stands still: once a turn, even to one who is at rest.
    let quarter = |n: i32| DQuat::from_axis_angle(DVec3::Y, f64::from(n) * std::f64::consts::FRAC_PI_2);
    let keys = (0..5).map(|n| Key::at(f64::from(n), DVec3::new(0.0, 0.0, -6.0)).turned(quarter(n))).collect();
    let table = Solid::ball(0.2);
    let mut scene = floor();
    scene.add(5, table, DVec3::new(0.0, 0.0, -6.0), DQuat::IDENTITY).unwrap();
    scene.follow(5, Track::new(keys, Ending::Again).unwrap()).unwrap();
    scene.add_sensor(5, Sensor::new(1, DVec3::new(-0.1, 0.0, 5.0), DVec3::new(0.1, 1.0, 7.0)));
    scene.add_sensor(0, cube(2, DVec3::ZERO, 0.5).seeing(GHOSTS));
    for rate in SIX_RATES {
        let mut hero = Runner::spawn(&scene, &tuning, [0.0, 0.0, 0.0]).unwrap().with_rate(rate).unwrap();
        let told = run(&mut hero, &scene, &tuning, 10.0, Intent::default());
        assert!(told.iter().all(|p| p.sensor == 1), "{told:?}");
        let entered: Vec<f64> = told.iter().filter(|p| p.entered).map(|p| p.time).collect();
        assert_eq!(entered.len(), 3, "{rate} Hz: {told:?}");
        // It is there at once, and from the other side as far before four and eight seconds as it takes to leave after.
        assert!(entered[0] == 0.0 && (entered[2] - entered[1] - 4.0).abs() < 2e-3, "{rate} Hz: {entered:?}");
        let mut ghost = Runner::spawn(&scene, &tuning, [0.0, 0.0, 0.0]).unwrap();
        ghost.modifiers = Modifiers { who: Who { on: GHOSTS, ..Who::default() }, ..Modifiers::default() };
        let told = run(&mut ghost, &scene, &tuning, 1.0, Intent::default());
        assert!(told[..2].iter().any(|p| p.sensor == 2 && p.entered && p.time == 0.0));
    }
}

#[test]
fn what_was_picked_up_is_gone_and_a_teleport_comes_in_and_leaves() {
    let tuning = Tuning::walker();
    let mut scene = floor();
    scene.add_sensor(0, cube(1, DVec3::new(3.0, 0.5, 0.0), 0.3));
    scene.add_sensor(0, cube(2, DVec3::new(50.0, 0.5, 0.0), 0.3));
    let mut hero = Runner::spawn(&scene, &tuning, [0.0, 0.0, 0.0]).unwrap();
    let told = run(&mut hero, &scene, &tuning, 0.7, Intent::toward(Vec3::X));
    assert!(told.len() == 1 && told[0].entered, "{told:?}");
    assert!(scene.remove_sensor(1) && !scene.remove_sensor(1));
    assert!(run(&mut hero, &scene, &tuning, 1.0, Intent::toward(Vec3::X)).is_empty());
    hero.command(Command::Teleport { to: DVec3::new(50.0, 0.0, 0.0), facing: None });
    let told = run(&mut hero, &scene, &tuning, 0.1, Intent::default());
    assert!(told.len() == 1 && told[0].sensor == 2 && told[0].entered, "{told:?}");
    hero.command(Command::Teleport { to: DVec3::ZERO, facing: None });
    let told = run(&mut hero, &scene, &tuning, 0.1, Intent::default());
    assert!(told.len() == 1 && told[0].sensor == 2 && !told[0].entered, "{told:?}");
}

#[test]
fn layers_say_what_is_touched_and_nobody_touches_its_own_parts() {
    const GLASS: Layers = Layers::of(7);
    let tuning = Tuning::new(TuningValues { ledge: None, vault: None, ..*Tuning::walker().values() }).unwrap();
    let wall = |x: f64| World::new().block([x, 0.0, -3.0], [x + 0.2, 3.0, 3.0]).mesh();
    let mut scene = floor().with_on(GLASS, wall(3.0));
    scene.add(9, Solid::mesh(wall(0.0)).owned_by(77), DVec3::X * 6.0, DQuat::IDENTITY).unwrap();
    let reach = |who: Who| {
        let mut hero = Runner::spawn(&scene, &tuning, [0.0, 0.0, 0.0]).unwrap();
        hero.modifiers.who = who;
        run(&mut hero, &scene, &tuning, 4.0, Intent::toward(Vec3::X));
        hero.character.position.x
    };
    let radius = f64::from(tuning.shape().radius);
    let through_glass = Who { touches: Layers::ALL.without(GLASS), ..Who::default() };
    assert!((reach(Who::default()) - (3.0 - radius)).abs() < 0.01);
    assert!((reach(through_glass) - (6.0 - radius)).abs() < 0.01);
    assert!(reach(Who { id: 77, ..through_glass }) > 12.0);
}
