//! Jumps against their formulas: heights, times, what forgives, and what refuses.

use crate::common::script::Script;
use crate::common::{SIX_RATES, Walk, World, east, every_frame};
use newel::glam::DVec3;
use newel::{Ability, Button, EventKind, Intent, Jump, Off, Phase, Refusal, Tuning, TuningValues};

fn tuned(change: impl Fn(&mut TuningValues, &mut Jump)) -> Tuning {
    let mut values = TuningValues::default();
    let mut jump = Jump { height: 1.2, time_to_top: Some(0.4), ..Jump::default() };
    change(&mut values, &mut jump);
    values.jump = Some(jump);
    Tuning::new(values).expect("a tuning")
}

fn on_a_floor(tuning: Tuning) -> Walk {
    Walk::new(World::new().floor(200.0, 0.0), tuning, [0.0; 3])
}

fn time_of(walk: &Walk, kind: impl Fn(&EventKind) -> bool) -> f64 {
    walk.first(&kind).unwrap_or_else(|| panic!("{:?}", walk.events)).time
}

fn is_jump(kind: &EventKind) -> bool {
    matches!(kind, EventKind::Jumped { .. })
}
fn is_landing(kind: &EventKind) -> bool {
    matches!(kind, EventKind::Landed { .. })
}

#[test]
fn every_preset_rises_and_falls_as_it_says() {
    for _ in every_frame() {
        for preset in Tuning::PRESETS {
            let tuning = Tuning::preset(preset).unwrap();
            let Some(jump) = tuning.values().jump else { continue };
            for rate in SIX_RATES {
                let mut walk = on_a_floor(tuning);
                walk.go(1.0 / rate, 3.0, Intent::default().hold(Button::Jump));
                let top = *walk.first(|k| *k == EventKind::Topped).expect("a top");
                let near = |found: f64, tuned: f32| (found / f64::from(tuned) - 1.0).abs() < 1e-4;
                assert!(near(top.place.y, jump.height), "{preset}, {rate} Hz: {}", top.place.y);
                assert!(near(top.time, jump.time_to_top.unwrap()), "{preset}, {rate} Hz: {}", top.time);
                if let Some(down) = jump.time_down.filter(|_| tuning.values().air.terminal.is_none_or(|t| t > 12.0)) {
                    let took = time_of(&walk, is_landing) - top.time;
                    assert!(near(took, down), "{preset}, {rate} Hz: down in {took}");
                }
            }
        }
    }
}

#[test]
fn no_preset_is_hurt_by_its_own_jumps() {
    for preset in Tuning::PRESETS {
        let tuning = Tuning::preset(preset).unwrap();
        let Some(jump) = tuning.values().jump else { continue };
        let mut walk = on_a_floor(tuning);
        // Every jump that it has, each from the top of the one before.
        for _ in 0..=jump.extra as usize {
            walk.go(1.0 / 60.0, 1.0 / 60.0, Intent::default());
            walk.go(1.0 / 60.0, 1.0 / 60.0, Intent::default().hold(Button::Jump));
            while walk.hero.velocity.y > 0.0 {
                walk.go(1.0 / 60.0, 1.0 / 60.0, Intent::default().hold(Button::Jump));
            }
        }
        walk.go(1.0 / 60.0, 5.0, Intent::default());
        let jumps = walk.events.iter().filter(|e| is_jump(&e.kind)).count();
        assert_eq!(jumps, 1 + jump.extra as usize, "{preset}");
        let landing = walk.first(is_landing).expect("a landing");
        let EventKind::Landed { hardness, damage, fell, .. } = landing.kind else { unreachable!() };
        assert_eq!((hardness, damage), (0.0, 0.0), "{preset} fell {fell} m");
    }
}

#[test]
fn past_the_rims_of_steps_it_rises_and_loses_at_most_a_step_of_its_jump() {
    let tuning = tuned(|_, jump| jump.buffer = 0.0);
    let step = f64::from(tuning.values().ground.step);
    let (mut all, mut topped) = (0, 0);
    for _ in every_frame() {
        for (rise, tread) in [(0.25, 0.3), (0.3, 0.25), (0.15, 0.2)] {
            for (rate, n) in SIX_RATES.into_iter().flat_map(|rate| (0..10).map(move |n| (rate, n))) {
                let world = World::new().floor(30.0, 0.0).and(World::new().stairs(1.0, rise, tread, 24, 4.0));
                let mut walk = Walk::new(world, tuning, [-1.0, 0.0, 0.0]);
                let press = 0.5 + 0.0317 * f64::from(n);
                walk.play(&Script::new().head(0.0, 1.0, 0.0).press(press, Button::Jump, 1.0), 1.0 / rate, 1.4);
                let jumped = *walk.first(is_jump).expect("a jump");
                let landed = *walk.first(is_landing).expect("a landing");
                let top = walk.first(|k| *k == EventKind::Topped).filter(|top| top.time < landed.time);
                let shown = format!("steps of {rise} by {tread}, {rate} Hz, pressed at {press:.3} s");
                let rose = top.unwrap_or(&landed).place.y - jumped.place.y;
                // A rim met at its widest is upright but for rounding, and lends less than a millimetre.
                let least = if top.is_some() { 1.2 - 1e-3 } else { 1.2 - step - 1e-3 };
                assert!((least..1.2 + 1e-3).contains(&rose), "{shown}: rose {rose}");
                (all, topped) = (all + 1, topped + i32::from(top.is_some()));
            }
        }
    }
    assert!(topped > 0 && topped < all, "{topped} of {all} came to their top");
}

