//! How speed comes and goes: rates, easing, grip, sprint, the way one faces, and what is too fast for the air.

use crate::common::script::Script;
use crate::common::{SIX_RATES, Silent, Walk, World, east, every_frame};
use newel::glam::{DVec3, Vec2, Vec3};
use newel::{
    Allows, Button, Character, Command, Face, Footing, Heading, Intent, Launch, LowStance, Modifiers, Sprint, Stance,
    Tick, Toward, Tuning, TuningValues, Workspace,
};

fn tuned(change: impl Fn(&mut TuningValues)) -> Tuning {
    let mut values = TuningValues::default();
    change(&mut values);
    Tuning::new(values).expect("a tuning")
}

fn on_a_floor(tuning: Tuning) -> Walk {
    Walk::new(World::new().floor(300.0, 0.0), tuning, [0.0; 3])
}

/// The top speed with this held and this wanted.
fn speed(tuning: Tuning, intent: Intent) -> f64 {
    let mut walk = on_a_floor(tuning);
    walk.go(1.0 / 60.0, 3.0, intent);
    walk.hero.velocity.length()
}

#[test]
fn turning_about_brakes_at_its_own_rate_and_less_stick_at_that_of_stopping() {
    let tuning = tuned(|v| (v.ground.acceleration, v.ground.deceleration, v.ground.reversal) = (10.0, 20.0, 50.0));
    let script = Script::new().head(0.0, 1.0, 0.0).head(1.01, -1.0, 0.0).head(2.03, -0.4, 0.0);
    for _ in every_frame() {
        for rate in SIX_RATES {
            let mut walk = on_a_floor(tuning);
            walk.play(&script, 1.0 / rate, 1.01 + 4.5 / 50.0);
            let top = 4.5 * 4.5 / 20.0 + 4.5 * (1.01 - 0.45);
            assert!(
                (walk.hero.position.x - top - 4.5 * 4.5 / 100.0).abs() < 1e-5,
                "{rate} Hz: {}",
                walk.hero.position.x
            );
            assert!(walk.hero.velocity.length() < 1e-4, "{rate} Hz: stopped");
            walk.play(&script, 1.0 / rate, 2.03 + 0.6 * 4.5 / 20.0);
            assert!((walk.hero.velocity.x + 0.4 * 4.5).abs() < 1e-5, "{rate} Hz: {}", walk.hero.velocity.x);
        }
    }
}

#[test]
fn an_eased_walk_follows_its_formula_at_every_rate() {
    let tuning = tuned(|v| (v.ground.ease, v.ground.ease_stop) = (Some(0.2), Some(0.1)));
    for _ in every_frame() {
        for rate in SIX_RATES {
            let mut walk = on_a_floor(tuning);
            walk.play(&Script::new().head(0.0, 1.0, 0.0).head(0.91, 0.0, 0.0), 1.0 / rate, 0.91);
            let gone = 1.0 - (-0.91f64 / 0.2).exp();
            let expected = 4.5 * (0.91 - 0.2 * gone);
            assert!((walk.hero.position.x - expected).abs() < 1e-5, "{rate} Hz: {} {expected}", walk.hero.position.x);
            assert!((walk.hero.velocity.x - 4.5 * gone).abs() < 1e-5, "{rate} Hz");
            walk.go(1.0 / rate, 2.0, Intent::default());
            let stop = expected + 4.5 * gone * 0.1;
            assert!((walk.hero.position.x - stop).abs() < 1e-5, "{rate} Hz: {} {stop}", walk.hero.position.x);
            assert_eq!(walk.hero.velocity, DVec3::ZERO, "{rate} Hz: rest is exactly zero");
        }
    }
}

