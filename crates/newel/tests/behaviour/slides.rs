//! Slides: how far and how long against the formula, at six rates, on the level, up and down; how they begin and end.

use crate::common::script::Script;
use crate::common::{SIX_RATES, Walk, World, every_frame};
use newel::glam::{DVec3, Vec3};
use newel::{
    Along, Button, Change, Command, Event, EventKind, Intent, Launch, Mode, Refusal, Slide, SlideEnd, Stance, State,
    Tuning, TuningValues,
};

/// A walker at 6 m/s whose slide begins with 8, loses 5 m/s², and ends below 2.
fn tuned(change: impl Fn(&mut Slide)) -> Tuning {
    let mut values = TuningValues::default();
    values.ground.speed = 6.0;
    values.ground.acceleration = 60.0;
    let mut slide =
        Slide { burst: 2.0, fastest: 12.0, deceleration: 5.0, release: false, steer: 0.0, ..Slide::default() };
    change(&mut slide);
    values.slide = Some(slide);
    Tuning::new(values).expect("a tuning")
}

/// A plane that falls toward +x by this many degrees.
fn hill(degrees: f64) -> World {
    let slope = degrees.to_radians().tan();
    World::new().plane(DVec3::ZERO, DVec3::new(slope, 1.0, 0.0), 120.0)
}

fn began(walk: &Walk) -> Option<Event> {
    walk.first(|k| matches!(k, EventKind::SlideBegan { .. })).copied()
}

/// When it ended, how fast it was then, how far it went and why.
fn ended(walk: &Walk) -> Option<(Event, f32, f32, SlideEnd)> {
    walk.events.iter().find_map(|e| match e.kind {
        EventKind::SlideEnded { speed, distance, reason } => Some((*e, speed, distance, reason)),
        _ => None,
    })
}

fn refused(walk: &Walk) -> Option<Refusal> {
    walk.events.iter().find_map(|e| match e.kind {
        EventKind::Refused { why, .. } => Some(why),
        _ => None,
    })
}

/// Runs along +x and slides after half a second.
fn slide_at(time: f64, held: f64) -> Script {
    Script::new().head(0.0, 1.0, 0.0).press(time, Button::Slide, held)
}

#[test]
fn it_goes_as_far_and_as_long_as_its_formula_says_at_every_rate_up_and_down() {
    for _ in every_frame() {
        for degrees in [0.0, -15.0, 8.0, 12.0] {
            // What the slope gives of gravity, as tuned, less what the ground takes.
            let tuning = tuned(|_| {});
            let rate = tuning.falling_gravity() * f64::from(degrees as f32).to_radians().sin() - 5.0;
            let (time, way) = ((2.0 - 8.0) / rate, (4.0 - 64.0) / (2.0 * rate));
            for hertz in SIX_RATES {
                let mut walk = Walk::new(hill(degrees), tuning, [0.0, 0.02, 0.0]);
                walk.play(&slide_at(0.5137, 0.1), 1.0 / hertz, 0.6 + time + 1.0);
                let (from, to) = (began(&walk).expect("a slide"), ended(&walk).expect("its end"));
                let (took, far) = (to.0.time - from.time, (to.0.place - from.place).length());
                let near = |found: f64, said: f64| (found - said).abs() < 1e-4 * said;
                assert!(near(took, time) && near(far, way), "{degrees}° at {hertz} Hz: {took} {time}, {far} {way}");
                assert!(near(f64::from(to.2), way) && near(f64::from(to.1), 2.0), "{degrees}° at {hertz} Hz: {to:?}");
                assert_eq!(to.3, SlideEnd::Slow);
                assert_eq!((walk.hero.mode, walk.hero.stance), (Mode::Ground, Stance::Stand));
            }
        }
    }
}

#[test]
fn down_a_steep_slope_it_gets_as_fast_as_tuned_and_no_faster() {
    for hertz in SIX_RATES {
        let mut walk = Walk::new(hill(30.0), tuned(|_| {}), [0.0, 0.1, 0.0]);
        walk.play(&slide_at(0.5, 0.1), 1.0 / hertz, 3.0);
        assert!(walk.hero.mode == Mode::Slide && ended(&walk).is_none());
        assert!((walk.hero.velocity.length() - 12.0).abs() < 1e-6, "{hertz} Hz: {}", walk.hero.velocity.length());
    }
}

