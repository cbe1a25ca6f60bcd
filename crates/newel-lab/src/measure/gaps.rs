//! How wide a gap it can cross to a landing of any height: from standing, running, and at the last moment of coyote time.

use newel::{Button, EventKind, Face, Tuning};
use serde::Serialize;

use super::Outcome;
use super::grounds::Ground;
use super::trial::{Trial, Writing, largest};

/// How a gap is taken.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Start {
    /// From standing at its very edge.
    Standing,
    /// At full speed, jumping at the last moment on the ground.
    Running,
    /// At full speed, jumping at the last moment of the coyote time.
    RunningLate,
}

impl Start {
    /// All of them.
    pub const ALL: [Start; 3] = [Start::Standing, Start::Running, Start::RunningLate];

    /// What a person would call it.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            Start::Standing => "standing",
            Start::Running => "running",
            Start::RunningLate => "running, with coyote time",
        }
    }
}

/// The widest gap to a landing of one height.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct Gap {
    /// How much higher the landing is, metres.
    pub height: f64,
    /// The widest gap that is crossed, metres; `None` where it is too high for any.
    pub widest: Option<f64>,
}

/// The widest gaps over landing heights, for each start.
pub type Gaps = Vec<(Start, Vec<Gap>)>;

/// A run-up long enough for anybody, metres.
const RUN_UP: f64 = 40.0;
const LONGEST: f64 = 90.0;
/// Seconds after the press in which a gap is crossed or not.
const ENOUGH: f64 = 20.0;

/// How a gap is come to.
struct Attempt {
    /// Just before the press, on a quay that is as the one before the gap.
    approach: Trial,
    /// When to press, seconds.
    press: f64,
}

/// The approach is kept from so long before the press, seconds.
const BEFORE: f64 = 0.05;

fn attempt(tuning: &Tuning, start: Start) -> Option<Attempt> {
    let jump = tuning.values().jump?;
    let begin = |x: f64| Trial::new(&Ground::quay(), tuning, [x, 0.0, 0.0]);
    if start == Start::Standing {
        return Some(Attempt { approach: begin(0.0)?, press: 0.0 });
    }
    let mut trial = begin(-RUN_UP)?;
    let left = |k: &EventKind| matches!(k, EventKind::LeftGround { .. });
    trial.play_until(&script(None), LONGEST, |t| t.first(left).is_some());
    let lost = trial.first(left)?.time;
    let late = if start == Start::RunningLate { f64::from(jump.coyote) } else { 0.0 };
    let press = lost + late - 1e-5;
    let mut approach = begin(-RUN_UP)?;
    approach.play(&script(Some(press)), (lost.min(press) - BEFORE).max(0.0));
    Some(Attempt { approach, press })
}

fn script(press: Option<f64>) -> crate::course::Script {
    let run = Writing::default().face(Face::Movement).head(0.0, 1.0);
    press.into_iter().fold(run, |run, at| run.press(at, Button::Jump, LONGEST)).script()
}

/// The widest gap that is crossed to a landing of this height.
pub(crate) fn widest(tuning: &Tuning, start: Start, height: f64) -> Option<f64> {
    let attempt = attempt(tuning, start)?;
    let speed = f64::from(tuning.values().ground.speed) * f64::from(tuning.values().air.speed).max(1.0);
    // A narrower one than itself it cannot stand before.
    let least = if start == Start::Standing { 1.1 * f64::from(tuning.values().size.radius) } else { 0.05 };
    largest(least, 0.5 + 12.0 * speed.max(1.0), |gap| crosses(&attempt, gap, height))
}

fn crosses(attempt: &Attempt, gap: f64, height: f64) -> bool {
    let mut trial = attempt.approach.moved_to(&Ground::gap(gap, height));
    let (low, beyond, press) = (height.min(0.0) - 3.0, gap + 1.0, attempt.press);
    trial.play_until(&script(Some(press)), press + ENOUGH, |t| t.hero.position.x > beyond || t.hero.position.y < low);
    trial.hero.position.x > beyond && trial.hero.position.y > height - 0.5 * f64::from(trial.radius())
}

/// The widest gaps for landings from well below to as high as it jumps.
pub(crate) fn gaps(tuning: &Tuning) -> Gaps {
    let tuning = &super::on_foot(tuning);
    let Some(jump) = tuning.values().jump else { return Vec::new() };
    let top = f64::from(jump.height);
    // Closer together toward the top, where the lines bend.
    let height = |part: f64| if part > 0.0 { top * (1.0 - (1.0 - part) * (1.0 - part)) } else { top * part };
    let heights: Vec<f64> =
        (-8..=12).map(|i| height(if i > 0 { f64::from(i) / 12.0 } else { f64::from(i) / 8.0 })).collect();
    let row = |start| heights.iter().map(|h| Gap { height: *h, widest: widest(tuning, start, *h) }).collect();
    Start::ALL.into_iter().map(|start| (start, row(start))).collect()
}

pub(super) fn outcomes(tuning: &Tuning) -> Vec<Outcome> {
    if tuning.values().jump.is_none() {
        return Vec::new();
    }
    let names = ["widest gap, standing", "widest gap, running", "widest gap, running with coyote"];
    let found = Start::ALL.into_iter().zip(names);
    found.map(|(start, name)| Outcome::new(name, "m", widest(tuning, start, 0.0), None)).collect()
}
