//! Walls, dashes, moves that the game makes, and steps of the feet.

use crate::common::script::Script;
use crate::common::{SIX_RATES, Walk, World, east, every_frame};
use newel::glam::{DVec3, Vec3};
use newel::{
    Ability, Button, Command, Dash, EventKind, Intent, Mode, Off, Phase, Refusal, Tuning, TuningValues, WallJump,
    WallSlide,
};

fn tuned(change: impl Fn(&mut TuningValues)) -> Tuning {
    let mut values = TuningValues { dash: Some(Dash::default()), ..TuningValues::default() };
    (values.wall_slide, values.wall_jump) = (Some(WallSlide::default()), Some(WallJump::default()));
    change(&mut values);
    Tuning::new(values).expect("a tuning")
}

/// In the air beside a wall that faces -x, 40 m up.
fn at_a_wall(tuning: Tuning) -> Walk {
    let world = World::new().floor(50.0, 0.0).block([2.0, 0.0, -20.0], [3.0, 60.0, 20.0]);
    Walk::new(world, tuning, [1.5, 40.0, 0.0])
}

#[test]
fn pressing_into_a_wall_slows_the_fall_and_letting_go_or_no_table_does_not() {
    for _ in every_frame() {
        for rate in SIX_RATES {
            let mut walk = at_a_wall(tuned(|_| {}));
            walk.go(1.0 / rate, 2.0, east());
            assert!((walk.hero.velocity.y + 2.0).abs() < 1e-6, "{rate} Hz: {}", walk.hero.velocity);
            assert_eq!((walk.hero.phase, walk.readout.unwrap().phase), (Phase::WallSlide, Phase::WallSlide));
            let from = walk.hero.position.y;
            walk.go(1.0 / rate, 1.0, east());
            assert!((from - walk.hero.position.y - 2.0).abs() < 1e-4, "{rate} Hz: {}", from - walk.hero.position.y);
            walk.go(1.0 / rate, 1.0, Intent::default());
            assert!((walk.hero.velocity.y + 2.0 + 18.0).abs() < 1e-3, "{rate} Hz: {}", walk.hero.velocity.y);
            assert_eq!(walk.hero.phase, Phase::Plain);
        }
        let mut none = at_a_wall(tuned(|v| v.wall_slide = None));
        none.go(1.0 / 60.0, 1.0, east());
        assert!((none.hero.velocity.y + 18.0).abs() < 1e-3, "{}", none.hero.velocity);
    }
}

#[test]
fn down_a_wall_that_leans_back_its_way_aside_is_steered_to_its_end_at_every_rate() {
    // Four degrees off upright, met on the way past, pressed against squarely from then on.
    let p = |x: f64, y: f64, z: f64| DVec3::new(x, y, z);
    let wall = || World::new().quad(p(-1.0, 0.0, -20.0), p(-1.0, 0.0, 20.0), p(1.8, 40.0, 20.0), p(1.8, 40.0, -20.0));
    for rate in SIX_RATES {
        for aside in [0.02, 0.05, 0.1] {
            let mut walk = Walk::new(wall(), tuned(|_| {}), [0.4, 30.0, 0.0]);
            walk.go(1.0 / rate, 1.0, Intent::toward(Vec3::new(1.0, 0.0, aside)));
            walk.go(1.0 / rate, 0.5, east());
            assert!(walk.hero.velocity.y > -2.5, "{rate} Hz: {}", walk.hero.velocity);
            assert!(walk.hero.velocity.z.abs() < 1e-3, "{rate} Hz, {aside}: {}", walk.hero.velocity);
        }
    }
}

