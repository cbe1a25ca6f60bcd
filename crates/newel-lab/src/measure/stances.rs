//! Headroom, speed and eye height of each stance; how far a slide leads.

use newel::{Button, EventKind, Face, Form, Stance, Tuning};

use super::Outcome;
use super::grounds::Ground;
use super::trial::{Trial, Writing, largest, largest_within};
use crate::course::Step;

/// The names of a stance's figures: the lowest ceiling it passes, its speed, its eyes.
const NAMES: [(Stance, [&str; 4]); 3] = [
    (Stance::Stand, ["lowest ceiling", "", "eyes at", "narrowest passage"]),
    (Stance::Crouch, ["crouch: lowest ceiling", "crouch: top speed", "crouch: eyes at", "crouch: narrowest passage"]),
    (Stance::Prone, ["prone: lowest ceiling", "prone: top speed", "prone: eyes at", "prone: narrowest passage"]),
];

/// A slide as it comes out on the level.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Slid {
    pub speed: f64,
    pub time: f64,
    pub way: f64,
}

pub(super) fn outcomes(tuning: &Tuning) -> Vec<Outcome> {
    let mut found = Vec::new();
    for (stance, [ceiling, speed, eyes, passage]) in NAMES {
        let Some(factor) = factor(tuning, stance) else { continue };
        let height = f64::from(tuning.shape_in(stance).height);
        found.push(Outcome::new(ceiling, "m", lowest(tuning, stance), Some(height)));
        let walk = walked(tuning, stance);
        if stance.is_low() {
            let top = f64::from(tuning.values().ground.speed) * factor;
            found.push(Outcome::new(speed, "m/s", walk.as_ref().map(|w| w.hero.velocity.x), Some(top)));
        }
        let seen = walk.and_then(|w| w.readout).map(|r| f64::from(r.eyes));
        found.push(Outcome::new(eyes, "m", seen, Some(f64::from(tuning.eyes_in(stance)))));
        if tuning.shape().form == Form::Capsule {
            let wide = 2.0 * f64::from(tuning.shape_in(stance).radius);
            found.push(Outcome::new(passage, "m", narrowest(tuning, stance), Some(wide)));
        }
    }
    if tuning.values().slide.is_some() {
        let (measured, said) = (slid(tuning), formula(tuning));
        let figure = |name, unit, of: fn(&Slid) -> f64| {
            Outcome::new(name, unit, measured.as_ref().map(of), said.as_ref().map(of))
        };
        found.push(figure("slide: speed at first", "m/s", |s| s.speed));
        found.push(figure("slide: time", "s", |s| s.time));
        found.push(figure("slide: distance", "m", |s| s.way));
    }
    found
}

/// The part of the top speed that a stance has; `None` for one that the tuning does not have.
fn factor(tuning: &Tuning, stance: Stance) -> Option<f64> {
    if stance == Stance::Stand { Some(1.0) } else { tuning.low(stance).map(|low| f64::from(low.speed)) }
}

fn walk(stance: Stance) -> Writing {
    Writing::default().face(Face::Movement).at(0.0, Step::Stance(stance)).head(0.1, 1.0)
}

/// Three seconds of walking in a stance.
fn walked(tuning: &Tuning, stance: Stance) -> Option<Trial> {
    let mut trial = Trial::new(&Ground::floor(), tuning, [0.0; 3])?;
    trial.play(&walk(stance).script(), 4.0);
    Some(trial)
}

/// The lowest ceiling that it passes under.
fn lowest(tuning: &Tuning, stance: Stance) -> Option<f64> {
    let radius = f64::from(tuning.values().size.radius);
    let most = 1.5 * f64::from(tuning.shape().height);
    let passes = |height: f64| {
        let (near, far) = (4.0 * radius, 8.0 * radius);
        let ground = Ground::floor().block([near, height, -50.0], [far, height + 1.0, 50.0]);
        let Some(mut trial) = Trial::new(&ground, tuning, [0.0; 3]) else { return false };
        trial.play_until(&walk(stance).script(), 60.0, |t| {
            t.hero.position.x > far || (t.hero.clock > 1.0 && t.hero.velocity.x.abs() < 1e-3)
        });
        trial.hero.position.x > far
    };
    largest(-most, -0.01, |height| passes(-height)).map(|height| -height)
}

/// The narrowest passage between two walls that it walks through.
fn narrowest(tuning: &Tuning, stance: Stance) -> Option<f64> {
    let radius = f64::from(tuning.values().size.radius);
    let (near, far) = (2.0 * radius, 4.0 * radius);
    let passes = |wide: f64| {
        let wall = |side: f64| ([near, -1.0, side * 0.5 * wide], [far, 50.0, side * 50.0]);
        let ground = [wall(-1.0), wall(1.0)].into_iter().fold(Ground::floor(), |ground, (a, b)| {
            let [low, high] = [a[2].min(b[2]), a[2].max(b[2])];
            ground.block([a[0], a[1], low], [b[0], b[1], high])
        });
        let Some(mut trial) = Trial::new(&ground, tuning, [0.0; 3]) else { return false };
        trial.play_until(&walk(stance).script(), 60.0, |t| {
            t.hero.position.x > far || (t.hero.clock > 1.0 && t.hero.velocity.x.abs() < 1e-3)
        });
        trial.hero.position.x > far
    };
    largest_within(1e-3 * radius, 0.0, 3.99 * radius, |less| passes(4.0 * radius - less))
        .map(|less| 4.0 * radius - less)
}

/// A slide out of the fastest run there is, on the level, its button held.
pub(crate) fn slid(tuning: &Tuning) -> Option<Slid> {
    let mut trial = Trial::new(&Ground::floor(), tuning, [0.0; 3])?;
    let script = Writing::default()
        .face(Face::Movement)
        .press(0.0, Button::Sprint, 60.0)
        .head(0.0, 1.0)
        .press(5.0, Button::Slide, 60.0)
        .script();
    let ended = |kind: &EventKind| matches!(kind, EventKind::SlideEnded { .. });
    trial.play_until(&script, 60.0, |t| t.first(ended).is_some());
    let began = trial.first(|kind| matches!(kind, EventKind::SlideBegan { .. }))?;
    let end = trial.first(ended)?;
    Some(Slid { speed: began.velocity.length(), time: end.time - began.time, way: (end.place - began.place).length() })
}

/// The same by its formula; `None` where no run is fast enough to begin one.
fn formula(tuning: &Tuning) -> Option<Slid> {
    let (values, slide) = (tuning.values(), tuning.values().slide?);
    let run = f64::from(values.sprint.map_or(values.ground.speed, |s| s.speed));
    if run < f64::from(slide.from) {
        return None;
    }
    let speed = (run + f64::from(slide.burst)).min(f64::from(slide.fastest)).max(run);
    let (end, rate) = (f64::from(slide.ends_below), f64::from(slide.deceleration));
    Some(Slid { speed, time: (speed - end) / rate, way: (speed * speed - end * end) / (2.0 * rate) })
}
