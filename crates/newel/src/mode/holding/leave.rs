//! Letting go.

use glam::DVec3;

use super::Frame;
use crate::math::flatten64;
use crate::mode::jump::leap;
use crate::mode::transitions::{enter_by_ground, take_off_into};
use crate::outcome::{EventKind, HoldEnd, Off};
use crate::phase::{Mode, Phase};
use crate::run::Run;

/// It no longer holds on: on the ground, if there is any underfoot, or in the air.
pub(in crate::mode) fn end(run: &mut Run<'_>, reason: HoldEnd) {
    let pause = pause(run);
    let up = run.up();
    tell(run, reason);
    run.in_control();
    let comes_down = matches!(reason, HoldEnd::Ground | HoldEnd::Done);
    take_off_into(run, if comes_down { Mode::Ground } else { Mode::Air });
    if comes_down {
        enter_by_ground(run);
    }
    if run.me.is_on_ground() {
        run.me.velocity = flatten64(run.me.velocity, up);
    }
    let waits = matches!(reason, HoldEnd::LetGo | HoldEnd::Lost | HoldEnd::Blocked);
    if waits && pause > 0.0 {
        (run.me.phase, run.me.phase_left) = (Phase::LetGo, pause);
    }
}

/// The game does something else with it.
pub(in crate::mode) fn interrupt(run: &mut Run<'_>) {
    if run.me.mode.holds_on() {
        end(run, HoldEnd::Interrupted);
    }
}

/// Off it: along the heading, or straight away from it where that leads into it.
pub(in crate::mode) fn jump_off(run: &mut Run<'_>) {
    let values = run.tuning.values();
    let (away, height) = match run.me.mode {
        Mode::Climb => values.climb.map_or((0.0, 0.0), |c| (c.jump_away, c.jump_height)),
        _ => values.ledge.map_or((0.0, 0.0), |l| (l.jump_away, l.jump_height)),
    };
    let way = way_off(run);
    tell(run, HoldEnd::Jumped);
    run.in_control();
    leap(run, way * f64::from(away), height, Off::Hold);
}

fn way_off(run: &Run<'_>) -> DVec3 {
    let Some(frame) = Frame::on(run.ground.normal, run.up()) else { return DVec3::ZERO };
    let heading = run.heading_level();
    let out = heading.dot(frame.level_out);
    let way = run.me.keeps.flat64(if out > 1e-3 { heading } else { frame.level_out });
    if way == DVec3::ZERO { way } else { way / way.length() }
}

fn tell(run: &mut Run<'_>, reason: HoldEnd) {
    let kind = match run.me.mode {
        Mode::Climb => EventKind::ClimbEnded { reason },
        _ => EventKind::LedgeLeft { reason },
    };
    run.report(kind);
}

fn pause(run: &Run<'_>) -> f32 {
    let values = run.tuning.values();
    match run.me.mode {
        Mode::Climb => values.climb.map_or(0.0, |c| c.pause),
        _ => values.ledge.map_or(0.0, |l| l.pause),
    }
}
