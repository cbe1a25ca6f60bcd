//! How wide a gap it can cross to a landing of any height: from standing, running, sprinting, at the last moment of coyote time, with an extra
//! jump, and off a wall.

use newel::glam::Vec3;
use newel::{Button, EventKind, Face, Heading, Tuning};
use serde::Serialize;

use super::Outcome;
use super::grounds::Ground;
use super::jumping::times;
use super::trial::{Trial, Writing, largest_within};
use crate::course::{Script, Step};

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
    /// At full sprint, jumping at the last moment on the ground.
    Sprinting,
    /// Running, with one more jump at the top of the first.
    ExtraJump,
    /// From sliding down a wall, over to a landing at the height where it jumps off.
    OffWall,
}

impl Start {
    /// All of them.
    pub const ALL: [Start; 6] =
        [Start::Standing, Start::Running, Start::RunningLate, Start::Sprinting, Start::ExtraJump, Start::OffWall];

    /// Readable name.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            Start::Standing => "standing",
            Start::Running => "running",
            Start::RunningLate => "running, with coyote time",
            Start::Sprinting => "sprinting",
            Start::ExtraJump => "running, with an extra jump",
            Start::OffWall => "off a wall",
        }
    }

    fn figure(self) -> &'static str {
        match self {
            Start::Standing => "widest gap, standing",
            Start::Running => "widest gap, running",
            Start::RunningLate => "widest gap, running with coyote",
            Start::Sprinting => "widest gap, sprinting",
            Start::ExtraJump => "widest gap, with an extra jump",
            Start::OffWall => "widest gap, off a wall",
        }
    }

    /// Whether a tuning has what it takes.
    fn is_possible(self, tuning: &Tuning) -> bool {
        let values = tuning.values();
        let Some(jump) = values.jump else { return false };
        match self {
            Start::Standing | Start::Running | Start::RunningLate => true,
            Start::Sprinting => values.sprint.is_some(),
            Start::ExtraJump => jump.extra > 0.0,
            Start::OffWall => values.wall_jump.is_some(),
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
    script: Script,
    /// When to press, seconds.
    press: f64,
    /// Where the take-off is, metres: landings are as much higher than that as they say.
    from: f64,
    /// Run-up before the gap.
    before: Ground,
}

/// Gaps are found to within this, metres.
const LENGTH: f64 = 2e-4;
/// The approach is kept from so long before the press, seconds.
const BEFORE: f64 = 0.05;

fn attempt(tuning: &Tuning, start: Start) -> Option<Attempt> {
    let jump = tuning.values().jump.filter(|_| start.is_possible(tuning))?;
    let begin = |x: f64| Trial::new(&Ground::quay(), tuning, [x, 0.0, 0.0]);
    match start {
        Start::OffWall => return off_a_wall(tuning),
        Start::Standing => {
            let (approach, script) = (begin(0.0)?, script(tuning, start, Some(0.0)));
            return Some(Attempt { approach, script, press: 0.0, from: 0.0, before: Ground::quay() });
        }
        _ => {}
    }
    let mut trial = begin(-RUN_UP)?;
    let left = |k: &EventKind| matches!(k, EventKind::LeftGround { .. });
    trial.play_until(&script(tuning, start, None), LONGEST, |t| t.first(left).is_some());
    let lost = trial.first(left)?.time;
    let late = if start == Start::RunningLate { f64::from(jump.coyote) } else { 0.0 };
    let press = lost + late - 1e-5;
    let (mut approach, script) = (begin(-RUN_UP)?, script(tuning, start, Some(press)));
    approach.play(&script, (lost.min(press) - BEFORE).max(0.0));
    Some(Attempt { approach, script, press, from: 0.0, before: Ground::quay() })
}

fn script(tuning: &Tuning, start: Start, press: Option<f64>) -> Script {
    let mut run = Writing::default().face(Face::Movement).head(0.0, 1.0);
    if start == Start::Sprinting {
        run = run.at(0.0, Step::Button(Button::Sprint, true));
    }
    let Some(at) = press else { return run.script() };
    if start != Start::ExtraJump {
        return run.press(at, Button::Jump, LONGEST).script();
    }
    let up = times(tuning).0;
    run.press(at, Button::Jump, 0.5 * up).press(at + up, Button::Jump, LONGEST).script()
}

/// When it jumps off the wall, seconds: it touches that by then. And how high it begins, metres.
const OFF_AT: f64 = 0.1;
const HIGH: f64 = 40.0;

/// Against a wall that ends at x = 0, falling, and off it.
fn off_a_wall(tuning: &Tuning) -> Option<Attempt> {
    let wall = || Ground::default().block([-9.0, -50.0, -50.0], [0.0, 2.0 * HIGH, 50.0]);
    let heads = |at: f64, way: Vec3| (at, Step::Heading(Heading::World(way)));
    let script = [heads(0.0, Vec3::NEG_X), heads(OFF_AT, Vec3::X)]
        .into_iter()
        .fold(Writing::default().face(Face::Nothing), |writing, (at, step)| writing.at(at, step))
        .press(OFF_AT, Button::Jump, LONGEST)
        .script();
    let begin = || Trial::new(&wall(), tuning, [f64::from(tuning.values().size.radius) + 0.01, HIGH, 0.0]);
    let mut trial = begin()?;
    let jumped = |k: &EventKind| matches!(k, EventKind::Jumped { off: newel::Off::Wall });
    trial.play_until(&script, 1.0, |t| t.first(jumped).is_some());
    let from = trial.first(jumped)?.place.y;
    let mut approach = begin()?;
    approach.play(&script, OFF_AT - BEFORE);
    Some(Attempt { approach, script, press: OFF_AT, from, before: wall() })
}

/// The widest gap that is crossed to a landing of this height.
pub(crate) fn widest(tuning: &Tuning, start: Start, height: f64) -> Option<f64> {
    let attempt = attempt(tuning, start)?;
    let values = tuning.values();
    let fastest = values.sprint.filter(|_| start == Start::Sprinting).map_or(0.0, |sprint| sprint.speed);
    let away = values.wall_jump.map_or(0.0, |jump| jump.away);
    let speed = f64::from(values.ground.speed.max(fastest).max(away)) * f64::from(values.air.speed).max(1.0);
    // A narrower one than itself it cannot stand before, and hangs over beside a wall.
    let wide = matches!(start, Start::Standing | Start::OffWall);
    let least = if wide { 1.1 * f64::from(values.size.radius) } else { 0.05 };
    largest_within(LENGTH, least, 0.5 + 12.0 * speed.max(1.0), |gap| crosses(&attempt, gap, height))
}

fn crosses(attempt: &Attempt, gap: f64, height: f64) -> bool {
    let Attempt { from, press, script, .. } = attempt;
    let mut trial = attempt.approach.moved_to(&attempt.before.clone().beyond(gap, from + height));
    let (low, beyond) = (from + height.min(0.0) - 3.0, gap + 1.0);
    trial.play_until(script, press + ENOUGH, |t| t.hero.position.x > beyond || t.hero.position.y < low);
    trial.hero.position.x > beyond && trial.hero.position.y > from + height - 0.5 * f64::from(trial.radius())
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
    let possible = Start::ALL.into_iter().filter(|start| start.is_possible(tuning));
    possible.map(|start| (start, row(start))).collect()
}

pub(super) fn outcomes(tuning: &Tuning) -> Vec<Outcome> {
    let possible = Start::ALL.into_iter().filter(|start| start.is_possible(tuning));
    possible.map(|start| Outcome::new(start.figure(), "m", widest(tuning, start, 0.0), None)).collect()
}
