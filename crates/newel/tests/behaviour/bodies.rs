//! Bodies that the game adds, moves and takes away while it runs; belts; and rides that never drift.

use std::f64::consts::TAU;

use crate::common::oracle::Dice;
use crate::common::{EVERYWHERE, SIX_RATES, World, sample};
use newel::glam::{DQuat, DVec3, Vec3};
use newel::{
    Character, Ending, Intent, Key, Mesh, Mode, Modifiers, Patch, Runner, Scene, SceneError, Solid, Spawn, Terrain,
    Tick, Track, Tuning, When, Workspace,
};

fn floor() -> Mesh {
    World::new().floor(40.0, 0.0).mesh()
}

fn slab(low: [f64; 3], high: [f64; 3]) -> Solid {
    Solid::cuboid(DVec3::from_array(low), DVec3::from_array(high)).unwrap()
}

fn runner(scene: &Scene, at: [f64; 3], rate: f64) -> Runner {
    Runner::spawn(scene, &Tuning::walker(), at).expect("a clear place").with_rate(rate).unwrap()
}

fn go(hero: &mut Runner, scene: &Scene, seconds: f64, intent: Intent) {
    let dt = hero.clock.step();
    for _ in 0..(seconds / dt).round() as usize {
        hero.advance(dt, scene, &Tuning::walker(), |_| intent, |_| {}).unwrap();
    }
}

#[test]
fn a_belt_takes_along_whoever_stands_on_it_and_nobody_beside_it() {
    // Flush with the floor, from x = 0 to 4, running east at 2 m/s.
    let belt = slab([0.0, -1.0, -2.0], [4.0, 0.0, 2.0]).with_belt(DVec3::X * 2.0);
    let hole = |a: f64, b: f64| {
        World::new().quad(
            DVec3::new(a, 0.0, -9.0),
            DVec3::new(a, 0.0, 9.0),
            DVec3::new(b, 0.0, 9.0),
            DVec3::new(b, 0.0, -9.0),
        )
    };
    // Flush, and where a level was put together less exactly, with a crack.
    for crack in [0.0, 5e-5] {
        let mut scene = Scene::new().with(hole(-9.0, -crack).and(hole(4.0 + crack, 20.0)).mesh());
        scene.add(5, belt.clone(), DVec3::ZERO, DQuat::IDENTITY).unwrap();
        takes_along(&scene, crack);
    }
}

fn takes_along(scene: &Scene, crack: f64) {
    let mut ends = Vec::new();
    for rate in SIX_RATES {
        let mut idle = runner(scene, [1.0, 0.0, 0.0], rate);
        go(&mut idle, scene, 1.0, Intent::default());
        let me = &idle.character;
        assert!((me.position.x - 3.0).abs() < 1e-3 && (me.velocity.x - 2.0).abs() < 1e-6, "{rate} Hz: {}", me.position);
        go(&mut idle, scene, 2.0, Intent::default());
        assert!(idle.character.velocity == DVec3::ZERO && idle.character.position.x > 4.0, "{rate} Hz");
        let mut across = runner(scene, [-3.0, 0.0, 0.0], rate);
        go(&mut across, scene, 2.0, Intent::toward(Vec3::X));
        // Against it: its own speed less the belt's.
        let mut against = runner(scene, [8.0, 0.0, 0.0], rate);
        go(&mut against, scene, 2.0, Intent::toward(Vec3::NEG_X));
        ends.push([idle.character.position.x, across.character.position.x, against.character.position.x]);
    }
    for (i, name) in ["off its end", "across it", "against it"].iter().enumerate() {
        let (low, high) = ends.iter().fold((f64::MAX, f64::MIN), |(a, b), e| (a.min(e[i]), b.max(e[i])));
        assert!(high - low < 2e-3, "{name}, a crack of {crack} m: {low} to {high}");
    }
}

#[test]
fn a_belt_up_a_slope_into_a_wall_holds_there() {
    let lean = DQuat::from_rotation_z(0.3);
    let mut scene = Scene::new().with(World::new().block([2.0, -4.0, -4.0], [3.0, 6.0, 4.0]).mesh());
    scene.add(5, slab([-4.0, -0.5, -2.0], [4.0, 0.0, 2.0]).with_belt(DVec3::X * 3.0), DVec3::ZERO, lean).unwrap();
    for rate in SIX_RATES {
        let mut hero = runner(&scene, [-1.0, 0.1, 0.0], rate);
        go(&mut hero, &scene, 3.0, Intent::default());
        let me = &hero.character;
        let radius = f64::from(Tuning::walker().shape().radius);
        assert!((me.position.x - (2.0 - radius)).abs() < 0.01, "{rate} Hz: {}", me.position);
        assert!(me.mode == Mode::Ground && me.velocity.length() < 1e-6, "{rate} Hz: {}", me.velocity);
    }
}

