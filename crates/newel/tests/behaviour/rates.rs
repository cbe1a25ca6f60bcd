//! The same motion at any tick rate: on the flat, over slopes and up stairs, with every ability in use.

use crate::common::oracle::Dice;
use crate::common::script::Script;
use crate::common::{Walk, World, every_frame, every_gravity};
use newel::glam::DVec3;
use newel::{Button, Change, Stance, Tuning};

/// The rates compared with 1000 Hz; 0 is ticks of 1 to 100 ms, cut at whole seconds.
const RATES: [f64; 6] = [15.0, 30.0, 60.0, 144.0, 240.0, 0.0];

/// Headings turn every 0.3719 s; jump goes down every 1.51 s, held shorter and longer; sprint, slide,
/// dash and low stances now and then.
fn restless(seconds: f64) -> Script {
    let mut script = Script::turning(seconds);
    for round in 1..(seconds / 1.51) as usize {
        let (start, held) = (round as f64 * 1.51, [0.05, 0.3, 0.11, 0.6][round % 4]);
        script = script.press(start, Button::Jump, held).press(start + 0.7, Button::Jump, 0.1);
        script = script.press(start + 0.23, Button::Sprint, 0.9);
        script = script.press(start + 0.47, Button::Slide, 0.3);
        let low = [Stance::Crouch, Stance::Prone][round % 2];
        script = script.at(start + 0.9, Change::Stance(low)).at(start + 1.19, Change::Stance(Stance::Stand));
        if round % 3 == 0 {
            script = script.press(start + 0.41, Button::Dash, 0.05);
        }
    }
    script
}

/// Where it is at every whole second, and what happened to it.
fn played(world: &World, tuning: Tuning, at: [f64; 3], script: &Script, rate: f64, seconds: u32) -> (Vec<DVec3>, Walk) {
    let mut walk = Walk::new(world.clone(), tuning, at);
    let (mut dice, mut places) = (Dice(7), Vec::new());
    for second in 1..=seconds {
        let end = f64::from(second);
        if rate > 0.0 {
            walk.play(script, 1.0 / rate, end);
        }
        while walk.hero.clock < end - 1e-9 {
            let now = walk.hero.clock;
            let dt = dice.between(0.001, 0.1).min(end - now);
            walk.tick(dt, script.intent(now, dt));
        }
        places.push(walk.hero.position);
    }
    (places, walk)
}

/// Kinds of events, that must be the same.
fn story(walk: &Walk) -> Vec<String> {
    walk.events.iter().map(|e| format!("{:?}", e.kind).split([' ', '{']).next().unwrap().to_owned()).collect()
}

fn compared(name: &str, world: &World, at: [f64; 3], script: &Script, seconds: u32, within: f64) {
    for preset in Tuning::PRESETS {
        let tuning = Tuning::preset(preset).unwrap();
        let (exact, slow) = played(world, tuning, at, script, 1000.0, seconds);
        for rate in RATES {
            let (places, walk) = played(world, tuning, at, script, rate, seconds);
            let worst = places.iter().zip(&exact).map(|(a, b)| (*a - *b).length()).fold(0.0, f64::max);
            println!("{name}, {preset}, {rate} Hz: {:.4} mm", worst * 1e3);
            assert_eq!(story(&walk), story(&slow), "{name}, {preset}, {rate} Hz");
            assert!(worst < within, "{name}, {preset}, {rate} Hz: {worst}");
        }
    }
}

#[test]
fn a_restless_minute_on_the_flat() {
    for _ in every_frame() {
        compared("flat", &World::new().floor(300.0, 0.0), [0.0; 3], &restless(60.0), 60, 1e-3);
    }
}

/// Land that rises by 4 m over 12, and ten seconds up, along and down it.
fn hill() -> (World, Script) {
    let (rise, run) = (4.0, 12.0);
    let p = DVec3::new;
    let world = World::new()
        .quad(p(-60.0, 0.0, -60.0), p(-60.0, 0.0, 60.0), p(0.0, 0.0, 60.0), p(0.0, 0.0, -60.0))
        .quad(p(0.0, 0.0, -60.0), p(0.0, 0.0, 60.0), p(run, rise, 60.0), p(run, rise, -60.0))
        .quad(p(run, rise, -60.0), p(run, rise, 60.0), p(60.0, rise, 60.0), p(60.0, rise, -60.0));
    let script = Script::new()
        .head(0.07, 1.0, 0.2)
        .press(1.13, Button::Jump, 0.2)
        .head(3.41, -0.6, 0.3)
        .press(4.02, Button::Sprint, 2.2)
        .head(6.37, 1.0, -0.5)
        .press(7.77, Button::Jump, 0.04)
        .head(9.03, 0.0, 0.0);
    (world, script)
}

/// Fourteen stairs, and ten seconds up and down them.
fn stairs() -> (World, Script) {
    let world =
        World::new().floor(60.0, 0.0).stairs(0.0, 0.17, 0.29, 14, 6.0).block([4.06, 0.0, -6.0], [60.0, 2.38, 6.0]);
    let script = Script::new()
        .head(0.07, 1.0, 0.1)
        .head(2.51, -0.5, 0.1)
        .head(4.37, 1.0, -0.2)
        .press(6.13, Button::Sprint, 1.1)
        .head(8.03, -0.8, 0.0)
        .head(9.61, 0.0, 0.0);
    (world, script)
}

#[test]
fn ten_seconds_over_a_slope() {
    let (world, script) = hill();
    compared("slope", &world, [-3.0, 0.0, 0.0], &script, 10, 5e-3);
}

#[test]
fn ten_seconds_on_stairs() {
    let (world, script) = stairs();
    compared("stairs", &world, [-2.0, 0.0, 0.0], &script, 10, 5e-3);
}

#[test]
fn wherever_gravity_pulls_it_is_the_same_motion() {
    let (hill, over_it) = hill();
    let (flight, up_it) = stairs();
    let free = 1e-4;
    let courses = [
        ("in the air", World::new().floor(1.0, -5000.0), [0.0; 3], restless(10.0), 10, free),
        ("flat", World::new().floor(300.0, 0.0), [0.0; 3], restless(60.0), 60, free),
        ("slope", hill, [-3.0, 0.0, 0.0], over_it, 10, 5e-3),
        ("stairs", flight, [-2.0, 0.0, 0.0], up_it, 10, 5e-3),
    ];
    for (name, world, at, script, seconds, within) in courses {
        for preset in Tuning::PRESETS {
            let tuning = Tuning::preset(preset).unwrap();
            let mut upright = None;
            for (pull, rate) in every_gravity().flat_map(|pull| [60.0, 240.0].map(|rate| (pull, rate))) {
                let (places, walk) = played(&world, tuning, at, &script, rate, seconds);
                let (as_upright, told) = upright.get_or_insert_with(|| (places.clone(), story(&walk)));
                let worst = places.iter().zip(&*as_upright).map(|(a, b)| (*a - *b).length()).fold(0.0, f64::max);
                println!("{name}, {preset}, gravity {pull} at {rate} Hz: {:.4} mm", worst * 1e3);
                assert_eq!(&story(&walk), told, "{name}, {preset}, gravity {pull}, {rate} Hz");
                assert!(worst < within, "{name}, {preset}, gravity {pull}, {rate} Hz: {worst}");
            }
        }
    }
}
