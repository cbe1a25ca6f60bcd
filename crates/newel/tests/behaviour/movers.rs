//! Bodies that move: they carry, push, leave their speed behind, and never pass through unreported.

use std::f64::consts::TAU;

use crate::common::oracle::{Dice, segment_to_triangle};
use crate::common::{SIX_RATES, World};
use newel::glam::{DQuat, DVec3, Vec3};
use newel::{
    Button, Character, Ending, Event, EventKind, Intent, Key, LowStance, Mode, Modifiers, Scene, Solid, Spawn, Stance,
    State, Tick, Track, Tuning, TuningValues, When, Workspace,
};

/// A character in a scene, stepped at any rate.
struct Stage {
    scene: Scene,
    tuning: Tuning,
    hero: Character,
    work: Workspace,
    events: Vec<Event>,
}

impl Stage {
    fn new(scene: Scene, at: impl Into<Spawn>) -> Stage {
        let tuning = Tuning::walker();
        let hero = Character::spawn(&scene, &tuning, at).expect("a clear place");
        Stage { scene, tuning, hero, work: Workspace::new(), events: Vec::new() }
    }

    fn tick(&mut self, dt: f64, intent: Intent) {
        let modifiers = Modifiers::default();
        let tick = Tick { number: 0, terrain: &self.scene, tuning: &self.tuning, modifiers: &modifiers, dt };
        let outcome = tick.step(&mut self.work, &mut self.hero, &intent, &[]).expect("a valid tick");
        self.events.extend(outcome.events.iter().copied().filter(crate::common::is_no_footstep));
        self.scene.time += dt;
    }

    fn go(&mut self, rate: f64, seconds: f64, intent: Intent) {
        for _ in 0..(seconds * rate).round() as u32 {
            self.tick(1.0 / rate, intent);
        }
    }

    /// The gap to the nearest triangle, in double precision.
    fn gap(&self) -> f64 {
        let size = self.tuning.values().size;
        let up = self.hero.up.as_dvec3();
        let low = self.hero.position + up * f64::from(size.radius);
        let high = self.hero.position + up * f64::from(size.height - size.radius);
        let gaps = self.scene.corners(self.scene.time).map(|(t, _)| segment_to_triangle(low, high, t));
        gaps.fold(f64::INFINITY, f64::min) - f64::from(size.radius)
    }

    fn count(&self, is: impl Fn(&EventKind) -> bool) -> usize {
        self.events.iter().filter(|e| is(&e.kind)).count()
    }
}

fn deck(half: f64) -> newel::Mesh {
    World::new().block([-half, -0.2, -half], [half, 0.0, half]).mesh()
}

fn glide(from: [f64; 3], to: [f64; 3], seconds: f64, ending: Ending) -> Track {
    Track::new(vec![Key::at(0.0, from), Key::at(seconds, to)], ending).unwrap()
}

/// Round and round about an axis through `place`, once in `seconds`.
fn turntable(place: DVec3, axis: DVec3, seconds: f64) -> Track {
    let key = |i: i32| {
        let part = f64::from(i) / 4.0;
        Key::at(seconds * part, place).turned(DQuat::from_axis_angle(axis, TAU * part))
    };
    Track::new((0..5).map(key).collect(), Ending::Again).unwrap()
}

#[test]
fn a_standing_character_is_carried_without_drift_at_any_rate() {
    let tracks: [(&str, Track, f64); 4] = [
        ("ferry", glide([0.0; 3], [7.0, 0.0, -3.0], 2.0, Ending::Back), 40.0),
        ("lift", glide([0.0; 3], [0.0, 5.0, 0.0], 1.7, Ending::Back), 34.0),
        ("turntable", turntable(DVec3::ZERO, DVec3::Y, 3.0), 30.0),
        (
            "swing",
            {
                let key = |i: i32| {
                    let angle = 0.3 * (TAU * f64::from(i) / 16.0).sin();
                    Key::at(f64::from(i) / 4.0, DVec3::ZERO).turned(DQuat::from_rotation_z(angle))
                };
                Track::new((0..=16).map(key).collect(), Ending::Again).unwrap()
            },
            40.0,
        ),
    ];
    for (name, track, seconds) in tracks {
        for rate in [15.0, 60.0, 240.0] {
            let scene = Scene::new().with_moving(3, deck(3.0), track.clone());
            let mut stage = Stage::new(scene, [1.2, 0.0, 0.7]);
            let start = stage.hero.position;
            for tick in 0..(seconds * rate) as u32 {
                stage.tick(1.0 / rate, Intent::default());
                assert_eq!(stage.hero.mode, Mode::Ground, "{name} at {rate} Hz, tick {tick}: {:?}", stage.events);
                let gap = stage.gap();
                assert!(gap.abs() < 0.0005, "{name} at {rate} Hz, tick {tick}: gap {gap}");
            }
            // A whole number of rounds: back to where it began.
            let drift = (stage.hero.position - start).length();
            assert!(drift < 1e-6, "{name} at {rate} Hz: {drift} m off after {seconds} s");
            assert!(stage.events.is_empty(), "{name} at {rate} Hz: {:?}", stage.events);
        }
    }
}

