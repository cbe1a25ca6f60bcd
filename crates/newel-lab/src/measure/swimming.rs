//! Measurements in water: wading, swimming, diving, floating.

use newel::glam::{DVec3, Vec3};
use newel::{Button, Effect, EventKind, Face, Stance, Swim, Tuning, Water, Zone};

use super::Outcome;
use super::grounds::Ground;
use super::trial::{RATE, Sample, Trial, Writing};
use crate::course::Step;

/// When strokes begin, seconds: whatever it drifts by itself it does by then.
const FROM: f64 = 4.0;
/// How deep it wades, as a part of its height.
const WADES: f64 = 0.4;
/// The current of the trials, m/s.
const CURRENT: f64 = 5.0;
/// The fall of the dive, metres.
const FALL: f64 = 5.0;
/// Trials in the deep begin at this height, metres; the surface is at 0.
const DEEP: f64 = -40.0;

pub(super) fn outcomes(tuning: &Tuning) -> Vec<Outcome> {
    let (values, height) = (tuning.values(), f64::from(tuning.shape().height));
    let ground = values.ground;
    let waded = f64::from(ground.speed) * (1.0 - (1.0 - f64::from(ground.wading)) * WADES);
    let swept = (CURRENT * WADES - f64::from(ground.withstands)).max(0.0);
    let mut found = vec![
        Outcome::new("wading: top speed 0.4 of its height deep", "m/s", wades(tuning, 0.0, 1.0), Some(waded)),
        Outcome::new("wading: swept along by 5 m/s", "m/s", wades(tuning, CURRENT, 0.0), Some(swept)),
    ];
    let Some(swim) = values.swim else { return found };
    found.extend(strokes(tuning, &swim, false));
    if swim.sprint.is_some() {
        found.extend(strokes(tuning, &swim, true).into_iter().next());
    }
    let still = Writing::default().face(Face::Nothing);
    let end = |script: Writing| Some(run(tuning, DEEP, &script, FROM + 4.0)?.hero.velocity.y);
    let rises = end(still.clone().at(0.0, Step::Button(Button::Jump, true)));
    let dives = end(still.clone().at(0.0, Step::Stance(Stance::Crouch)));
    let along = |name, measured, said: f32| Outcome::new(name, "m/s", measured, Some(f64::from(said)));
    found.push(along("swimming: rises at", rises, swim.rise));
    found.push(along("swimming: dives at", dives.map(|v| -v), swim.dive));
    found.push(along("swimming: idle under water, rises at", end(still.clone()), swim.idle));
    if swim.float < 1.0 {
        let line = f64::from(swim.float) * height;
        let floats = run(tuning, -line, &still, 20.0).map(|t| -t.hero.position.y);
        found.push(Outcome::new("swimming: floats this deep", "m", floats, Some(line)));
        let leap = Some(f64::from(swim.jump)).filter(|jump| *jump > 0.0);
        if let Some(said) = leap {
            found.push(Outcome::new("swimming: leaps out by", "m", leaps(tuning, line), Some(said)));
        }
    }
    let dive = run(tuning, FALL, &still, 12.0).map(|t| -t.samples.iter().map(|s| s.position.y).fold(0.0, f64::min));
    found.push(Outcome::new("swimming: a fall of 5 m leads down to", "m", dive, None));
    let (into, out) = beach(tuning).unzip();
    found.push(Outcome::new("swimming: begins this deep", "m", into, Some(f64::from(swim.begins) * height)));
    found.push(Outcome::new("swimming: ends this deep", "m", out.flatten(), Some(f64::from(swim.ends) * height)));
    found
}

fn water(current: f64) -> Zone {
    let still = Water::flat(DVec3::ZERO, Vec3::Y).flowing(Vec3::X * current as f32);
    Zone::new(1, DVec3::splat(-1e4), DVec3::new(1e4, 0.0, 1e4), Effect::Water(still))
}

fn bottom(height: f64) -> Ground {
    Ground::default().block([-2000.0, height - 10.0, -2000.0], [2000.0, height, 2000.0])
}

/// Deep water, and a script played in it from this height on.
fn run(tuning: &Tuning, from: f64, script: &Writing, end: f64) -> Option<Trial> {
    let mut trial = Trial::new(&bottom(-200.0), tuning, [0.0, from, 0.0])?.in_zone(water(0.0));
    trial.play(&script.clone().script(), end);
    Some(trial)
}

