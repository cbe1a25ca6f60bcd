//! Hovering: it glides, keeps what it is to keep, slides along things, and ends on the ground or in the air at once.

use crate::common::oracle::Dice;
use crate::common::{SIX_RATES, Walk, World, every_frame};
use newel::glam::{DVec3, Vec3};
use newel::{
    Button, Character, Command, EventKind, Holds, Hover, Intent, Launch, Mode, Modifiers, Refusal, Spawn, Stance, Tick,
    Tuning, TuningValues, Workspace,
};

fn tuned(change: impl Fn(&mut Hover)) -> Tuning {
    let mut hover = Hover::default();
    change(&mut hover);
    Tuning::new(TuningValues { hover: Some(hover), ..TuningValues::default() }).expect("a tuning")
}

/// Presses hover for a tick, and lets it go.
fn toggle(walk: &mut Walk, dt: f64, intent: Intent) {
    walk.tick(dt, intent.hold(Button::Hover));
}

/// Steps and a chasm of 6 m between two quays, with a wall at the far end.
fn jetty() -> World {
    World::new()
        .block([-4.0, -6.0, -4.0], [2.0, 0.0, 4.0])
        .block([8.0, -6.0, -4.0], [20.0, 0.0, 4.0])
        .block([14.0, 0.0, -4.0], [20.0, 6.0, 4.0])
        .floor(30.0, -6.0)
}

#[test]
fn it_glides_by_the_formula_keeps_its_height_over_a_chasm_and_drifts_to_a_stop() {
    for frame in every_frame() {
        let ends = SIX_RATES.map(|rate| {
            let mut walk = Walk::new(jetty(), tuned(|_| {}), [-2.0, 0.5, 0.0]);
            let east = Intent::toward(Vec3::X);
            toggle(&mut walk, 1e-9, Intent::default());
            let begun = walk.hero.clock;
            let height = walk.hero.position.y;
            while walk.hero.clock < begun + 2.0 - 1e-9 {
                let dt = (1.0 / rate).min(begun + 2.0 - walk.hero.clock);
                walk.tick(dt, east);
                assert!((walk.hero.position.y - height).abs() < 1e-6, "{rate} Hz: {}", walk.hero.position.y - height);
            }
            // 5 m/s at 8 m/s², then on.
            let formula = -2.0 + 5.0 * 2.0 - 0.5 * 5.0 * 5.0 / 8.0;
            assert!((walk.hero.position.x - formula).abs() < 1e-3, "{frame} {rate} Hz: {}", walk.hero.position);
            walk.go(1.0 / rate, 3.0, Intent::default());
            assert_eq!(walk.hero.velocity, DVec3::ZERO);
            let stopped = formula + 5.0 * 5.0 / 3.0 / 2.0;
            assert!((walk.hero.position.x - stopped).abs() < 1e-3, "{frame} {rate} Hz: {}", walk.hero.position);
            (walk.hero.position.y - height, walk.hero.position.x)
        });
        for (off, x) in ends {
            assert!(off.abs() < 2e-3 && (x - ends[5].1).abs() < 1e-3, "{ends:?}");
        }
    }
}

#[test]
fn it_slides_along_walls_and_is_pushed_back_to_its_height_after_a_ramp() {
    for rate in SIX_RATES {
        let ramp = World::new().floor(30.0, 0.0).quad(
            DVec3::new(2.0, 0.0, -3.0),
            DVec3::new(2.0, 0.0, 3.0),
            DVec3::new(4.0, 1.0, 3.0),
            DVec3::new(4.0, 1.0, -3.0),
        );
        let mut walk = Walk::new(ramp.block([12.0, 0.0, -20.0], [13.0, 9.0, 20.0]), tuned(|_| {}), [0.0, 0.3, 0.0]);
        toggle(&mut walk, 1e-9, Intent::default());
        assert_eq!(walk.hero.mode, Mode::Hover);
        walk.go(1.0 / rate, 1.1, Intent::toward(Vec3::X));
        assert!(walk.hero.position.y > 0.6, "{rate} Hz: up the ramp: {}", walk.hero.position);
        walk.go(1.0 / rate, 3.0, Intent::toward(Vec3::new(1.0, 0.0, 0.5).normalize()));
        let (place, way) = (walk.hero.position, walk.hero.velocity);
        assert!((place.x - 11.7).abs() < 2e-3 && (place.y - 0.3).abs() < 2e-3, "{rate} Hz: {place}");
        assert!((way.z - 5.0 * 0.5 / 1.25f64.sqrt()).abs() < 1e-3, "{rate} Hz: along the wall: {way}");
        assert!(walk.first(|k| matches!(k, EventKind::Landed { .. } | EventKind::TimeDropped { .. })).is_none());
    }
}

