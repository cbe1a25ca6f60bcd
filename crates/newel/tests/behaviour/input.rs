//! Devices, frames and bad input.

use std::sync::atomic::{AtomicU64, Ordering};

use crate::common::oracle::Dice;
use crate::common::{Walk, World};
use newel::glam::{DVec3, Vec3};
use newel::{
    Activity, Before, Body, Button, Change, Character, Command, Effect, EventKind, Facet, Footing, Heading, Intent,
    Latch, Launch, Mesh, Mode, Modifiers, Patch, Plane, RayHit, Round, Runner, Scene, SpawnError, Terrain, Tick,
    TickError, Timed, Tuning, When, Workspace, Zone,
};

fn jumps_of(frame: f64, rate: f64, frames: u32, held: impl Fn(u32) -> bool) -> usize {
    let world = World::new().floor(50.0, 0.0);
    let (mesh, tuning) = (world.mesh(), Tuning::walker());
    let mut hero = Runner::spawn(&mesh, &tuning, [0.0; 3]).unwrap().with_rate(rate).unwrap();
    let mut latch = Latch::new();
    let mut jumps = 0;
    for number in 0..frames {
        latch.hold(Button::Jump, held(number));
        let count = |tick: &newel::Ticked<'_>| {
            jumps += tick.events().iter().filter(|e| matches!(e.kind, EventKind::Jumped { .. })).count();
        };
        hero.advance(frame, &mesh, &tuning, |_| latch.take(), count).unwrap();
    }
    jumps
}

#[test]
fn one_frame_taps_at_240_frames_over_30_ticks_each_jump_once() {
    // A tap of one frame each second and a bit, at every phase of the tick.
    for phase in 0..8 {
        let taps = |n: u32| n % 301 == 10 + phase;
        assert_eq!(jumps_of(1.0 / 240.0, 30.0, 301 * 4, taps), 4, "phase {phase}");
    }
}

#[test]
fn a_frame_of_three_ticks_does_not_jump_three_times() {
    assert_eq!(jumps_of(0.1, 30.0, 20, |n| n == 5), 1);
    assert_eq!(jumps_of(0.1, 30.0, 40, |n| n >= 5), 1, "holding is one press");
}

#[test]
fn a_press_is_exact_inside_the_tick() {
    let world = World::new().floor(50.0, 0.0);
    let mut walk = Walk::new(world, Tuning::walker(), [0.0; 3]);
    walk.tick(0.1, Intent::default().press_at(0.037, Button::Jump).release_at(0.041, Button::Jump));
    let jumped = walk.events.iter().find(|e| matches!(e.kind, EventKind::Jumped { .. })).unwrap();
    assert_eq!(jumped.time, 0.037);
}

#[test]
fn bad_input_is_an_error_and_the_character_is_untouched() {
    let world = World::new().floor(50.0, 0.0);
    let (mesh, tuning) = (world.mesh(), Tuning::walker());
    let mut hero = Character::spawn(&mesh, &tuning, [0.0; 3]).unwrap();
    let before = hero.clone();
    let mut work = Workspace::new();
    let nan = f32::NAN;
    let fine = Modifiers::default();
    let mut refused = |dt: f64, intent: Intent, modifiers: Modifiers, commands: &[Command]| {
        let tick = Tick { number: 0, terrain: &mesh, tuning: &tuning, modifiers: &modifiers, dt };
        let error = tick.step(&mut work, &mut hero, &intent, commands).map(|_| ()).expect_err("refused");
        assert_eq!(hero, before, "{error}");
        error.to_string()
    };
    let idle = Intent::default();
    for dt in [0.0, -1.0, 0.26, f64::NAN, f64::INFINITY] {
        assert!(refused(dt, idle, fine, &[]).contains("0.25 s is allowed"));
    }
    assert!(refused(0.1, Intent::toward(Vec3::new(nan, 0.0, 0.0)), fine, &[]).contains("intent.heading"));
    assert!(refused(0.1, Intent::default().looking(Vec3::splat(nan)), fine, &[]).contains("intent.view"));
    assert!(refused(0.1, idle.press_at(0.2, Button::Jump), fine, &[]).contains("0.2 s"));
    assert!(refused(0.1, idle, Modifiers { speed: nan, ..fine }, &[]).contains("modifiers.speed"));
    assert!(refused(0.1, idle, Modifiers { gravity: -1.0, ..fine }, &[]).contains("-1"));
    let launch = Command::Launch(Launch::at(DVec3::splat(f64::NAN)));
    assert!(refused(0.1, idle, fine, &[launch]).contains("launch"));
    let teleport = Command::Teleport { to: DVec3::new(0.0, -0.5, 0.0), facing: None };
    assert!(refused(0.1, idle, fine, &[teleport]).contains("nearest clear place"));
}

