//! Stances: room to stand, asked of every triangle in double precision; what each allows; and when it rises.

use crate::common::oracle::{Dice, segment_to_triangle};
use crate::common::script::Script;
use crate::common::{SIX_RATES, Walk, World, east, every_frame};
use newel::glam::{DVec3, Vec3};
use newel::{
    Allows, Aloft, Anchor, Button, Change, Character, Command, EventKind, Intent, Launch, LowStance, Mode, Refusal,
    Rise, Slide, Spawn, Stance, Tuning, TuningValues,
};

fn tuned(change: impl Fn(&mut TuningValues)) -> Tuning {
    let mut values = TuningValues { slide: Some(Slide { from: 4.0, ..Slide::default() }), ..TuningValues::default() };
    change(&mut values);
    Tuning::new(values).expect("a tuning")
}

fn stance(stance: Stance) -> Intent {
    Intent::default().in_stance(stance)
}

fn kinds(walk: &Walk) -> Vec<EventKind> {
    walk.events.iter().map(|e| e.kind).collect()
}

/// A floor with a slab of ceiling over part of it.
fn under(height: f64, from: f64, to: f64) -> World {
    World::new().floor(30.0, 0.0).block([from, height, -6.0], [to, height + 0.4, 6.0])
}

#[test]
fn it_stands_exactly_where_its_tuned_height_fits() {
    for frame in every_frame() {
        for (height, fits) in [(1.8 - 1e-4, false), (1.8 + 1e-4, true), (1.2 + 1e-4, false)] {
            let mut walk = Walk::new(under(height, -3.0, 3.0), tuned(|_| {}), [-5.0, 0.0, 0.0]);
            walk.go(1.0 / 60.0, 2.0, east().in_stance(Stance::Crouch));
            walk.go(1.0 / 60.0, 0.5, stance(Stance::Stand));
            assert!(walk.hero.position.x > -1.0 && walk.hero.position.x < 1.0, "{}", walk.hero.position);
            let expected = if fits { Stance::Stand } else { Stance::Crouch };
            assert_eq!(walk.hero.stance, expected, "under {height} m");
            let told = walk.events.iter().filter_map(|e| match e.kind {
                EventKind::NoRoom { wanted, body, point } => Some((wanted, body, point)),
                _ => None,
            });
            let told: Vec<_> = told.collect();
            assert_eq!(told.len(), usize::from(!fits), "told once, however long it waits");
            for (wanted, body, point) in told {
                assert_eq!((wanted, body), (Stance::Stand, 0));
                assert!(frame > 0 || (point.y - height).abs() < 1e-4, "{point} is what blocks it");
            }
        }
    }
}

#[test]
fn the_feet_stay_and_rest_is_rest_in_every_stance() {
    for _ in every_frame() {
        let slope = World::new().plane(DVec3::ZERO, DVec3::new(-0.4, 1.0, 0.1), 20.0);
        for world in [World::new().floor(20.0, 0.0), slope] {
            let mut walk = Walk::new(world, tuned(|_| {}), [0.0, 0.06, 0.0]);
            walk.go(1.0 / 60.0, 1.0, Intent::default());
            for to in [Stance::Crouch, Stance::Prone, Stance::Crouch, Stance::Stand, Stance::Prone, Stance::Stand] {
                let before = walk.hero.position;
                walk.tick(1.0 / 60.0, stance(to));
                assert_eq!(walk.hero.stance, to);
                walk.go(1.0 / 60.0, 1.0, stance(to));
                assert!((walk.hero.position - before).length() < 1e-5, "{to:?}: {}", walk.hero.position - before);
                let still = walk.hero.clone();
                walk.go(1.0 / 60.0, 1.0, stance(to));
                assert_eq!(
                    newel::State { clock: 0.0, ..*walk.hero.state() },
                    newel::State { clock: 0.0, ..*still.state() }
                );
                assert!(walk.gap().abs() < 1e-4 && walk.hero.mode == Mode::Ground, "{}", walk.gap());
                let readout = walk.readout.expect("a tick");
                assert_eq!(readout.eyes, walk.tuning.eyes_in(to), "and the eyes have come to rest");
                assert_eq!(readout.drawn, walk.tuning.shape_in(to));
            }
        }
    }
}

