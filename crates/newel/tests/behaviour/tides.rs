//! In water too motion is the same at any tick rate: a restless minute in the open, and half a minute between a beach, a wall and a kerb.

use crate::common::oracle::Dice;
use crate::common::script::Script;
use crate::common::{SIX_RATES, World};
use newel::glam::{DVec3, Vec2, Vec3};
use newel::{
    Button, Change, Character, Effect, Event, EventKind, Heading, Ledge, Mode, Modifiers, Scene, Stance, Swell, Swim,
    Tick, Tuning, TuningValues, Water, Workspace, Zone,
};

/// Where it is at every whole second, and what happened.
fn played(
    scene: &Scene,
    tuning: &Tuning,
    at: [f64; 3],
    script: &Script,
    rate: f64,
    seconds: u32,
) -> (Vec<DVec3>, Vec<Event>, Character) {
    let mut scene = scene.clone();
    let mut hero = Character::spawn(&scene, tuning, at).expect("a clear place");
    let (mut dice, mut work, modifiers) = (Dice(7), Workspace::new(), Modifiers::default());
    let (mut places, mut events) = (Vec::new(), Vec::new());
    for second in 1..=seconds {
        while hero.clock < f64::from(second) - 1e-9 {
            let now = hero.clock;
            let dt = if rate > 0.0 { 1.0 / rate } else { dice.between(0.001, 0.1) }.min(f64::from(second) - now);
            scene.time = now;
            let tick = Tick { number: 0, terrain: &scene, tuning, modifiers: &modifiers, dt };
            events.extend(tick.step(&mut work, &mut hero, &script.intent(now, dt), &[]).expect("a valid tick").events);
        }
        places.push(hero.position);
    }
    (places, events, hero)
}

/// What happened, but for footsteps.
fn story(events: &[Event]) -> Vec<String> {
    let told = events.iter().filter(|e| !matches!(e.kind, EventKind::Footstep { .. }));
    told.map(|e| format!("{:?}", e.kind).split([' ', '{']).next().unwrap().to_owned()).collect()
}

/// Compares all rates, and random ticks, with 1000 Hz.
fn compared(
    name: &str,
    scene: &Scene,
    tuning: &Tuning,
    at: [f64; 3],
    script: &Script,
    seconds: u32,
    within: f64,
) -> f64 {
    let (places, events, hero) = played(scene, tuning, at, script, 1000.0, seconds);
    let swam = events.iter().any(|e| matches!(e.kind, EventKind::SwimBegan)) || hero.mode == Mode::Swim;
    assert!(swam, "{name}: it swims");
    let mut worst = 0.0f64;
    for rate in SIX_RATES.into_iter().take(5).chain([0.0]) {
        let (other, told, _) = played(scene, tuning, at, script, rate, seconds);
        assert_eq!(story(&told), story(&events), "{name} at {rate} Hz");
        let apart = places.iter().zip(&other).map(|(a, b)| (*a - *b).length()).fold(0.0, f64::max);
        assert!(apart <= within, "{name} at {rate} Hz: {apart} m apart");
        worst = worst.max(apart);
    }
    println!("{name}: {} events, at most {:.4} mm apart", events.len(), worst * 1e3);
    worst
}

/// Turns, dives, rises, leaps, looks and sprints at odd times.
fn restless(seconds: f64) -> Script {
    let mut script = Script::turning(seconds);
    for round in 1..(seconds / 2.51) as usize {
        let start = round as f64 * 2.51;
        script = script.press(start, Button::Jump, [0.05, 0.9, 0.11, 1.2][round % 4]);
        script = script.press(start + 0.23, Button::Sprint, 0.9);
        script =
            script.at(start + 1.37, Change::Stance(Stance::Crouch)).at(start + 2.11, Change::Stance(Stance::Stand));
        if round % 3 == 0 {
            let down = Vec3::new(0.6, [-0.8, 0.8][round % 2], 0.0);
            script =
                script.at(start + 0.41, Change::View(down)).at(start + 0.42, Change::Heading(Heading::View(Vec2::Y)));
        }
    }
    script
}

fn water(swells: bool) -> Zone {
    let water = Water::flat(DVec3::ZERO, Vec3::Y).flowing(Vec3::new(0.3, 0.0, -0.2));
    let swell = Swell { along: Vec3::X, height: 0.4, length: 11.0, period: 2.7, since: 0.0 };
    let water = if swells { water.with_swell(swell) } else { water };
    Zone::new(1, DVec3::new(-500.0, -200.0, -500.0), DVec3::new(500.0, 1.0, 500.0), Effect::Water(water))
}

#[test]
fn a_restless_minute_in_open_water() {
    for preset in Tuning::PRESETS {
        let tuning = Tuning::preset(preset).unwrap();
        let open = Scene::new().with(World::new().floor(400.0, -100.0).mesh());
        compared(preset, &open.clone().with_zone(water(false)), &tuning, [0.0, -1.0, 0.0], &restless(60.0), 60, 1e-3);
        compared(
            &format!("{preset}, swells"),
            &open.with_zone(water(true)),
            &tuning,
            [0.0, -1.0, 0.0],
            &restless(60.0),
            60,
            1e-3,
        );
    }
}

/// A beach down along +x, a basin 6 m deep with a wall across it that ends 2.5 m under the surface and at `side`, and a kerb at its far
/// side; and half a minute between them.
fn shore(side: f64) -> (Scene, Tuning, Script) {
    let p = DVec3::new;
    let beach = World::new().quad(p(-9.0, 2.0, -9.0), p(-9.0, 2.0, 9.0), p(11.0, -6.0, 9.0), p(11.0, -6.0, -9.0));
    let world = beach.block([9.0, -7.0, -9.0], [25.0, -6.0, 9.0]).block([14.0, -2.5, -9.0], [14.6, 2.0, side]);
    let scene = Scene::new().with(world.block([20.0, -6.0, -9.0], [25.0, 0.15, 9.0]).mesh());
    let swim = Swim { idle: 0.2, ..Swim::default() };
    let values = TuningValues { swim: Some(swim), ledge: Some(Ledge::default()), ..TuningValues::default() };
    let script = Script::new()
        .head(0.07, 1.0, 0.1)
        .head(7.13, 0.9, 0.3)
        .at(7.91, Change::Stance(Stance::Crouch))
        .at(10.07, Change::Stance(Stance::Stand))
        .press(11.87, Button::Jump, 3.1)
        .head(15.03, 1.0, 0.0)
        .head(18.51, -1.0, 0.0)
        .press(18.93, Button::Jump, 0.3)
        .head(20.77, -1.0, 0.4)
        .head(27.41, 0.0, 0.0);
    (scene, Tuning::new(values).unwrap(), script)
}

#[test]
fn between_a_beach_a_wall_and_a_kerb() {
    // Under the wall, or under it and round its end.
    for side in [9.0, 1.8] {
        let (scene, tuning, script) = shore(side);
        compared("a shore", &scene.clone().with_zone(water(false)), &tuning, [-3.0, 0.5, 0.0], &script, 30, 5e-3);
        compared("a shore, swells", &scene.with_zone(water(true)), &tuning, [-3.0, 0.5, 0.0], &script, 30, 5e-3);
    }
}