#[test]
fn a_state_that_is_not_finite_is_refused_by_the_name_of_its_field() {
    let walk = Walk::new(World::new().floor(9.0, 0.0), Tuning::walker(), [0.0; 3]);
    let refused = |spoil: fn(&mut newel::State)| {
        let mut hero = walk.hero.clone();
        spoil(&mut hero);
        let modifiers = Modifiers::default();
        let tick = Tick { number: 0, terrain: &walk.mesh, tuning: &walk.tuning, modifiers: &modifiers, dt: 0.01 };
        match tick.step(&mut Workspace::new(), &mut hero, &Intent::default(), &[]) {
            Err(TickError::NotFinite { field }) => field,
            other => panic!("{other:?}"),
        }
    };
    assert_eq!(refused(|s| s.position.y = f64::INFINITY), "character.position");
    assert_eq!(refused(|s| s.velocity.x = f64::NAN), "character.velocity");
    assert_eq!(refused(|s| s.carried.z = f32::NAN), "character.carried");
    assert_eq!(refused(|s| s.foot.x = f32::NAN), "character.foot");
    assert_eq!(refused(|s| s.eyes = f32::NAN), "character.eyes");
    assert_eq!(refused(|s| s.time_under = f32::INFINITY), "character.time_under");
    assert_eq!(refused(|s| s.slide_cooldown = f32::NAN), "character.slide_cooldown");
    assert_eq!(
        refused(|s| (s.mode, s.activity) = (Mode::Air, Activity::Air { fallen: f32::NAN, slid: 0.0 })),
        "character.activity"
    );
    assert_eq!(refused(|s| s.keeps = Plane::new(Vec3::splat(f32::NAN))), "character.keeps");
    assert_eq!(refused(|s| s.ground.normal.x = f32::NAN), "character.ground");
}

#[test]
fn a_spawn_in_rock_names_a_clear_place_that_is_clear() {
    let rock = World::new().floor(50.0, 0.0).block([-2.0, 0.0, -2.0], [2.0, 3.0, 2.0]);
    let (mesh, tuning) = (rock.mesh(), Tuning::walker());
    for at in [[0.0, 0.5, 0.0], [1.9, 0.0, 0.0], [0.0, -0.4, 5.0], [0.0, 2.5, 0.0]] {
        let error = Character::spawn(&mesh, &tuning, at).unwrap_err();
        let SpawnError::NotClear { nearest: Some(place), .. } = error else { panic!("{at:?}: {error}") };
        Character::spawn(&mesh, &tuning, place).unwrap_or_else(|e| panic!("{at:?} -> {place:?}: {e}"));
    }
    assert!(matches!(Character::spawn(&mesh, &tuning, [f64::NAN; 3]), Err(SpawnError::NotFinite { .. })));
}

#[test]
fn commands_throw_and_move_at_once() {
    let mut walk = Walk::new(World::new().floor(50.0, 0.0), Tuning::walker(), [0.0; 3]);
    let (mesh, tuning) = (&walk.mesh, &walk.tuning);
    let modifiers = Modifiers::default();
    let tick = Tick { number: 0, terrain: mesh, tuning, modifiers: &modifiers, dt: 1.0 / 60.0 };
    let throw = Command::Launch(Launch::at(DVec3::new(3.0, 9.0, 0.0)));
    tick.step(&mut walk.work, &mut walk.hero, &Intent::default(), &[throw]).unwrap();
    assert!(walk.hero.velocity.y > 8.0 && walk.hero.position.y > 0.1);
    let away = Command::Teleport { to: DVec3::new(5.0, 0.0, 5.0), facing: Some(Vec3::X) };
    let outcome = tick.step(&mut walk.work, &mut walk.hero, &Intent::default(), &[away]).unwrap();
    assert!(outcome.readout.cut && outcome.readout.grounded);
    assert_eq!(walk.hero.position, DVec3::new(5.0, 0.0, 5.0));
    assert_eq!(walk.hero.facing, Vec3::X);
}

