//! A character is saved whole, with the state of a game's own mode: from the text it goes on as if nothing had happened.

use newel::glam::{DVec3, Vec2, Vec3};
use newel::{
    Button, Character, Climb, CustomMode, Effect, Fingerprint, Fingerprinted, Heading, Hold, Intent, Ledge, Mesh, Mode,
    ModeCx, Modifiers, Next, Scene, Spawn, Stance, State, Swell, Tick, Tuning, TuningValues, Water, Workspace, Zone,
};
use serde::{Deserialize, Serialize};

/// On a rope for as long as the grab button is held.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize)]
struct Rope {
    hook: DVec3,
    swung: f64,
}

impl CustomMode for Rope {
    fn begins(&mut self, cx: &ModeCx<'_, '_>) -> bool {
        cx.pressed(Button::Sprint)
    }
    fn advance(&mut self, cx: &mut ModeCx<'_, '_>) -> Next {
        if !cx.held(Button::Sprint) {
            return Next::Leave;
        }
        self.swung += cx.span();
        cx.accelerate(cx.gravity());
        cx.tether(self.hook, 4.0);
        cx.slide();
        Next::Stay
    }
}

impl Fingerprinted for Rope {
    fn feed(&self, print: &mut Fingerprint) {
        self.hook.to_array().iter().for_each(|x| print.f64(*x));
        print.f64(self.swung);
    }
}

/// A floor, a wall of ivy of 3 m from x = 1 on, and water of 2.2 m up to x = -7.
fn level() -> Scene {
    let corners = [
        [-20.0, 0.0, -20.0],
        [20.0, 0.0, -20.0],
        [20.0, 0.0, 20.0],
        [-20.0, 0.0, 20.0f32],
        [1.0, 0.0, -5.0],
        [1.0, 0.0, 5.0],
        [1.0, 3.0, 5.0],
        [1.0, 3.0, -5.0],
        [9.0, 3.0, -5.0],
        [9.0, 3.0, 5.0],
    ];
    let triangles = [0, 2, 1, 0, 3, 2, 4, 5, 6, 4, 6, 7, 7, 6, 9, 7, 9, 8];
    let mesh = Mesh::new(&corners, &triangles).expect("a mesh");
    let mesh = mesh.with_surfaces(&[0, 0, 1, 1, 0, 0]).expect("surfaces").with_hold(1, Hold::Wall);
    // Deep water to the west, with waves and a current.
    let swell = Swell { along: Vec3::X, height: 0.3, length: 8.0, period: 2.5, since: 0.0 };
    let water = Water::flat(DVec3::Y * 2.2, Vec3::Y).flowing(Vec3::Z * 0.4).with_swell(swell);
    let (min, max) = (DVec3::new(-20.0, -1.0, -20.0), DVec3::new(-7.0, 3.0, 20.0));
    Scene::new().with(mesh).with_zone(Zone::new(1, min, max, Effect::Water(water)))
}

#[test]
fn saved_at_any_tick_it_goes_on_to_the_same_bits() {
    let values =
        TuningValues { climb: Some(Climb::default()), ledge: Some(Ledge::default()), ..TuningValues::default() };
    let (level, tuning, modifiers) = (level(), Tuning::new(values).expect("a tuning"), Modifiers::default());
    let intent = |number: u64| match number {
        // On the rope, then at the wall and up it, along it, and over its top.
        10..90 => Intent::default().hold(Button::Sprint),
        90..190 => Intent::toward(newel::glam::Vec3::X),
        190..220 => Intent::new(Heading::Surface(Vec2::new(0.6, 0.2))),
        // Off to the water, into it and down.
        330..640 => Intent::toward(Vec3::new(-1.0, 0.0, 0.3)),
        640..690 => Intent::default().in_stance(Stance::Crouch),
        690.. => Intent::default(),
        220.. => Intent::new(Heading::Surface(Vec2::new(0.0, 1.0))),
        _ => Intent::default(),
    };
    let play = |rate: f64, hero: &mut Character<Rope>, from: u64, to: u64, seen: &mut Vec<Mode>| {
        let mut work = Workspace::new();
        for number in from..to {
            let tick = Tick { number, terrain: &level, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / rate };
            let sixtieth = (number as f64 * 60.0 / rate) as u64;
            tick.step(&mut work, hero, &intent(sixtieth), &[]).expect("a tick");
            seen.push(hero.mode);
        }
    };
    let rope = Rope { hook: DVec3::new(-3.0, 5.0, 0.0), swung: 0.0 };
    let start = Character::spawn_with(&level, &tuning, Spawn::at([-5.0, 2.0, 0.0]), rope).expect("a place");
    for rate in [60.0, 144.0] {
        let ticks = (800.0 * rate / 60.0) as u64;
        let (mut whole, mut seen) = (start.clone(), Vec::new());
        play(rate, &mut whole, 0, ticks, &mut seen);
        for mode in [Mode::Ground, Mode::Air, Mode::Climb, Mode::Ledge, Mode::Swim, Mode::Custom] {
            assert!(seen.contains(&mode), "{mode:?} is never used: {:?}", whole.position);
        }
        for at in (1..ticks).step_by(ticks as usize / 114) {
            let mut hero = start.clone();
            play(rate, &mut hero, 0, at, &mut Vec::new());
            let text = serde_json::to_string(&hero).expect("text");
            let mut again: Character<Rope> = serde_json::from_str(&text).expect("a character");
            assert_eq!(again.hash(), hero.hash(), "{rate} Hz, tick {at}");
            play(rate, &mut again, at, ticks, &mut Vec::new());
            assert_eq!(again.hash(), whole.hash(), "{rate} Hz, from tick {at}");
        }
    }
}

#[test]
fn a_state_of_another_version_loads() {
    let (level, tuning, modifiers) = (level(), Tuning::walker(), Modifiers::default());
    let mut hero = Character::spawn(&level, &tuning, [0.0, 0.0, 0.0]).expect("a clear place");
    let mut saved = serde_json::to_value(hero.state()).expect("a state as text");
    let fields = saved.as_object_mut().expect("fields");
    for newer in ["activity", "time_under", "walls"] {
        assert!(fields.remove(newer).is_some(), "{newer}");
    }
    fields.insert("flight".into(), serde_json::json!([0.0, 0.0]));
    let mut loaded = Character::from(serde_json::from_value::<State>(saved).expect("a state of an older version"));
    let tick = Tick { number: 0, terrain: &level, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / 60.0 };
    for one in [&mut hero, &mut loaded] {
        for _ in 0..30 {
            tick.step(&mut Workspace::new(), one, &Intent::toward(Vec3::X), &[]).expect("a valid tick");
        }
    }
    assert_eq!(hero.state(), loaded.state());
}
