//! Going to a place by itself: how it ends, each way with its own reason, and that it always does.

mod common;

use common::oracle::Dice;
use common::worlds::village;
use common::{SIX_RATES, Walk, World};
use newel::glam::{DVec3, Vec2, Vec3};
use newel::{
    AtSolid, Barred, Button, Change, Ending, EventKind, Face, GoEnd, GoTo, Going, Heading, Intent, Key, LowStance,
    OwnHeading, Runner, Scene, Stance, Timed, Track, Tuning, TuningValues,
};

const LONGEST: f64 = 20.0;

/// Goes to `place` until it ends, with what the player does by the clock.
fn go(walk: &mut Walk, rate: f64, going: Going, place: DVec3, own: impl Fn(f64) -> Intent) -> GoEnd {
    let mut driver = GoTo::new(going);
    let start = walk.hero.clock;
    driver.go(place);
    while walk.hero.clock < start + LONGEST {
        let intent = driver.drive(own(walk.hero.clock - start), &walk.hero, walk.readout.as_ref());
        if let Some(end) = driver.take_end() {
            assert_eq!((driver.place(), driver.take_end()), (None, None), "told once");
            return end;
        }
        walk.tick(1.0 / rate, intent);
    }
    panic!("no end in {LONGEST} s: {:?} for {place}", walk.hero.position)
}

fn none(_: f64) -> Intent {
    Intent::default()
}

/// A floor with a wall across it, 3 m to the east and 4 m long, and a table of 3 m behind.
fn yard() -> World {
    World::new().floor(40.0, 0.0).block([3.0, -0.1, -2.0], [3.2, 3.0, 2.0]).block([-8.0, -0.1, -2.0], [-4.0, 3.0, 2.0])
}

fn walker(at: [f64; 3]) -> Walk {
    Walk::new(yard(), Tuning::walker(), at)
}

#[test]
fn each_end_has_its_own_reason() {
    let p = DVec3::new;
    for rate in SIX_RATES {
        let go = |start: [f64; 3], place: DVec3, going: Going| {
            let mut walk = walker(start);
            let end = go(&mut walk, rate, going, place, none);
            (end, walk)
        };
        let (end, walk) = go([0.0; 3], p(2.0, 0.0, 5.0), Going::default());
        assert!(matches!(end, GoEnd::Arrived { off } if off < 1e-5), "{end:?}");
        assert!((walk.hero.position - p(2.0, 0.0, 5.0)).length() < 1e-6);

        // Straight against the wall; as soon as it touches, or after its patience of a second.
        for (at_solid, waits) in [(AtSolid::Ends, 0.0), (AtSolid::Slides, 1.0)] {
            let (end, walk) = go([0.0; 3], p(8.0, 0.0, 0.0), Going { at_solid, ..Going::default() });
            let GoEnd::Blocked { by, left } = end else { panic!("{rate} Hz: {end:?}") };
            let Barred { body, edge, .. } = by;
            let contact = walk.hero.position.x;
            assert!((body, edge) == (0, false) && (contact + 0.3 - 3.0).abs() < 0.02, "{by:?} {contact}");
            assert!((left - (8.0 - contact)).abs() < 1e-9);
            let late = walk.hero.clock - (contact / 4.5 + 0.075) - waits;
            assert!((-1e-6..2.0 / rate + 0.01).contains(&late), "{rate} Hz, {at_solid:?}: {late} s late");
        }

        // A wall met askew is gone along and round.
        let (end, _) = go([0.0, 0.0, 1.0], p(5.0, 0.0, 3.5), Going::default());
        assert!(matches!(end, GoEnd::Arrived { .. }), "{rate} Hz: {end:?}");

        let (end, _) = go([0.0; 3], p(0.5, 3.0, 1.0), Going::default());
        assert!(matches!(end, GoEnd::OtherFloor { higher } if (higher - 3.0).abs() < 1e-6), "{end:?}");
        let (end, _) = go([-6.0, 3.0, 0.0], p(-6.0, 0.0, 1.0), Going::default());
        assert!(matches!(end, GoEnd::OtherFloor { higher } if (higher + 3.0).abs() < 1e-6), "{end:?}");

        // Falls off the table on the way, and goes on.
        let (end, walk) = go([-5.0, 3.0, 0.0], p(-5.0, 0.0, 6.0), Going::default());
        assert!(matches!(end, GoEnd::Arrived { .. }), "{rate} Hz: {end:?} {}", walk.hero.position);

        let (end, walk) = go([0.0; 3], p(5.0, f64::NAN, 0.0), Going::default());
        assert!(end == GoEnd::NoPlace && walk.hero.position == DVec3::ZERO);

        let mut held = walker([0.0; 3]);
        held.modifiers.speed = 0.0;
        let end = self::go(&mut held, rate, Going::default(), p(1.0, 0.0, 0.0), none);
        assert!(end == GoEnd::NoNearer { left: 1.0 } && held.hero.clock < 1.0 + 2.0 / rate, "{end:?}");
    }
}