#[test]
fn frames_of_any_length_draw_between_ticks_and_a_stall_is_bounded() {
    let world = World::new().floor(50.0, 0.0);
    let (mesh, tuning) = (world.mesh(), Tuning::walker());
    let mut hero = Runner::spawn(&mesh, &tuning, [0.0; 3]).unwrap();
    let east = |_: &Before<'_>| Intent::toward(Vec3::X);
    let mut last = 0.0;
    for _ in 0..240 {
        hero.advance(1.0 / 144.0, &mesh, &tuning, east, |_| {}).unwrap();
        let x = hero.pose().position.x;
        assert!(x >= last && x - last < 4.5 / 100.0, "smooth: {last} to {x}");
        last = x;
    }
    let ticks = hero.ticks();
    hero.advance(30.0, &mesh, &tuning, east, |_| {}).unwrap();
    assert!(hero.ticks() - ticks <= 8, "a stall of half a minute is not made up for");
    assert!(matches!(hero.advance(f64::NAN, &mesh, &tuning, east, |_| {}), Err(TickError::OutOfRange { .. })));
    // Slow motion is the same motion, later; a pause is none.
    let (ticks, from) = (hero.ticks(), hero.pose().position.x);
    hero.clock.scale = 0.25;
    (0..144).for_each(|_| hero.advance(1.0 / 144.0, &mesh, &tuning, east, |_| {}).unwrap());
    assert_eq!(hero.ticks() - ticks, 15);
    assert!((hero.pose().position.x - from - 4.5 / 4.0).abs() < 0.02, "{}", hero.pose().position.x - from);
    hero.clock.scale = 0.0;
    let paused = hero.pose();
    hero.advance(100.0, &mesh, &tuning, east, |_| {}).unwrap();
    assert_eq!(hero.pose(), paused);
    // Between two facings it is drawn turned the short way, however far apart they are.
    hero.clock.scale = 1.0;
    let west = |_: &Before<'_>| Intent::toward(Vec3::NEG_X);
    for _ in 0..144 {
        hero.advance(1.0 / 144.0, &mesh, &tuning, west, |_| {}).unwrap();
        assert!((hero.pose().facing.length() - 1.0).abs() < 1e-5);
    }
}

/// A terrain that answers nonsense, and something else every time.
struct Mad(AtomicU64);

impl Mad {
    fn number(dice: &mut Dice) -> f32 {
        let odd = [0.0, -1.0, 1e-30, 1e30, 3e6, f32::MAX, f32::MIN_POSITIVE, f32::NAN, f32::INFINITY];
        if dice.pick(4) == 0 { odd[dice.pick(odd.len())] } else { dice.between(-3.0, 3.0) as f32 }
    }

    fn place(dice: &mut Dice) -> Vec3 {
        Vec3::new(Mad::number(dice), Mad::number(dice), Mad::number(dice))
    }
}

impl Terrain for Mad {
    fn gather(&self, _when: When, patch: &mut Patch) {
        let dice = &mut Dice(self.0.fetch_add(1, Ordering::Relaxed));
        for id in 0..dice.pick(4) as u64 {
            let [place, velocity, spin] = [(); 3].map(|()| Mad::place(dice).as_dvec3());
            patch.add_body(Body { id, place, velocity, spin, ..Body::WORLD });
        }
        for id in 0..dice.pick(30) as u32 {
            let Some(facet) = Facet::new(Mad::place(dice), Mad::place(dice), Mad::place(dice)) else { continue };
            let normal = if dice.pick(9) == 0 { Mad::place(dice) } else { facet.normal };
            patch.add_facet(Facet { normal, body: dice.pick(6) as u16, id: id / 3, ..facet });
        }
        for id in 0..dice.pick(4) as u32 {
            let (a, b, radius) = (Mad::place(dice), Mad::place(dice), Mad::number(dice));
            patch.add_round(Round { a, b, radius, surface: 0, body: dice.pick(9) as u16, id });
        }
    }
    fn footing(&self, _surface: u16) -> Footing {
        Footing { grip: f32::NAN, speed: f32::INFINITY }
    }
    fn cast(&self, _when: When, _from: DVec3, _along: Vec3, _length: f64) -> Option<RayHit> {
        Some(RayHit { distance: f64::NAN, normal: Vec3::NAN, surface: 7, body: 9, one_way: false })
    }
}

