//! A terrain of the game's own: round obstacles, named bodies, zones; and what modifiers change.

use crate::common::{SIX_RATES, World};
use newel::glam::{DVec3, Vec3};
use newel::{
    Ability, Body, Button, Character, Effect, EventKind, Intent, Mesh, Modifiers, Patch, RayHit, Refusal, Round, State,
    Support, Terrain, Tick, Tuning, When, Workspace, Zone,
};

/// A floor with upright poles, each a body of its own, and zones.
struct Quay {
    floor: Mesh,
    poles: Vec<(DVec3, f32, f32)>,
    zones: Vec<Zone>,
}

impl Quay {
    fn new() -> Quay {
        Quay { floor: World::new().floor(60.0, 0.0).mesh(), poles: Vec::new(), zones: Vec::new() }
    }
}

impl Terrain for Quay {
    fn gather(&self, when: When, patch: &mut Patch) {
        self.floor.gather(when, patch);
        for (number, (at, radius, height)) in self.poles.iter().enumerate() {
            let body = patch.add_body(Body { id: 100 + number as u64, place: *at, ..Body::WORLD });
            let foot = (*at - patch.origin()).as_vec3();
            let (a, b) = (foot + Vec3::Y * *radius, foot + Vec3::Y * (height - radius).max(*radius));
            patch.add_round(Round { a, b, radius: *radius, surface: 7, body, id: 0 });
        }
        self.zones.iter().for_each(|z| patch.add_zone(*z));
    }
    fn cast(&self, when: When, from: DVec3, along: Vec3, length: f64) -> Option<RayHit> {
        self.floor.cast(when, from, along, length)
    }
}

struct Run<'a> {
    quay: &'a Quay,
    hero: Character,
    tuning: Tuning,
    modifiers: Modifiers,
    events: Vec<newel::Event>,
}

impl Run<'_> {
    fn new(quay: &Quay, at: [f64; 3]) -> Run<'_> {
        let tuning = Tuning::walker();
        let hero = Character::spawn(quay, &tuning, at).expect("a clear place");
        Run { quay, hero, tuning, modifiers: Modifiers::default(), events: Vec::new() }
    }

    fn go(&mut self, rate: f64, seconds: f64, intent: Intent) {
        let mut work = Workspace::new();
        for number in 0..(rate * seconds).round() as u64 {
            let (terrain, tuning, modifiers) = (self.quay as &dyn Terrain, &self.tuning, &self.modifiers);
            let tick = Tick { number, terrain, tuning, modifiers, dt: 1.0 / rate };
            let outcome = tick.step(&mut work, &mut self.hero, &intent, &[]).expect("a valid tick");
            self.events.extend(outcome.events.iter().copied().filter(crate::common::is_no_footstep));
        }
    }

    fn top(&self) -> f64 {
        self.events.iter().find(|e| e.kind == EventKind::Topped).expect("a top").place.y
    }
}

#[test]
fn a_pole_is_walked_round_and_a_stump_is_stood_on() {
    let quay = Quay { poles: vec![(DVec3::new(3.0, 0.0, 0.1), 0.15, 3.0)], ..Quay::new() };
    let mut run = Run::new(&quay, [0.0; 3]);
    run.go(60.0, 0.7, Intent::toward(Vec3::X));
    let (x, z) = (run.hero.position.x - 3.0, run.hero.position.z - 0.1);
    assert!((0.44999..0.451).contains(&x.hypot(z)), "along it, never in it: {}", x.hypot(z));
    run.go(60.0, 2.0, Intent::toward(Vec3::X));
    assert!(
        run.hero.position.x > 4.0 && run.hero.position.z < -0.3,
        "round it, on the nearer side: {}",
        run.hero.position
    );

    // A ball half a metre wide: more of a hill than the foot needs.
    let quay = Quay { poles: vec![(DVec3::ZERO, 0.5, 1.0)], ..Quay::new() };
    let mut run = Run::new(&quay, [0.0, 1.2, 0.0]);
    run.go(60.0, 1.0, Intent::default());
    assert!((run.hero.position.y - 1.0).abs() < 1e-4, "{}", run.hero.position);
    assert_eq!((run.hero.ground.support, run.hero.ground.body(), run.hero.ground.surface), (Support::Edge, 100, 7));
}

