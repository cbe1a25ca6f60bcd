//! A warm tick allocates nothing, and a character is small. Alone in its file: it counts what the whole process does.

#[path = "behaviour/common/mod.rs"]
mod common;

use common::World;
use newel::glam::{DQuat, DVec3, Vec3};
use newel::{
    Button, Character, Climb, Ending, Form, Hold, Intent, Key, Ledge, Modifiers, Scene, Spawn, Terrain, Tick, Track,
    Tuning, TuningValues, Workspace,
};
use stats_alloc::{INSTRUMENTED_SYSTEM, Region, StatsAlloc};

#[global_allocator]
static ALLOCATOR: &StatsAlloc<std::alloc::System> = &INSTRUMENTED_SYSTEM;

/// A round of ticks: to and fro, jumping now and then.
fn round(terrain: &dyn Terrain, tuning: &Tuning, rate: f64, hero: &mut Character, work: &mut Workspace) {
    let modifiers = Modifiers::default();
    for number in 0..600u64 {
        let way = if number / 150 % 2 == 0 { Vec3::X } else { Vec3::new(-1.0, 0.0, 0.2) };
        let intent = Intent::toward(if number % 50 < 10 { Vec3::ZERO } else { way });
        let intent = if number % 97 == 0 { intent.hold(Button::Jump) } else { intent };
        let tick = Tick { number, terrain, tuning, modifiers: &modifiers, dt: 1.0 / rate };
        tick.step(work, hero, &intent, &[]).expect("a valid tick");
    }
}

#[test]
fn a_warm_tick_allocates_nothing_and_a_character_is_small() {
    assert!(size_of::<Character>() <= 352, "{}", size_of::<Character>());
    let stairs =
        World::new().floor(30.0, 0.0).stairs(2.0, 0.18, 0.28, 8, 3.0).block([-3.0, 0.0, -3.0], [-2.0, 3.0, 3.0]).mesh();
    let deck = World::new().block([-3.0, -0.3, -3.0], [3.0, 0.02, 3.0]).mesh();
    let turned = DQuat::from_rotation_y(1.5);
    let keys = vec![Key::at(0.0, DVec3::ZERO), Key::at(3.0, DVec3::new(1.0, 0.2, 0.0)).turned(turned)];
    let raft = Track::new(keys, Ending::Back).expect("a track");
    let scene = Scene::new().with(stairs.clone()).with_moving(5, deck, raft);
    let mut values = TuningValues::default();
    values.size.form = Form::Box;
    let boxed = Tuning::new(values).expect("a tuning");
    let start = Spawn::at([0.0, 0.03, 0.0]);
    // Walls of ivy on either side, and a box to get up onto: it climbs, hangs, pulls up and falls.
    let ivy = World::new()
        .floor(30.0, 0.0)
        .block([2.0, 0.0, -9.0], [3.0, 2.2, 9.0])
        .block([-3.0, 0.0, -9.0], [-2.0, 1.2, 9.0]);
    let ivy = ivy.mesh().with_hold(0, Hold::Wall);
    let hands =
        TuningValues { climb: Some(Climb::default()), ledge: Some(Ledge::default()), ..TuningValues::default() };
    let hands = Tuning::new(hands).expect("a tuning");
    let cases: [(&str, &dyn Terrain, Tuning, Spawn); 4] = [
        ("ivy and ledges", &ivy, hands, start),
        ("stairs and a wall", &stairs, Tuning::walker(), start),
        ("a raft that turns", &scene, Tuning::walker(), start),
        ("a box from the side", &stairs, boxed, start.in_plane(Vec3::Z)),
    ];
    let both = cases.into_iter().flat_map(|case| [(case, 60.0), (case, 144.0)]);
    for ((name, terrain, tuning, start), rate) in both {
        let mut hero = Character::spawn(terrain, &tuning, start).expect("a clear place");
        let mut work = Workspace::new();
        for _ in 0..3 {
            round(terrain, &tuning, rate, &mut hero, &mut work);
        }
        // The test harness's own thread may allocate at any moment: what a tick does, it does in every round.
        let clean = (0..5).any(|_| {
            let region = Region::new(ALLOCATOR);
            round(terrain, &tuning, rate, &mut hero, &mut work);
            let used = region.change();
            (used.allocations, used.reallocations) == (0, 0)
        });
        assert!(clean, "{name}, {rate} Hz: a warm tick allocates");
    }
}
