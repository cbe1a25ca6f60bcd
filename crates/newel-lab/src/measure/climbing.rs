//! Climbing: how fast up, down and aside.

use newel::glam::{DVec3, Vec2, Vec3};
use newel::{Effect, Face, Heading, Hold, Mode, Tuning, Zone};

use super::Outcome;
use super::grounds::Ground;
use super::trial::{Trial, Writing};
use crate::course::Step;

/// When it turns down or aside, seconds, and how long after that its speed is told.
const TURN: f64 = 4.0;
const AFTER: f64 = 1.0;

pub(super) fn outcomes(tuning: &Tuning) -> Vec<Outcome> {
    let Some(climb) = tuning.values().climb else { return Vec::new() };
    let figure = |name, measured: Option<f64>, said: f32| Outcome::new(name, "m/s", measured, Some(f64::from(said)));
    let mut found = vec![
        figure("climbing: up", climbed(tuning, Hold::Ladder, Vec2::Y).map(|v| v.y), climb.up),
        figure("climbing: down", climbed(tuning, Hold::Ladder, Vec2::NEG_Y).map(|v| -v.y), climb.down),
    ];
    if climb.aside > 0.0 {
        found.push(figure("climbing: aside", climbed(tuning, Hold::Wall, Vec2::X).map(|v| v.z.abs()), climb.aside));
    }
    found
}

/// How fast it goes with a heading along what it climbs.
fn climbed(tuning: &Tuning, hold: Hold, way: Vec2) -> Option<DVec3> {
    let radius = f64::from(tuning.values().size.radius);
    let near = 3.0 * radius;
    let holds = Effect::Hold { hold, out: Vec3::NEG_X };
    let zone = Zone::new(1, DVec3::new(near, 0.0, -80.0), DVec3::new(near + 1.0, 800.0, 80.0), holds);
    let mut trial = Trial::new(&Ground::floor(), tuning, [0.0; 3])?.in_zone(zone);
    let script = Writing::default().face(Face::Movement).head(0.0, 1.0).at(TURN, Step::Heading(Heading::Surface(way)));
    trial.play(&script.script(), TURN + AFTER);
    (trial.hero.mode == Mode::Climb).then_some(trial.hero.velocity)
}