#[test]
fn it_ends_on_the_ground_or_in_the_air_in_the_same_tick() {
    for (height, mode) in [(0.0, Mode::Ground), (2.0, Mode::Air)] {
        let mut walk = Walk::new(World::new().floor(9.0, 0.0), tuned(|_| {}), [0.0, height, 0.0]);
        toggle(&mut walk, 1e-3, Intent::default());
        walk.go(1.0 / 60.0, 0.5, Intent::toward(Vec3::X));
        assert_eq!(walk.hero.mode, Mode::Hover);
        let speed = walk.hero.velocity.x;
        toggle(&mut walk, 1e-9, Intent::toward(Vec3::X));
        assert_eq!((walk.hero.mode, walk.hero.phase), (mode, newel::Phase::Plain));
        assert!(
            (walk.hero.velocity.x - speed).abs() < 1e-6
                && walk.events.last().map(|e| e.kind) == Some(EventKind::HoverEnded)
        );
    }
    let mut walk = Walk::new(World::new().floor(9.0, 0.0), Tuning::walker(), [0.0; 3]);
    toggle(&mut walk, 1.0 / 60.0, Intent::default());
    let refused = |k: &EventKind| matches!(k, EventKind::Refused { why: Refusal::NotTuned, .. });
    assert!(walk.first(refused).is_some() && walk.hero.mode == Mode::Ground);
    let mut walk = Walk::new(World::new().floor(9.0, 0.0), tuned(|_| {}), [0.0, 2.0, 0.0]);
    toggle(&mut walk, 1.0 / 60.0, Intent::default());
    walk.modifiers.can_hover = false;
    walk.tick(1.0 / 60.0, Intent::default());
    assert_eq!(walk.hero.mode, Mode::Air, "what is switched off ends");
}

#[test]
fn over_the_ground_it_follows_the_ground_and_free_it_goes_up_and_down() {
    for rate in [30.0, 144.0] {
        let steps = World::new().floor(30.0, 0.0).block([3.0, 0.0, -4.0], [30.0, 0.8, 4.0]);
        let over = tuned(|h| (h.holds, h.over) = (Holds::Ground, 0.9));
        let mut walk = Walk::new(steps, over, [0.0, 0.3, 0.0]);
        toggle(&mut walk, 1e-9, Intent::default());
        walk.go(1.0 / rate, 2.0, Intent::default());
        assert!((walk.hero.position.y - 0.9).abs() < 0.002, "{}", walk.hero.position);
        walk.go(1.0 / rate, 4.0, Intent::toward(Vec3::X));
        assert!((walk.hero.position.y - 1.7).abs() < 0.002 && walk.hero.position.x > 9.0, "{}", walk.hero.position);
        let free = tuned(|h| h.holds = Holds::Nothing);
        let mut walk = Walk::new(World::new().floor(30.0, 0.0), free, [0.0, 0.3, 0.0]);
        toggle(&mut walk, 1e-9, Intent::default());
        walk.go(1.0 / rate, 1.0, Intent::default().hold(Button::Jump));
        assert!((walk.hero.velocity.y - 3.0).abs() < 1e-6, "{}", walk.hero.velocity);
        walk.go(1.0 / rate, 1.5, Intent::default());
        assert_eq!(walk.hero.velocity, DVec3::ZERO);
        let high = walk.hero.position.y;
        walk.go(1.0 / rate, 0.6, Intent::default().in_stance(Stance::Crouch));
        assert!(walk.hero.position.y < high - 0.5, "{} {high}", walk.hero.position);
    }
}

#[test]
fn in_random_caves_of_blocks_it_overlaps_nothing_and_loses_no_time() {
    let (mut ticks, mut deepest) = (0u64, 0.0f64);
    for seed in 0..60 {
        let mut dice = Dice(seed * 19 + 4);
        let mut world = World::new().floor(20.0, 0.0);
        for _ in 0..40 {
            let low = [dice.between(-5.0, 5.0), dice.between(-0.5, 4.0), dice.between(-5.0, 5.0)];
            let size = [dice.between(0.1, 2.0), dice.between(0.1, 1.5), dice.between(0.1, 2.0)];
            world = world.block(low, [0, 1, 2].map(|i| low[i] + size[i]));
        }
        let holds = [Holds::Height, Holds::Ground, Holds::Nothing][dice.pick(3)];
        let Some(mut walk) = Walk::try_new(world, tuned(|h| h.holds = holds), [0.0, dice.between(0.0, 3.0), 0.0])
        else {
            continue;
        };
        let rate = [15.0, 60.0, 240.0][dice.pick(3)];
        toggle(&mut walk, 1e-3, Intent::default());
        for _ in 0..20 {
            let intent =
                Intent::toward(dice.direction().as_vec3()).in_stance([Stance::Stand, Stance::Crouch][dice.pick(2)]);
            let intent = if dice.pick(2) == 0 { intent.hold(Button::Jump) } else { intent };
            for _ in 0..(0.6 * rate) as u32 {
                walk.tick(1.0 / rate, intent);
                ticks += 1;
                let skin = f64::from(walk.tuning.shape_in(walk.hero.stance).skin());
                deepest = deepest.max(-walk.gap() / skin);
            }
        }
        let lost =
            |k: &EventKind| matches!(k, EventKind::TimeDropped { .. } | EventKind::Stuck | EventKind::PushedOut { .. });
        assert!(walk.first(lost).is_none(), "seed {seed} at {rate} Hz: {:?}", walk.first(lost));
    }
    println!("{ticks} ticks, deepest {deepest:.3} skins");
    assert!(ticks > 20_000 && deepest < 0.5, "{ticks} {deepest}");
}