#[test]
fn letting_go_lowers_the_top_from_full_to_tap_and_never_the_other_way() {
    let tuning = tuned(|_, j| (j.tap_height, j.hang_speed) = (Some(0.4), 1.5));
    let top = |rate: f64, held: f64| {
        let mut walk = on_a_floor(tuning);
        walk.play(&Script::new().press(0.0103, Button::Jump, held), 1.0 / rate, 1.2);
        walk.first(|k| *k == EventKind::Topped).expect("a top").place.y
    };
    let heights: Vec<f64> = (0..=45).map(|i| top(60.0, 0.01 * f64::from(i))).collect();
    assert!((heights[0] - 0.4).abs() < 1e-4 && (heights[45] - 1.2).abs() < 1e-4, "{heights:?}");
    assert!(heights.windows(2).all(|w| w[1] >= w[0] - 1e-6 && w[1] - w[0] < 0.06), "{heights:?}");
    for held in [0.0, 0.137, 0.291] {
        for rate in SIX_RATES {
            let off = top(rate, held) - top(60.0, held);
            assert!(off.abs() < 1e-5, "held {held} s at {rate} Hz: {off}");
        }
    }
}

#[test]
fn lost_ground_can_be_jumped_from_for_as_long_as_tuned() {
    for _ in every_frame() {
        for (rate, early) in SIX_RATES.into_iter().flat_map(|rate| [(rate, true), (rate, false)]) {
            let world = World::new().block([-9.0, -1.0, -5.0], [0.0, 4.0, 5.0]);
            let tuning = tuned(|_, j| (j.coyote, j.buffer) = (0.1, 0.0));
            let mut walk = Walk::new(world.clone(), tuning, [-2.0, 4.0, 0.0]);
            walk.go(1.0 / rate, 1.0, east());
            let left = time_of(&walk, |k| matches!(k, EventKind::LeftGround { .. }));
            let press = left + 0.1 + if early { -1e-3 } else { 1e-3 };
            let mut walk = Walk::new(world, tuning, [-2.0, 4.0, 0.0]);
            walk.play(&Script::new().head(0.0, 1.0, 0.0).press(press, Button::Jump, 0.5), 1.0 / rate, press + 0.45);
            let refused = EventKind::Refused { ability: Ability::Jump, why: Refusal::InTheAir };
            if early {
                let jumped = *walk.first(is_jump).expect("a jump");
                assert_eq!(jumped.kind, EventKind::Jumped { off: Off::LostGround });
                let top = walk.first(|k| *k == EventKind::Topped).expect("a top");
                assert!((top.place.y - jumped.place.y - 1.2).abs() < 1e-4, "{rate} Hz");
            } else {
                assert!((time_of(&walk, |k| *k == refused) - press).abs() < 1e-9 && walk.first(is_jump).is_none());
            }
        }
    }
}

#[test]
fn a_press_too_early_jumps_on_landing_or_is_refused_when_its_time_is_over() {
    let tuning = tuned(|_, j| (j.buffer, j.tap_height) = (0.1, Some(0.4)));
    let fall = |rate: f64, script: &Script| {
        let mut walk = Walk::new(World::new().floor(9.0, 0.0), tuning, [0.0, 3.0, 0.0]);
        walk.play(script, 1.0 / rate, 1.5);
        walk
    };
    for rate in SIX_RATES {
        let landing = time_of(&fall(rate, &Script::new()), is_landing);
        let early = fall(rate, &Script::new().press(landing - 0.101, Button::Jump, 0.05));
        let refused = time_of(&early, |k| matches!(k, EventKind::Refused { why: Refusal::InTheAir, .. }));
        assert!((refused - (landing - 0.001)).abs() < 1e-6 && early.first(is_jump).is_none(), "{rate} Hz");
        // Held to the end it is a full jump; let go before the landing, a tap.
        for (held, height) in [(0.6, 1.2), (0.05, 0.4)] {
            let walk = fall(rate, &Script::new().press(landing - 0.099, Button::Jump, held));
            assert_eq!(time_of(&walk, is_jump), time_of(&walk, is_landing), "{rate} Hz: in the same instant");
            let top = walk.first(|k| *k == EventKind::Topped).expect("a top").place.y;
            assert!((top - height).abs() < 1e-4, "{rate} Hz, held {held}: {top}");
        }
    }
}

