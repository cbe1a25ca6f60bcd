//! Sprinting: held, headed within the cone, and in the air only where it was begun on the ground.

use glam::Vec3;

use super::stance;
use crate::character::{Mode, Phase};
use crate::drive::buttons::Button;
use crate::factors::in_cone;
use crate::run::Run;
use crate::tuning::Allows;

/// Whether it sprints from now on; `pressed` where the button went down at this moment.
pub(super) fn decide(run: &mut Run<'_>, pressed: bool) {
    let Some(sprint) = run.tuning.values().sprint else {
        run.me.sprinting = false;
        return;
    };
    let allows = run.allows(|low| low.sprint);
    if pressed && allows == Allows::Stand && run.modifiers.can_sprint {
        stance::stand_up(run);
    }
    let wanted = allows == Allows::Yes
        && run.modifiers.can_sprint
        && run.me.held.has(Button::Sprint)
        && run.me.phase != Phase::Dash;
    run.me.sprinting = wanted
        && match run.me.mode {
            Mode::Ground => {
                let heading = run.heading_flat();
                heading != Vec3::ZERO && in_cone(&run.me, heading, sprint.cone)
            }
            Mode::Slide => false,
            Mode::Air => run.me.sprinting && sprint.in_air,
        };
}
