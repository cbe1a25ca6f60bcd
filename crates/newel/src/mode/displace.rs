//! Moved by the game: swept, along what is in the way, and on the ground over its steps and slopes.

use glam::{DVec3, Vec3};

use super::footwork::{lift, settle_down, stand_on};
use crate::character::Mode;
use crate::contact::slide::Planes;
use crate::math::flatten64;
use crate::run::Run;

/// Pieces that one move is made in, at most: what is longer ends there.
const MOST_PIECES: usize = 400;
/// Walls slid along in one piece, at most.
const MOST_SLIDES: usize = 4;

/// Moves the feet by `by`, at this moment and with its own velocity as it was.
pub(super) fn displace(run: &mut Run<'_>, by: DVec3) {
    let by = run.me.keeps.flat64(by);
    let rises = by.dot(run.up()) > 0.0;
    run.leave_foothold();
    if run.me.mode == Mode::Ground && !rises {
        along_the_ground(run, flatten64(by, run.up()));
    } else {
        slide(run, by.as_vec3());
        let grounded = run.me.mode == Mode::Ground;
        if grounded {
            // Lifted off: what carried it no longer does.
            super::lose(run);
        }
    }
}

/// Walks a flat vector: in pieces of half a radius, each laid on the slope underfoot and settled on what is there.
fn along_the_ground(run: &mut Run<'_>, by: DVec3) {
    let piece = 0.5 * f64::from(run.near.shape.radius);
    let pieces = ((by.length() / piece).ceil() as usize).clamp(1, MOST_PIECES);
    let flat = by / pieces as f64;
    for _ in 0..pieces {
        let way = lift(flat, run.me.ground.normal, run.me.up).as_vec3();
        if !over_a_step(run, way) {
            slide(run, way);
        }
        let Some(found) = settle_down(run) else { return super::lose(run) };
        stand_on(run, &found);
    }
}

/// Where something no higher than a step is in the way: up, over and down. False, unmoved, where that is not so.
fn over_a_step(run: &mut Run<'_>, way: Vec3) -> bool {
    let from = run.near.place;
    let met = run.near.push(way).1.is_some();
    run.near.place = from;
    if !met || run.staying.step <= 0.0 {
        return false;
    }
    let raise = run.near.push(run.me.up * run.staying.step).0 * run.staying.step;
    let free = run.near.push(way).1.is_none();
    let stands = free && run.near.push(run.me.up * -raise).1.is_some() && run.near.ground(&run.staying).is_firm();
    if !stands {
        run.near.place = from;
    }
    stands
}

/// Sweeps by `way`, along what is met.
fn slide(run: &mut Run<'_>, way: Vec3) {
    let (mut left, mut planes) = (way, Planes::default());
    for _ in 0..MOST_SLIDES {
        let (part, met) = run.near.push(left);
        let Some(contact) = met else { return };
        planes.add(contact.normal.as_dvec3());
        left = planes.admissible((left * (1.0 - part)).as_dvec3()).as_vec3();
        if left == Vec3::ZERO {
            return;
        }
    }
}