#[test]
fn seen_from_above_it_glides_as_on_ice_also_without_any_gravity() {
    let tuning = Tuning::top_view();
    for (rate, weightless) in SIX_RATES.into_iter().flat_map(|rate| [(rate, false), (rate, true)]) {
        let quay = World::new().block([30.0, -3.0, -9.0], [31.0, 3.0, 9.0]).mesh();
        let start = Spawn::at([0.0; 3]).in_plane(Vec3::Y);
        let start = if weightless { start.pulled(Vec3::ZERO) } else { start };
        let mut hero = Character::spawn(&quay, &tuning, start).expect("a clear place");
        let mut work = Workspace::new();
        let mut go = |hero: &mut Character, end: f64, intent: Intent| {
            while hero.clock < end - 1e-9 {
                let dt = (1.0 / rate).min(end - hero.clock);
                let tick = Tick { number: 0, terrain: &quay, tuning: &tuning, modifiers: &Modifiers::default(), dt };
                tick.step(&mut work, hero, &intent, &[]).expect("a valid tick");
                assert_eq!((hero.mode, hero.position.y), (Mode::Hover, 0.0), "{rate} Hz");
            }
        };
        go(&mut hero, 1e-6, Intent::default().hold(Button::Hover));
        let east = hero.clock;
        go(&mut hero, east + 2.0, Intent::toward(Vec3::X));
        // 6 m/s at 9 m/s², then on; and 4 m/s² back to rest.
        let ran = 6.0 * 2.0 - 0.5 * 6.0 * 6.0 / 9.0;
        assert!((hero.position.x - ran).abs() < 1e-3, "{rate} Hz: {} {ran}", hero.position.x);
        go(&mut hero, east + 4.0, Intent::default());
        assert!((hero.position.x - ran - 6.0 * 6.0 / 8.0).abs() < 1e-3, "{rate} Hz: {}", hero.position.x);
        assert_eq!(hero.velocity, DVec3::ZERO);
    }
}

#[test]
fn thrown_or_put_elsewhere_it_hovers_no_longer_and_says_so() {
    let floor = World::new().floor(20.0, 0.0).mesh();
    let tuning =
        Tuning::new(TuningValues { hover: Some(Hover::default()), ..TuningValues::default() }).expect("a tuning");
    let commands = [Command::Launch(Launch::at(DVec3::Y * 3.0)), Command::Teleport { to: DVec3::ZERO, facing: None }];
    for command in commands {
        let mut hero = Character::spawn(&floor, &tuning, [0.0, 2.0, 0.0]).expect("a clear place");
        let mut work = Workspace::new();
        let modifiers = Modifiers::default();
        let tick = Tick { number: 0, terrain: &floor, tuning: &tuning, modifiers: &modifiers, dt: 0.01 };
        tick.step(&mut work, &mut hero, &Intent::default().hold(Button::Hover), &[]).expect("a valid tick");
        assert_eq!(hero.mode, Mode::Hover);
        let outcome = tick.step(&mut work, &mut hero, &Intent::default(), &[command]).expect("a valid tick");
        let told = outcome.events.iter().filter(|e| e.kind == EventKind::HoverEnded).count();
        assert!(told == 1 && hero.mode != Mode::Hover, "{command:?}: told {told} times, {:?}", hero.mode);
    }
}

#[test]
fn it_brakes_as_tuned_also_while_it_makes_good_its_height() {
    let tuning = tuned(|h| (h.holds, h.over, h.deceleration, h.acceleration) = (Holds::Ground, 1.5, 12.0, 3.0));
    for rate in SIX_RATES {
        let waves = (0..40).fold(World::new(), |world, i| {
            let high = if i % 2 == 0 { 0.0 } else { 0.3 };
            world.block([f64::from(i) - 4.0, -2.0, -9.0], [f64::from(i) - 3.0, high, 9.0])
        });
        let mut walk = Walk::new(waves, tuning, [-3.5, 0.01, 0.0]);
        toggle(&mut walk, 1.0 / rate, Intent::default());
        walk.go(1.0 / rate, 4.0, Intent::toward(Vec3::X));
        let (from, speed) = (walk.hero.position.x, walk.hero.velocity.x);
        walk.go(1.0 / rate, 2.0, Intent::default());
        let way = walk.hero.position.x - from;
        let formula = speed * speed / (2.0 * 12.0);
        assert!(
            speed > 4.0 && way < 1.15 * formula + 0.02,
            "{rate} Hz: {way} m from {speed} m/s, {formula} by the formula"
        );
    }
}