#[test]
fn rest_is_rest_on_a_platform_that_stopped() {
    let scene = Scene::new().with_moving(3, deck(3.0), glide([0.0; 3], [1.3, 0.7, 0.2], 1.0, Ending::Stay));
    let mut stage = Stage::new(scene, [0.3, 0.0, 0.2]);
    stage.go(60.0, 2.0, Intent::default());
    assert_eq!(stage.hero.velocity, DVec3::ZERO);
    let before = *stage.hero.state();
    for _ in 0..36_000 {
        stage.tick(1.0 / 60.0, Intent::default());
        let now = newel::State { clock: before.clock, ..*stage.hero.state() };
        assert_eq!(now, before);
    }
    stage.go(60.0, 1.0, Intent::toward(Vec3::X * 0.01));
    assert!((stage.hero.position.x - before.position.x - 0.045).abs() < 0.001);
}

#[test]
fn walking_on_a_moving_deck_is_walking_and_the_same_at_every_rate() {
    for (name, track) in [
        ("ferry", glide([0.0; 3], [20.0, 2.0, 0.0], 4.0, Ending::Back)),
        ("turntable", turntable(DVec3::ZERO, DVec3::Y, 5.0)),
    ] {
        let ends = SIX_RATES.map(|rate| {
            let mut stage = Stage::new(Scene::new().with_moving(3, deck(40.0), track.clone()), [1.0, 0.0, 2.0]);
            stage.go(rate, 2.0, Intent::toward(Vec3::new(0.0, 0.0, 0.4)));
            stage.go(rate, 2.0, Intent::toward(Vec3::new(-1.0, 0.0, 0.0)));
            assert!(stage.events.is_empty(), "{name} at {rate} Hz: {:?}", stage.events);
            let speed = (stage.hero.velocity - stage.hero.carried.as_dvec3()).length();
            assert!((speed - 4.5).abs() < 1e-6, "{name}: {speed}");
            stage.hero.position
        });
        let apart = ends.iter().map(|e| (*e - ends[5]).length()).fold(0.0, f64::max);
        println!("{name}: {:.3} mm apart after 4 s", apart * 1e3);
        assert!(apart < 0.005, "{name}: {ends:?}");
    }
}

#[test]
fn along_a_cabin_wall_of_a_ferry_it_walks_as_along_a_wall_ashore() {
    let cabin = || World::new().block([-9.0, -0.2, -30.0], [9.0, 0.0, 30.0]).block([2.0, 0.0, -30.0], [2.3, 3.0, 30.0]);
    for to in [[20.0, 0.0, 0.0], [-20.0, 0.0, 0.0], [0.0, 0.0, 20.0], [0.0, 8.0, -20.0], [0.0; 3]] {
        for rate in SIX_RATES {
            let scene = Scene::new().with_moving(3, cabin().mesh(), glide([0.0; 3], to, 4.0, Ending::Back));
            let mut stage = Stage::new(scene, [1.5, 0.0, -9.0]);
            stage.go(rate, 2.0, Intent::toward(Vec3::new(0.3, 0.0, 0.954)));
            let own = stage.hero.velocity - stage.hero.carried.as_dvec3();
            let place = stage.hero.position - DVec3::from_array(to) * 0.5;
            let along = 4.5 * 0.954 / 0.3f64.hypot(0.954);
            assert!((own.z - along).abs() < 1e-3 * along, "to {to:?} at {rate} Hz: {own}");
            assert!((place.x - 1.7).abs() < 2e-4, "to {to:?} at {rate} Hz: {place}");
            assert!(stage.events.is_empty(), "to {to:?} at {rate} Hz: {:?}", stage.events);
        }
    }
}

