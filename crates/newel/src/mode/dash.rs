//! The dash: straight ahead at a constant speed, whatever pulls; on the ground along it, in the air level.

use glam::Vec3;

use crate::math::direction;
use crate::outcome::{Ability, EventKind, Refusal};
use crate::phase::{Mode, Phase};
use crate::run::Run;
use crate::tuning::{Allows, Dash};
use crate::walls::Walls;

use super::ground::lift;
use super::stance;

/// Acts on a press.
pub(super) fn press(run: &mut Run<'_>) {
    if run.allows(|low| low.dash) == Allows::Stand && !run.is_sliding() {
        return stance::stand_up(run);
    }
    match attempt(run) {
        Ok((dash, way)) => begin(run, &dash, way),
        Err(why) => run.report(EventKind::Refused { ability: Ability::Dash, why }),
    }
}

/// The dash, and which way it leads.
fn attempt(run: &Run<'_>) -> Result<(Dash, Vec3), Refusal> {
    let dash = run.tuning.values().dash.ok_or(Refusal::NotTuned)?;
    if !run.modifiers.can_dash {
        return Err(Refusal::SwitchedOff);
    }
    if run.me.phase == Phase::Dash {
        return Err(Refusal::Dashing);
    }
    if run.is_locked() {
        return Err(Refusal::Locked);
    }
    if run.me.mode.holds_on() {
        return Err(Refusal::HoldingOn);
    }
    if run.is_sliding() {
        return Err(Refusal::Sliding);
    }
    if run.allows(|low| low.dash) != Allows::Yes {
        return Err(Refusal::TooLow);
    }
    if run.me.cooldown > 0.0 {
        return Err(Refusal::CoolingDown);
    }
    if run.me.mode == Mode::Air && f32::from(run.me.air_dashes) >= dash.in_air {
        return Err(Refusal::InTheAir);
    }
    // Looking across its plane, without a heading, there is no way for it to lead.
    let facing = Some(run.me.keeps.flat(run.me.facing)).filter(|f| f.length() > 1e-3);
    let way = direction(run.heading_flat()).or(facing.and_then(direction)).ok_or(Refusal::NoWay)?;
    Ok((dash, way))
}

fn begin(run: &mut Run<'_>, dash: &Dash, way: Vec3) {
    let flat = way.as_dvec3() * (f64::from(dash.distance) / f64::from(dash.time));
    // Walls in effect are resolved and reported again: at whatever moment of a tick it begins.
    run.walls = Walls::default();
    if run.me.mode == Mode::Ground {
        run.leave_foothold();
        run.me.velocity = lift(flat, run.ground.normal, run.me.up);
    } else {
        run.me.velocity = flat;
        if run.me.mode == Mode::Air {
            run.me.air_dashes += 1;
        }
    }
    (run.me.phase, run.me.phase_left) = (Phase::Dash, dash.time);
    run.report(EventKind::Dashed);
}