#[test]
fn jumps_in_the_air_are_as_many_and_as_high_as_tuned_and_come_back_on_landing() {
    let tuning = tuned(|_, j| (j.extra, j.extra_height, j.buffer) = (2.0, Some(0.7), 0.0));
    let mut walk = on_a_floor(tuning);
    let mut script = Script::new();
    for press in [0.1, 0.6, 1.1, 1.4, 3.0, 3.3] {
        script = script.press(press, Button::Jump, 0.05);
    }
    walk.play(&script, 1.0 / 60.0, 4.0);
    let offs =
        |off| walk.events.iter().filter(move |e| e.kind == EventKind::Jumped { off }).map(|e| (e.time, e.place.y));
    let air: Vec<_> = offs(Off::Air).collect();
    let at = |found: Vec<f64>, times: &[f64]| {
        found.iter().zip(times).all(|(a, b)| (a - b).abs() < 1e-9) && found.len() == times.len()
    };
    assert!(at(offs(Off::Ground).map(|j| j.0).collect(), &[0.1, 3.0]), "{:?}", walk.events);
    assert!(at(air.iter().map(|j| j.0).collect(), &[0.6, 1.1, 3.3]), "{air:?}");
    assert!((time_of(&walk, |k| matches!(k, EventKind::Refused { .. })) - 1.4).abs() < 1e-9, "the third in the air");
    let tops: Vec<_> = walk.events.iter().filter(|e| e.kind == EventKind::Topped).map(|e| e.place.y).collect();
    assert!((tops[1] - air[0].1 - 0.7).abs() < 1e-4, "falling: its own height from where it is");
    // Still rising faster than it would take off: a second jump never costs height.
    assert!(tops.last().unwrap() - air[2].1 >= 0.7 - 1e-4);
    // One table absent, one switch off: nothing jumps.
    let mut none = on_a_floor(tuning);
    none.modifiers.can_jump = false;
    none.play(&script, 1.0 / 60.0, 2.0);
    let never = Tuning::new(TuningValues { jump: None, ..TuningValues::default() }).unwrap();
    let mut never = on_a_floor(never);
    never.play(&script, 1.0 / 60.0, 2.0);
    for (walk, why) in [(none, Refusal::SwitchedOff), (never, Refusal::NotTuned)] {
        let refused = EventKind::Refused { ability: Ability::Jump, why };
        assert!(walk.events.iter().all(|e| e.kind == refused) && walk.events.len() == 4, "{:?}", walk.events);
    }
}

#[test]
fn a_jump_off_a_slope_goes_up_or_along_its_normal_to_the_same_height() {
    let slope = 30f64.to_radians();
    let normal = DVec3::new(-slope.sin(), slope.cos(), 0.0);
    for (lean, way) in [(0.0, DVec3::Y), (1.0, normal)] {
        let world = World::new().plane(DVec3::ZERO, normal, 40.0);
        let tuning = tuned(|_, j| j.lean = lean);
        let mut walk = Walk::new(world, tuning, [0.0, 0.0464102, 0.0]);
        walk.go(1.0 / 60.0, 0.5, Intent::default());
        let from = walk.hero.position.y;
        walk.go(1.0 / 60.0, 0.41, Intent::default().hold(Button::Jump));
        let velocity = walk.first(is_jump).expect("a jump").velocity;
        assert!((velocity / velocity.length() - way).length() < 1e-6, "lean {lean}: {velocity}");
        let top = walk.first(|k| *k == EventKind::Topped).expect("a top").place.y;
        assert!((top - from - 1.2).abs() < 1e-4, "lean {lean}: {}", top - from);
    }
}

#[test]
fn a_corner_overhead_ends_the_rise_or_is_passed_where_tuned() {
    for (rate, nudge) in SIX_RATES.into_iter().flat_map(|rate| [(rate, 0.0), (rate, 0.2)]) {
        // A beam that reaches 0.25 m over the head: the middle of the head is inside its edge, by less than the nudge.
        let world = World::new().floor(20.0, 0.0).block([-5.0, 2.3, -5.0], [0.05, 2.6, 5.0]);
        let tuning = tuned(|_, j| (j.nudge, j.height) = (nudge, 1.6));
        let mut walk = Walk::new(world, tuning, [0.2, 0.0, 0.0]);
        walk.go(1.0 / rate, 0.6, Intent::default().hold(Button::Jump));
        let top = walk.events.iter().map(|e| e.place.y).fold(0.0, f64::max);
        if nudge > 0.0 {
            let nudged = walk.first(|k| matches!(k, EventKind::Nudged { .. })).expect("a nudge");
            let EventKind::Nudged { distance } = nudged.kind else { unreachable!() };
            assert!(distance > 0.1 && distance <= 0.2, "{rate} Hz: {distance}");
            assert!(
                (top - 1.6).abs() < 1e-3 && walk.first(|k| matches!(k, EventKind::Bumped { .. })).is_none(),
                "{rate} Hz: {top}"
            );
        } else {
            assert!(walk.first(|k| matches!(k, EventKind::Bumped { .. })).is_some() && top < 1.3, "{rate} Hz: {top}");
            assert_ne!(walk.hero.phase, Phase::Rising);
        }
    }
}