#[test]
fn ten_thousand_turns_on_a_turntable_end_where_they_began() {
    let keys = (0..5).map(|n| {
        let turn = DQuat::from_axis_angle(DVec3::Y, f64::from(n) * TAU / 4.0);
        Key::at(0.25 * f64::from(n), DVec3::ZERO).turned(turn)
    });
    let scene = Scene::new().with_moving(
        3,
        World::new().floor(5.0, 0.0).mesh(),
        Track::new(keys.collect(), Ending::Again).unwrap(),
    );
    let tuning = Tuning::walker();
    for rate in [20.0, 60.0] {
        let mut scene = scene.clone();
        let mut hero = Character::spawn(&scene, &tuning, Spawn::at([2.0, 0.0, 1.0])).unwrap();
        let (mut work, modifiers, began) = (Workspace::new(), Modifiers::default(), hero.clone());
        for tick in 0..(sample(10_000) as f64 * rate) as u64 {
            scene.time = tick as f64 / rate;
            let step = Tick { number: 0, terrain: &scene, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / rate };
            step.step(&mut work, &mut hero, &Intent::default(), &[]).unwrap();
        }
        let off = (hero.position - began.position).length();
        assert!(off < 1e-5, "{rate} Hz: {off} m");
        assert!(hero.facing.dot(began.facing) > 0.9999, "{rate} Hz: {}", hero.facing);
    }
}

#[test]
fn what_the_game_moves_tick_by_tick_carries_as_what_runs_on_a_track() {
    let up = vec![Key::at(0.0, DVec3::ZERO), Key::at(2.0, DVec3::new(1.0, 3.0, 0.5))];
    let deck = || Solid::mesh(World::new().floor(2.0, 0.0).mesh());
    let mut tracked = Scene::new();
    tracked.add(4, deck(), DVec3::ZERO, DQuat::IDENTITY).unwrap();
    tracked.follow(4, Track::new(up, Ending::Stay).unwrap()).unwrap();
    for rate in SIX_RATES {
        let mut rider = runner(&tracked, [0.5, 0.0, 0.0], rate);
        go(&mut rider, &tracked, 2.0, Intent::default());
        // The same, a tick at a time; and for a third of a second at once, which a frame of several ticks needs.
        for each in [1, (rate / 3.0) as u64] {
            let mut driven = Scene::new();
            driven.add(4, deck(), DVec3::ZERO, DQuat::IDENTITY).unwrap();
            let mut hero = runner(&driven, [0.5, 0.0, 0.0], rate);
            let ticks = (2.0 * rate) as u64;
            for first in (0..ticks).step_by(each as usize) {
                let last = (first + each).min(ticks);
                let to = DVec3::new(1.0, 3.0, 0.5) * (last as f64 / ticks as f64);
                driven.take(4, to, DQuat::IDENTITY, first..last).unwrap();
                go(&mut hero, &driven, (last - first) as f64 / rate, Intent::default());
            }
            let off = (hero.character.position - rider.character.position).length();
            assert!(off < 1e-7, "{rate} Hz, {each} ticks at once: {off}");
        }
    }
}