#[test]
fn what_is_left_is_left_with_its_speed_as_tuned() {
    for (kept, expected) in [(1.0, 5.0), (0.5, 2.5), (0.0, 0.0)] {
        let mut values = TuningValues::default();
        values.air.carried = kept;
        values.air.deceleration = 0.0;
        let track = glide([0.0; 3], [25.0, 10.0, 0.0], 5.0, Ending::Stay);
        let mut stage = Stage::new(Scene::new().with_moving(3, deck(3.0), track), [0.0; 3]);
        stage.tuning = Tuning::new(values).unwrap();
        stage.go(60.0, 1.0, Intent::default());
        stage.tick(1.0 / 60.0, Intent::default().hold(Button::Jump));
        let jumped = stage.events.iter().find(|e| matches!(e.kind, EventKind::Jumped { .. })).expect("a jump");
        assert!((jumped.velocity.x - expected).abs() < 1e-9, "{}", jumped.velocity);
        let rise = stage.tuning.take_off_speed() + 2.0 * f64::from(kept);
        assert!((jumped.velocity.y - rise).abs() < 1e-9, "{}", jumped.velocity);
        stage.go(60.0, 3.0, Intent::default());
        let local = stage.hero.position.x - stage.scene.time.min(5.0) * 5.0;
        assert_eq!(local.abs() < 1e-6, kept == 1.0, "back where it jumped if it flew along: {local}");
    }
}

#[test]
fn a_door_pushes_and_a_press_is_reported() {
    for rate in SIX_RATES {
        let door = World::new().block([-0.2, 0.0, -2.0], [0.0, 3.0, 2.0]).mesh();
        let floor = World::new().floor(30.0, 0.0).block([4.0, 0.0, -9.0], [5.0, 3.0, 9.0]).mesh();
        let scene = |to: f64| {
            let track = glide([-2.0, 0.0, 0.0], [to, 0.0, 0.0], 4.0, Ending::Stay);
            Scene::new().with(floor.clone()).with_moving(9, door.clone(), track)
        };
        let mut stage = Stage::new(scene(2.0), [0.0; 3]);
        for _ in 0..(4.0 * rate) as u32 {
            stage.tick(1.0 / rate, Intent::default());
            assert!(stage.gap() > -0.0003, "{rate} Hz: {}", stage.gap());
        }
        let x = stage.hero.position.x;
        assert!((x - 2.3).abs() < 0.02 && stage.events.is_empty(), "{rate} Hz: pushed to {x}: {:?}", stage.events);

        // Into the wall: the gap closes to nothing.
        let mut stage = Stage::new(scene(4.2), [0.0; 3]);
        stage.go(rate, 4.0, Intent::default());
        let first =
            stage.events.iter().find(|e| matches!(e.kind, EventKind::Crushed { body: 9, .. })).expect("crushed");
        let when = (2.0 + 4.0 - 0.6) / (6.2 / 4.0);
        assert!((first.time - when).abs() < 0.002, "{rate} Hz: at {} s, expected {when}", first.time);
        assert_eq!(stage.count(|k| matches!(k, EventKind::TimeDropped { .. })), 0, "{rate} Hz: {:?}", stage.events);
        for event in &stage.events {
            let EventKind::Crushed { room, .. } = event.kind else { continue };
            let between = 4.0 - (-2.0 + 6.2 / 4.0 * event.time);
            // While the door's front is before its middle, the nearest way out of it is back.
            if between > 0.35 {
                assert!((f64::from(room) - between).abs() < 0.002, "{rate} Hz: room for {room} m of {between}");
            }
            let mut then = scene(4.2);
            then.time = event.time;
            let caught = State { position: event.place, ..*stage.hero.state() };
            let clear = caught.nearest_clear(&then, When::tick(0, 0.0), &stage.tuning);
            let clear = clear.expect("there is room beside the door");
            assert!(Character::spawn(&then, &stage.tuning, clear).is_ok(), "{rate} Hz: {clear} is not clear");
            assert!((clear - event.place).length() < 4.0, "{rate} Hz: {clear}");
        }
        // Told 120 times a second from then on, and never let out on the other side of the door.
        let told = stage.count(|k| matches!(k, EventKind::Crushed { .. }));
        // To where the door's back is out of it again.
        let after = ((4.2 - 0.0045 + 2.0) / (6.2 / 4.0) - when) * 120.0 - 1.0;
        let after = after.floor() as usize;
        assert!(told >= after, "{rate} Hz: told {told} times, not {after}");
        let x = stage.hero.position.x;
        assert!((x - 3.7).abs() < 0.01, "{rate} Hz: let out through the door or the wall: {x}");
    }
}