#[test]
fn the_edge_that_it_does_not_walk_over_is_a_reason_too() {
    let mut values: TuningValues = *Tuning::walker().values();
    values.crouch = Some(LowStance { guard: true, ..LowStance::crouch() });
    for rate in SIX_RATES {
        let mut walk = Walk::new(yard(), Tuning::new(values).unwrap(), [-5.0, 3.0, 0.0]);
        let crouched = |_: f64| Intent::default().in_stance(Stance::Crouch);
        let end = go(&mut walk, rate, Going::default(), DVec3::new(-5.0, 0.0, 6.0), crouched);
        assert!(matches!(end, GoEnd::Blocked { by, .. } if by.edge), "{rate} Hz: {end:?}");
        assert!((walk.hero.position.y - 3.0).abs() < 0.05, "{}", walk.hero.position);
    }
}

#[test]
fn what_the_player_does_meanwhile_is_kept_and_a_heading_does_as_tuned() {
    let place = DVec3::new(0.0, 0.0, 6.0);
    let stick = |pressed: f32| move |t: f64| if t > 0.2 && t < 0.7 { view(pressed) } else { Intent::default() };
    fn view(pressed: f32) -> Intent {
        Intent::new(Heading::View(Vec2::new(pressed, 0.0)))
    }
    for rate in SIX_RATES {
        for (own_heading, pressed, overruled) in [
            (OwnHeading::Cancels, 1.0, true),
            (OwnHeading::Cancels, 0.1, false),
            (OwnHeading::Leads, 1.0, false),
            (OwnHeading::Ignored, 1.0, false),
        ] {
            let mut walk = walker([0.0; 3]);
            let end = go(&mut walk, rate, Going { own_heading, ..Going::default() }, place, stick(pressed));
            assert_eq!(end == GoEnd::Overruled, overruled, "{own_heading:?}, {pressed} at {rate} Hz: {end:?}");
            let led = walk.hero.clock > 1.9;
            assert_eq!(led, own_heading == OwnHeading::Leads, "it cost time where the player led: {}", walk.hero.clock);
        }
        // A heading from the middle of a tick on is one too.
        let mut driver = GoTo::new(Going::default());
        driver.go(place);
        let late = Timed { at: 0.5 / rate, change: Change::Heading(Heading::World(Vec3::X)) };
        driver.drive(Intent::default().then(late).unwrap(), &walker([0.0; 3]).hero, None);
        assert_eq!(driver.take_end(), Some(GoEnd::Overruled));

        // Buttons, view and stance stay the player's; the face is the driver's.
        let mut walk = walker([0.0; 3]);
        let jumps = |t: f64| if t > 0.3 { Intent::default().hold(Button::Jump) } else { Intent::default() };
        let end = go(&mut walk, rate, Going { face: Face::Nothing, ..Going::default() }, place, jumps);
        assert!(matches!(end, GoEnd::Arrived { off } if off < 1e-3), "{end:?}");
        assert!(walk.first(|k| matches!(k, EventKind::Jumped { .. })).is_some());
        assert!((walk.hero.facing - Vec3::NEG_Z).length() < 1e-6, "{}", walk.hero.facing);
    }
}

