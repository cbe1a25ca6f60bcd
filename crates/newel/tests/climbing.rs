//! Ladders, poles and walls: by the formulas, round corners, as far as there is hold, and never without.

mod common;

use common::{SIX_RATES, World};
use newel::glam::{DVec3, Vec2, Vec3};
use newel::{
    Character, Climb, Event, EventKind, Heading, Hold, Intent, Mesh, Mode, Modifiers, Scene, Spawn, Tick, Tuning,
    TuningValues, Workspace,
};

const RUNGS: u16 = 4;
const IVY: u16 = 5;
const ROPE: u16 = 6;

fn climber(change: impl Fn(&mut TuningValues)) -> Tuning {
    let mut values = TuningValues { climb: Some(Climb::default()), ..TuningValues::default() };
    change(&mut values);
    Tuning::new(values).expect("a tuning")
}

/// A sheet with corners given round it, of one surface.
fn sheet(corners: [[f32; 3]; 4], surface: u16) -> Mesh {
    let mesh = Mesh::new(&corners, &[0, 1, 2, 0, 2, 3]).expect("a sheet");
    mesh.with_surfaces(&[surface; 2]).expect("two surfaces")
}

fn holding(scene: Scene) -> Scene {
    scene.with_hold(RUNGS, Hold::Ladder).with_hold(IVY, Hold::Wall).with_hold(ROPE, Hold::Pole)
}

struct Ascent {
    scene: Scene,
    tuning: Tuning,
    hero: Character,
    work: Workspace,
    modifiers: Modifiers,
    events: Vec<Event>,
}

impl Ascent {
    fn new(scene: Scene, tuning: Tuning, at: [f64; 3]) -> Ascent {
        let hero = Character::spawn(&scene, &tuning, Spawn::at(at)).expect("a clear place");
        Ascent { scene, tuning, hero, work: Workspace::new(), modifiers: Modifiers::default(), events: Vec::new() }
    }

    fn until(&mut self, end: f64, rate: f64, intent: Intent) -> &mut Ascent {
        while self.hero.clock < end - 1e-9 {
            let dt = (1.0 / rate).min(end - self.hero.clock);
            self.scene.time = self.hero.clock;
            let tick = Tick { number: 0, terrain: &self.scene, tuning: &self.tuning, modifiers: &self.modifiers, dt };
            let outcome = tick.step(&mut self.work, &mut self.hero, &intent, &[]).expect("a valid tick");
            self.events.extend(outcome.events);
        }
        self
    }

    fn when(&self, is: impl Fn(&EventKind) -> bool) -> Option<Event> {
        self.events.iter().find(|e| is(&e.kind)).copied()
    }
}

fn stick(right: f32, up: f32) -> Intent {
    Intent::new(Heading::Surface(Vec2::new(right, up)))
}

/// A floor, a wall of 6 m at x = 1, and before it a ladder half a metre wide, from the floor to its top.
fn wall_with_ladder() -> Scene {
    let rungs = [[0.98, 0.0, -0.25], [0.98, 0.0, 0.25], [0.98, 6.0, 0.25], [0.98, 6.0, -0.25f32]];
    let world = World::new().floor(20.0, 0.0).block([1.0, 0.0, -5.0], [4.0, 6.0, 5.0]);
    holding(Scene::new().with(world.mesh()).with(sheet(rungs, RUNGS)))
}

fn began(kind: &EventKind) -> bool {
    matches!(kind, EventKind::ClimbBegan { .. })
}

