//! Commands of the game, executed at a mark.

use glam::{DVec3, Vec3};

use super::displace::{displace, grid_step};
use super::transitions::{enter_by_ground, take_off};
use super::{custom, holding, slide};
use crate::coarse::CoarseDirection;
use crate::command::Command;
use crate::error::TickError;
use crate::launch::Launch;
use crate::math::{direction, flatten};
use crate::outcome::EventKind;
use crate::phase::{Mode, Phase};
use crate::run::Run;
use crate::spawn::keeps_to;
use crate::walls::Walls;

/// Does what the game commands, in order.
pub(crate) fn obey(run: &mut Run<'_>, commands: &[Command]) -> Result<(), TickError> {
    for command in commands {
        match *command {
            Command::Teleport { to, facing } => {
                slide::interrupt(run);
                holding::interrupt(run);
                custom::interrupt(run);
                run.near.place = to;
                // Its plane goes with it.
                run.me.position = to;
                run.near.require_clear()?;
                run.alight();
                run.me.velocity = DVec3::ZERO;
                run.me.phase = Phase::Plain;
                run.in_control();
                (run.me.coyote, run.me.buffer) = (0.0, 0.0);
                run.me.pressed = CoarseDirection::default();
                if let Some(facing) = facing.and_then(|f| direction(flatten(f, run.me.up))) {
                    run.me.facing = facing;
                }
                enter_by_ground(run);
                run.me.velocity = DVec3::ZERO;
                run.cut();
            }
            Command::Displace { by } => displace(run, by),
            Command::GridStep { by } => grid_step(run, by),
            Command::Shift { by } => {
                run.near.place += by;
                run.me.position += by;
                run.ground.point += by;
                run.piece.place += by;
                run.cut();
            }
            Command::Gravity { pull } => {
                run.me.weight = pull;
                run.me.marks.set_clings(false);
            }
            Command::FlipGravity => run.me.weight = -run.me.weight,
            Command::Cling(on) => run.me.marks.set_clings(on),
            Command::Plane { normal } => keep_to(run, normal)?,
            Command::Launch(launch) => {
                throw(run, &launch);
                // It goes another way: what it slid along is no wall to that before it is met.
                run.walls = Walls::default();
            }
            // Made in its own time, with those of the intent.
            Command::Change(_) => {}
        }
    }
    Ok(())
}

/// Keeps to another plane from now on, or to none.
fn keep_to(run: &mut Run<'_>, normal: Vec3) -> Result<(), TickError> {
    let keeps = keeps_to(normal, run.me.up, run.near.shape.form)?;
    holding::interrupt(run);
    (run.me.keeps, run.near.keeps) = (keeps, keeps);
    run.me.position = run.near.place;
    run.me.velocity = keeps.flat64(run.me.velocity);
    run.leave_foothold();
    run.near.lean(run.me.up, run.me.axis, run.near.place);
    run.near.require_clear()?;
    run.look_for_ground_anew();
    Ok(())
}

/// Into the air, whatever it did; but down or across in water it swims on.
pub(crate) fn throw(run: &mut Run<'_>, launch: &Launch) {
    if run.me.mode == Mode::Swim {
        let thrown = run.me.keeps.flat64(launch.applied(run.me.velocity + run.carried, &run.me));
        if thrown.dot(run.up()) <= 0.0 {
            run.me.velocity = thrown - run.carried;
            run.report(EventKind::Launched);
            return;
        }
    }
    slide::interrupt(run);
    holding::interrupt(run);
    custom::interrupt(run);
    take_off(run);
    run.in_control();
    run.me.velocity = run.me.keeps.flat64(launch.applied(run.me.velocity, &run.me));
    if launch.lasts > 0.0 && launch.control < 1.0 {
        run.me.phase = if launch.until_wall { Phase::ThrownAtWall } else { Phase::Thrown };
        (run.me.phase_left, run.me.control) = (launch.lasts, launch.control);
    }
    run.report(EventKind::Launched);
}
