//! In mid-step: over what is too blunt, or too high, for the round of a foot, it goes level to where its feet come down.
//!
//! That takes the time its way takes, however the ticks fall: the state keeps how far it still has to go. Turned back on
//! the way it comes down where it is; stopped, it stands there, a foot on what it steps over.

use glam::DVec3;

use super::footwork::{follow, piece, settle_down, stand_on};
use super::losing::lose_ground;
use super::step_up::most_rise;
use super::walking::walking;
use crate::motion::Ramp;
use crate::run::Run;

/// Going along what is stepped over, rather than over it, ends the step: less than this part of the way leads on.
const LEAST_ON: f64 = 0.05;

/// Goes on with the step for at most `span` seconds; returns the seconds used. The feet follow what they touch, as over a rim: up over it as
/// high as a step may be, on, and down onto it.
pub(super) fn advance(run: &mut Run<'_>, span: f64) -> f64 {
    let up = run.me.up;
    let ramp = walking(run);
    let into = run.me.striding.direction().as_dvec3();
    let going = if ramp.start() == DVec3::ZERO { ramp.at(span) } else { ramp.start() };
    if going.dot(into).abs() <= LEAST_ON * going.length() {
        return come_down(run);
    }
    let back = going.dot(into) < 0.0;
    let span = until_it_turns_back(&ramp, into, piece(run, &ramp, span));
    let whole = follow(&ramp, up, up, span);
    let on = whole.at(span).dot(into);
    let left = f64::from(run.me.stride);
    let path = if back { whole } else { follow(&ramp, up, up, span * (left / on).min(1.0)) };
    let from = run.near.place;
    let most = most_rise(run).max(0.0);
    let raise = if most > 0.0 { run.near.push(up * most).0 * most } else { 0.0 };
    let (used, hit) = run.near.sweep(&run.carried_along(path));
    run.me.velocity = ramp.at(used);
    run.me.stride = (left - path.at(used).dot(into)) as f32;
    let lifted = run.near.place;
    if run.near.push(up * -(raise + run.staying.step + run.near.shape.skin())).1.is_none() {
        run.near.place = lifted - run.up() * f64::from(raise);
        return used + come_down(run);
    }
    run.stepped((run.near.place - from).dot(run.up()) as f32);
    // All the way there, but for what rounding leaves; or up against what is no part of it; or back where it came from.
    let back_down = back && run.near.ground(&run.staying).is_firm();
    if hit.is_some() || back_down || (!back && on >= left) { used + come_down(run) } else { used }
}

/// The part of `span` in which the way leads on.
fn until_it_turns_back(ramp: &Ramp, into: DVec3, span: f64) -> f64 {
    let (now, then) = (ramp.start().dot(into), ramp.at(span).dot(into));
    if now * then < 0.0 { span * now / (now - then) } else { span }
}

/// The step is over: onto what carries here, or off.
fn come_down(run: &mut Run<'_>) -> f64 {
    run.me.stride = 0.0;
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
    let here = run.near.place;
    let below = run.near.push(run.me.up * -(run.staying.step + run.near.shape.skin())).1.is_some();
    run.near.place = here;
    below
}
