//! A terrain of the game's own: round obstacles, named bodies, zones; and what modifiers change.

use crate::common::oracle::Dice;
use crate::common::worlds::village;
use crate::common::{EVERYWHERE, SIX_RATES, World};
use newel::glam::{DVec3, Vec3};
use newel::{
    Ability, Body, Button, Character, Climb, Effect, Ending, EventKind, Footing, Hold, Intent, Key, Mesh, Modifiers,
    Patch, RayHit, Refusal, Round, Scene, Sensor, State, Support, Terrain, Tick, Track, Tuning, Water, When, Workspace,
    Zone,
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
        let State { position, velocity, .. } = *run.hero.state();
        assert!(position.is_finite() && velocity.is_finite(), "gravity times {factor}: {:?}", run.hero);
    }
}

/// A village in two halves, and what stands, moves, wets and is climbed in it: in two scenes, and all in one, in that order.
fn halves(seed: u64) -> (Scene, Scene, Scene) {
    let mut dice = Dice(seed);
    let (houses, sheds) = (village(&mut dice).mesh(), village(&mut dice).mapped(|p| p + DVec3::Y * 0.013).mesh());
    let houses = houses.with_surface(3).with_footing(3, Footing { grip: 0.6, speed: 0.9 });
    let sheds = sheds.with_surface(4).with_hold(4, Hold::Wall).with_footing(4, Footing { grip: 1.0, speed: 0.8 });
    let first =
        |scene: Scene| scene.with(houses.clone()).with_pole(DVec3::ZERO.with_x(3.0), DVec3::new(3.0, 4.0, 0.0), 0.1, 9);
    let water = Water::flat(DVec3::Y * 1.5, Vec3::Y).with_own_waves();
    let pool = Zone::new(5, DVec3::new(-6.0, -1.0, -6.0), DVec3::new(0.0, 2.0, 0.0), Effect::Water(water));
    let lift = Track::new(vec![Key::at(0.0, DVec3::Z * 3.0), Key::at(3.0, DVec3::new(0.0, 2.0, 3.0))], Ending::Back);
    let plate = Mesh::cuboid(DVec3::splat(-1.0), DVec3::new(1.0, 0.05, 1.0)).expect("a plate");
    let gate = Sensor::new(8, DVec3::new(-9.0, -1.0, 0.0), DVec3::new(9.0, 5.0, 1.0));
    let second = |scene: Scene| {
        let scene = scene.with(sheds.clone()).with_moving(7, plate.clone(), lift.clone().expect("a track"));
        scene.with_zone(pool).with_waves(5, |at, time| 0.1 * (at.x + time).sin()).with_sensor(0, gate)
    };
    (first(Scene::new()), second(Scene::new()), second(first(Scene::new())))
}