#[test]
fn it_is_steered_alike_at_every_rate() {
    for _ in every_frame() {
        for degrees in [0.0, 9.0] {
            let mut ends = Vec::new();
            for hertz in SIX_RATES {
                let mut walk = Walk::new(hill(degrees), tuned(|s| s.steer = 60.0), [0.0, 0.02, 0.0]);
                walk.play(&slide_at(0.5137, 0.1).head(0.6211, 0.2, 1.0).head(1.107, 1.0, -0.3), 1.0 / hertz, 1.6);
                ends.push((walk.hero.position, walk.hero.velocity));
            }
            let exact = ends[5];
            let off = ends.iter().map(|e| (e.0 - exact.0).length()).fold(0.0, f64::max);
            println!("{degrees}°: {:.4} mm apart, {:?}", off * 1e3, exact.1);
            assert!(off < 1e-3, "{degrees}°: {ends:?}");
        }
        // A right angle at 60 degrees a second is a second and a half, and it is not overshot.
        let mut walk = Walk::new(hill(0.0), tuned(|s| (s.steer, s.deceleration) = (60.0, 1.0)), [0.0; 3]);
        walk.play(&slide_at(0.5, 0.1).head(0.6, 0.0, 1.0), 1.0 / 60.0, 0.6 + 1.2);
        let angle = walk.hero.velocity.z.atan2(walk.hero.velocity.x).to_degrees();
        assert!((angle - 72.0).abs() < 0.01, "{angle}");
        walk.play(&slide_at(0.5, 0.1).head(0.6, 0.0, 1.0), 1.0 / 60.0, 0.6 + 1.7);
        assert!(walk.hero.velocity.x.abs() < 1e-5, "{}", walk.hero.velocity);
    }
}

#[test]
fn it_begins_from_a_run_and_from_nothing_else() {
    let floor = || World::new().floor(90.0, 0.0);
    let mut walk = Walk::new(floor(), tuned(|_| {}), [0.0; 3]);
    walk.play(&slide_at(0.05, 0.1), 1.0 / 60.0, 0.2);
    assert_eq!(refused(&walk), Some(Refusal::TooSlow), "not up to speed yet");
    let mut walk = Walk::new(floor(), tuned(|s| (s.from, s.ends_below) = (2.0, 1.0)), [0.0; 3]);
    walk.play(&slide_at(0.5, 0.1).at(0.4, Change::Stance(Stance::Crouch)), 1.0 / 60.0, 0.6);
    assert_eq!(refused(&walk), Some(Refusal::TooLow), "not from a crouch");
    let mut walk = Walk::new(floor(), tuned(|s| s.from = 3.0), [0.0; 3]);
    walk.play(&slide_at(0.5, 0.1).press(0.45, Button::Jump, 0.2), 1.0 / 60.0, 0.6);
    assert_eq!(refused(&walk), Some(Refusal::InTheAir));
    let mut walk = Walk::new(floor(), tuned(|s| (s.release, s.cooldown) = (true, 0.5)), [0.0; 3]);
    walk.play(&slide_at(0.5, 0.1).press(0.9, Button::Slide, 0.1), 1.0 / 60.0, 1.0);
    assert_eq!(refused(&walk), Some(Refusal::CoolingDown));
    walk.play(&Script::new().head(0.0, 1.0, 0.0).press(1.11, Button::Slide, 0.1), 1.0 / 60.0, 1.15);
    assert_eq!(walk.hero.mode, Mode::Slide, "half a second later");
    // Along the velocity, or the heading.
    for along in [Along::Velocity, Along::Heading] {
        let mut walk = Walk::new(floor(), tuned(|s| s.along = along), [0.0; 3]);
        walk.play(&slide_at(0.5, 0.1).head(0.5, 0.0, 1.0), 1.0 / 60.0, 0.6);
        let way = if along == Along::Heading { walk.hero.velocity.z } else { walk.hero.velocity.x };
        assert!(way > 7.0, "{along:?}: {}", walk.hero.velocity);
    }
}