#[test]
fn a_zone_of_light_gravity_bends_a_jump_the_same_at_every_rate() {
    let lens = Zone::new(1, DVec3::new(-2.0, 1.2, -2.0), DVec3::new(2.0, 9.0, 2.0), Effect::Gravity(0.2));
    let quay = Quay { zones: vec![lens], ..Quay::new() };
    let plain = Run::new(&Quay::new(), [0.0; 3]).hero;
    assert_eq!(plain.gravity_factor, 1.0);
    let tops: Vec<f64> = SIX_RATES
        .iter()
        .map(|&rate| {
            let mut run = Run::new(&quay, [0.0; 3]);
            run.go(rate, 2.0, Intent::default().hold(Button::Jump));
            run.top()
        })
        .collect();
    assert!(tops[0] > 1.3, "higher than the tuned 1.1 m: {}", tops[0]);
    for (top, rate) in tops.iter().zip(SIX_RATES) {
        assert!((top - tops[5]).abs() < 1e-6, "{rate} Hz: {top} {}", tops[5]);
    }
}

#[test]
fn modifiers_change_what_they_say_and_nothing_else() {
    let quay = Quay::new();
    let speed_with = |modifiers: Modifiers| {
        let mut run = Run { modifiers, ..Run::new(&quay, [0.0; 3]) };
        run.go(60.0, 1.0, Intent::toward(Vec3::X));
        run.hero.velocity.x
    };
    assert!((speed_with(Modifiers { speed: 0.5, ..Modifiers::default() }) - 2.25).abs() < 1e-6);
    assert!((speed_with(Modifiers { acceleration: 0.1, ..Modifiers::default() }) - 3.0).abs() < 1e-6);
    let jump_with = |modifiers: Modifiers| {
        let mut run = Run { modifiers, ..Run::new(&quay, [0.0; 3]) };
        run.go(60.0, 2.0, Intent::default().hold(Button::Jump));
        run
    };
    assert!((jump_with(Modifiers { jump_height: 2.0, ..Modifiers::default() }).top() - 2.2).abs() < 2e-3);
    assert!((jump_with(Modifiers { gravity: 0.5, ..Modifiers::default() }).top() - 2.2).abs() < 2e-3);
    let none = jump_with(Modifiers { can_jump: false, ..Modifiers::default() });
    let refused = EventKind::Refused { ability: Ability::Jump, why: Refusal::SwitchedOff };
    assert!(none.events.iter().map(|e| e.kind).eq([refused]) && none.hero.position.y == 0.0);
}

#[test]
fn a_terrain_that_answers_nonsense_cannot_make_the_state_nonsense() {
    let everywhere = (DVec3::splat(-50.0), DVec3::splat(50.0));
    for factor in [f32::NAN, f32::INFINITY, -3.0] {
        let zone = Zone::new(1, everywhere.0, everywhere.1, Effect::Gravity(factor));
        let poles = vec![(DVec3::splat(f64::NAN), 0.3, 2.0), (DVec3::new(1.0, 0.0, 0.0), f32::NAN, f32::NAN)];
        let quay = Quay { zones: vec![zone], poles, ..Quay::new() };
        let mut run = Run::new(&quay, [0.0; 3]);
        run.go(60.0, 2.0, Intent::toward(Vec3::X).hold(Button::Jump));
        let State { position, velocity, .. } = run.hero.state;
        assert!(position.is_finite() && velocity.is_finite(), "gravity times {factor}: {:?}", run.hero);
    }
}