#[test]
fn two_terrains_side_by_side_are_as_one_of_both() {
    let (mut told, mut walked) = (Vec::new(), 0);
    for seed in 0..40 {
        let (first, second, whole) = halves(seed);
        let mut dice = Dice(seed ^ 0x5eed);
        let mut values = *Tuning::brisk_hero().values();
        values.climb = Some(Climb::default());
        let tuning = Tuning::new(values).expect("a tuning");
        let start = [0.0, 0.5, 0.0];
        let Ok(hero) = Character::spawn(&whole, &tuning, start) else { continue };
        walked += 1;
        let pair = (&first, &second);
        assert_eq!(Character::spawn(&pair, &tuning, start).expect("the same"), hero);
        let (mut both, mut work) = ([hero.clone(), hero], Workspace::new());
        for number in 0..600 {
            let heading = dice.direction().as_vec3() * f32::from(number % 20 == 0);
            let along = if heading == Vec3::ZERO { both[0].facing } else { heading };
            let intent = Intent::toward(along.with_y(0.0)).hold(Button::Sprint);
            let intent = if number % 45 == 0 { intent.hold(Button::Jump) } else { intent };
            let terrains: [&dyn Terrain; 2] = [&whole, &pair];
            let mut outcomes = [Vec::new(), Vec::new()];
            for ((terrain, hero), events) in terrains.into_iter().zip(&mut both).zip(&mut outcomes) {
                let tick = Tick { number, terrain, tuning: &tuning, modifiers: &Modifiers::default(), dt: 1.0 / 60.0 };
                events.extend_from_slice(tick.step(&mut work, hero, &intent, &[]).expect("a valid tick").events);
            }
            assert_eq!(outcomes[0], outcomes[1], "village {seed}, tick {number}");
            assert_eq!(both[0], both[1], "village {seed}, tick {number}");
            told.extend(outcomes[0].iter().map(|e| e.kind));
            let (when, from) = (When::tick(number, 1.0 / 60.0), both[0].position + DVec3::Y);
            let along = dice.direction().as_vec3();
            let [a, b] = terrains.map(|terrain| terrain.cast(when, from, along, 30.0));
            assert_eq!(a, b, "village {seed}, tick {number}");
        }
    }
    println!("{walked} villages walked through");
    assert!(walked > 30, "{walked}");
    let some = |is: fn(&EventKind) -> bool| told.iter().any(is);
    assert!(some(|k| matches!(k, EventKind::SwimBegan)) && some(|k| matches!(k, EventKind::SensorEntered { .. })));
    assert!(some(|k| matches!(k, EventKind::ClimbBegan { .. })) && some(|k| matches!(k, EventKind::Landed { .. })));
    let (still, moving) = (World::new().floor(9.0, 0.0).mesh(), halves(0).1);
    let when = When::tick(0, 0.1);
    assert!((&still, &still).stamp(when, EVERYWHERE).is_some() && (&still, &moving).stamp(when, EVERYWHERE).is_none());
    assert_ne!((&still, &still).stamp(when, EVERYWHERE), still.stamp(when, EVERYWHERE));
}

/// A level all of whose facets have one name, as a game gives that counts none.
struct Nameless(newel::Mesh);

impl Terrain for Nameless {
    fn gather(&self, when: When, patch: &mut Patch) {
        let (low, high) = patch.world_bounds();
        let near = Patch::of(&self.0, when, low, high);
        let apart = (near.origin() - patch.origin()).as_vec3();
        let moved = |corner: Vec3| apart + corner;
        for facet in near.facets().iter().filter_map(|f| newel::Facet::new(moved(f.a), moved(f.b), moved(f.c))) {
            patch.add_facet(facet);
        }
    }

    fn cast(&self, when: When, from: DVec3, along: Vec3, length: f64) -> Option<RayHit> {
        self.0.cast(when, from, along, length)
    }
}

#[test]
fn in_a_corner_of_facets_without_names_it_holds_still() {
    let room =
        World::new().floor(20.0, 0.0).block([2.0, 0.0, -9.0], [3.0, 3.0, 9.0]).block([-9.0, 0.0, 2.0], [9.0, 3.0, 3.0]);
    let (room, tuning) = (Nameless(room.mesh()), Tuning::walker());
    for rate in SIX_RATES {
        let mut hero = Character::spawn(&room, &tuning, [0.0; 3]).unwrap();
        let (mut work, modifiers) = (Workspace::new(), Modifiers::default());
        let mut queries = 0;
        for number in 0..(3.0 * rate) as u64 {
            let tick = Tick { number, terrain: &room, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / rate };
            let outcome = tick.step(&mut work, &mut hero, &Intent::toward(Vec3::new(0.8, 0.0, 0.6)), &[]).unwrap();
            assert!(!outcome.events.iter().any(|e| matches!(e.kind, EventKind::TimeDropped { .. })), "{rate} Hz");
            if hero.clock > 2.0 {
                queries = queries.max(work.take_queries());
                assert_eq!(hero.velocity, DVec3::ZERO, "{rate} Hz");
                let off = (hero.position - DVec3::new(1.7, 0.0, 1.7)).length();
                assert!(off < 1e-4, "{rate} Hz: {}", hero.position);
            }
            work.take_queries();
        }
        println!("{rate} Hz: {queries} queries at most in the corner");
        assert!(queries < 100, "{rate} Hz: {queries}");
    }
}