#[test]
fn ice_takes_grip_and_mud_takes_speed_and_the_readout_says_so() {
    const ICE: u16 = 3;
    let world = World::new().floor(300.0, 0.0);
    let mesh = world.mesh().with_surfaces(&[ICE, ICE]).expect("two");
    for (grip, part) in [(0.1, 1.0), (1.0, 0.4), (0.25, 0.7)] {
        let mesh = mesh.clone().with_footing(ICE, Footing { grip, speed: part });
        let tuning = tuned(|_| {});
        let mut hero = Character::spawn(&mesh, &tuning, [0.0; 3]).expect("a clear place");
        let (mut work, modifiers) = (Workspace::new(), Modifiers { speed: 0.5, ..Modifiers::default() });
        let mut tick = |hero: &mut Character, intent: &Intent| {
            let tick = Tick { number: 0, terrain: &Silent(&mesh), tuning: &tuning, modifiers: &modifiers, dt: 0.02 };
            tick.step(&mut work, hero, intent, &[]).expect("a tick").readout
        };
        // A terrain in between must hand on what its mesh says.
        let plain = (0..200).map(|_| tick(&mut hero, &east())).last().unwrap();
        assert_eq!(plain.speed_factors.surface, 1.0, "one that says nothing has plain footing");
        let tick = Tick { number: 0, terrain: &mesh, tuning: &tuning, modifiers: &modifiers, dt: 0.02 };
        let mut work = Workspace::new();
        let mut step = |hero: &mut Character, i: &Intent| tick.step(&mut work, hero, i, &[]).expect("a tick").readout;
        let there = (0..300).map(|_| step(&mut hero, &east())).last().unwrap();
        assert!((f64::from(there.speed) - 2.25 * f64::from(part)).abs() < 1e-5, "{there:?}");
        assert_eq!((there.speed_factors.surface, there.speed_factors.modifiers), (part, 0.5));
        assert_eq!(there.acceleration_factors.surface, grip);
        let (from, v) = (hero.position.x, f64::from(there.speed));
        (0..600).for_each(|_| _ = step(&mut hero, &Intent::default()));
        let stop = v * v / (2.0 * 35.0 * f64::from(grip));
        assert!((hero.position.x - from - stop).abs() < 1e-4, "grip {grip}: {} {stop}", hero.position.x - from);
    }
}

#[test]
fn a_sprint_needs_its_button_its_cone_and_its_leave() {
    let sprint = |cone: f32| tuned(move |v| v.sprint.as_mut().unwrap().cone = cone);
    let held = |x: f32, ahead: f32| {
        // Looking along -Z, whatever way it goes.
        Intent::new(Heading::View(Vec2::new(x, ahead))).hold(Button::Sprint).facing(Face::View)
    };
    assert!((speed(sprint(180.0), east().hold(Button::Sprint)) - 7.0).abs() < 1e-5);
    assert!((speed(sprint(180.0), east()) - 4.5).abs() < 1e-5);
    assert!((speed(sprint(50.0), held(0.0, 1.0)) - 7.0).abs() < 1e-5, "ahead");
    assert!((speed(sprint(50.0), held(1.0, 1.0)) - 7.0).abs() < 1e-5, "45 degrees");
    assert!((speed(sprint(40.0), held(1.0, 1.0)) - 4.5).abs() < 1e-5, "out of the cone");
    assert!((speed(sprint(50.0), held(0.0, -1.0)) - 4.5).abs() < 1e-5, "backward");
    let none = tuned(|v| v.sprint = None);
    assert!((speed(none, east().hold(Button::Sprint)) - 4.5).abs() < 1e-5, "no table, no sprint");
    let mut barred = on_a_floor(sprint(180.0));
    barred.modifiers.can_sprint = false;
    barred.go(1.0 / 60.0, 2.0, east().hold(Button::Sprint));
    assert!((barred.hero.velocity.x - 4.5).abs() < 1e-5 && !barred.hero.marks.sprinting());
}

#[test]
fn a_cone_about_a_turning_body_lets_sprint_at_the_same_moment_at_every_rate() {
    let tuning = tuned(|v| {
        v.sprint.as_mut().unwrap().cone = 30.0;
        v.turn.rate = 200.0;
    });
    let script = Script::new().head(0.013, 1.0, 0.0).press(0.02, Button::Sprint, 9.0).head(1.517, -0.6, 0.8);
    let end = |rate: f64| {
        let mut walk = on_a_floor(tuning);
        walk.play(&script, 1.0 / rate, 3.0);
        assert!(walk.hero.marks.sprinting());
        walk.hero.position
    };
    for _ in every_frame() {
        let exact = end(1000.0);
        for rate in SIX_RATES {
            assert!((end(rate) - exact).length() < 1e-3, "{rate} Hz: {}", (end(rate) - exact).length());
        }
    }
}