/// How fast it goes along, wading.
fn wades(tuning: &Tuning, current: f64, part: f64) -> Option<f64> {
    let depth = WADES * f64::from(tuning.shape().height);
    let mut trial = Trial::new(&bottom(-depth), tuning, [0.0, -depth, 0.0])?.in_zone(water(current));
    trial.play(&Writing::default().face(Face::Movement).head(0.1, part).script(), 5.0);
    Some(trial.hero.velocity.x)
}

/// Top speed, how long it takes to most of it, and how far it glides.
fn strokes(tuning: &Tuning, swim: &Swim, sprints: bool) -> Vec<Outcome> {
    let top = f64::from(swim.sprint.filter(|_| sprints).unwrap_or(swim.speed));
    let [gains, stops, drag] = [swim.acceleration, swim.deceleration, swim.drag].map(f64::from);
    // Part of its strength holds the speed that it has.
    let up_to = |speed: f64| if drag > 0.0 { -(1.0 - drag * speed / gains).ln() / drag } else { speed / gains };
    let glide = match (drag > 0.0, stops > 0.0) {
        (true, true) => top / drag - stops / (drag * drag) * (1.0 + drag * top / stops).ln(),
        (true, false) => top / drag,
        (false, true) => top * top / (2.0 * stops),
        (false, false) => f64::INFINITY,
    };
    // A whole number of ticks.
    let ends = ((FROM + up_to(0.999 * top).min(20.0) + 0.5) * RATE).ceil() / RATE;
    let still = ends + (20.0 / drag.max(1e-3)).min(top / stops.max(1e-3)).min(60.0) + 0.5;
    let script = Writing::default().face(Face::Nothing).head(FROM, 1.0).head(ends, 0.0);
    let script = if sprints { script.at(0.0, Step::Button(Button::Sprint, true)) } else { script };
    let trial = run(tuning, DEEP, &script, still);
    let at = |time: f64| trial.as_ref()?.samples.iter().find(|s| s.time >= time - 1e-9).copied();
    let glides = at(ends).zip(at(still - 0.1)).map(|(a, b)| b.position.x - a.position.x);
    let passes = |pair: &&[Sample]| pair[0].velocity.x < 0.9 * top && pair[1].velocity.x >= 0.9 * top;
    let between = |pair: &[Sample]| {
        let share = (0.9 * top - pair[0].velocity.x) / (pair[1].velocity.x - pair[0].velocity.x);
        pair[0].time + share * (pair[1].time - pair[0].time) - FROM
    };
    let reached = trial.as_ref().and_then(|t| t.samples.windows(2).find(passes).map(between));
    let name = if sprints { "swimming: top speed, sprint" } else { "swimming: top speed" };
    vec![
        Outcome::new(name, "m/s", at(ends).map(|s| s.velocity.x), Some(top)),
        Outcome::new("swimming: to 90 %", "s", reached, Some(up_to(0.9 * top))),
        Outcome::new("swimming: glides to a stop after", "m", glides, Some(glide)),
    ]
}

/// How much higher a leap leads.
fn leaps(tuning: &Tuning, line: f64) -> Option<f64> {
    let trial = run(tuning, -line, &Writing::default().press(6.0, Button::Jump, 1.0), 9.0)?;
    let from = trial.first(|k| matches!(k, EventKind::Jumped { .. }))?.place.y;
    Some(trial.first(|k| matches!(k, EventKind::Topped))?.place.y - from)
}

/// How deep it is down a beach where it begins to swim, and up it again where it walks.
fn beach(tuning: &Tuning) -> Option<(f64, Option<f64>)> {
    let (slope, height) = (17f64.to_radians(), f64::from(tuning.shape().height));
    // The surface is a little more than its height over the foot of the beach.
    let level = 1.3 * height;
    let ground = Ground::floor().ramp(slope.to_degrees());
    let sea = Water::flat(DVec3::Y * level, Vec3::Y);
    let sea = Zone::new(1, DVec3::splat(-1e4), DVec3::new(1e4, level, 1e4), Effect::Water(sea));
    let (x, y) = (level / slope.tan(), level + 0.3 * height);
    let mut trial = Trial::new(&ground, tuning, [x, y, 0.0])?.in_zone(sea);
    let swims = |kind: &EventKind| matches!(kind, EventKind::SwimBegan);
    trial.play_until(&Writing::default().head(0.0, -1.0).script(), 120.0, |t| t.first(swims).is_some());
    let into = level - trial.first(swims)?.place.y;
    let out = |kind: &EventKind| matches!(kind, EventKind::SwimEnded);
    trial.play_until(&Writing::default().head(0.0, 1.0).script(), 240.0, |t| t.first(out).is_some());
    Some((into, trial.first(out).map(|e| level - e.place.y)))
}
