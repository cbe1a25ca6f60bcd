//! Same inputs, same bits: replayed, restored half way, one thread or two, whatever order the terrain answers in.

use crate::common::World;
use crate::common::oracle::Dice;
use newel::glam::{DVec3, Vec2, Vec3};
use newel::{
    Button, Character, Face, Facet, Heading, Intent, Mesh, Modifiers, Patch, RayHit, Stance, Terrain, Tick, Tuning,
    When, Workspace,
};

fn land() -> World {
    let mut dice = Dice(5);
    let mut world =
        World::new().floor(900.0, -0.4).stairs(3.0, 0.18, 0.28, 10, 3.0).block([-6.0, -1.0, 2.0], [-2.0, 2.5, 3.0]);
    for _ in 0..60 {
        let from = DVec3::new(dice.between(-9.0, 9.0), -0.5, dice.between(-9.0, 9.0));
        let size = DVec3::new(dice.between(0.2, 2.0), dice.between(0.1, 0.9), dice.between(0.2, 2.0));
        world = world.block(from.to_array(), (from + size).to_array());
    }
    world
}

fn intent(number: u64) -> Intent {
    let mut dice = Dice(number / 23);
    let way = dice.direction().as_vec3();
    let stick = Vec2::new(way.x, way.z) * 1.4;
    let intent = match number / 900 % 4 {
        0 => Intent::toward(Vec3::new(way.x, 0.0, way.z) * 1.4),
        1 => Intent::new(Heading::View(stick)).looking(way).facing(Face::View),
        2 => Intent::new(Heading::TurnAndGo(stick)),
        _ => Intent::new(Heading::Body(stick)).facing(Face::Point(DVec3::new(3.0, 0.0, 4.0))),
    };
    let intent = intent.in_stance(Stance::ALL[dice.pick(5) % 4 % 3]);
    let held = Button::ALL.iter().filter(|_| dice.pick(3) == 0).fold(intent, |intent, button| intent.hold(*button));
    if number.is_multiple_of(71) { intent.press_at(0.003, Button::Jump).release_at(0.009, Button::Jump) } else { held }
}

fn run(terrain: &dyn Terrain, mut hero: Character, ticks: std::ops::Range<u64>) -> Character {
    // Every ability, and another way of each, by turns.
    let tunings = [Tuning::brisk_hero(), Tuning::featherweight(), Tuning::first_person()];
    let mut work = Workspace::new();
    for number in ticks {
        let tuning = &tunings[(number / 2000) as usize % 3];
        let tick = Tick { number, terrain, tuning, modifiers: &Modifiers::default(), dt: 1.0 / 60.0 };
        tick.step(&mut work, &mut hero, &intent(number), &[]).expect("a valid tick");
    }
    hero
}

/// The same mesh, answering backwards.
struct Backwards(Mesh);

impl Terrain for Backwards {
    fn gather(&self, when: When, patch: &mut Patch) {
        let mut inner = patch.clone();
        self.0.gather(when, &mut inner);
        let facets: Vec<Facet> = inner.facets().to_vec();
        facets.into_iter().rev().for_each(|f| patch.add_facet(f));
    }
    fn stamp(&self, when: When, within: (DVec3, DVec3)) -> Option<u64> {
        self.0.stamp(when, within)
    }
    fn cast(&self, when: When, from: DVec3, along: Vec3, length: f64) -> Option<RayHit> {
        self.0.cast(when, from, along, length)
    }
}

#[test]
fn the_hash_of_a_long_run_is_the_same_however_it_is_made() {
    let mesh = land().mesh();
    let start = Character::spawn(&mesh, &Tuning::walker(), [0.0, 1.5, 0.0]).expect("a clear place");
    let once = run(&mesh, start.clone(), 0..6000);
    assert!(once.position.y > -2.0, "it stayed in the world: {}", once.position);
    assert_eq!(run(&mesh, start.clone(), 0..6000).hash(), once.hash(), "replayed");
    for cut in [1, 777, 4321] {
        let half = run(&mesh, start.clone(), 0..cut);
        assert_eq!(run(&mesh, half, cut..6000).hash(), once.hash(), "restored at {cut}");
    }
    assert_eq!(run(&Backwards(mesh.clone()), start.clone(), 0..6000).hash(), once.hash(), "gathered backwards");
    let hashes: Vec<u64> = std::thread::scope(|scope| {
        let threads: Vec<_> = (0..2).map(|_| scope.spawn(|| run(&mesh, start.clone(), 0..6000).hash())).collect();
        threads.into_iter().map(|t| t.join().expect("a run")).collect()
    });
    assert_eq!(hashes, [once.hash(); 2], "on two threads at once");
    let mut other = once.clone();
    other.velocity.x = f64::from_bits(other.velocity.x.to_bits() ^ 1);
    assert_ne!(other.hash(), once.hash(), "a single bit shows");
}