#[test]
fn a_thin_sheet_at_any_speed_drives_before_it_what_it_meets() {
    // No thickness at all, and up to several of its own lengths a tick: at the end of every tick in front of it.
    for speed in [5.0, 40.0, 300.0] {
        for rate in [15.0, 60.0, 240.0] {
            let p = |y: f64, z: f64| DVec3::new(0.0, y, z);
            let sheet = World::new().quad(p(0.0, -2.0), p(0.0, 2.0), p(3.0, 2.0), p(3.0, -2.0)).mesh();
            let track = glide([-2.0, 0.0, 0.0], [-2.0 + speed, 0.0, 0.0], 1.0, Ending::Stay);
            let floor = World::new().floor(400.0, 0.0).mesh();
            let mut stage = Stage::new(Scene::new().with(floor).with_moving(4, sheet, track), [0.0; 3]);
            for tick in 0..(0.9 * rate) as u32 {
                stage.tick(1.0 / rate, Intent::default());
                let front = stage.hero.position.x - (-2.0 + speed * stage.scene.time);
                assert!(front > 0.299, "{speed} m/s at {rate} Hz, tick {tick}: {front} before it, {:?}", stage.events);
            }
            let told: Vec<EventKind> = stage.events.iter().map(|e| e.kind).collect();
            let hit = |kind: &EventKind| matches!(kind, EventKind::HitWall { speed: s, .. } if (f64::from(*s) / speed - 1.0).abs() < 1e-3);
            assert!(told.len() == 1 && told.iter().all(hit), "{speed} m/s at {rate} Hz: {told:?}");
        }
    }
}

#[test]
fn a_lift_under_a_ceiling_reports_the_crush() {
    let roof = World::new().block([-3.0, 4.0, -3.0], [3.0, 5.0, 3.0]).mesh();
    let lift = glide([0.0; 3], [0.0, 3.0, 0.0], 3.0, Ending::Stay);
    let mut stage = Stage::new(Scene::new().with(roof).with_moving(2, deck(2.0), lift), [0.0; 3]);
    stage.go(60.0, 3.0, Intent::default());
    let first = stage.events.first().expect("an event");
    assert!(matches!(first.kind, EventKind::Crushed { .. }), "{first:?}");
    assert!((first.time - 2.2).abs() < 0.001, "{}", first.time);
    assert!(stage.hero.position.y < 2.21);
}

#[test]
fn what_becomes_of_the_crushed_is_the_same_at_every_rate() {
    let (mut dice, mut crushed, mut most) = (Dice(77), 0, 0.0f64);
    for round in 0..40 {
        // A gate comes down on somebody who stands under it or half beside it, or walks into it; a wall may be near.
        let (off, speed, wide) = (dice.between(-0.5, 0.5), dice.between(1.5, 4.0), dice.between(0.1, 0.5));
        let (wall, walks) = (dice.between(0.35, 1.0), dice.pick(2) == 1);
        let gate = World::new().block([off - wide, 2.3, -2.0], [off + wide, 5.0, 2.0]).mesh();
        let floor = World::new().floor(30.0, 0.0).block([-9.0, 0.0, wall], [9.0, 3.0, 2.0]).mesh();
        let down = || glide([0.0; 3], [0.0, -8.0, 0.0], 8.0 / speed, Ending::Stay);
        let scene = || Scene::new().with(floor.clone()).with_moving(5, gate.clone(), down());
        let runs = SIX_RATES.map(|rate| {
            let mut stage = Stage::new(scene(), [0.0; 3]);
            let intent = if walks { Intent::toward(Vec3::new(0.2, 0.0, 0.5)) } else { Intent::default() };
            stage.go(rate, (5.5 / speed).ceil(), intent);
            stage
        });
        let told = |stage: &Stage| stage.events.iter().map(|e| std::mem::discriminant(&e.kind)).collect::<Vec<_>>();
        let shown = |stage: &Stage| format!("round {round}: {:?} at {}", stage.events, stage.hero.position);
        crushed += usize::from(runs[0].count(|k| matches!(k, EventKind::Crushed { .. })) > 0);
        for stage in &runs[1..] {
            assert_eq!(told(stage), told(&runs[0]), "{}\n{}", shown(stage), shown(&runs[0]));
            let late =
                stage.events.iter().zip(&runs[0].events).map(|(a, b)| (a.time - b.time).abs()).fold(0.0, f64::max);
            let apart = (stage.hero.position - runs[0].hero.position).length();
            most = most.max(apart);
            assert!(late < 1e-3 && apart < 5e-3, "{late} s, {apart} m: {}\n{}", shown(stage), shown(&runs[0]));
        }
    }
    println!("{crushed} of 40 crushed, ends at most {:.1} mm apart", most * 1e3);
    assert!(crushed > 20, "{crushed}");
}

