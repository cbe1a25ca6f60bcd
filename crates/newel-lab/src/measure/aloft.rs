//! Steering in the air: stopping, turning about and turning aside; and how far sprint jumps, extra jumps and jumps off walls lead.

use newel::glam::{DVec3, Vec2};
use newel::{Button, EventKind, Face, Heading, Off, Tuning};

use super::Outcome;
use super::formula::flown;
use super::grounds::Ground;
use super::jumping::{is_landing, times};
use super::trial::{Sample, Trial, Writing};
use crate::course::Step;

/// Seconds in which the air's top speed is reached, and then as long for what is asked.
const ENOUGH: f64 = 30.0;
/// A button held longer than any jump rises, seconds.
const HELD: f64 = 30.0;
/// Nearer than this part to a velocity is there.
const THERE: f64 = 1e-4;

pub(super) fn outcomes(tuning: &Tuning) -> Vec<Outcome> {
    let mut found = steering(tuning);
    if let Some(sprint) = tuning.values().sprint.filter(|_| tuning.values().jump.is_some()) {
        let (up, down) = times(tuning);
        let said = flown(tuning, f64::from(sprint.speed), up + down).filter(|_| !sprint.in_air);
        found.push(Outcome::new("sprint jump reach", "m", reach(tuning, true, false), said));
    }
    if tuning.values().jump.is_some_and(|jump| jump.extra > 0.0) {
        found.push(Outcome::new("running jump reach, with an extra jump", "m", reach(tuning, false, true), None));
    }
    if tuning.values().wall_jump.is_some() {
        found.push(Outcome::new("wall jump reach", "m", off_a_wall(tuning), None));
    }
    found
}

/// From the air's top speed: to a stop, the other way, and to the side.
fn steering(tuning: &Tuning) -> Vec<Outcome> {
    let (air, ground) = (tuning.values().air, tuning.values().ground);
    let top = f64::from(ground.speed * air.speed);
    if top == 0.0 {
        return Vec::new();
    }
    let plain = air.drag == 0.0;
    let rate = |rate: f32| Some(f64::from(rate)).filter(|rate| *rate > 0.0 && plain);
    let (gains, loses) = (rate(air.acceleration), rate(air.deceleration));
    let stop = to(tuning, top, DVec3::ZERO);
    let about = to(tuning, top, DVec3::NEG_X * top);
    let time = |samples: &Option<Vec<Sample>>| samples.as_ref().map(|s| s[s.len() - 1].time - s[0].time);
    let way = stop.as_ref().map(|s| s[s.len() - 1].position.x - s[0].position.x);
    let mut found = vec![
        Outcome::new("in the air: stops in", "s", time(&stop), loses.map(|rate| top / rate)),
        Outcome::new("in the air: stops after", "m", way, loses.map(|rate| top * top / (2.0 * rate))),
        Outcome::new("in the air: turns about in", "s", time(&about), gains.map(|rate| 2.0 * top / rate)),
    ];
    // A box keeps to its plane, and has no side to turn to.
    if tuning.shape().form == newel::Form::Capsule {
        let aside = to(tuning, top, DVec3::Z * top);
        let said = gains.map(|rate| 2f64.sqrt() * top / rate);
        found.push(Outcome::new("in the air: turns aside in", "s", time(&aside), said));
    }
    found
}

/// The samples from the moment at which, falling with the top speed along x, it heads for another velocity across, until it has that. The
/// last of them is where a steady change gets there, between two ticks.
fn to(tuning: &Tuning, top: f64, velocity: DVec3) -> Option<Vec<Sample>> {
    let far_below = Ground::default().block([-9.0, -1e5, -9.0], [9.0, 1.0 - 1e5, 9.0]);
    let mut trial = Trial::new(&far_below, tuning, [0.0; 3])?;
    let across = |v: DVec3| DVec3::new(v.x, 0.0, v.z);
    let off = |s: &Sample, to: DVec3| (across(s.velocity) - to).length();
    let head = |at: f64, way: DVec3| {
        Writing::default()
            .face(Face::Nothing)
            .head(0.0, 1.0)
            .at(at, Step::Heading(Heading::World((way / top).as_vec3())))
    };
    let near = THERE * top;
    trial.play_until(&head(ENOUGH, velocity).script(), ENOUGH, |t| {
        t.samples.last().is_some_and(|s| off(s, DVec3::X * top) < near)
    });
    let turn = trial.hero.clock;
    let reached = trial.samples.last().is_some_and(|s| off(s, DVec3::X * top) < near);
    let mut trial = Trial::new(&far_below, tuning, [0.0; 3]).filter(|_| reached)?;
    trial.play_until(&head(turn, velocity).script(), turn + ENOUGH, |t| {
        t.hero.clock > turn && t.samples.last().is_some_and(|s| off(s, velocity) < near)
    });
    let from = trial.samples.partition_point(|s| s.time < turn - 1e-9);
    let mut samples = trial.samples.split_off(from);
    let [.., before, a, b] = samples.as_mut_slice() else { return None };
    if off(b, velocity) >= near {
        return None;
    }
    let steady = (off(before, velocity) - off(a, velocity)) / (a.time - before.time);
    let left = (off(a, velocity) / steady).min(b.time - a.time);
    b.position = a.position + (a.velocity + velocity) * (0.5 * left);
    b.time = a.time + left;
    Some(samples)
}

/// How far a jump at full speed leads over level ground: sprinting, or with an extra jump at the top.
fn reach(tuning: &Tuning, sprints: bool, extra: bool) -> Option<f64> {
    let (trial, _) = super::walking::paced(tuning, sprints, Some(1.0), 0.0)?;
    let start = trial.hero.clock;
    let mut script = Writing::default().face(Face::Movement).head(0.0, 1.0).press(
        start,
        Button::Jump,
        if extra { 0.5 * times(tuning).0 } else { HELD },
    );
    if sprints {
        script = script.at(0.0, Step::Button(Button::Sprint, true));
    }
    if extra {
        script = script.press(start + times(tuning).0, Button::Jump, HELD);
    }
    let mut trial = Trial::new(&Ground::floor(), tuning, [0.0; 3])?;
    trial.play_until(&script.script(), start + 60.0, |t| t.first(is_landing).is_some());
    let from = trial.first(|k| matches!(k, EventKind::Jumped { .. }))?.place.x;
    Some(trial.first(is_landing)?.place.x - from)
}

/// How far from a wall a jump off it leads, down to where its feet were.
fn off_a_wall(tuning: &Tuning) -> Option<f64> {
    let radius = f64::from(tuning.values().size.radius);
    let wall = Ground::floor().block([0.0, -10.0, -50.0], [9.0, 90.0, 50.0]);
    let mut trial = Trial::new(&wall, tuning, [-radius - 0.01, 30.0, 0.0])?;
    let script = Writing::default()
        .face(Face::Nothing)
        .at(0.0, Step::Heading(Heading::Body(Vec2::Y)))
        .press(0.1, Button::Jump, HELD)
        .at(0.1, Step::Heading(Heading::Body(Vec2::NEG_Y)));
    trial.play_until(&script.script(), 30.0, |t| t.first(is_landing).is_some());
    let jumped = trial.first(|k| matches!(k, EventKind::Jumped { off: Off::Wall }))?.place;
    let back = trial.samples.iter().find(|s| s.position.x < jumped.x - 0.01 && s.position.y < jumped.y)?;
    Some(jumped.x - back.position.x)
}
