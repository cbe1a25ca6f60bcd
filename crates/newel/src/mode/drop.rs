//! Dropping through a floor that is passed from below.

use super::slide;
use super::transitions::take_off;
use crate::outcome::{Ability, EventKind, Refusal};
use crate::phase::Phase;
use crate::run::Run;

/// Acts on a press.
pub(super) fn press(run: &mut Run<'_>) {
    match attempt(run) {
        Ok(()) => begin(run),
        Err(why) => run.report(EventKind::Refused { ability: Ability::Drop, why }),
    }
}

fn attempt(run: &mut Run<'_>) -> Result<(), Refusal> {
    if run.is_locked() {
        return Err(Refusal::Locked);
    }
    if !run.me.is_on_ground() {
        return Err(Refusal::NothingToDropThrough);
    }
    let reach = 0.5 * run.near.shape.skin();
    let stands = run.near.ground_within(&run.staying, reach).is_firm();
    // Other ground carries as before.
    run.near.pass_one_way(true, true);
    let still_stands = run.near.ground_within(&run.staying, reach).is_firm();
    run.near.pass_one_way(false, true);
    if stands && !still_stands { Ok(()) } else { Err(Refusal::NothingToDropThrough) }
}

fn begin(run: &mut Run<'_>) {
    let surface = run.ground.surface;
    slide::interrupt(run);
    take_off(run);
    run.in_control();
    (run.me.phase, run.me.phase_left) = (Phase::DropsThrough, run.tuning.values().ground.drops);
    run.pass_one_way();
    run.report(EventKind::DroppedThrough { surface });
}
