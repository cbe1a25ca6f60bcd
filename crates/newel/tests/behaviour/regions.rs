//! What changes in one place disturbs nobody elsewhere.

use crate::common::oracle::Dice;
use crate::common::worlds::village;
use crate::common::{World, sample};
use newel::glam::{DQuat, DVec3, Vec3};
use newel::{
    Character, Command, Effect, Ending, Gusts, Intent, Key, Launch, Modifiers, Scene, Solid, Spawn, State, Tick, Track,
    Tuning, Wind, Workspace, Zone,
};

const LIFT: u64 = 7;

/// A world with a lift that the game moves from tick to tick.
fn with_lift(world: &World, at: DVec3) -> Scene {
    let plate = World::new().block([-1.0, -0.2, -1.0], [1.0, 0.0, 1.0]).mesh();
    let mut scene = Scene::new().with(world.mesh());
    scene.add(LIFT, Solid::mesh(plate), at, DQuat::IDENTITY).unwrap();
    scene
}

/// Where the lift is after so many ticks.
fn lifted(from: DVec3, ticks: u64) -> DVec3 {
    from + DVec3::Y * (ticks % 50) as f64 * 0.02
}

/// Plays a second at a rate, and moves the lift with every tick; all that it is at the end, and the queries of its last tick.
fn play(scene: &mut Scene, (spawn, intent): (Spawn, Intent), rate: u64, lift: DVec3) -> (State, u32) {
    let (tuning, modifiers, mut work) = (Tuning::walker(), Modifiers::default(), Workspace::new());
    let mut hero = Character::spawn(&*scene, &tuning, spawn).unwrap();
    let launch = [Command::Launch(Launch::at(DVec3::new(1.0, 3.0, 0.5)))];
    for number in 0..rate {
        scene.take(LIFT, lifted(lift, number + 1), DQuat::IDENTITY, number..number + 1).unwrap();
        let tick = Tick { number, terrain: &*scene, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / rate as f64 };
        work.take_queries();
        let thrown = number == 0 && intent.heading != Intent::default().heading;
        tick.step(&mut work, &mut hero, &intent, &launch[..usize::from(thrown)]).unwrap();
    }
    (State { rest: newel::Rest::default(), ..*hero.state() }, work.take_queries())
}

#[test]
fn a_lift_moved_far_off_cuts_nobodys_motion() {
    let mut walks = 0;
    for seed in 0..sample(100) {
        let mut dice = Dice(seed * 7919 + 3);
        let (world, angle) = (village(&mut dice), dice.between(0.0, 6.0));
        let spawn = Spawn::at(DVec3::new(dice.between(-2.0, 2.0), 0.5, dice.between(-2.0, 2.0)));
        let intent = Intent::toward(Vec3::new(angle.cos() as f32, 0.0, angle.sin() as f32));
        let lift = DVec3::new(0.0, 0.0, 300.0);
        let mut scene = with_lift(&world, lift);
        if Character::spawn(&scene, &Tuning::walker(), spawn).is_err() {
            continue;
        }
        walks += 1;
        let (exact, _) = play(&mut scene.clone(), (spawn, intent), 60, lift);
        for rate in [37, 101, 144, 333] {
            assert_eq!(play(&mut scene, (spawn, intent), rate, lift).0, exact, "seed {seed}, {rate} Hz");
        }
    }
    assert!(walks > 10, "{walks}");
}

#[test]
fn a_lift_moved_far_off_wakes_nobody_and_one_near_by_everybody() {
    let world = World::new().floor(400.0, 0.0);
    let (spawn, rest) = (Spawn::at(DVec3::ZERO), Intent::default());
    // Beyond reach, and in a region that is not said to be unchanged, it is looked at; and along a track it may come at any moment.
    for (away, wakes, on_track) in [(1.32, true, true), (3.0, false, true), (8.0, false, false), (200.0, false, false)]
    {
        let lift = DVec3::new(away, 0.1, 0.0);
        let (_, queries) = play(&mut with_lift(&world, lift), (spawn, rest), 60, lift);
        assert_eq!(queries > 0, wakes, "a lift {away} m away: {queries} queries");
        // One that goes by itself is no other.
        let track = Track::new([0.0, 1.0].map(|t| Key::at(t, lift + DVec3::Y * t)).to_vec(), Ending::Back).unwrap();
        let plate = World::new().block([-1.0, -0.2, -1.0], [1.0, 0.0, 1.0]).mesh();
        let mut scene = with_lift(&world, DVec3::X * 300.0).with_moving(LIFT + 1, plate, track);
        let (_, queries) = play(&mut scene, (spawn, rest), 60, DVec3::X * 300.0);
        assert_eq!(queries > 0, on_track, "a lift on a track {away} m away: {queries} queries");
    }
}

/// A slice of motion that leaves the region it began in is worked out again with all that is known there.
#[test]
fn whoever_is_put_onto_a_far_lift_rides_it() {
    let (tuning, modifiers, mut work) = (Tuning::walker(), Modifiers::default(), Workspace::new());
    for rate in [15, 37, 60, 144] {
        let lift = DVec3::new(0.0, 2.0, 200.0);
        let mut scene = with_lift(&World::new().floor(400.0, 0.0), lift);
        let mut hero = Character::spawn(&scene, &tuning, DVec3::ZERO).unwrap();
        let put = [Command::Teleport { to: lift, facing: None }];
        for number in 0..rate {
            let to = lift + DVec3::Y * (number + 1) as f64 / rate as f64;
            scene.take(LIFT, to, DQuat::IDENTITY, number..number + 1).unwrap();
            let tick = Tick { number, terrain: &scene, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / rate as f64 };
            tick.step(&mut work, &mut hero, &Intent::default(), &put[..usize::from(number == 0)]).unwrap();
        }
        let off = (hero.position - (lift + DVec3::Y)).length();
        assert!(off < 1e-4 && hero.ground.body() == LIFT, "{rate} Hz: {off} m off");
    }
}

#[test]
fn a_zone_ends_rest_only_near_by_and_only_if_it_changes_by_itself() {
    let rest = (Spawn::at(DVec3::ZERO), Intent::default());
    let gusts = Gusts { every: 0.9, lasts: 0.5, swells: 0.2, lull: 0.3, since: 0.1 };
    let steady = Wind::steady(Vec3::X * 0.1);
    let lift = DVec3::X * 300.0;
    for (away, wind, wakes) in
        [(0.0, steady, false), (0.0, steady.in_gusts(gusts), true), (50.0, steady.in_gusts(gusts), false)]
    {
        let (low, high) = (DVec3::new(away - 5.0, 0.0, -5.0), DVec3::new(away + 5.0, 3.0, 5.0));
        let zone = Zone::new(1, low, high, Effect::Wind(wind));
        let (_, queries) = play(&mut with_lift(&World::new().floor(400.0, 0.0), lift).with_zone(zone), rest, 60, lift);
        assert_eq!(queries > 0, wakes, "{away} m away, {wind:?}: {queries} queries");
    }
}
