//! Turning upright after gravity has changed: over its foot on the ground, about its middle in the air, and not through anything.

use glam::Vec3;

use super::gravity::SUDDEN;
use super::transitions::reground;
use crate::math::{direction, flatten};
use crate::outcome::EventKind;
use crate::run::{GRID, Run};
use crate::shape::Form;

/// It turns in steps in which its end moves by at most this part of its radius, so that nothing thin is turned past.
const STEP: f32 = 0.5;
/// Smallest part of that step that is tried if there is no room.
const LEAST_STEP: f32 = 0.05;
/// Within this sine of head down there is no shortest way up: it rolls over its side, and forward stays forward.
const HEAD_DOWN: f32 = 0.02;
/// Largest sideways correction that makes room for a step, as a part of the motion of its end.
const ASIDE: f32 = 2.0;

/// Turns the body upright as far as it turns from one moment of the grid to the next, or as far as there is room.
pub(super) fn turn_upright(run: &mut Run<'_>) {
    if run.me.axis == run.me.up {
        return;
    }
    // A turn-over is told when it ends; the little that it lags behind on a planet is none.
    if run.me.axis.dot(run.me.up) < SUDDEN {
        run.me.marks.set_turning_over(true);
    }
    if run.near.shape.form == Form::Box && run.me.axis.dot(run.me.up) < 0.0 {
        // Upside down it is the same box.
        run.me.axis = -run.me.axis;
        run.near.lean(run.me.up, run.me.axis, run.near.place);
    }
    let most = (f64::from(run.tuning.values().turn.righting.to_radians()) * GRID) as f32;
    let shape = run.near.shape;
    let arm = match shape.form {
        Form::Capsule => shape.core_length(),
        Form::Box => shape.height.max(2.0 * shape.radius),
    };
    let mut step = (STEP * shape.radius / arm.max(shape.radius)).min(most);
    let least = step * LEAST_STEP;
    let mut left = most;
    while left > 0.0 && run.me.axis != run.me.up {
        if tip(run, step.min(left), arm) {
            left -= step;
        } else if step > least {
            // Up to what is in the way.
            step *= 0.25;
        } else {
            return;
        }
    }
    if run.me.axis == run.me.up && run.me.marks.turning_over() {
        run.me.marks.set_turning_over(false);
        run.report(EventKind::Righted);
    }
}

/// Turns by `angle` radians toward upright; false where there is no room to.
fn tip(run: &mut Run<'_>, angle: f32, arm: f32) -> bool {
    let (from, up, place) = (run.me.axis, run.me.up, run.near.place);
    let axis = tipped(run, angle);
    run.near.touch(0.0);
    let deep = run.near.contacts.iter().fold(0.0, |deep: f32, c| deep.max(-c.gap));
    let allowed = deep.min(0.5 * run.near.shape.skin()).max(2.0 * run.near.shape.tolerance());
    let aside = ASIDE * arm * angle + deep;
    // In the air about the middle, and on the ground over what is lowest; where that does not go, the other.
    let low = if from.dot(up) > 0.0 { 0.0 } else { 1.0 };
    let parts = if run.me.is_on_ground() { [low, 0.5, 1.0 - low] } else { [0.5, low, 1.0 - low] };
    let tries = [false, true].into_iter().flat_map(|push| parts.map(|part| (part, push)));
    for (part, push) in tries {
        let stays = if run.near.shape.form == Form::Capsule { part * run.near.shape.core_length() } else { 0.0 };
        let moved = place + ((from - axis) * stays).as_dvec3();
        run.near.lean(up, axis, run.me.keeps.held(moved, place));
        run.near.touch(0.0);
        let deepest = run.near.contacts.iter().fold(0.0, |deep: f32, c| deep.max(-c.gap));
        let free = deepest <= allowed || (push && run.near.push_out(allowed, aside) && run.near.is_open_from(moved));
        if free {
            run.me.axis = axis;
            run.leave_foothold();
            if run.me.is_on_ground() && (part != 0.0 || push) {
                reground(run);
            }
            return true;
        }
    }
    run.near.lean(up, from, place);
    false
}

/// The axis `angle` radians nearer to up.
fn tipped(run: &Run<'_>, angle: f32) -> Vec3 {
    let (axis, up) = (run.me.axis, run.me.up);
    let toward = flatten(up, axis);
    if axis.dot(up) > 0.0 && toward.length() <= libm::sinf(angle) {
        return up;
    }
    let about = if run.me.keeps.is_plane() { run.me.keeps.normal } else { run.me.facing };
    let toward = if toward.length() < HEAD_DOWN { about.cross(axis) } else { toward };
    let toward = direction(flatten(toward, axis)).unwrap_or(up);
    direction(axis * libm::cosf(angle) + toward * libm::sinf(angle)).unwrap_or(up)
}