#[test]
fn at_a_lip_the_guard_holds_nobody_in_what_comes_down() {
    let crouch = Some(LowStance { guard: true, ..LowStance::crouch() });
    let tuning = Tuning::new(TuningValues { crouch, ..TuningValues::default() }).expect("a tuning");
    for (rate, speed) in SIX_RATES.into_iter().flat_map(|rate| [0.6, 2.5].map(|speed| (rate, speed))) {
        for from in [-0.4, 0.2] {
            let ledge = World::new().floor(20.0, -3.0).block([-3.0, -1.0, -3.0], [0.0, 0.0, 3.0]).mesh();
            let lid = World::new().block([from, 1.8, -2.0], [3.0, 2.3, 2.0]).mesh();
            let down = glide([0.0; 3], [0.0, -3.0, 0.0], 3.0 / speed, Ending::Stay);
            let mut stage = Stage::new(Scene::new().with(ledge).with_moving(7, lid, down), [-0.8, 0.0, 0.0]);
            stage.tuning = tuning;
            let out = Intent::toward(Vec3::X).in_stance(Stance::Crouch);
            stage.go(rate, 3.0 / speed + 0.5, out);
            let shown = format!("{rate} Hz, at {speed} m/s, over it from {from}: {:?}", stage.events);
            let crushed = stage.events.iter().position(|e| matches!(e.kind, EventKind::Crushed { .. }));
            let before = &stage.events[..crushed.unwrap_or(stage.events.len())];
            assert!(
                before.iter().all(|e| !matches!(e.kind, EventKind::PushedOut { .. } | EventKind::Stuck)),
                "{shown}"
            );
        }
    }
}

#[test]
fn a_lift_past_the_edge_of_a_floor_carries_whoever_leans_on_the_wall_under_it() {
    for rate in [15.0, 60.0, 240.0] {
        for speed in [0.7, 1.93, 5.0] {
            let floor = World::new().block([0.0, -1.0, -4.0], [5.0, 2.0, 4.0]).mesh();
            let scene = Scene::new().with(floor).with_moving(
                7,
                deck(3.0),
                glide([-3.0, 0.0, 0.0], [-3.0, 3.0, 0.0], 3.0 / speed, Ending::Stay),
            );
            let mut stage = Stage::new(scene, [-2.0, 0.0, 0.3]);
            stage.scene.time = -2.0;
            stage.go(rate, 2.0, Intent::toward(Vec3::X));
            stage.go(rate, 3.0 / speed + 0.5, Intent::default());
            let end = stage.hero.position;
            assert!((end.y - 3.0).abs() < 1e-4 && stage.hero.mode == Mode::Ground, "{rate} Hz, {speed} m/s: {end}");
            let told = stage.events.iter().filter(|e| !matches!(e.kind, EventKind::HitWall { .. })).count();
            assert_eq!(told, 0, "{rate} Hz, {speed} m/s: {:?}", stage.events);
        }
    }
}

#[test]
fn over_a_turning_slab_it_is_carried_from_where_it_steps_up_to_where_it_steps_down() {
    let slab = World::new().block([-1.6, 0.02, -1.6], [1.6, 0.15, 1.6]).mesh();
    let play = |rate: f64| {
        let turns = turntable(DVec3::ZERO, DVec3::Y, 4.0);
        let scene = Scene::new().with(World::new().floor(30.0, 0.0).mesh()).with_moving(7, slab.clone(), turns);
        let mut stage = Stage::new(scene, [-4.0, 0.0, 0.2]);
        stage.go(rate, 2.0, Intent::toward(Vec3::X));
        let steps = stage.events.iter().filter(|e| matches!(e.kind, EventKind::Stepped { .. })).copied();
        (steps.collect::<Vec<_>>(), stage.hero.position)
    };
    let (exact, end) = play(1000.0);
    for rate in SIX_RATES {
        let (steps, place) = play(rate);
        assert_eq!(steps.len(), 2, "{rate} Hz: {steps:?}");
        for (step, its) in steps.iter().zip(&exact) {
            let apart = (step.place - its.place).length();
            println!("{rate} Hz: a step {:.3} ms and {:.3} mm off", (step.time - its.time) * 1e3, apart * 1e3);
            assert!((step.time - its.time).abs() < 1e-3 && apart < 5e-3, "{rate} Hz: {step:?} for {its:?}");
        }
        assert!(steps[0].place.y.abs() < 1e-3, "{rate} Hz: from where it was met: {:?}", steps[0]);
        assert!((place - end).length() < 2e-3, "{rate} Hz: {place} for {end}");
    }
    assert!((end.z - 0.2).abs() > 0.1, "carried aside: {end}");
}