#[test]
fn a_jump_off_a_wall_leads_up_and_away_and_only_where_there_is_one() {
    for _ in every_frame() {
        for rate in SIX_RATES {
            let mut walk = at_a_wall(tuned(|_| {}));
            // Pressing on into the wall: the pause makes it lead away all the same.
            let script = Script::new().head(0.0, 1.0, 0.4).press(1.013, Button::Jump, 0.3);
            walk.play(&script, 1.0 / rate, 1.013 + 0.15);
            let jumped = *walk.first(|k| matches!(k, EventKind::Jumped { .. })).expect("a jump");
            assert_eq!(jumped.kind, EventKind::Jumped { off: Off::Wall });
            assert!((jumped.velocity.x + 5.0).abs() < 1e-5 && jumped.velocity.z > 0.5, "{rate} Hz: {jumped:?}");
            assert!((walk.hero.velocity.x + 5.0).abs() < 1e-5, "{rate} Hz: {}", walk.hero.velocity);
            walk.play(&script, 1.0 / rate, 1.6);
            let top = walk.first(|k| *k == EventKind::Topped).expect("a top").place.y - jumped.place.y;
            assert!((top - 1.2).abs() < 1e-4, "{rate} Hz: {top}");
        }
    }
    let press = |tuning: Tuning, x: f64| {
        let world = World::new().floor(50.0, 0.0).block([2.0, 0.0, -20.0], [3.0, 60.0, 20.0]);
        let mut walk = Walk::new(world, tuning, [x, 30.0, 0.0]);
        walk.play(&Script::new().press(0.1, Button::Jump, 0.3), 1.0 / 60.0, 1.0);
        walk.first(|k| matches!(k, EventKind::Jumped { .. })).is_some()
    };
    assert!(press(tuned(|_| {}), 2.0 - 0.3 - 0.149) && !press(tuned(|_| {}), 2.0 - 0.3 - 0.151), "as near as tuned");
    assert!(!press(tuned(|v| v.wall_jump = None), 1.69), "no table, no jump");
}

#[test]
fn a_dash_leads_as_far_as_tuned_on_the_ground_and_in_the_air() {
    let tuning = tuned(|v| v.dash = Some(Dash { distance: 2.5, time: 0.2, cooldown: 0.3, in_air: 1.0, keeps: 0.25 }));
    for _ in every_frame() {
        for (rate, height) in SIX_RATES.into_iter().flat_map(|rate| [(rate, 0.0), (rate, 20.0)]) {
            let mut walk = Walk::new(World::new().floor(50.0, 0.0), tuning, [0.0, height, 0.0]);
            let script = Script::new().head(0.1, 0.0, 1.0).head(0.137, 1.0, 0.0).press(0.251, Button::Dash, 0.05);
            // Barred until its cooldown is over; in the air until it has landed.
            let script = script.press(0.5, Button::Dash, 0.05).press(0.86, Button::Dash, 0.05);
            walk.play(&script, 1.0 / rate, 1.2);
            let times = |kind: EventKind| walk.events.iter().filter(move |e| e.kind == kind);
            let (from, to) = (times(EventKind::Dashed).next().unwrap(), times(EventKind::DashEnded).next().unwrap());
            let way = to.place - from.place;
            assert!((way - DVec3::X * 2.5).length() < 1e-5, "{rate} Hz from {height} m: {way}");
            assert!((to.time - from.time - 0.2).abs() < 1e-6, "{rate} Hz");
            assert!((to.velocity - DVec3::X * 12.5 * 0.25).length() < 1e-5, "{rate} Hz: {}", to.velocity);
            let refused = |why| EventKind::Refused { ability: Ability::Dash, why };
            assert_eq!(times(refused(Refusal::CoolingDown)).count(), 1, "{rate} Hz");
            let (dashes, in_air) = (times(EventKind::Dashed).count(), times(refused(Refusal::InTheAir)).count());
            assert_eq!((dashes, in_air), if height > 0.0 { (1, 1) } else { (2, 0) }, "{rate} Hz");
        }
    }
    let mut none = Walk::new(World::new().floor(50.0, 0.0), tuned(|v| v.dash = None), [0.0; 3]);
    none.go(1.0 / 60.0, 0.5, east().hold(Button::Dash));
    assert_eq!(none.events[0].kind, EventKind::Refused { ability: Ability::Dash, why: Refusal::NotTuned });
}