#[test]
fn a_terrain_that_answers_nonsense_never_makes_nonsense_of_a_character() {
    let (floor, tuning, modifiers) = (World::new().floor(9.0, 0.0).mesh(), Tuning::walker(), Modifiers::default());
    let mut work = Workspace::new();
    for seed in 0..300 {
        let terrain = Mad(AtomicU64::new(seed * 1000));
        let mut hero = Character::spawn(&floor, &tuning, [0.0; 3]).unwrap();
        for number in 0..60 {
            let tick = Tick { number, terrain: &terrain, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / 60.0 };
            let intent = Intent::toward(Vec3::new(number as f32 - 30.0, 0.0, 20.0).normalize());
            tick.step(&mut work, &mut hero, &intent, &[]).unwrap_or_else(|e| panic!("seed {seed}, tick {number}: {e}"));
            let finite = hero.position.is_finite() && hero.velocity.is_finite() && hero.ground.touch.is_finite();
            assert!(finite && hero.facing.is_finite(), "seed {seed}, tick {number}: {:?}", hero.state());
        }
    }
}

#[test]
fn the_nearest_clear_place_is_never_under_the_world_nor_in_closed_rock() {
    let mut dice = Dice(41);
    let tuning = Tuning::walker();
    let height = |x: f64, z: f64| (0.7 * x).sin() + (0.9 * z).cos() + 0.3 * (2.3 * x + z).sin();
    let land = (-20..20).fold(World::new(), |world, i| {
        (-20..20).fold(world, |world, k| {
            let at = |i: i32, k: i32| {
                let (x, z) = (f64::from(i) * 0.5, f64::from(k) * 0.5);
                DVec3::new(x, height(x, z), z)
            };
            world.quad(at(i, k), at(i, k + 1), at(i + 1, k + 1), at(i + 1, k))
        })
    });
    let (mesh, rock) = (land.mesh(), World::new().block([-2.0, -2.0, -2.0], [2.0, 2.0, 2.0]).mesh());
    let (mut under, mut inside) = (0, 0);
    for _ in 0..2000 {
        let (x, z) = (dice.between(-7.0, 7.0), dice.between(-7.0, 7.0));
        let wanted = DVec3::new(x, height(x, z) - dice.between(0.1, 1.7), z);
        if let Err(SpawnError::NotClear { nearest: Some([x, y, z]), .. }) = Character::spawn(&mesh, &tuning, wanted) {
            under += 1;
            assert!(y > height(x, z) - 0.2, "{wanted}: at {x} {y} {z}, the land is {} high", height(x, z));
        }
        let wanted = DVec3::new(dice.between(-1.99, 1.99), dice.between(-1.9, 1.9), dice.between(-1.99, 1.99));
        if let Err(SpawnError::NotClear { nearest: Some(at), .. }) = Character::spawn(&rock, &tuning, wanted) {
            inside += 1;
            let middle = DVec3::from_array(at) + DVec3::Y * 0.9;
            assert!(middle.abs().max_element() > 2.0, "{wanted}: {middle}");
        }
    }
    assert!(under > 1000 && inside > 1500, "{under} {inside}");
}

#[test]
fn corners_come_in_any_order_and_what_makes_no_sense_says_so() {
    let (low, high) = (DVec3::new(-1.0, -2.0, -3.0), DVec3::new(1.0, 2.0, 3.0));
    let mixed = (DVec3::new(1.0, -2.0, 3.0), DVec3::new(-1.0, 2.0, -3.0));
    let (plain, turned) = (Mesh::cuboid(low, high).unwrap(), Mesh::cuboid(mixed.0, mixed.1).unwrap());
    assert!(plain.corners().eq(turned.corners()));
    assert!(Mesh::cuboid(low, DVec3::new(1.0, -2.0, 3.0)).is_err() && Mesh::cuboid(low, DVec3::NAN).is_err());

    let zone = |a, b| Zone::new(7, a, b, Effect::Gravity(0.5));
    assert_eq!(zone(mixed.0, mixed.1), zone(low, high));
    let mut scene = Scene::new();
    assert_eq!(scene.add_zone(zone(mixed.0, mixed.1)), Ok(()));
    for (bad, why) in [(zone(low, DVec3::new(1.0, -2.0, 3.0)), "volume"), (zone(low, DVec3::NAN), "not a number")] {
        let error = scene.add_zone(bad).unwrap_err();
        assert!(error.to_string().contains(why) && error.to_string().starts_with("zone 7"), "{error}");
    }
    assert_eq!(scene.zones().len(), 1);
}