#[test]
fn random_movers_never_pass_through_unreported() {
    let (mut deepest, mut ticks, mut crushed, mut dropped) = (0.0f64, 0, 0, 0);
    let mut failures = Vec::new();
    for seed in 0..300 {
        let mut dice = Dice(seed);
        let mut scene = Scene::new().with(World::new().floor(150.0, 0.0).mesh());
        for id in 1..6 {
            let half = [dice.magnitude(0.1, 2.0), dice.magnitude(0.05, 1.0), dice.magnitude(0.1, 2.0)];
            let mesh = World::new().block(half.map(|h| -h), half).mesh();
            let spread = dice.magnitude(0.2, 4.0);
            let keys = (0..6).map(|i| {
                let at = DVec3::new(dice.between(-1.0, 1.0), dice.between(0.0, 1.0), dice.between(-1.0, 1.0)) * spread;
                let turn = dice.direction() * if dice.pick(2) == 0 { 0.0 } else { dice.between(0.0, 1.5) };
                let turn = DQuat::from_scaled_axis(turn);
                Key::at(f64::from(i) * 0.9, at + DVec3::new(2.5, 0.0, 0.0)).turned(turn)
            });
            scene = scene.with_moving(id, mesh, Track::new(keys.collect(), Ending::Back).unwrap());
        }
        let rate = [15.0, 60.0, 240.0][dice.pick(3)];
        let tuning = [Tuning::walker(), Tuning::brisk_hero()][dice.pick(2)];
        let Ok(hero) = Character::spawn(&scene, &tuning, [-1.5, 0.0, 0.0]) else { continue };
        let mut stage = Stage { scene, tuning, hero, work: Workspace::new(), events: Vec::new() };
        let skin = f64::from(tuning.shape().skin());
        let mut intent = Intent::toward(Vec3::X);
        for tick in 0..(8.0 * rate) as u32 {
            if dice.pick((0.5 * rate) as usize + 1) == 0 {
                intent = Intent::toward(Vec3::new(dice.between(-1.0, 1.0) as f32, 0.0, dice.between(-1.0, 1.0) as f32));
                for button in [Button::Jump, Button::Sprint, Button::Dash] {
                    if dice.pick(4) == 0 {
                        intent = intent.hold(button);
                    }
                }
            }
            stage.tick(1.0 / rate, intent);
            ticks += 1;
            let caught = stage.count(|k| matches!(k, EventKind::Crushed { .. } | EventKind::Stuck));
            dropped += stage.count(|k| matches!(k, EventKind::TimeDropped { .. }));
            let gap = stage.gap();
            crushed += caught;
            if caught == 0 {
                deepest = deepest.max(-gap / skin);
            }
            if caught == 0 && gap < -skin
                || !stage.hero.velocity.is_finite()
                || stage.hero.position.y < -0.5 && caught == 0
            {
                failures.push(format!("seed {seed} at {rate} Hz, tick {tick}: gap {gap:.5}, {:?}", stage.events));
                break;
            }
            // Once crushed anything may follow: the next world.
            if caught > 0 {
                break;
            }
            stage.events.clear();
        }
    }
    println!("{ticks} ticks, deepest {deepest:.3} skins, {crushed} crushed, {dropped} dropped");
    assert!(dropped == 0, "{dropped} ticks of {ticks} lost time");
    assert!(failures.is_empty(), "{} failures:\n{}", failures.len(), failures[..failures.len().min(12)].join("\n"));
}

