//! The walk of a game's own mode: the ground's motion loop with a velocity and a rate of the game's.

use super::in_pieces;
use crate::activity::Activity;
use crate::math::flatten64;
use crate::mode::ground;
use crate::mode::transitions::LEAVES;
use crate::phase::Mode;
use crate::run::{Led, Run};

/// True where ground carries it: that it walked on, or that it touches and does not leave.
pub(super) fn stands(run: &mut Run<'_>) -> bool {
    if run.me.is_on_ground() {
        return true;
    }
    let found = run.near.ground_within(&run.limits, 0.5 * run.near.shape.skin());
    let leaves = run.me.velocity.dot(found.ground.normal.as_dvec3()) > LEAVES;
    if !found.is_firm() || leaves {
        return false;
    }
    run.ground = found.ground;
    run.me.activity = Activity::begin(Mode::Ground, 0.0);
    run.board();
    // Speed along up is spent, as in a landing.
    let flat = flatten64(run.me.velocity - run.carried, run.up());
    run.me.velocity = ground::lift(flat, run.ground.normal, run.me.up);
    true
}

/// Walks until `end`, or until the ground ends; returns the seconds of the last piece.
pub(super) fn go(run: &mut Run<'_>, led: Led, end: f64) -> f64 {
    run.led = Some(led);
    let used = in_pieces(run, end, ground::advance, |run| run.me.is_on_ground());
    run.led = None;
    used
}