#[test]
fn a_narrower_stance_rests_on_slopes_and_edges_as_a_wide_one_does() {
    for _ in every_frame() {
        let slope = World::new().plane(DVec3::ZERO, DVec3::new(-0.6, 1.0, 0.2), 20.0);
        let edge = World::new().block([-9.0, -9.0, -9.0], [0.1, 0.0, 9.0]);
        for (name, world, start) in [("slope", slope, [0.0, 0.1, 0.0]), ("edge", edge, [0.2, 0.05, 0.0])] {
            let narrow = LowStance { radius: Some(0.2), guard: false, ..LowStance::crouch() };
            let mut walk = Walk::new(world, tuned(|v| v.crouch = Some(narrow)), start);
            walk.go(1.0 / 60.0, 1.0, Intent::default());
            let stood = walk.hero.position;
            for to in [Stance::Crouch, Stance::Stand, Stance::Crouch, Stance::Stand] {
                walk.tick(1.0 / 60.0, stance(to));
                assert_eq!((walk.hero.stance, walk.hero.mode), (to, Mode::Ground), "{name}");
                assert!(walk.gap().abs() < 1e-4, "{name}, {to:?}: gap {}", walk.gap());
                let moved = walk.hero.position - stood;
                assert!((moved - DVec3::Y * moved.y).length() < 1e-6, "{name}, {to:?}: aside by {moved}");
            }
            assert!((walk.hero.position - stood).length() < 1e-5, "{name}: {}", walk.hero.position - stood);
        }
    }
}

#[test]
fn eyes_ease_alike_at_every_rate_and_stay_where_they_are_when_feet_are_drawn_up() {
    let mut all = Vec::new();
    for rate in SIX_RATES {
        let mut walk = Walk::new(World::new().floor(20.0, 0.0), tuned(|v| v.stance.ease = 0.1), [0.0; 3]);
        let script = Script::new().at(0.1037, Change::Stance(Stance::Crouch)).at(0.2519, Change::Stance(Stance::Stand));
        walk.play(&script, 1.0 / rate, 0.4);
        all.push(walk.hero.eyes);
    }
    let (high, low) = (1.8 * 0.93, 1.2 * 0.9);
    let at_change = low + (high - low) * (-0.1482f32 / 0.1).exp();
    let expected = high + (at_change - high) * (-0.1481f32 / 0.1).exp();
    assert!(all.iter().all(|eyes| (eyes - expected).abs() < 1e-5), "{all:?} {expected}");
    for (anchor, part) in [(Anchor::Feet, 0.0), (Anchor::Centre, 0.5), (Anchor::Head, 1.0)] {
        let tuning = tuned(|v| {
            v.stance.anchor = anchor;
            v.crouch = Some(LowStance { air: Aloft::Any, ..LowStance::crouch() });
        });
        let mut walk = Walk::new(World::new().floor(20.0, 0.0), tuning, [0.0, 8.0, 0.0]);
        walk.tick(1e-6, Intent::default());
        let before = walk.hero.position.y + f64::from(walk.hero.eyes);
        walk.tick(1e-6, stance(Stance::Crouch));
        assert_eq!(walk.hero.stance, Stance::Crouch);
        assert!((walk.hero.position.y - 8.0 - 0.6 * part).abs() < 1e-5, "{anchor:?}: {}", walk.hero.position.y);
        let after = walk.hero.position.y + f64::from(walk.hero.eyes);
        assert!((after - before).abs() < 1e-4, "{anchor:?}: the eyes jump by {}", after - before);
    }
}

#[test]
fn it_rises_at_the_same_place_at_every_rate_or_when_asked_again() {
    for _ in every_frame() {
        let mut places = Vec::new();
        for rate in SIX_RATES {
            let mut walk = Walk::new(under(1.5, -1.0, 2.0), tuned(|_| {}), [-2.0, 0.0, 0.0]);
            let script = Script::new().head(0.0, 1.0, 0.0).at(0.0, Change::Stance(Stance::Crouch));
            walk.play(&script.at(1.003, Change::Stance(Stance::Stand)), 1.0 / rate, 3.0);
            let rose =
                walk.events.iter().find(|e| matches!(e.kind, EventKind::StanceChanged { to: Stance::Stand, .. }));
            let rose = rose.expect("it rises").place.x;
            assert!(rose > 2.3 && rose < 2.3 + 2.25 / 120.0 + 1e-3, "{rate} Hz: {rose}");
            places.push((rose, walk.hero.position.x));
        }
        let near = places.iter().all(|p| (p.0 - places[5].0).abs() < 1e-4 && (p.1 - places[5].1).abs() < 1e-3);
        assert!(near, "{places:?}");
    }
    let mut walk = Walk::new(under(1.5, -1.0, 2.0), tuned(|v| v.stance.rise = Rise::Asked), [-2.0, 0.0, 0.0]);
    walk.go(1.0 / 60.0, 1.0, east().in_stance(Stance::Crouch));
    walk.go(1.0 / 60.0, 2.0, east());
    assert!(walk.hero.position.x > 3.0 && walk.hero.stance == Stance::Crouch, "{}", walk.hero.position);
    walk.tick(1.0 / 60.0, stance(Stance::Crouch));
    walk.tick(1.0 / 60.0, stance(Stance::Stand));
    assert_eq!(walk.hero.stance, Stance::Stand);
}