#[test]
fn the_edge_guard_holds_on_what_moves_as_it_does_ashore() {
    let mut values = TuningValues::default();
    values.crouch = values.crouch.map(|crouch| newel::LowStance { guard: true, ..crouch });
    let tuning = Tuning::new(values).expect("a tuning");
    let intent = Intent::toward(Vec3::new(1.0, 0.0, 0.4)).in_stance(newel::Stance::Crouch);
    let tracks: [(&str, Track); 3] = [
        ("ashore", glide([0.0; 3], [0.0; 3], 1.0, Ending::Stay)),
        ("ferry", glide([0.0; 3], [9.0, 1.5, -4.0], 3.0, Ending::Stay)),
        ("turntable", turntable(DVec3::ZERO, DVec3::Y, 9.0)),
    ];
    for (name, track) in tracks {
        let mut ends = Vec::new();
        for rate in SIX_RATES {
            let scene = Scene::new().with_moving(3, deck(2.0), track.clone());
            let hero = Character::spawn(&scene, &tuning, [0.0; 3]).expect("a clear place");
            let mut stage = Stage { scene, tuning, hero, work: Workspace::new(), events: Vec::new() };
            stage.go(rate, 2.0, intent);
            assert_eq!(stage.hero.mode, Mode::Ground, "{name} at {rate} Hz: {:?}", stage.events);
            assert!(stage.gap().abs() < 1e-3, "{name} at {rate} Hz: gap {}", stage.gap());
            ends.push(stage.hero.foot.as_dvec3());
        }
        // Where on the deck it stands, by the middle of its foot: at the lip, as far along it as it was steered.
        let off = ends.iter().map(|end| (*end - ends[5]).length()).fold(0.0, f64::max);
        println!("{name}: {} on deck, {:.2} mm apart", ends[5], off * 1e3);
        if name != "turntable" {
            assert!(off < 5e-3 && (ends[5].x - 2.147).abs() < 1e-3 && ends[5].z > 1.0, "{name}: {ends:?}");
        }
    }
}

#[test]
fn onto_what_moves_it_steps_once_wherever_in_a_tick_it_comes_to_it() {
    let slab = World::new().block([-1.6, 0.02, -1.6], [1.6, 0.15, 1.6]).mesh();
    let scene = Scene::new().with(World::new().floor(30.0, 0.0).mesh()).with_moving(
        7,
        slab,
        turntable(DVec3::ZERO, DVec3::Y, 4.0),
    );
    for n in 0..150 {
        let mut stage = Stage::new(scene.clone(), [-2.4 + 3e-5 * f64::from(n), 0.0, 0.2]);
        stage.go(1000.0, 0.4, Intent::toward(Vec3::X));
        assert_eq!(stage.count(|kind| matches!(kind, EventKind::Stepped { .. })), 1, "{n}: {:?}", stage.events);
    }
}

#[test]
fn what_it_lands_on_inside_a_tick_has_not_been_stepped_onto_since_its_start() {
    for rate in SIX_RATES {
        for speed in [-1.5, 1.5] {
            let lift = glide([0.0; 3], [0.0, 2.0 * speed, 0.0], 2.0, Ending::Stay);
            for n in 0..8 {
                let mut stage = Stage::new(
                    Scene::new().with_moving(7, deck(9.0), lift.clone()),
                    [0.0, 0.3 + 0.02 * f64::from(n), 0.0],
                );
                stage.go(rate, 1.0, Intent::toward(Vec3::X));
                let steps = stage.count(|kind| matches!(kind, EventKind::Stepped { .. }));
                assert_eq!(steps, 0, "{rate} Hz, {speed} m/s, {n}: {:?}", stage.events);
            }
        }
    }
}

#[test]
fn a_gate_that_closes_at_a_slant_crushes_or_lets_by_and_throws_nobody() {
    let fixed = || World::new().floor(400.0, 0.0).block([-300.0, 0.0, 0.0], [300.0, 3.0, 1.0]).mesh();
    for rate in [30.0, 144.0] {
        for speed in [1.0, 3.0, 11.0] {
            for degrees in [40.0f64, 20.0, 8.5, 2.0, 0.5] {
                let gate = World::new().block([-6.0, 0.0, -0.5], [6.0, 3.0, 0.0]).mesh();
                let turn = DQuat::from_rotation_y(degrees.to_radians());
                let key = |time: f64, z: f64| Key::at(time, DVec3::new(0.0, 0.0, z)).turned(turn);
                let track = Track::new(vec![key(0.0, -2.5), key(2.5 / speed, 0.0)], Ending::Stay).unwrap();
                let mut stage = Stage::new(Scene::new().with(fixed()).with_moving(7, gate, track), [0.0, 0.0, -0.31]);
                let mut fastest = 0.0f64;
                for _ in 0..(4.0 * rate) as u32 {
                    stage.tick(1.0 / rate, Intent::default());
                    fastest = fastest.max(stage.hero.velocity.length());
                }
                let what = format!("{rate} Hz, {speed} m/s, {degrees} degrees");
                assert!(fastest <= 2.05 * speed, "{what}: {fastest} m/s");
                assert_eq!(stage.count(|k| matches!(k, EventKind::TimeDropped { .. })), 0, "{what}");
            }
        }
    }
}

