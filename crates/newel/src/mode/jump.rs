//! Jumps: off the ground, off ground just lost, off a wall, in the air; and presses that wait.

use glam::DVec3;

use super::air::wall;
use super::slide;
use super::stance;
use super::transitions::take_off;
use super::{holding, ledge, swim};
use crate::contact::point::Contact;
use crate::drive::buttons::Button;
use crate::math::flatten64;
use crate::outcome::{Ability, EventKind, Off, Refusal, SlideEnd};
use crate::phase::{Mode, Phase};
use crate::run::Run;
use crate::tuning::{Allows, Jump};

/// Acts on a press: jumps off whatever there is, or waits for ground, or says why not.
pub(super) fn press(run: &mut Run<'_>) {
    if run.me.mode == Mode::Swim {
        return swim::leap_out(run);
    }
    if run.allows(|low| low.jump) == Allows::Stand && !run.is_sliding() {
        return stance::stand_up(run);
    }
    let Err(why) = attempt(run) else { return };
    let waits = matches!(why, Refusal::InTheAir | Refusal::Dashing | Refusal::Locked);
    let buffer = run.tuning.values().jump.map_or(0.0, |jump| jump.buffer);
    if waits && buffer > 0.0 {
        run.me.buffer = buffer;
        run.report(EventKind::Buffered);
    } else {
        run.report(EventKind::Refused { ability: Ability::Jump, why });
    }
}

/// A press that came too early jumps as soon as there is ground.
pub(super) fn wait(run: &mut Run<'_>) {
    if run.me.is_on_ground() {
        // The obstacle to the jump may end before the press does.
        let _ = attempt(run);
    }
}

/// The button let go on the way up: from now on it rises less.
pub(super) fn hold(run: &mut Run<'_>) {
    let tap = run.tuning.values().jump.and_then(|jump| jump.tap_height);
    if run.me.phase == Phase::Rising && tap.is_some() && !run.me.held.has(Button::Jump) {
        run.me.phase = Phase::Released;
    }
}

fn attempt(run: &mut Run<'_>) -> Result<(), Refusal> {
    let jump = run.tuning.values().jump.ok_or(Refusal::NotTuned)?;
    if !run.modifiers.can_jump {
        return Err(Refusal::SwitchedOff);
    }
    if run.me.keeps.is_top_view(run.me.up) {
        return Err(Refusal::FromAbove);
    }
    if run.me.phase == Phase::Dash {
        return Err(Refusal::Dashing);
    }
    if run.is_locked() {
        return Err(Refusal::Locked);
    }
    if run.is_sliding() {
        if !run.tuning.values().slide.is_some_and(|slide| slide.jump) {
            return Err(Refusal::Sliding);
        }
    } else if run.allows(|low| low.jump) != Allows::Yes {
        return Err(Refusal::TooLow);
    }
    if run.me.phase.is_ledge_move() {
        return Err(Refusal::OnItsWay);
    }
    if run.me.mode.holds_on() {
        if !(run.me.mode == Mode::Ledge && ledge::press_jump(run)) {
            holding::jump_off(run);
        }
    } else if run.me.is_on_ground() {
        off_the_ground(run, &jump);
    } else if run.me.coyote > 0.0 {
        leap(run, flatten64(run.me.velocity, run.up()), jump.height, Off::LostGround);
    } else if let Some(wall) = wall::in_reach(run) {
        off_a_wall(run, &wall);
    } else if f32::from(run.me.extra_jumps) < jump.extra {
        let height = jump.extra_height.unwrap_or(jump.height);
        leap(run, flatten64(run.me.velocity, run.up()), height, Off::Air);
        run.me.extra_jumps += 1;
    } else {
        return Err(Refusal::InTheAir);
    }
    Ok(())
}

fn off_the_ground(run: &mut Run<'_>, jump: &Jump) {
    let up = run.up();
    let normal = run.ground.normal.as_dvec3();
    let along = normal.dot(up);
    let mut across = flatten64(run.me.velocity, up);
    if along > 0.0 && jump.lean > 0.0 {
        // Away from the slope by as much as makes it rise along the normal: the height stays as it is tuned.
        let rise = speed_to(run, jump.height);
        across += run.me.keeps.flat64(flatten64(normal, up) * (f64::from(jump.lean) * rise / along));
    }
    leap(run, across, jump.height, Off::Ground);
}

fn off_a_wall(run: &mut Run<'_>, wall: &Contact) {
    let Some(tuned) = run.tuning.values().wall_jump else { return };
    let away = flatten64(wall.normal.as_dvec3(), run.up());
    let away = away / away.length();
    let across = flatten64(run.me.velocity, run.up());
    let across = across + away * (f64::from(tuned.away) + wall.velocity.dot(away) - across.dot(away));
    leap(run, across, tuned.height, Off::Wall);
    run.me.phase_left = tuned.pause;
}

/// The speed at take-off that rises to a height now.
fn speed_to(run: &Run<'_>, height: f32) -> f64 {
    run.tuning.take_off_to(f64::from(height) * f64::from(run.modifiers.jump_height))
}

/// Up with the speed that the height asks for, never slower than it is rising already.
pub(super) fn leap(run: &mut Run<'_>, across: DVec3, height: f32, off: Off) {
    let up = run.up();
    let mut rise = speed_to(run, height).max(if off == Off::Air { run.me.velocity.dot(up) } else { 0.0 });
    if off == Off::Ground {
        // Running up a slope faster than the jump rises would land at once: then the slope sets the rise.
        let normal = run.ground.normal.as_dvec3();
        let along = normal.dot(up);
        rise = if along > 0.0 { rise.max(-across.dot(normal) / along) } else { rise };
    }
    if run.is_sliding() {
        slide::end(run, SlideEnd::Jumped);
    }
    run.me.velocity = across + up * rise;
    take_off(run);
    run.me.phase = if rise > 0.0 { Phase::Rising } else { Phase::Over };
    (run.me.buffer, run.me.phase_left) = (0.0, 0.0);
    run.report(EventKind::Jumped { off });
}
