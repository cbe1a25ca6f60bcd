//! What moves the character: one file for each mode, each says what it wants and when it ends; and what buttons ask for.

mod air;
mod climb;
mod commands;
mod corner;
mod crest;
mod dash;
mod displace;
mod fall;
mod footwork;
mod ground;
mod jump;
mod letting_go;
mod nudge;
mod sprint;
mod stride;
mod wall;

pub(crate) use commands::obey;
pub(crate) use dash::end as end_dash;

use crate::buttons::{Button, Buttons};
use crate::character::{Mode, Phase};
use crate::contact::Ground;
use crate::contact::arcs::Path;
use crate::contact::ground::{Decision, TOUCHING};
use crate::contact::point::Contact;
use crate::run::Run;

/// Acts on what is new at this moment: a press, a release, ground under a press that waits.
pub(crate) fn decide(run: &mut Run<'_>) {
    if run.me.mode == Mode::Air && run.me.keeps.is_top_view(run.me.up) {
        // Seen from above there is no falling: what was thrown slides on.
        enter_by_ground(run);
    }
    // A press is acted on once, also where several things happen at the same moment.
    let pressed = core::mem::replace(&mut run.pressed, Buttons::NONE);
    if pressed.has(Button::Dash) {
        dash::press(run);
    }
    if pressed.has(Button::Jump) {
        jump::press(run);
    } else if run.me.buffer > 0.0 {
        jump::wait(run);
    }
    jump::hold(run);
    // By what it is now on: a jump may have ended the sprint.
    sprint::decide(run);
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
    (run.me.ground, run.me.stride) = (decision.ground, 0.0);
    run.me.mode = if decision.is_firm() { Mode::Ground } else { Mode::Air };
    if decision.is_firm() {
        run.board();
        run.me.velocity -= run.carried;
    }
}

/// Into `Air`, whatever is underfoot.
pub(crate) fn take_off(run: &mut Run<'_>) {
    run.alight();
    run.me.mode = Mode::Air;
    run.me.ground = Ground::default();
    (run.me.thrown, run.me.stride) = ([0.0; 2], 0.0);
    run.me.coyote = 0.0;
    if run.me.phase != Phase::Dash {
        run.me.phase = Phase::Plain;
    }
}

/// Into `Air` because the ground ended: for a moment it can still be jumped from.
pub(crate) fn lose(run: &mut Run<'_>) {
    take_off(run);
    run.me.coyote = run.tuning.values().jump.map_or(0.0, |jump| jump.coyote);
}

/// Onto the ground that was found underfoot. Speed across is kept, speed along up is spent.
pub(crate) fn land(run: &mut Run<'_>, decision: &Decision) {
    let up = run.up();
    run.me.mode = Mode::Ground;
    run.me.ground = decision.ground;
    if run.me.phase != Phase::Dash {
        (run.me.phase, run.me.phase_left) = (Phase::Plain, 0.0);
    }
    (run.me.coyote, run.me.extra_jumps, run.me.air_dashes) = (0.0, 0, 0);
    run.board();
    run.me.velocity -= run.carried;
    run.me.velocity -= up * run.me.velocity.dot(up);
}

/// What is touched already and lies in the way: met before the first move, as if it were hit at once. `None` where that has
/// all been met.
///
/// Without it a piece of way would begin with the hair that is left to a wall, as often as the ticks have it.
fn touched_already(run: &mut Run<'_>, path: &Path) -> Option<Contact> {
    run.unmet = run.unmet.checked_sub(1)?;
    run.near.touch(TOUCHING * run.near.shape.tolerance());
    let (limits, up, near) = (run.staying, run.me.up, &run.near);
    let way = (path.at(path.span) - run.carried * path.span).as_vec3();
    // What is further off than a sweep ends is not touched yet: the way closes that.
    let close = 2.0 * near.shape.tolerance();
    let steep = |c: &Contact| !limits.walkable(c.normal, up);
    let entered = |c: &Contact| way.dot(c.normal) < -1e-6 * way.length() && !run.walls.knows(c);
    // The rim of a wall that is touched is no other wall, however near it is.
    let new = near
        .contacts
        .iter()
        .filter(|c| c.gap <= close && steep(c) && entered(c) && near.face_with_rim(c, steep).is_none());
    let met = new.copied().reduce(|a, b| if way.dot(b.normal) < way.dot(a.normal) { b } else { a });
    if met.is_none() {
        run.unmet = 0;
    }
    met
}
