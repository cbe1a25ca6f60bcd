//! Standing still, also on what moves.

use glam::DVec3;

use super::footwork::settle_down;
use super::losing::lose_ground;
use super::meeting::meet;
use super::stride;
use crate::contact::arcs::Path;
use crate::run::Run;

/// Stands for at most `span` seconds, carried along by what it stands on; returns the seconds used.
pub(super) fn advance(run: &mut Run<'_>, span: f64) -> f64 {
    if run.near.patch.is_moving() { stand_among_movers(run, span) } else { stand(run, span) }
}

/// Standing still: nothing is written while the ground carries and is within half a skin of where it should be.
fn stand(run: &mut Run<'_>, span: f64) -> f64 {
    if run.me.activity.step().remaining > 0.0 && stride::is_over_something(run) {
        return span;
    }
    let decision = run.near.ground_within(&run.staying, 0.5 * run.near.shape.skin());
    if decision.is_firm() {
        run.take_ground(decision.ground);
        return span;
    }
    match settle_down(run) {
        Some(found) => {
            run.leave_foothold();
            run.take_ground(found.ground);
            span
        }
        None => lose_ground(run, DVec3::ZERO, decision),
    }
}

/// Standing still where something moves: carried along by what it stands on, and pushed by what comes.
fn stand_among_movers(run: &mut Run<'_>, span: f64) -> f64 {
    // Whether the ground still carries is asked as on ground that stands still.
    stand(run, 0.0);
    if !run.me.is_on_ground() {
        return 0.0;
    }
    let still = Path { velocity: DVec3::ZERO, rate: DVec3::ZERO, span };
    let still = Path { span: run.smooth(&still, span), ..still };
    let from = run.near.place;
    let (used, hit) = run.near.sweep_with(run.ground.body, &run.carried_along(still));
    match hit {
        Some(contact) => {
            run.leave_foothold();
            used + meet(run, &contact, still.span - used)
        }
        None => {
            run.carry_standing(from, used);
            run.carry_ground();
            used
        }
    }
}