#[test]
fn what_crawls_out_from_under_something_does_not_jump_aside_to_stand_up_sooner() {
    // Lying flat it is narrower by 5 cm; what rises may move aside by half as much again.
    let low = |v: &mut TuningValues| {
        v.size.radius = 0.35;
        v.prone = Some(LowStance { radius: Some(0.3), guard: false, ..LowStance::prone() });
    };
    for rate in SIX_RATES {
        let mut walk = Walk::new(under(0.7, -3.0, 0.0), tuned(low), [-6.0, 0.0, 0.0]);
        walk.go(1.0 / rate, 1.0, stance(Stance::Prone));
        walk.go(1.0 / rate, 6.5, east().in_stance(Stance::Prone));
        assert!(walk.hero.position.x < 0.0 && walk.hero.stance == Stance::Prone, "{}", walk.hero.position);
        while walk.hero.position.x < 2.0 {
            let before = walk.hero.position.x;
            walk.go(1.0 / rate, 1.0 / rate, east());
            let (gone, walked) = (walk.hero.position.x - before, walk.hero.velocity.length() / rate);
            assert!(gone < walked + 0.076, "{rate} Hz: {gone} m on in a tick at {before}");
        }
    }
}

#[test]
fn a_low_stance_refuses_a_button_stands_up_instead_or_does_it_low() {
    for (allows, button) in [Allows::No, Allows::Stand, Allows::Yes]
        .into_iter()
        .flat_map(|a| [Button::Jump, Button::Dash, Button::Sprint].map(|b| (a, b)))
    {
        let tuning = tuned(|v| {
            v.crouch = Some(LowStance { jump: allows, sprint: allows, dash: allows, ..LowStance::crouch() });
            v.dash = Some(newel::Dash::default());
        });
        let mut walk = Walk::new(World::new().floor(40.0, 0.0), tuning, [0.0; 3]);
        let low = east().in_stance(Stance::Crouch);
        walk.go(1.0 / 60.0, 1.0, low);
        assert!((walk.hero.velocity.x - 2.25).abs() < 1e-5, "{}", walk.hero.velocity);
        walk.events.clear();
        walk.go(1.0 / 60.0, 0.1, low.hold(button));
        let done = match button {
            Button::Jump => walk.first(|k| matches!(k, EventKind::Jumped { .. })).is_some(),
            Button::Dash => walk.first(|k| *k == EventKind::Dashed).is_some(),
            _ => walk.hero.marks.sprinting() && walk.hero.stance == Stance::Crouch,
        };
        assert_eq!(done, allows == Allows::Yes, "{allows:?} {button:?}");
        let stood = walk.hero.stance == Stance::Stand;
        assert_eq!(stood, allows == Allows::Stand, "{allows:?} {button:?}: {:?}", walk.hero.stance);
        let refused = walk.first(|k| matches!(k, EventKind::Refused { why: Refusal::TooLow, .. })).is_some();
        assert_eq!(refused, allows == Allows::No, "{:?}", kinds(&walk));
        if allows == Allows::Stand && button == Button::Sprint {
            assert!(walk.hero.marks.sprinting(), "and sprints");
        }
    }
}

