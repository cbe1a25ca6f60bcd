//! Moved by the game: swept, along what is in the way; on the ground it walks there, over steps and slopes.

use glam::{DVec3, Vec3};

use super::ground::{self, flat_velocity, lift};
use super::transitions::lose;
use crate::contact::slide::Planes;
use crate::math::flatten64;
use crate::outcome::EventKind;
use crate::run::Run;

/// The time in which it is walked, seconds: so short that nothing else moves.
const INSTANT: f64 = 1e-5;
/// Pieces that one move is made in, at most: what is longer ends there.
const MOST_PIECES: usize = 2000;
/// Walls slid along in the air, at most.
const MOST_SLIDES: usize = 4;

/// Moves the feet by `by`, at this moment and with its own velocity as it was.
pub(super) fn displace(run: &mut Run<'_>, by: DVec3) {
    let by = run.me.keeps.flat64(by);
    let from = run.near.place;
    displace_by(run, by);
    // A displacement by the game does not count as the character's own distance.
    run.piece.place += run.near.place - from;
}

/// Moves the feet by exactly `by`, or not at all.
pub(super) fn grid_step(run: &mut Run<'_>, by: DVec3) {
    let (by, from) = (run.me.keeps.flat64(by), run.near.place);
    let taken = run.near.push(by.as_vec3()).1.is_none();
    run.near.place = if taken { from + by } else { from };
    run.report(EventKind::GridStep { taken });
    if !taken {
        return;
    }
    run.leave_foothold();
    run.piece.place += by;
    if run.me.is_on_ground() && !run.near.ground(&run.staying).is_firm() {
        lose(run);
    }
}

fn displace_by(run: &mut Run<'_>, by: DVec3) {
    // A hair is rounding, and no wish to leave the ground.
    let rises = by.dot(run.up()) > 1e-4 * by.length();
    run.leave_foothold();
    if run.me.is_on_ground() && !rises {
        let rest = walk(run, flatten64(by, run.up()));
        slide(run, rest.as_vec3());
        return;
    }
    slide(run, by.as_vec3());
    if run.me.is_on_ground() {
        // Lifted off: what carried it no longer does.
        lose(run);
    }
}

/// Walks a flat vector in no time; returns what is left of it where the ground ended.
fn walk(run: &mut Run<'_>, by: DVec3) -> DVec3 {
    let (own, carried, start) = (run.me.velocity, run.carried, run.near.time());
    run.displaced = Some(own);
    run.me.velocity = lift(by / INSTANT, run.ground.normal, run.me.up);
    let mut left = INSTANT;
    for _ in 0..MOST_PIECES {
        if left <= 0.0 || !run.me.is_on_ground() || run.me.velocity == DVec3::ZERO {
            break;
        }
        left -= ground::advance(run, left);
    }
    run.displaced = None;
    run.near.set_time(start);
    if run.me.is_on_ground() {
        run.me.velocity = lift(flat_velocity(own, run.up()), run.ground.normal, run.me.up);
        return DVec3::ZERO;
    }
    run.me.velocity = own + carried * f64::from(run.tuning.values().air.carried);
    by * (left.max(0.0) / INSTANT)
}

/// Sweeps by `way`, along what is met.
fn slide(run: &mut Run<'_>, way: Vec3) {
    let (mut left, mut planes) = (way, Planes::default());
    for _ in 0..MOST_SLIDES {
        if left == Vec3::ZERO {
            return;
        }
        let (part, met) = run.near.push(left);
        let Some(contact) = met else { return };
        planes.add(contact.normal.as_dvec3());
        left = planes.admissible((left * (1.0 - part)).as_dvec3()).as_vec3();
    }
}