#[test]
fn a_place_that_moves_is_followed_and_one_as_fast_as_it_for_ever() {
    for rate in SIX_RATES {
        let mut walk = Walk::new(World::new().floor(200.0, 0.0), Tuning::walker(), [0.0; 3]);
        let mut driver = GoTo::new(Going::default());
        let mut far = Vec::new();
        while walk.hero.clock < 20.0 {
            // Ahead of it at its own top speed, with a bend; then it stands.
            let t = walk.hero.clock.min(15.0);
            let place = DVec3::new(4.5 * t + 3.0, 0.0, (t * 0.7).sin());
            driver.go(place);
            let intent = driver.drive(Intent::default(), &walk.hero, walk.readout.as_ref());
            assert!(driver.take_end().is_none() || walk.hero.clock > 15.5, "at {} s", walk.hero.clock);
            walk.tick(1.0 / rate, intent);
            far.push((walk.hero.position - place).length());
        }
        assert!(*far.last().unwrap() < 1e-3 && far.iter().all(|far| *far < 6.5), "{rate} Hz");
    }
}

#[test]
fn a_moving_body_is_named_and_the_front_hands_the_driver_what_it_needs() {
    let keys = vec![Key::at(0.0, DVec3::ZERO), Key::at(2.0, DVec3::X), Key::at(4.0, DVec3::ZERO)];
    let track = Track::new(keys, Ending::Again).unwrap();
    let gate = World::new().block([3.0, 0.1, -4.0], [3.2, 3.0, 4.0]).mesh();
    let mut scene = Scene::new().with(World::new().floor(40.0, 0.0).mesh()).with_moving(7, gate, track);
    let tuning = Tuning::walker();
    let mut hero = Runner::spawn(&scene, &tuning, [0.0; 3]).unwrap();
    let mut driver = GoTo::new(Going::default());
    driver.go(DVec3::new(10.0, 0.0, 0.0));
    while hero.character.clock < LONGEST && driver.place().is_some() {
        scene.time = hero.character.clock;
        hero.advance(1.0 / 60.0, &scene, &tuning, |me| driver.drive(Intent::default(), me, me.last), |_| {}).unwrap();
    }
    let end = driver.take_end();
    assert!(matches!(end, Some(GoEnd::Blocked { by, .. }) if by.body == 7 && by.normal.x < -0.99), "{end:?}");
    driver.go(DVec3::ZERO);
    driver.cancel();
    assert_eq!((driver.take_end(), driver.place()), (Some(GoEnd::Cancelled), None));
}

#[test]
fn in_any_village_every_click_comes_to_an_end_that_is_true() {
    let mut ends = [0u32; 4];
    for seed in 0..400 {
        let mut dice = Dice(seed * 77 + 3);
        let tuning = Tuning::preset(Tuning::PRESETS[dice.pick(Tuning::PRESETS.len())]).unwrap();
        let Some(mut walk) = Walk::try_new(village(&mut dice), tuning, [0.0, 0.0, 0.0]) else { continue };
        let rate = SIX_RATES[dice.pick(6)];
        for _ in 0..4 {
            let place = DVec3::new(dice.between(-10.0, 10.0), 0.0, dice.between(-10.0, 10.0));
            let end = go(&mut walk, rate, Going::default(), place, none);
            let left = walk.hero.position - place;
            let over_map = DVec3::new(left.x, 0.0, left.z).length();
            let kind = match end {
                GoEnd::Arrived { off } => {
                    assert!((off - over_map).abs() < 1e-9 && off <= 0.1 && left.y.abs() <= 0.5, "seed {seed}: {end:?}");
                    0
                }
                GoEnd::OtherFloor { higher } => {
                    assert!(over_map <= 0.1 && higher.abs() > 0.5 && (higher + left.y).abs() < 1e-9, "{end:?}");
                    1
                }
                GoEnd::Blocked { by, left: far } => {
                    assert!((far - over_map).abs() < 1e-9 && over_map > 1e-4, "seed {seed}: {end:?}");
                    // What it names is something it touches, in the way and solid.
                    let touches = (by.point - walk.hero.position).length() < 2.0;
                    assert!(touches && by.normal.as_dvec3().dot(-left) < 0.0 && !by.edge, "seed {seed}: {by:?}");
                    2
                }
                GoEnd::NoNearer { .. } => 3,
                other => panic!("seed {seed}: {other:?}"),
            };
            ends[kind] += 1;
        }
    }
    println!("{ends:?} arrived, on another floor, blocked, no nearer");
    assert!(ends[0] > 500 && ends[2] > 200, "{ends:?}");
    assert_eq!(ends[3], 0, "it knows why");
}