#[test]
fn up_and_down_a_ladder_by_the_formula_at_every_rate() {
    let tuned = Climb::default();
    let (up, down) = (f64::from(tuned.up), f64::from(tuned.down));
    let (gains, loses) = (f64::from(tuned.acceleration), f64::from(tuned.deceleration));
    for rate in SIX_RATES {
        let mut ascent = Ascent::new(wall_with_ladder(), climber(|_| {}), [0.0, 0.0, 0.1]);
        ascent.until(2.0, rate, Intent::toward(Vec3::X));
        let start = ascent.when(began).expect("it takes hold").time;
        assert_eq!(ascent.hero.mode, Mode::Climb, "{rate} Hz: {:?}", ascent.events);
        let risen = up * (2.0 - start) - 0.5 * up * up / gains;
        assert!((ascent.hero.position.y - risen).abs() < 1e-4, "{rate} Hz: {} {risen}", ascent.hero.position.y);
        assert!(ascent.hero.position.z.abs() < 2e-4, "in its middle: {}", ascent.hero.position);
        let top = ascent.until(2.5, rate, Intent::default()).hero.position.y;
        assert!((top - risen - 0.5 * up * up / loses).abs() < 1e-4, "{rate} Hz: {top}");
        assert_eq!(ascent.hero.velocity, DVec3::ZERO);
        let still = ascent.hero.position;
        ascent.until(4.0, rate, Intent::default());
        assert_eq!(ascent.hero.position, still, "{rate} Hz: idle is idle");
        // Down to the floor, and off.
        ascent.until(7.0, rate, stick(0.0, -1.0));
        let off = ascent.when(|k| matches!(k, EventKind::ClimbEnded { .. })).expect("at the bottom").time;
        let lasts = (top + 0.5 * down * down / gains) / down;
        assert!((off - 4.0 - lasts).abs() < 1e-3, "{rate} Hz: {off} {lasts}");
        assert_eq!(ascent.hero.mode, Mode::Ground, "{rate} Hz");
    }
}

/// All of a world's own triangles made of one surface.
fn made_of(world: &World, surface: u16) -> Mesh {
    let mesh = world.mesh();
    let count = mesh.triangles();
    mesh.with_surfaces(&vec![surface; count]).expect("as many surfaces")
}

#[test]
fn round_pillars_and_in_rooms_of_ivy_it_climbs_sideways_alike_at_every_rate() {
    let pillar = World::new().block([-1.0, -1.0, -1.0], [1.0, 9.0, 1.0]);
    let room = World::new().block([-2.0, -1.0, -2.0], [2.0, 9.0, 2.0]).mapped(|p| DVec3::new(-p.x, p.y, p.z));
    for (name, world, start, into) in
        [("pillar", pillar, [-1.5, 0.0, 0.2], Vec3::X), ("room", room, [1.5, 0.0, 0.2], Vec3::X)]
    {
        let mut ends: Vec<DVec3> = Vec::new();
        for rate in SIX_RATES {
            let floor = World::new().floor(20.0, 0.0);
            let scene = holding(Scene::new().with(floor.mesh()).with(made_of(&world, IVY)));
            let mut ascent = Ascent::new(scene, climber(|_| {}), start);
            ascent.until(1.0, rate, Intent::toward(into)).until(2.0, rate, stick(0.0, 1.0));
            assert_eq!(ascent.hero.mode, Mode::Climb, "{name} {rate} Hz {:?}", ascent.events);
            let height = ascent.hero.position.y;
            ascent.until(12.0, rate, stick(1.0, 0.0));
            assert_eq!(ascent.hero.mode, Mode::Climb, "{name} {rate} Hz {:?}", ascent.events);
            assert!((ascent.hero.position.y - height).abs() < 0.2, "{name}: {} {height}", ascent.hero.position);
            println!("{name} {rate} {} {}", ascent.hero.position, ascent.hero.velocity.length());
            ends.push(ascent.hero.position);
        }
    }
}

#[test]
fn poles_turn_around() {
    for rate in SIX_RATES {
        let floor = World::new().floor(20.0, 0.0);
        let scene = holding(Scene::new().with(floor.mesh()).with_pole(DVec3::ZERO, DVec3::Y * 6.0, 0.1, ROPE));
        let mut ascent = Ascent::new(scene, climber(|_| {}), [-1.5, 0.0, 0.0]);
        ascent.until(2.0, rate, Intent::toward(Vec3::X)).until(4.0, rate, Intent::default());
        assert_eq!(ascent.hero.mode, Mode::Climb, "{rate} Hz {:?}", ascent.events);
        println!("{rate} {} ", ascent.hero.position);
        ascent.until(8.0, rate, stick(1.0, 0.0));
        println!("{rate} {} {:?} {:?}", ascent.hero.position, ascent.hero.mode, ascent.events.last());
        ascent.until(12.0, rate, stick(0.0, 1.0));
        println!("{rate} {} {:?} {:?}", ascent.hero.position, ascent.hero.mode, ascent.events.last());
    }
}