#[test]
fn what_leaves_the_ground_low_stands_up_keeps_low_or_changes_as_it_likes() {
    for (air, falling, asked_there) in
        [(Aloft::Stand, false, false), (Aloft::Keep, true, false), (Aloft::Any, true, true)]
    {
        let tuning = tuned(|v| v.crouch = Some(LowStance { air, ..LowStance::crouch() }));
        let world = || World::new().block([-9.0, -1.0, -9.0], [2.0, 0.0, 9.0]).floor(30.0, -8.0);
        let mut walk = Walk::new(world(), tuning, [0.0; 3]);
        walk.go(1.0 / 60.0, 1.3, east().in_stance(Stance::Crouch));
        assert!(walk.airborne(), "{}", walk.hero.position);
        assert_eq!(walk.hero.stance == Stance::Crouch, falling, "{air:?}");
        let mut walk = Walk::new(world(), tuning, [0.0; 3]);
        walk.go(1.0 / 60.0, 0.8, east());
        assert!(walk.airborne());
        walk.go(1.0 / 60.0, 0.1, east().in_stance(Stance::Crouch));
        assert_eq!(walk.hero.stance == Stance::Crouch, asked_there, "{air:?}");
        walk.go(1.0 / 60.0, 2.0, stance(Stance::Crouch));
        assert_eq!(
            (walk.hero.mode, walk.hero.stance),
            (Mode::Ground, Stance::Crouch),
            "{air:?}: it was asked for all along"
        );
    }
}

/// Whether the shape of a stance fits where the character is, by every triangle and with `spare` to spare.
fn fits(walk: &Walk, stance: Stance, spare: f64) -> bool {
    let (shape, up) = (walk.tuning.shape_in(stance), walk.real.up.as_dvec3());
    let (radius, height) = (f64::from(shape.radius), f64::from(shape.height));
    let corner = |i: u32| DVec3::from_array(walk.world.corners[i as usize]);
    let free = |shift: f64, over: f64| {
        let feet = walk.real.position + up * shift;
        let (low, high) = (feet + up * (radius + over), feet + up * (height - radius + spare));
        let mut triangles = walk.world.indices.chunks_exact(3).map(|t| [corner(t[0]), corner(t[1]), corner(t[2])]);
        triangles.all(|t| segment_to_triangle(low, high, t) > radius + spare)
    };
    // In the air its middle stays, or its feet; on the ground they do, and what they stand on is not in its way.
    let middle = 0.5 * (f64::from(walk.tuning.shape_in(walk.real.stance).height) - height);
    match walk.real.mode {
        Mode::Air => free(middle, -spare) || free(0.0, -spare),
        _ => free(0.0, 0.01),
    }
}

/// Slabs and blocks hung at all heights over a floor with some steps, gaps between them.
fn rooms(dice: &mut Dice) -> World {
    let mut world = World::new().floor(30.0, 0.0);
    for _ in 0..24 {
        let (x, z) = (dice.between(-5.0, 4.0), dice.between(-5.0, 4.0));
        let (wide, deep) = (dice.between(0.3, 2.5), dice.between(0.3, 2.5));
        let height = dice.between(0.2, 1.9);
        world = world.block([x, height, z], [x + wide, height + dice.between(0.05, 1.0), z + deep]);
    }
    for _ in 0..3 {
        let (x, z, high) = (dice.between(-5.0, 5.0), dice.between(-5.0, 5.0), dice.between(0.05, 0.5));
        world = world.block([x, -1.0, z], [x + dice.between(0.5, 2.0), high, z + dice.between(0.5, 2.0)]);
    }
    world
}

