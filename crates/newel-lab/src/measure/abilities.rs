//! Measurements of the optional tables: wall slides, jumps off walls, dashes.

use newel::{Button, EventKind, Face, Off, Tuning};

use super::Outcome;
use super::grounds::Ground;
use super::trial::{Trial, Writing};

/// Beside a wall that faces west, high up.
fn at_a_wall(tuning: &Tuning) -> Option<Trial> {
    let ground = Ground::default().block([2.0, -400.0, -50.0], [3.0, 400.0, 50.0]);
    let near = 2.0 - f64::from(tuning.values().size.radius) - 0.01;
    Trial::new(&ground, tuning, [near, 100.0, 0.0])
}

pub(super) fn outcomes(tuning: &Tuning) -> Vec<Outcome> {
    let values = tuning.values();
    let mut found = Vec::new();
    if let Some(slide) = values.wall_slide {
        let measured = at_a_wall(tuning).map(|mut trial| {
            trial.play(&Writing::default().head(0.0, 1.0).script(), 5.0);
            -trial.hero.velocity.y
        });
        found.push(Outcome::new("wall slide speed", "m/s", measured, Some(f64::from(slide.speed))));
    }
    if let Some((wall, _)) = values.wall_jump.zip(values.jump) {
        let trial = at_a_wall(tuning).map(|mut trial| {
            trial.play(&Writing::default().press(0.5, Button::Jump, 9.0).script(), 4.0);
            trial
        });
        let jumped = trial.as_ref().and_then(|t| t.first(|k| *k == EventKind::Jumped { off: Off::Wall }).copied());
        let topped = trial.as_ref().and_then(|t| t.first(|k| *k == EventKind::Topped).copied());
        let height = jumped.zip(topped).map(|(j, t)| t.place.y - j.place.y);
        found.push(Outcome::new("wall jump height", "m", height, Some(f64::from(wall.height))));
        let away = jumped.map(|j| -j.velocity.x);
        found.push(Outcome::new("wall jump, speed away", "m/s", away, Some(f64::from(wall.away))));
    }
    if let Some(dash) = values.dash {
        let again = f64::from(dash.time + dash.cooldown);
        let trial = Trial::new(&Ground::floor(), tuning, [0.0; 3]).map(|mut trial| {
            trial.play(&Writing::default().face(Face::Nothing).press(0.1, Button::Dash, 0.01).script(), 0.2 + again);
            trial
        });
        let event = |kind: EventKind| trial.as_ref().and_then(|t| t.first(|k| *k == kind).copied());
        let both = event(EventKind::Dashed).zip(event(EventKind::DashEnded));
        let way = both.map(|(from, to)| (to.place - from.place).length());
        found.push(Outcome::new("dash distance", "m", way, Some(f64::from(dash.distance))));
        found.push(Outcome::new("dash time", "s", both.map(|(a, b)| b.time - a.time), Some(f64::from(dash.time))));
    }
    found
}
