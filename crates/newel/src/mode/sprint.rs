//! Sprinting: held, headed within the cone, and in the air only where it was begun on the ground.

use glam::Vec3;

use super::stance;
use crate::drive::buttons::Button;
use crate::factors::in_cone;
use crate::outcome::{Ability, EventKind, Refusal};
use crate::phase::{Mode, Phase};
use crate::run::Run;
use crate::tuning::Allows;

/// Acts on a press: a low stance may stand up for it; and where there is none to be had, says why.
pub(super) fn press(run: &mut Run<'_>) {
    let allows = run.allows(|low| low.sprint);
    let why = if run.tuning.values().sprint.is_none() {
        Refusal::NotTuned
    } else if !run.modifiers.can_sprint {
        Refusal::SwitchedOff
    } else if allows == Allows::No {
        Refusal::TooLow
    } else {
        if allows == Allows::Stand {
            stance::stand_up(run);
        }
        return;
    };
    run.report(EventKind::Refused { ability: Ability::Sprint, why });
}

/// Whether it sprints from now on.
pub(super) fn decide(run: &mut Run<'_>) {
    let Some(sprint) = run.tuning.values().sprint else {
        run.me.marks.set_sprinting(false);
        return;
    };
    let wanted = run.allows(|low| low.sprint) == Allows::Yes
        && run.modifiers.can_sprint
        && run.me.held.has(Button::Sprint)
        && run.me.phase != Phase::Dash;
    let sprints = wanted
        && match run.me.mode {
            Mode::Ground => {
                let heading = run.heading_flat();
                let kept = sprint.keeps.filter(|_| run.me.marks.sprinting());
                heading != Vec3::ZERO && in_cone(&run.me, heading, kept.unwrap_or(sprint.cone))
            }
            Mode::Slide | Mode::Hover | Mode::Climb | Mode::Ledge | Mode::Swim | Mode::Custom => false,
            Mode::Air => run.me.marks.sprinting() && sprint.in_air,
        };
    run.me.marks.set_sprinting(sprints);
}
