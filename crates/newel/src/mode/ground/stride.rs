//! In mid-step: over what is too blunt, or too high, for the round of a foot to roll over, as far as to where the foot comes down firmly.
//!
//! The feet are always on what they touch: the step only permits walking over what does not carry. The state keeps how far the step still
//! leads, so it takes the time that its way takes at every tick rate. Turned back, the character walks back to where it stood; stopped, it
//! stands with a foot on what it steps over.

use glam::DVec3;

use super::footwork::{follow, piece, settle_down, stand_on};
use super::losing::lose_ground;
use super::step_up::most_rise;
use super::walking::walking;
use crate::activity::StepOver;
use crate::mode::along_walls::touched_already;
use crate::motion::Ramp;
use crate::run::{HARDLY, Run};

/// A way of which less than this part leads along the step goes beside the obstacle and ends the step.
const LEAST_ALONG: f64 = 0.05;

/// Goes on with the step for at most `span` seconds. Returns the seconds used.
///
/// The way leads a step high over what is stepped over, so walls are what is touched there.
pub(super) fn advance(run: &mut Run<'_>, span: f64) -> f64 {
    let (up, from, start) = (run.me.up, run.near.place, run.near.time());
    let most = most_rise(run).max(0.0);
    let raise = if most > 0.0 { run.near.push(up * most).0 * most } else { 0.0 };
    run.walls.refresh(&run.near);
    let ramp = walking(run);
    let step = run.me.activity.step();
    let along = step.direction.direction().as_dvec3();
    let going = if ramp.start() == DVec3::ZERO { ramp.at(span) } else { ramp.start() };
    if going.dot(along).abs() <= LEAST_ALONG * going.length() {
        run.near.place = from;
        return come_down(run);
    }
    let turned_back = going.dot(along) < 0.0;
    let span = until_it_turns(&ramp, along, piece(run, &ramp, span));
    let left = f64::from(step.remaining);
    let whole = follow(&ramp, up, up, span);
    let part = if turned_back { 1.0 } else { (left / whole.at(span).dot(along)).min(1.0) };
    let path = follow(&ramp, up, up, span * part);
    let wall = touched_already(run, &path);
    let (used, hit) = if wall.is_some() { (0.0, wall) } else { run.near.sweep(&run.carried_along(path)) };
    if run.near.push(up * -(raise + run.staying.step + run.near.shape.skin())).1.is_none() {
        run.near.place = from;
        run.near.set_time(start);
        return come_down(run);
    }
    run.stepped((run.near.place - from).dot(run.up()) as f32);
    run.me.velocity = ramp.at(used);
    run.me.activity.set_step(StepOver { remaining: (left - path.at(used).dot(along)) as f32, ..step });
    let ends = match hit {
        // A wall beside the way is slid along; one that leaves no way ends the step.
        Some(wall) => {
            let known = run.walls.knows(&wall);
            run.walls.add(wall);
            known && used < HARDLY
        }
        None if turned_back => run.near.ground(&run.staying).is_firm(),
        None => part < 1.0 || whole.at(span).dot(along) >= left,
    };
    if ends { used + come_down(run) } else { used }
}

/// The part of `span` until the way turns from leading on to leading back, or the other way about.
fn until_it_turns(ramp: &Ramp, along: DVec3, span: f64) -> f64 {
    let (now, then) = (ramp.start().dot(along), ramp.at(span).dot(along));
    if now * then < 0.0 { span * now / (now - then) } else { span }
}

/// The step is over: onto what carries here, or off.
fn come_down(run: &mut Run<'_>) -> f64 {
    run.me.activity.set_step(StepOver::default());
    let before = run.near.place;
    match settle_down(run) {
        Some(found) => {
            stand_on(run, &found);
            let drop = (run.near.place - before).dot(run.up()) as f32;
            if drop != 0.0 {
                run.stepped(drop);
            }
            0.0
        }
        None => {
            let decision = run.near.ground(&run.staying);
            lose_ground(run, run.me.velocity, decision)
        }
    }
}

/// True while there is something within a step below: what is stepped over, or what is stepped from.
pub(super) fn is_over_something(run: &mut Run<'_>) -> bool {
    let down = run.me.up * -(run.staying.step + run.near.shape.skin());
    run.elsewhere(|run| run.near.push(down).1.is_some())
}
