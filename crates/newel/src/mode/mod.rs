//! What moves the character: one file for each mode, each says what it wants and when it ends.

mod air;
mod climb;
mod commands;
mod crest;
mod footwork;
mod ground;

pub(crate) use commands::obey;

use crate::character::Mode;
use crate::contact::Ground;
use crate::contact::ground::Decision;
use crate::run::Run;

/// Lets the current mode act on what is new at this moment: a press, a change of ground.
pub(crate) fn decide(run: &mut Run<'_>) {
    if run.me.mode == Mode::Air && run.me.keeps.is_top_view(run.me.up) {
        // Seen from above there is no falling: what was thrown slides on.
        enter_by_ground(run);
    }
    match run.me.mode {
        Mode::Ground => ground::decide(run),
        Mode::Air => {}
    }
}

/// Moves by the current mode's closed form for at most `span` seconds; returns the seconds used.
pub(crate) fn advance(run: &mut Run<'_>, span: f64) -> f64 {
    match run.me.mode {
        Mode::Ground => ground::advance(run, span),
        Mode::Air => air::advance(run, span),
    }
}

/// Into `Ground` or `Air`, by what is underfoot now.
pub(crate) fn enter_by_ground(run: &mut Run<'_>) {
    let decision = run.near.ground_within(&run.limits, 0.5 * run.near.shape.skin());
    run.me.ground = decision.ground;
    run.me.mode = if decision.is_firm() { Mode::Ground } else { Mode::Air };
    if decision.is_firm() {
        run.board();
        run.me.velocity -= run.me.carried;
    }
}

/// Into `Air`, whatever is underfoot.
pub(crate) fn take_off(run: &mut Run<'_>) {
    run.alight();
    run.me.mode = Mode::Air;
    run.me.ground = Ground::default();
    run.me.rising = false;
    run.me.thrown = [0.0; 2];
}

/// Onto the ground that was found underfoot. Speed across is kept, speed along up is spent.
pub(crate) fn land(run: &mut Run<'_>, decision: &Decision) {
    let up = run.up();
    run.me.mode = Mode::Ground;
    run.me.ground = decision.ground;
    run.me.rising = false;
    run.board();
    run.me.velocity -= run.me.carried;
    run.me.velocity -= up * run.me.velocity.dot(up);
}