/// A way to end: its name, where, what the player does, what is tuned, and why it then ends.
type Ending = (&'static str, World, Script, fn(&mut Slide), SlideEnd);

#[test]
fn it_ends_as_tuned_and_everything_is_as_before() {
    let edge = || World::new().block([-9.0, -1.0, -9.0], [6.0, 0.0, 9.0]).floor(60.0, -2.0);
    let wall = || World::new().floor(60.0, 0.0).block([6.0, 0.0, -9.0], [7.0, 3.0, 9.0]);
    let cases: [Ending; 5] = [
        ("let go", World::new().floor(60.0, 0.0), slide_at(0.5, 0.2), |s| s.release = true, SlideEnd::Released),
        (
            "jumped",
            World::new().floor(60.0, 0.0),
            slide_at(0.5, 9.0).press(0.7, Button::Jump, 0.3),
            |_| {},
            SlideEnd::Jumped,
        ),
        ("over an edge", edge(), slide_at(0.5, 9.0), |_| {}, SlideEnd::LeftGround),
        ("into a wall", wall(), slide_at(0.5, 9.0), |_| {}, SlideEnd::Wall),
        ("thrown", World::new().floor(60.0, 0.0), slide_at(0.5, 9.0), |_| {}, SlideEnd::Interrupted),
    ];
    for (name, world, script, change, reason) in cases {
        let mut walk = Walk::new(world.clone(), tuned(change), [0.0; 3]);
        walk.play(&script, 1.0 / 60.0, 0.65);
        assert_eq!((walk.hero.mode, walk.hero.stance), (Mode::Slide, Stance::Crouch), "{name}");
        if name == "thrown" {
            walk.commands.push(Command::Launch(Launch::at(DVec3::Y * 3.0)));
        }
        walk.play(&script, 1.0 / 60.0, 4.0);
        let (_, _, far, why) = ended(&walk).unwrap_or_else(|| panic!("{name}: {:?}", walk.events));
        assert_eq!(why, reason, "{name}");
        assert!(far > 0.5 && far < 8.0, "{name}: {far}");
        // The same place and speed, come by on foot: nothing of the slide is left in it.
        let left = State { slide_cooldown: 0.0, ..*walk.hero.state() };
        assert_eq!(
            (left.activity.slid(), left.stance, left.mode, left.eyes),
            (0.0, Stance::Stand, Mode::Ground, 1.8 * 0.93),
            "{name}"
        );
        assert!((left.velocity.length() - 6.0).abs() < 1e-3 || name == "into a wall", "{name}: {}", left.velocity);
    }
    // And what none of that ends goes on.
    let on = |s: &mut Slide| (s.jump, s.air, s.wall, s.deceleration) = (false, false, false, 1.0);
    let mut walk = Walk::new(edge(), tuned(on), [0.0; 3]);
    walk.play(&slide_at(0.5, 9.0).press(0.6, Button::Jump, 0.1), 1.0 / 60.0, 2.5);
    assert_eq!(walk.hero.mode, Mode::Slide, "{:?}", walk.events);
    assert!(walk.hero.position.y < -1.9 && refused(&walk) == Some(Refusal::Sliding));
    let mut walk = Walk::new(wall(), tuned(on), [0.0; 3]);
    walk.play(&slide_at(0.5, 9.0).head(0.5, 1.0, 0.7), 1.0 / 60.0, 0.5);
    walk.tuning = tuned(|s| (on(s), s.along = Along::Heading).0);
    walk.play(&Script::new().head(0.0, 1.0, 0.4).press(0.5, Button::Slide, 9.0), 1.0 / 60.0, 1.3);
    assert!(
        walk.hero.position.x > 5.69 && walk.hero.mode == Mode::Slide && walk.hero.velocity.z > 2.0,
        "{} {:?}",
        walk.hero.velocity,
        walk.events
    );
}

#[test]
fn steered_at_the_very_fastest_it_may_be_it_loses_no_time() {
    for degrees in every_frame().flat_map(|_| 0..360) {
        let tuning = tuned(|s| (s.fastest, s.steer) = (7.0, 90.0));
        let (sin, cos) = (f64::from(degrees).to_radians() as f32).sin_cos();
        let (turned_sin, turned_cos) = (f64::from(degrees + 70).to_radians() as f32).sin_cos();
        let script = Script::new().head(0.0, cos, sin).press(0.5, Button::Slide, 9.0).head(0.6, turned_cos, turned_sin);
        let mut walk = Walk::new(hill(12.0), tuning, [0.0, 0.02, 0.0]);
        walk.play(&script, 1.0 / 60.0, 1.0);
        let lost = walk.first(|k| matches!(k, EventKind::TimeDropped { .. }));
        assert!(lost.is_none() && walk.hero.mode == Mode::Slide, "{degrees}°: {lost:?}");
    }
}

#[test]
fn what_it_is_moved_and_what_it_flies_is_no_part_of_how_far_it_slid() {
    let mut walk = Walk::new(World::new().floor(90.0, 0.0), tuned(|_| {}), [0.0; 3]);
    walk.play(&slide_at(0.5, 9.0), 1.0 / 60.0, 0.7);
    walk.commands.push(Command::Teleport { to: DVec3::new(0.0, 0.0, 40.0), facing: None });
    walk.play(&slide_at(0.5, 9.0), 1.0 / 60.0, 0.8);
    let (_, speed, far, why) = ended(&walk).expect("its end");
    assert!(why == SlideEnd::Interrupted && (far - 1.5).abs() < 0.01 && (speed - 7.0).abs() < 0.01, "{far} {speed}");
    // Over an edge and on: 8 m/s, 5 m/s² lost on the ground, none in the air.
    let world = World::new().block([-9.0, -1.0, -9.0], [5.0, 0.0, 9.0]).floor(60.0, -1.0);
    let mut values = *tuned(|s| s.air = false).values();
    (values.air.speed, values.air.excess_loss) = (4.0, 0.0);
    (values.air.acceleration, values.air.deceleration) = (0.0, 0.0);
    for rate in SIX_RATES {
        let mut walk = Walk::new(world.clone(), Tuning::new(values).expect("a tuning"), [0.0; 3]);
        walk.play(&slide_at(0.5, 9.0), 1.0 / rate, 3.5);
        let (_, _, far, why) = ended(&walk).expect("its end");
        assert!(why == SlideEnd::Slow && (far - 6.0).abs() < 0.01, "{rate} Hz: {far}");
    }
}

#[test]
fn under_a_chain_it_fits_and_without_headroom_it_ends_crouched() {
    for _ in every_frame() {
        for rate in SIX_RATES {
            let chain = World::new().floor(60.0, 0.0).block([5.0, 1.25, -9.0], [5.1, 2.5, 9.0]);
            let mut walk = Walk::new(chain, tuned(|_| {}), [0.0; 3]);
            walk.play(&slide_at(0.5, 9.0), 1.0 / rate, 3.5);
            assert!(
                walk.hero.position.x > 10.0 && walk.hero.stance == Stance::Stand,
                "{rate} Hz {}",
                walk.hero.position
            );
            let low = World::new().floor(60.0, 0.0).block([5.0, 1.25, -9.0], [40.0, 2.5, 9.0]);
            let mut walk = Walk::new(low, tuned(|_| {}), [0.0; 3]);
            walk.play(&slide_at(0.5, 9.0), 1.0 / rate, 3.5);
            assert!(ended(&walk).is_some_and(|e| e.3 == SlideEnd::Slow), "{:?}", walk.events);
            assert_eq!((walk.hero.mode, walk.hero.stance), (Mode::Ground, Stance::Crouch));
            let told = walk.first(|k| matches!(k, EventKind::NoRoom { wanted: Stance::Stand, .. }));
            assert!(told.is_some() && walk.gap() > -1e-4, "{}", walk.gap());
        }
    }
}

#[test]
fn a_slide_that_is_not_steered_keeps_its_facing() {
    for (steer, turns) in [(0.0, false), (30.0, true)] {
        let mut walk = Walk::new(World::new().floor(90.0, 0.0), tuned(|s| s.steer = steer), [0.0; 3]);
        walk.go(1.0 / 60.0, 1.0, Intent::toward(Vec3::X));
        let facing = walk.hero.facing;
        let aside = Intent::toward(Vec3::new(0.5, 0.0, 1.0)).hold(Button::Slide);
        walk.go(1.0 / 60.0, 0.3, aside);
        assert_eq!(walk.hero.mode, Mode::Slide);
        assert_eq!((walk.hero.facing - facing).length() > 0.1, turns, "{steer}: {}", walk.hero.facing);
    }
}