#[test]
fn what_is_put_onto_a_character_takes_it_through_no_wall() {
    let (low, high) = (DVec3::new(-2.0, 0.0, -2.0), DVec3::new(2.0, 3.0, 2.0));
    let walls = World::new()
        .block([-3.0, -1.0, -3.0], [3.0, 0.0, 3.0])
        .block([-3.0, 3.0, -3.0], [3.0, 4.0, 3.0])
        .block([-3.0, 0.0, -3.0], [-2.0, 3.0, 3.0])
        .block([2.0, 0.0, -3.0], [3.0, 3.0, 3.0])
        .block([-2.0, 0.0, -3.0], [2.0, 3.0, -2.0])
        .block([-2.0, 0.0, 2.0], [2.0, 3.0, 3.0]);
    let mut dice = Dice(5);
    for (tuning, rate) in [(Tuning::walker(), 60.0), (Tuning::brisk_hero(), 30.0), (Tuning::heavy_explorer(), 144.0)] {
        let block = Solid::mesh(World::new().block([-0.4, -0.4, -0.4], [0.4, 0.4, 0.4]).mesh());
        let mut scene = Scene::new().with(walls.clone().mesh());
        scene.add(5, block, DVec3::splat(50.0), DQuat::IDENTITY).unwrap();
        let mut hero = Character::spawn(&scene, &tuning, [0.0; 3]).unwrap();
        let mut work = Workspace::new();
        for number in 0..4000 {
            let off = DVec3::new(dice.between(-0.5, 0.5), dice.between(-0.2, 1.6), dice.between(-0.5, 0.5));
            let turn = DQuat::from_scaled_axis(dice.direction());
            scene.put(5, hero.position + off, turn).unwrap();
            let intent = Intent::toward(dice.direction().as_vec3());
            let modifiers = Modifiers::default();
            let tick = Tick { number, terrain: &scene, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / rate };
            tick.step(&mut work, &mut hero, &intent, &[]).unwrap();
            let middle = hero.position + DVec3::Y * 0.8;
            assert!(middle.cmpge(low).all() && middle.cmple(high).all(), "tick {number}: out at {}", hero.position);
        }
    }
}

#[test]
fn on_the_rim_of_what_turns_fast_it_keeps_its_place() {
    let mut values = newel::TuningValues::default();
    values.ground.overhang = 0.8;
    let tuning = Tuning::new(values).unwrap();
    for rate in [15.0, 30.0, 101.0] {
        for overhang in [0.0, 0.1, 0.17, 0.2] {
            let mut scene = Scene::new();
            scene.add(1, Solid::mesh(deck(3.0)), DVec3::ZERO, DQuat::IDENTITY).unwrap();
            let turned = |t: f64| DQuat::from_rotation_y(if t < 2.0 { 0.425 * t * t } else { 1.7 * (t - 1.0) });
            let mut hero = Character::spawn(&scene, &tuning, [0.8, 0.0, 3.0 + overhang]).unwrap();
            let (mut work, dt, mut first) = (Workspace::new(), 1.0 / rate, None);
            for number in 0..(4.0 * rate) as u64 {
                let end = (number + 1) as f64 * dt;
                scene.take(1, DVec3::ZERO, turned(end), number..number + 1).unwrap();
                let modifiers = Modifiers::default();
                let tick = Tick { number, terrain: &scene, tuning: &tuning, modifiers: &modifiers, dt };
                tick.step(&mut work, &mut hero, &Intent::default(), &[]).unwrap();
                let local = turned(end).inverse() * hero.position;
                let settled = (hero.velocity - hero.carried.as_dvec3()).length() < 1e-9;
                let start = *first.get_or_insert(local);
                first = first.filter(|_| settled);
                assert!(!settled || (local - start).length() < 1e-4, "{rate} Hz, {overhang}: {local} from {start}");
            }
            assert!(first.is_some() && hero.mode == Mode::Ground, "{rate} Hz, {overhang}: never at rest");
        }
    }
}
