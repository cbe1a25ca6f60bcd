//! Speed along the ground: getting there, stopping, turning about; steps, slopes, and how fast it turns.

use newel::glam::Vec2;
use newel::{Button, EventKind, Face, Form, Heading, Mode, Tuning};

use super::formula::{gain, stop, turn_about};
use super::grounds::Ground;
use super::trial::{RATE, Trial, Writing, largest};
use super::{Outcome, Sample};
use crate::course::Step;

/// The longest that a trial runs, seconds, and how long it holds its top speed.
const LONGEST: f64 = 60.0;
const HOLD: f64 = 0.5;
/// Tick rate that resolves the end of an eased change, 1/s.
const FINE: f64 = 2000.0;

/// A measurement of a change of speed.
struct Paces {
    top: f64,
    acceleration: f64,
    names: [&'static str; 7],
    sprints: bool,
}

pub(super) fn outcomes(tuning: &Tuning) -> Vec<Outcome> {
    let values = tuning.values();
    let walk = Paces {
        top: f64::from(values.ground.speed),
        acceleration: f64::from(values.ground.acceleration),
        names: [
            "top speed",
            "to 90 %",
            "to top speed",
            "way to top speed",
            "stops in",
            "stops after",
            "turns about in",
        ],
        sprints: false,
    };
    let mut found = paces(tuning, &walk);
    found.push(run_on(tuning, walk.top));
    if let Some(sprint) = values.sprint {
        let sprint = Paces {
            top: f64::from(sprint.speed),
            acceleration: f64::from(sprint.acceleration),
            names: [
                "sprint: top speed",
                "sprint: to 90 %",
                "sprint: to top speed",
                "sprint: way to top speed",
                "sprint: stops in",
                "sprint: stops after",
                "sprint: turns about in",
            ],
            sprints: true,
        };
        found.extend(paces(tuning, &sprint));
    }
    for (name, way, factor) in
        [("speed sideways", Vec2::X, values.ground.sideways), ("speed backward", Vec2::NEG_Y, values.ground.backward)]
    {
        let formula = f64::from(values.ground.speed * factor);
        found.push(Outcome::new(name, "m/s", strafe(tuning, way), Some(formula)));
    }
    // The round of a foot walks up whatever meets it no steeper than a slope may be.
    let rolled = values.size.radius * (1.0 - values.ground.steepest.to_radians().cos());
    let step =
        f64::from(if values.size.form == Form::Box { values.ground.step } else { values.ground.step.max(rolled) });
    found.push(Outcome::new("highest step", "m", highest_step(tuning), Some(step)));
    found.push(Outcome::new("steepest slope", "°", steepest(tuning), Some(f64::from(values.ground.steepest))));
    found.push(half_turn(tuning));
    found
}

/// Goes at full speed, and reaches it; or is too slow to.
fn script(sprints: bool) -> Writing {
    let writing = Writing::default().face(Face::Movement);
    if sprints { writing.at(0.0, Step::Button(Button::Sprint, true)) } else { writing }
}

/// A run at full speed: up to it, a while on, then as `then` goes on.
pub(crate) fn paced(tuning: &Tuning, sprints: bool, then: Option<f64>, after: f64) -> Option<(Trial, f64)> {
    let rate = if tuning.values().ground.ease.is_some() { FINE } else { RATE };
    let ramp = {
        let mut trial = Trial::new(&Ground::floor(), tuning, [0.0; 3])?.at_rate(rate);
        trial.play_until(&script(sprints).head(0.0, 1.0).script(), LONGEST, |t| has_settled(&t.samples));
        trial.hero.clock
    };
    let turn = ramp + HOLD;
    let mut trial = Trial::new(&Ground::floor(), tuning, [0.0; 3])?.at_rate(rate);
    let script = script(sprints).head(0.0, 1.0).head(turn, then.unwrap_or(0.0)).script();
    trial.play_until(&script, turn + LONGEST, |t| t.hero.clock > turn + after + 1e-6 && has_settled(&t.samples));
    Some((trial, turn))
}

fn has_settled(samples: &[Sample]) -> bool {
    matches!(samples, [.., a, b] if a.velocity == b.velocity && b.time > 0.1)
}

/// When and where a speed along x was reached. A ramp that ends between two samples ends where it was going until then.
fn crossing(samples: &[Sample], speed: f64) -> Option<(f64, f64)> {
    let rises = speed >= samples[0].velocity.x;
    let reached = |s: &Sample| if rises { s.velocity.x >= speed } else { s.velocity.x <= speed };
    let i = samples.iter().position(reached)?;
    if i == 0 {
        return Some((samples[0].time, samples[0].position.x));
    }
    let (a, b) = (&samples[i - 1], &samples[i]);
    let slope = |a: &Sample, b: &Sample| (b.velocity.x - a.velocity.x) / (b.time - a.time);
    let as_before = if i > 1 { slope(&samples[i - 2], a) } else { slope(a, b) };
    let span =
        ((speed - a.velocity.x) / as_before.abs().max(slope(a, b).abs()).copysign(slope(a, b))).min(b.time - a.time);
    Some((a.time + span, a.position.x + 0.5 * (a.velocity.x + speed) * span))
}

fn paces(tuning: &Tuning, paces: &Paces) -> Vec<Outcome> {
    let ground = tuning.values().ground;
    let (ease, ease_stop) = (ground.ease.map(f64::from), ground.ease_stop.or(ground.ease).map(f64::from));
    let top = paces.top;
    let near = gain(top, 0.9, paces.acceleration, ease);
    let there = gain(top, 1.0, paces.acceleration, ease);
    let stopped = stop(top, f64::from(ground.deceleration), ease_stop);
    let about = turn_about(top, paces.acceleration, f64::from(ground.reversal), ease);
    let run = paced(tuning, paces.sprints, None, 0.0);
    let back = paced(tuning, paces.sprints, Some(-1.0), 0.02);
    let halves = run.as_ref().map(|(trial, turn)| {
        let split = trial.samples.partition_point(|s| s.time <= turn + 1e-9);
        // The sample at the turn belongs to both.
        (&trial.samples[..split], &trial.samples[split - 1..])
    });
    let (up, down) = (halves.map(|h| h.0), halves.map(|h| h.1));
    let almost = 1.0 - 1e-6;
    let to = |part: f64| up.and_then(|up| crossing(up, part * top * almost));
    let rest = down.and_then(|down| Some(crossing(down, 0.0)?.0 - down[0].time));
    let stop_way = down.and_then(|down| Some(down.last()?.position.x - down[0].position.x));
    let turned = back.as_ref().and_then(|(trial, turn)| {
        let from = trial.samples.partition_point(|s| s.time < turn - 1e-9);
        crossing(&trial.samples[from..], -top * almost).map(|c| c.0 - turn)
    });
    let reached = up.and_then(|up| Some(up.last()?.velocity.x));
    let [name, to_90, to_top, way, stops_in, stops_after, turns] = paces.names;
    vec![
        Outcome::new(name, "m/s", reached, Some(top)),
        Outcome::new(to_90, "s", to(0.9).map(|c| c.0), Some(near.time)),
        Outcome::new(to_top, "s", to(1.0).map(|c| c.0), Some(there.time)),
        Outcome::new(way, "m", to(1.0).map(|c| c.1), Some(there.way)),
        Outcome::new(stops_in, "s", rest, Some(stopped.time)),
        Outcome::new(stops_after, "m", stop_way, Some(stopped.way)),
        Outcome::new(turns, "s", turned, Some(about.time)),
    ]
}

/// How far it runs on before it turns about.
fn run_on(tuning: &Tuning, top: f64) -> Outcome {
    let ground = tuning.values().ground;
    let (gain, reversal) = (f64::from(ground.acceleration), f64::from(ground.reversal));
    let formula = turn_about(top, gain, reversal, ground.ease.map(f64::from)).way;
    let measured = paced(tuning, false, Some(-1.0), 0.02).map(|(trial, turn)| {
        let from = trial.samples.partition_point(|s| s.time < turn - 1e-9);
        let farthest = trial.samples.iter().map(|s| s.position.x).fold(f64::NEG_INFINITY, f64::max);
        farthest - trial.samples[from].position.x
    });
    Outcome::new("runs on before turning", "m", measured, Some(formula))
}

fn strafe(tuning: &Tuning, way: Vec2) -> Option<f64> {
    let mut trial = Trial::new(&Ground::floor(), tuning, [0.0; 3])?;
    let script = Writing::default().face(Face::Nothing).at(0.0, Step::Heading(Heading::Body(way))).script();
    trial.play_until(&script, LONGEST, |t| has_settled(&t.samples));
    let speed = trial.hero.velocity.length();
    // A box keeps to its plane, and has no sideways.
    (tuning.shape().form == Form::Capsule).then_some(speed)
}

fn highest_step(tuning: &Tuning) -> Option<f64> {
    let height = f64::from(tuning.values().size.height);
    largest(0.0, height, |step| {
        let ground = Ground::floor().block([2.0, -1.0, -99.0], [99.0, step, 99.0]);
        let Some(mut trial) = Trial::new(&ground, tuning, [0.0; 3]) else { return false };
        trial.play_until(
            &Writing::default().head(0.0, 1.0).script(),
            5.0 + 8.0 / 0.1f64.max(f64::from(tuning.values().ground.speed)),
            |t| t.hero.position.x > 4.0 || t.is_stuck(),
        );
        trial.hero.position.x > 3.5
    })
}

/// The steepest ramp that it stands on and walks up.
fn steepest(tuning: &Tuning) -> Option<f64> {
    largest(0.0, 89.0, |degrees| {
        let ground = Ground::floor().ramp(degrees);
        let Some(mut trial) = Trial::new(&ground, tuning, [-0.5, 0.0, 0.0]) else { return false };
        let left = |k: &EventKind| matches!(k, EventKind::LeftGround { .. });
        trial.play_until(&Writing::default().head(0.0, 1.0).script(), 20.0, |t| {
            t.hero.position.x > 3.0 || t.first(left).is_some() || t.is_stuck()
        });
        trial.hero.position.x > 3.0f64.min(40.0 * degrees.to_radians().cos()) - 0.5
            && trial.hero.mode == Mode::Ground
            && trial.first(left).is_none()
    })
}

/// How long it takes to look the other way; eased, to within a degree of it.
fn half_turn(tuning: &Tuning) -> Outcome {
    let turn = tuning.values().turn;
    let (target, formula) = match turn.ease {
        Some(ease) => (1.0, f64::from(ease) * 180f64.ln()),
        None => (0.0, 180.0 / f64::from(turn.rate)),
    };
    let name = if target > 0.0 { "half a turn, to 1° of it" } else { "half a turn" };
    let measured = Trial::new(&Ground::floor(), tuning, [0.0; 3]).and_then(|mut trial| {
        let script = Writing::default().face(Face::Movement).head(0.0, -1e-3).script();
        let left = |t: &Trial| (-t.hero.facing.x).clamp(-1.0, 1.0).acos().to_degrees();
        let mut last = (0.0, 180.0);
        loop {
            let end = trial.hero.clock + 1.0 / RATE;
            trial.play_until(&script, end, |_| false);
            let now = (trial.hero.clock, f64::from(left(&trial)));
            if now.1 <= target + 1e-3 {
                // A steady turn is done part way through a tick; its rate says where.
                let steady = last.0 + last.1 / f64::from(turn.rate);
                let eased =
                    last.0 + (last.1 / target.max(1e-9)).ln() * (now.0 - last.0) / (last.1 / now.1.max(1e-9)).ln();
                return Some(if target > 0.0 { eased } else { steady });
            }
            if now.0 > LONGEST {
                return None;
            }
            last = now;
        }
    });
    Outcome::new(name, "s", measured, Some(formula))
}