#[test]
fn sideways_and_backward_are_as_fast_as_tuned_but_only_where_the_body_does_not_turn_along() {
    let strafing = tuned(|v| {
        (v.ground.sideways, v.ground.backward) = (0.8, 0.5);
        v.turn.toward = Toward::View;
    });
    let stick = |x: f32, ahead: f32| speed(strafing, Intent::new(Heading::View(Vec2::new(x, ahead)))) / 4.5;
    for (x, ahead, part) in [(0.0, 1.0, 1.0), (1.0, 0.0, 0.8), (-1.0, 0.0, 0.8), (0.0, -1.0, 0.5), (0.6, -0.8, 0.608)] {
        assert!((stick(x, ahead) - part).abs() < 1e-5, "({x}, {ahead}): {}", stick(x, ahead));
    }
    let turning = tuned(|v| (v.ground.sideways, v.ground.backward) = (0.8, 0.5));
    assert!((speed(turning, Intent::toward(Vec3::Z)) - 4.5).abs() < 1e-5);
}

#[test]
fn speed_over_the_airs_top_is_kept_or_eased_down_and_a_sprint_goes_on_or_ends() {
    let flying = |rate: f64, loss: f32, in_air: bool| {
        let tuning = tuned(|v| {
            (v.air.speed, v.air.acceleration, v.air.excess_loss, v.air.gravity) = (0.8, 6.0, loss, 1.0);
            v.sprint.as_mut().unwrap().in_air = in_air;
            v.jump.as_mut().unwrap().time_to_top = Some(2.0);
        });
        let mut walk = on_a_floor(tuning);
        walk.go(1.0 / rate, 1.0, east().hold(Button::Sprint));
        walk.go(1.0 / rate, 1.0, east().hold(Button::Sprint).hold(Button::Jump));
        walk.hero.velocity.x
    };
    for rate in SIX_RATES {
        assert!((flying(rate, 0.0, true) - 7.0).abs() < 1e-5, "{rate} Hz: kept");
        assert!((flying(rate, 1.0, true) - 6.0).abs() < 1e-5, "{rate} Hz: a second's loss");
        assert!((flying(rate, 2.0, true) - 5.6).abs() < 1e-5, "{rate} Hz: no further than 0.8 of the sprint");
        assert!((flying(rate, 2.0, false) - 5.0).abs() < 1e-5, "{rate} Hz: to 0.8 of the walk");
        assert!((flying(rate, 9.0, false) - 3.6).abs() < 1e-5, "{rate} Hz: 0.8 of the walk");
    }
}

#[test]
fn no_fall_is_faster_than_the_fastest() {
    for _ in every_frame() {
        for rate in SIX_RATES {
            let tuning = tuned(|v| v.air.terminal = Some(9.0));
            let mut walk = Walk::new(World::new().floor(50.0, 0.0), tuning, [0.0, 40.0, 0.0]);
            walk.go(1.0 / rate, 2.0, Intent::default());
            let fallen = 9.0 * 9.0 / 36.0 + 9.0 * 1.5;
            assert!((40.0 - walk.hero.position.y - fallen).abs() < 1e-5, "{rate} Hz: {}", walk.hero.position.y);
            // Thrown down faster than that it slows to it.
            walk.commands.push(Command::Launch(Launch::at(DVec3::new(0.0, -18.0, 0.0))));
            walk.go(1.0 / rate, 1.0, Intent::default());
            assert!((walk.hero.velocity.y + 9.0).abs() < 1e-5, "{rate} Hz: {}", walk.hero.velocity.y);
        }
    }
}