#[test]
fn errors_name_their_true_cause() {
    let (level, tuning) = (World::new().floor(9.0, 0.0).mesh(), Tuning::walker());
    let mut boxed = *tuning.values();
    boxed.size.form = newel::Form::Box;
    let boxed = Tuning::new(boxed).unwrap();
    let mut hero = Character::spawn(&level, &tuning, [0.0; 3]).unwrap();
    let refused = |hero: &mut Character, tuning: &Tuning| {
        let tick = Tick { number: 0, terrain: &level, tuning, modifiers: &Modifiers::default(), dt: 0.02 };
        tick.step(&mut Workspace::new(), hero, &Intent::default(), &[]).map(|_| ()).unwrap_err()
    };
    assert_eq!(refused(&mut hero, &boxed), TickError::NoPlane);
    assert!(refused(&mut hero, &boxed).to_string().contains("size.form is a box"));
    hero.up = Vec3::Y * 2.0;
    assert_eq!(refused(&mut hero, &tuning), TickError::NotUnit { field: "character.up", value: Vec3::Y * 2.0 });
    let zero = newel::flat::Scale::new(0.0).unwrap_err();
    assert_eq!(zero.to_string(), "scale.pixels is 0: more than 0 and at most 1000000 is allowed");
    let sprints = Intent::toward(Vec3::X).hold(Button::Sprint);
    let mut values = *tuning.values();
    values.sprint = None;
    let mut walk = Walk::new(World::new().floor(9.0, 0.0), Tuning::new(values).unwrap(), [0.0; 3]);
    walk.go(0.02, 0.2, sprints);
    let told = |e: &newel::Event| {
        matches!(e.kind, EventKind::Refused { ability: newel::Ability::Sprint, why: newel::Refusal::NotTuned })
    };
    assert_eq!(walk.events.iter().filter(|e| told(e)).count(), 1, "a refused sprint is told once a press");
}

/// Twenty changes in a tick, of which an intent carries eight, at their own times: as in ticks with one each.
#[test]
fn changes_beyond_those_of_an_intent_take_effect_when_they_should() {
    let turn = |n: u32| {
        let angle = 0.4 * n as f32;
        Change::Heading(Heading::World(Vec3::new(angle.cos(), 0.0, angle.sin())))
    };
    let changes: Vec<(f64, Change)> = (1..20).map(|n| (f64::from(n) * 0.01, turn(n))).collect();
    let start = || Walk::new(World::new().floor(9.0, 0.0), Tuning::walker(), [0.0; 3]);
    let tick = |walk: &mut Walk, dt: f64, intent: Intent, commands: &[Command]| {
        let (terrain, tuning, modifiers) = (&walk.mesh, &walk.tuning, &Modifiers::default());
        let tick = Tick { number: 0, terrain, tuning, modifiers, dt };
        tick.step(&mut Workspace::new(), &mut walk.hero, &intent, commands).map(|_| ())
    };
    let (mut once, mut often) = (start(), start());
    let east = Intent::toward(Vec3::X);
    let commands: Vec<Command> = changes.iter().map(|&(at, change)| Command::Change(Timed { at, change })).collect();
    tick(&mut once, 0.2, east, &commands).expect("a valid tick");
    for n in 0..20u32 {
        let Change::Heading(heading) = turn(n) else { unreachable!() };
        tick(&mut often, 0.01, Intent::new(heading), &[]).expect("a valid tick");
    }
    assert_eq!(once.hero.state(), often.hero.state());
    // Whichever come first and last: time has an order, and a tick an end.
    let mut mixed = start();
    let carried = changes[10..18].iter().fold(east, |intent, &(at, change)| intent.then(Timed { at, change }).unwrap());
    let (first, last) = (&commands[..10], &commands[18..]);
    tick(&mut mixed, 0.2, carried, &[last, first].concat()).expect("a valid tick");
    assert_eq!(mixed.hero.state(), once.hero.state());
    let late = Command::Change(Timed { at: 0.3, change: turn(1) });
    assert!(matches!(tick(&mut mixed, 0.2, east, &[late]), Err(TickError::ChangeOutOfOrder { .. })));
}