#[test]
fn a_displaced_character_is_swept_up_steps_along_walls_and_never_through() {
    for _ in every_frame() {
        let world =
            World::new().floor(50.0, 0.0).stairs(2.0, 0.2, 0.3, 5, 3.0).block([3.5, 0.0, -3.0], [9.0, 1.0, 3.0]);
        let world = world.block([-4.0, 0.0, -9.0], [-3.0, 5.0, 9.0]);
        let mut walk = Walk::new(world, tuned(|_| {}), [0.0; 3]);
        let moved = |walk: &mut Walk, by: [f64; 3]| {
            walk.commands.push(Command::Displace { by: DVec3::from_array(by) });
            walk.tick(1.0 / 60.0, Intent::default());
            walk.hero.position
        };
        let up = moved(&mut walk, [6.0, 0.0, 0.0]);
        assert!((up.x - 6.0).abs() < 0.2 && (up.y - 1.0).abs() < 1e-3, "up the stairs: {up}");
        assert_eq!((walk.hero.mode, walk.hero.velocity), (Mode::Ground, DVec3::ZERO));
        let back = moved(&mut walk, [-6.0, 0.0, 0.0]);
        assert!(back.x.abs() < 0.2 && back.y.abs() < 1e-3, "and down: {back}");
        let wall = moved(&mut walk, [-50.0, 0.0, 2.0]);
        assert!((wall.x + 2.7).abs() < 1e-3 && wall.z > 1.5 && walk.gap() > -1e-4, "along the wall: {wall}");
        let lifted = moved(&mut walk, [0.5, 2.0, 0.0]);
        assert!(lifted.y > 1.9 && walk.airborne(), "lifted off: {lifted}");
    }
}

#[test]
fn feet_come_down_every_half_stride_at_every_rate() {
    let tuning = tuned(|v| (v.gait.stride, v.gait.restart) = (1.2, true));
    let script = Script::new().head(0.1, 1.0, 0.0).head(2.23, -1.0, 0.0).head(3.31, 0.0, 0.0);
    let walked = |rate: f64| {
        let mut walk = Walk::new(World::new().floor(50.0, 0.0), tuning, [0.0; 3]);
        walk.play(&script, 1.0 / rate, 4.0);
        assert!(!walk.hero.marks.moving() && walk.hero.gait == 0.0);
        walk.footsteps
    };
    let exact = walked(1000.0);
    for pair in exact.windows(2).filter(|pair| pair[1].time < 2.23) {
        assert!((pair[1].place.x - pair[0].place.x - 0.6).abs() < 1e-4, "{pair:?}");
        let feet = pair.iter().map(|e| matches!(e.kind, EventKind::Footstep { first: true, .. }));
        assert_eq!(feet.filter(|first| *first).count(), 1, "one foot after the other");
    }
    // A turn-about begins again with the first foot, half a stride on from where it turned.
    let about = exact.iter().find(|e| e.time > 2.23).unwrap();
    assert!(matches!(about.kind, EventKind::Footstep { first: false, .. }));
    for _ in every_frame() {
        for rate in SIX_RATES {
            let steps = walked(rate);
            assert_eq!(steps.len(), exact.len(), "{rate} Hz");
            for (step, exact) in steps.iter().zip(&exact) {
                assert_eq!(step.kind, exact.kind);
                assert!((step.time - exact.time).abs() < 1e-4, "{rate} Hz: {} {}", step.time, exact.time);
            }
        }
    }
}

#[test]
fn a_stride_of_next_to_nothing_is_no_flood_of_feet() {
    for stride in [f32::from_bits(1), 1e-9, 1e-4] {
        let mut walk = Walk::new(World::new().floor(50.0, 0.0), tuned(|v| v.gait.stride = stride), [0.0; 3]);
        walk.go(1.0 / 60.0, 0.5, east());
        assert!(walk.footsteps.len() < 30 * 16 && (0.0..1.0).contains(&walk.hero.gait), "{}", walk.footsteps.len());
        assert!((walk.hero.velocity.x - 4.5).abs() < 1e-6);
    }
}

#[test]
fn moving_has_two_thresholds() {
    let mut walk = Walk::new(World::new().floor(50.0, 0.0), tuned(|_| {}), [0.0; 3]);
    for (speed, moving) in [(0.15, false), (0.25, true), (0.15, true), (0.05, false), (0.15, false)] {
        walk.go(1.0 / 60.0, 0.5, Intent::toward(Vec3::X * (speed / 4.5)));
        assert_eq!(walk.readout.unwrap().moving, moving, "at {speed} m/s");
    }
}