#[test]
fn however_fast_it_flies_no_time_is_lost_on_rounding() {
    for _ in every_frame() {
        for speed in [30.0, 300.0, 3000.0] {
            let mut walk = Walk::new(World::new().floor(50.0, 0.0), tuned(|_| {}), [0.0, 10.0, 0.0]);
            let velocity = DVec3::new(0.3, 0.8, -0.52) * speed;
            walk.commands.push(Command::Launch(Launch::at(velocity)));
            walk.go(1.0 / 30.0, 1.0, Intent::toward(Vec3::new(3.0, 0.0, -5.2)));
            assert_eq!(walk.events.iter().map(|e| e.kind).collect::<Vec<_>>(), [newel::EventKind::Launched], "{speed}");
            assert!((walk.hero.velocity.y - velocity.y + 18.0).abs() < 1e-6 * speed, "{}", walk.hero.velocity);
        }
    }
}

#[test]
fn nonsense_from_a_client_moves_nobody() {
    let nonsense = [
        Intent::toward(Vec3::splat(f32::NAN)),
        Intent::new(Heading::TurnAndGo(Vec2::new(f32::INFINITY, 1.0))),
        east().facing(Face::Point(DVec3::splat(f64::NAN))),
        east().looking(Vec3::new(f32::NAN, 0.0, 0.0)),
        east().press_at(-0.1, Button::Jump),
        east().press_at(0.7, Button::Dash),
    ];
    for intent in nonsense {
        let mut walk = on_a_floor(Tuning::brisk_hero());
        let before = *walk.hero.state();
        let clean = intent.sanitised(1.0 / 60.0);
        walk.go(1.0 / 60.0, 1.0, clean);
        assert_eq!((walk.hero.position, walk.hero.facing), (before.position, before.facing), "{intent:?}");
        assert!(walk.events.is_empty() && walk.hero.clock > 0.99);
    }
}

#[test]
fn a_sprint_has_speeds_of_its_own_aside_and_goes_on_strafing_or_not_as_tuned() {
    let ahead_then = |tuning: Tuning, x: f32, ahead: f32, stance: Stance| {
        let mut walk = on_a_floor(tuning);
        let view = |x: f32, ahead: f32| {
            Intent::new(Heading::View(Vec2::new(x, ahead))).hold(Button::Sprint).facing(Face::View).in_stance(stance)
        };
        walk.go(1.0 / 60.0, 2.0, view(0.0, 1.0));
        walk.go(1.0 / 60.0, 2.0, view(x, ahead));
        f64::from(walk.hero.velocity.as_vec3().length())
    };
    let sprint = |change: fn(&mut Sprint)| {
        tuned(move |v| {
            v.turn.toward = Toward::View;
            (v.ground.sideways, v.ground.backward) = (0.9, 0.6);
            let crouch = LowStance { sprint: Allows::Yes, speed: 0.5, ..LowStance::crouch() };
            (v.crouch, v.sprint) = (Some(crouch), Some(Sprint { cone: 30.0, ..Sprint::default() }));
            change(v.sprint.as_mut().unwrap());
        })
    };
    let free = sprint(|s| (s.keeps, s.sideways, s.backward) = (Some(180.0), Some(0.5), Some(0.25)));
    let bound = sprint(|_| ());
    for (tuning, x, ahead, expected) in [
        (free, 0.0, 1.0, 7.0),
        (free, 1.0, 0.0, 7.0 * 0.5),
        (free, 0.0, -1.0, 7.0 * 0.25),
        // Out of the cone it walks, at the ground's speeds.
        (bound, 1.0, 0.0, 4.5 * 0.9),
        (bound, 0.0, -1.0, 4.5 * 0.6),
        (sprint(|s| s.keeps = Some(180.0)), 1.0, 0.0, 7.0 * 0.9),
    ] {
        for (stance, part) in [(Stance::Stand, 1.0), (Stance::Crouch, 0.5)] {
            let found = ahead_then(tuning, x, ahead, stance);
            assert!(
                (found - expected * part).abs() < 1e-4,
                "({x}, {ahead}), {stance:?}: {found}, not {}",
                expected * part
            );
        }
    }
}