#[test]
fn under_ceilings_of_every_height_nothing_overlaps_and_what_has_room_stands() {
    let (mut roomy, mut ticks, mut waits, mut deepest) = (0, 0, [0; 3], 0.0f64);
    for frame in every_frame() {
        for seed in 0..300u64 {
            let mut dice = Dice(seed * 3 + frame as u64);
            let world = rooms(&mut dice);
            let tuning = tuned(|v| {
                let yes = |low: LowStance| LowStance { jump: Allows::Yes, air: Aloft::Any, ..low };
                let radius = [None, Some(0.2)][seed as usize % 2];
                v.crouch = Some(LowStance { radius, ..yes(LowStance::crouch()) });
                v.prone = Some(LowStance { height: Some(0.5), guard: false, ..yes(LowStance::prone()) });
            });
            let Some(mut walk) = Walk::try_new(world, tuning, [dice.between(-5.0, 5.0), 0.0, dice.between(-5.0, 5.0)])
            else {
                continue;
            };
            roomy += 1;
            let rate = [30.0, 60.0, 120.0][seed as usize % 3];
            let (mut wanted, mut intent, mut late) = (Stance::Stand, Intent::default(), 0);
            let skin = f64::from(tuning.shape_in(Stance::Prone).skin());
            for _ in 0..(8.0 * rate) as u64 {
                if dice.between(0.0, 1.0) < 2.5 / rate {
                    wanted =
                        [Stance::Stand, Stance::Crouch, Stance::Prone, Stance::Stand][dice.between(0.0, 4.0) as usize];
                    let angle = dice.between(0.0, 6.3) as f32;
                    intent = Intent::toward(Vec3::new(angle.cos(), 0.0, angle.sin()) * dice.between(0.0, 1.5) as f32);
                    for (button, often) in [(Button::Jump, 0.3), (Button::Slide, 0.4), (Button::Sprint, 0.3)] {
                        if dice.between(0.0, 1.0) < often {
                            intent = intent.hold(button);
                        }
                    }
                    if dice.between(0.0, 1.0) < 0.05 {
                        let velocity =
                            DVec3::new(dice.between(-4.0, 4.0), dice.between(0.0, 9.0), dice.between(-4.0, 4.0));
                        walk.commands.push(Command::Launch(Launch::at(velocity)));
                    }
                }
                walk.tick(1.0 / rate, intent.in_stance(wanted));
                ticks += 1;
                let gap = walk.gap();
                deepest = deepest.min(gap / skin);
                assert!(gap > -skin, "seed {seed}: {gap} m deep, {:?}", walk.hero.stance);
                let waits_now = wanted < walk.hero.stance && walk.hero.mode != Mode::Slide;
                late = if waits_now && fits(&walk, wanted, 2e-4) { late + 1 } else { 0 };
                waits[walk.hero.mode as usize] += u32::from(waits_now);
                assert!(
                    late < 2,
                    "seed {seed}: it has had room for {late} ticks, {:?} {}",
                    walk.hero.mode,
                    walk.hero.position
                );
                let lost = walk.first(|k| matches!(k, EventKind::TimeDropped { .. } | EventKind::Stuck));
                assert!(lost.is_none(), "seed {seed}: {lost:?}");
            }
        }
    }
    println!(
        "{roomy} rooms, {ticks} ticks, {waits:?} waiting for room on the ground and in the air, deepest {:.3} skins",
        -deepest
    );
    assert!(ticks > 100_000 && waits[0] > 3_000 && waits[1] > 500, "{ticks} {waits:?}");
}

#[test]
fn a_spawn_says_what_has_room_in_which_stance() {
    let mesh = under(1.8 - 0.008, -3.0, 3.0).mesh();
    let tuning = tuned(|_| {});
    let spawn =
        |stance| Character::spawn(&mesh, &tuning, Spawn::at([0.0; 3]).in_stance(stance)).map(|hero| hero.stance);
    assert!(spawn(Stance::Stand).is_err(), "lower by less than the skin is too low all the same");
    assert_eq!(spawn(Stance::Crouch), Ok(Stance::Crouch));
    assert_eq!(spawn(Stance::Prone), Ok(Stance::Prone));
}

#[test]
fn what_the_tuning_lacks_or_the_game_forbids_is_refused_by_name() {
    let mut walk = Walk::new(World::new().floor(9.0, 0.0), tuned(|v| v.prone = None), [0.0; 3]);
    walk.tick(0.01, stance(Stance::Prone));
    let refused = |why| move |k: &EventKind| matches!(k, EventKind::Refused { why: w, .. } if *w == why);
    assert!(walk.first(refused(Refusal::NotTuned)).is_some() && walk.hero.stance == Stance::Stand);
    walk.modifiers.can_crouch = false;
    walk.tick(0.01, stance(Stance::Crouch));
    assert!(walk.first(refused(Refusal::SwitchedOff)).is_some() && walk.hero.stance == Stance::Stand);
    walk.modifiers.can_crouch = true;
    walk.tick(0.01, stance(Stance::Crouch));
    assert_eq!(walk.hero.stance, Stance::Crouch, "it still asks for it");
    walk.go(0.01, 1.0, stance(Stance::Crouch));
    walk.modifiers.can_crouch = false;
    walk.tick(0.01, stance(Stance::Crouch));
    assert_eq!(walk.hero.stance, Stance::Stand);
}
