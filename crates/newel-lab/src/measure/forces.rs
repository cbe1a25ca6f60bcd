//! Forces on the character: hard landings, gravity turned over, wind, and floating, which nothing pulls at.

use newel::glam::{DVec3, Vec3};
use newel::{Button, Command, Effect, EventKind, Face, Mode, Tuning, Wind, Zone};

use super::Outcome;
use super::formula::{Fall, gain, stop};
use super::grounds::Ground;
use super::trial::{Sample, Trial, Writing, largest};
use crate::course::Step;

/// When the heading begins, seconds: the fall before it is over, and it is a whole number of ticks to the last bit.
const FROM: f64 = 2.0;
/// The wind of the trials, m/s.
const WIND: f64 = 10.0;
/// The longest fall waited for, seconds.
const LONGEST: f64 = 3600.0;
/// Falls are tried from this high up, metres, and so many times from twice as high.
const LEAST: f64 = 0.5;
const DOUBLINGS: i32 = 13;

pub(super) fn outcomes(tuning: &Tuning) -> Vec<Outcome> {
    let (values, fall) = (tuning.values(), Fall::of(tuning).plain());
    let impact = values.impact;
    let (safe, lethal) = (f64::from(impact.safe), f64::from(impact.lethal));
    let mut found = vec![
        Outcome::new("highest fall unharmed", "m", highest(tuning, |hard| hard == 0.0), fall.height_at(safe)),
        Outcome::new("lethal from a fall of", "m", highest(tuning, |hard| hard < 1.0), fall.height_at(lethal)),
        Outcome::new(
            "gravity turned over: upright again after",
            "s",
            righted(tuning),
            Some(upright_after(values.turn.righting)),
        ),
    ];
    if values.air.drag > 0.0 {
        let tends = tuning.falling_gravity() / f64::from(values.air.drag);
        let said = values.air.terminal.map_or(tends, |t| tends.min(f64::from(t)));
        let last = 20.0 / f64::from(values.air.drag);
        found.push(Outcome::new("fall speed in the end", "m/s", falling(tuning, last), Some(said)));
    }
    if values.ground.windage > 0.0 {
        let said = WIND * f64::from(values.ground.windage);
        found.push(Outcome::new("blown along by 10 m/s of wind", "m/s", blown(tuning), Some(said)));
    }
    if let Some(hover) = values.hover {
        found.extend(floats(tuning, &hover));
    }
    found
}

/// The highest fall after which a landing is still as hard as `still` says; `None` where every fall tried is.
fn highest(tuning: &Tuning, still: impl Fn(f32) -> bool) -> Option<f64> {
    let soft = |height: f64| {
        let Some(mut trial) = Trial::new(&Ground::floor(), tuning, [0.0, height, 0.0]) else { return false };
        let landed = |kind: &EventKind| matches!(kind, EventKind::Landed { .. });
        // A character that stands from the start does not land.
        trial.play_until(&Writing::default().script(), LONGEST, |t| {
            t.first(landed).is_some() || t.hero.mode == Mode::Ground
        });
        match trial.first(landed).map(|e| e.kind) {
            Some(EventKind::Landed { hardness, .. }) => still(hardness),
            _ => true,
        }
    };
    // By doubling first: high falls take long.
    let high = (0..DOUBLINGS).map(|i| LEAST * f64::from(1 << i)).find(|height| !soft(*height))?;
    largest(1e-3, high, soft)
}

/// It turns at moments 1/120 s apart, at the first of them already.
fn upright_after(righting: f32) -> f64 {
    ((180.0 * 120.0 / f64::from(righting)).ceil() - 1.0) / 120.0
}

/// Seconds from when gravity is turned over in the air to when it is upright again.
fn righted(tuning: &Tuning) -> Option<f64> {
    let mut trial = Trial::new(&Ground::default().block([-9.0, -999.0, -9.0], [9.0, -998.0, 9.0]), tuning, [0.0; 3])?;
    let flip = Writing::default().at(0.1, Step::Command(Command::FlipGravity)).script();
    let over = |kind: &EventKind| matches!(kind, EventKind::Righted);
    trial.play_until(&flip, 60.0, |t| t.first(over).is_some());
    Some(trial.first(over)?.time - 0.1)
}

fn falling(tuning: &Tuning, seconds: f64) -> Option<f64> {
    let mut trial = Trial::new(&Ground::default().block([-9.0, -1e6, -9.0], [9.0, 1.0 - 1e6, 9.0]), tuning, [0.0; 3])?;
    trial.play(&Writing::default().script(), seconds);
    Some(-trial.hero.velocity.y)
}

/// How fast the wind moves it that stands there.
fn blown(tuning: &Tuning) -> Option<f64> {
    let wind = Effect::Wind(Wind::steady(Vec3::X * WIND as f32));
    let gale = Zone::new(1, DVec3::splat(-1e4), DVec3::splat(1e4), wind);
    let mut trial = Trial::new(&Ground::floor(), tuning, [0.0; 3])?.in_zone(gale);
    trial.play(&Writing::default().face(Face::Nothing).script(), 5.0);
    Some(trial.hero.velocity.x)
}

fn floats(tuning: &Tuning, hover: &newel::Hover) -> Vec<Outcome> {
    let (top, gains, loses) = (f64::from(hover.speed), f64::from(hover.acceleration), f64::from(hover.deceleration));
    let (on, off) = (gain(top, 1.0, gains, None), stop(top, loses, None));
    let ends = FROM + on.time + 0.5;
    let script =
        Writing::default().face(Face::Nothing).press(0.05, Button::Hover, 0.01).head(FROM, 1.0).head(ends, 0.0);
    // High enough that it falls nowhere before it hovers.
    let high = if hover.holds == newel::Holds::Ground { 0.5 } else { 20.0 };
    let trial = Trial::new(&Ground::floor(), tuning, [0.0, high, 0.0]).map(|mut trial| {
        trial.play(&script.script(), ends + off.time + 0.5);
        trial
    });
    let at = |time: f64| trial.as_ref()?.samples.iter().find(|s| s.time >= time - 1e-9).copied();
    let fastest = at(ends).map(|s| s.velocity.x);
    let drift = at(ends).zip(at(ends + off.time + 0.4)).map(|(a, b)| b.position.x - a.position.x);
    // Between two ticks at a constant rate.
    let part = 0.9 * top;
    let passes = |pair: &&[Sample]| pair[0].velocity.x < part && pair[1].velocity.x >= part;
    let between = |pair: &[Sample]| {
        let share = (part - pair[0].velocity.x) / (pair[1].velocity.x - pair[0].velocity.x);
        pair[0].time + share * (pair[1].time - pair[0].time) - FROM
    };
    let reached = trial.as_ref().and_then(|t| t.samples.windows(2).find(passes).map(between));
    vec![
        Outcome::new("hovering: top speed", "m/s", fastest, Some(top)),
        Outcome::new("hovering: to 90 %", "s", reached, Some(gain(top, 0.9, gains, None).time)),
        Outcome::new("hovering: drifts to a stop after", "m", drift, Some(off.way)),
    ]
}