#[test]
fn however_bodies_came_to_be_where_they_are_the_same_ones_are_found() {
    let mut dice = Dice(11);
    let kinds = |dice: &mut Dice| match dice.pick(3) {
        0 => Solid::ball(dice.magnitude(0.05, 30.0) as f32),
        1 => Solid::capsule(-DVec3::Y * dice.magnitude(0.1, 9.0), DVec3::Y, dice.magnitude(0.05, 2.0) as f32),
        _ => {
            Solid::cuboid(-DVec3::splat(dice.magnitude(0.05, 100.0)), DVec3::splat(dice.magnitude(0.05, 9.0))).unwrap()
        }
    };
    let pose = |dice: &mut Dice| {
        let place = dice.direction() * dice.magnitude(0.1, 400.0);
        (place, DQuat::from_axis_angle(dice.direction(), dice.between(0.0, 6.0)))
    };
    let mut scene = Scene::new();
    let mut known: Vec<(u64, Solid, (DVec3, DQuat))> = Vec::new();
    for round in 0..4000u64 {
        match dice.pick(4) {
            0 | 1 => {
                let (solid, at) = (kinds(&mut dice), pose(&mut dice));
                scene.add(round + 1, solid.clone(), at.0, at.1).unwrap();
                known.push((round + 1, solid, at));
            }
            2 if !known.is_empty() => {
                let which = dice.pick(known.len());
                known[which].2 = pose(&mut dice);
                let (id, _, at) = &known[which];
                scene.put(*id, at.0, at.1).unwrap();
            }
            _ if !known.is_empty() => {
                let (id, ..) = known.swap_remove(dice.pick(known.len()));
                assert!(scene.remove(id).is_some() && scene.remove(id).is_none());
            }
            _ => {}
        }
        if round % 200 != 199 {
            continue;
        }
        let mut afresh = Scene::new();
        known.iter().rev().for_each(|(id, solid, at)| afresh.add(*id, solid.clone(), at.0, at.1).unwrap());
        assert_eq!(
            scene.stamp(When::tick(0, 0.1), EVERYWHERE),
            afresh.stamp(When::tick(0, 0.1), EVERYWHERE),
            "round {round}"
        );
        for _ in 0..30 {
            let (at, half) = (dice.direction() * dice.magnitude(0.1, 400.0), dice.magnitude(0.5, 20.0));
            let patch = |scene: &Scene| Patch::of(scene, When::tick(0, 0.1), at - half, at + half);
            // Every body by itself, so that nothing is looked for where it might be.
            let mut alone: Vec<_> = known
                .iter()
                .filter(|(id, solid, at)| {
                    let mut one = Scene::new();
                    one.add(*id, solid.clone(), at.0, at.1).unwrap();
                    let found = patch(&one);
                    !found.facets().is_empty() || !found.rounds().is_empty()
                })
                .map(|(id, ..)| *id)
                .collect();
            let found = patch(&scene);
            let bodies = found.facets().iter().map(|f| f.body).chain(found.rounds().iter().map(|r| r.body));
            let mut found: Vec<u64> = bodies.map(|index| found.bodies()[usize::from(index)].id).collect();
            alone.sort_unstable();
            found.sort_unstable();
            found.dedup();
            assert_eq!(found, alone, "round {round}");
            let (from, along) = (dice.direction() * 300.0, dice.direction().as_vec3());
            let hit = |scene: &Scene| scene.cast(When::tick(0, 0.1), from, along, 500.0);
            assert_eq!(hit(&scene), hit(&afresh));
        }
    }
}

#[test]
fn what_makes_no_sense_is_refused_and_changes_nothing() {
    let mut scene = Scene::new().with(floor());
    let (ball, here) = (Solid::ball(1.0), DVec3::ZERO);
    assert_eq!(scene.add(0, ball.clone(), here, DQuat::IDENTITY), Err(SceneError::World));
    scene.add(1, ball.clone(), here, DQuat::IDENTITY).unwrap();
    assert_eq!(scene.add(1, ball.clone(), here, DQuat::IDENTITY), Err(SceneError::Taken { id: 1 }));
    assert_eq!(scene.put(2, here, DQuat::IDENTITY), Err(SceneError::Unknown { id: 2 }));
    let mut tracked = scene.clone();
    tracked.follow(1, Track::new(vec![Key::at(0.0, DVec3::X)], Ending::Stay).unwrap()).unwrap();
    assert_eq!(tracked.take(1, here, DQuat::IDENTITY, 3..4), Err(SceneError::OnTrack { id: 1 }));
    tracked.put(1, here, DQuat::IDENTITY).unwrap();
    tracked.take(1, here, DQuat::IDENTITY, 3..4).unwrap();
    let before = scene.stamp(When::tick(0, 0.1), EVERYWHERE);
    assert_eq!(scene.put(1, DVec3::NAN, DQuat::IDENTITY), Err(SceneError::NotAPose { id: 1 }));
    assert_eq!(scene.add(3, ball, here, DQuat::from_xyzw(1.0, 1.0, 0.0, 0.0)), Err(SceneError::NotAPose { id: 3 }));
    assert_eq!(scene.stamp(When::tick(0, 0.1), EVERYWHERE), before);
    // The last tick there is has none after it.
    scene.take(1, DVec3::X, DQuat::IDENTITY, 3..u64::MAX).unwrap();
    let last = Patch::of(&scene, When::tick(u64::MAX, 0.1), DVec3::splat(-2.0), DVec3::splat(2.0));
    assert_eq!(last.rounds().len(), 1);
}
