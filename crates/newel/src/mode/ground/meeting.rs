//! Something is in the way: walked up, stepped over, or slid along.

use glam::{DVec3, Vec3};

use super::footwork::{flat_velocity, lift, main_slope};
use super::step_up::step_up;
use super::walking::walking;
use crate::activity::StepOver;
use crate::contact::point::Contact;
use crate::mode::{climb, impact, ledge, slide};
use crate::run::Run;
use crate::support::Support;
use crate::walls::LEVEL;

/// Something is in the way: a surface to walk on, a step to take, or a wall.
pub(super) fn meet(run: &mut Run<'_>, contact: &Contact, rest: f64) -> f64 {
    run.flip();
    // As they are from here: on an arc they have turned.
    run.walls.refresh(&run.near);
    let flat = flat_velocity(run.me.velocity, run.up());
    let here = run.near.ground(&run.staying);
    run.near.ease_out();
    // As it is at this very place: a sweep tells of a touch a hair before.
    let contact = &run.near.refreshed(contact).unwrap_or(*contact);
    let slope = main_slope(&here.footholds, flat, run);
    // Between an edge underfoot and a ceiling each would turn it to the other for ever: then both are walls.
    let turns = !run.is_to_and_fro();
    if turns && here.is_firm() && passes(run, contact, flat, slope) {
        let flat = flat + run.take_ground(here.ground);
        walk_along(run, flat, slope);
        return 0.0;
    }
    let ramp = walking(run);
    if let Some(used) = step_up(run, contact, &ramp, rest) {
        return used;
    }
    if turns && run.staying.walkable(contact.normal, run.me.up) && passes(run, contact, flat, contact.normal) {
        walk_along(run, flat, contact.normal);
        return 0.0;
    }
    if takes_over(run, contact) {
        let ground = run.near.ground_at(contact, Support::Firm, contact.normal);
        let flat = flat + run.take_ground(ground);
        walk_along(run, flat, contact.normal);
        return 0.0;
    }
    if ledge::meets(run, contact) || climb::meets(run, contact) {
        return 0.0;
    }
    impact::on_wall(run, contact);
    run.walls.add(*contact);
    let planes = run.walls.on_ground(run.ground.normal, run.me.up, run.carried);
    if planes.close_in() || presses_down(run, contact) {
        let mover = run.walls.mover().filter(|_| contact.velocity == DVec3::ZERO);
        run.crush(&mover.unwrap_or(*contact));
        return 0.0;
    }
    let left = planes.admissible(flat);
    run.me.velocity = lift(left, run.ground.normal, run.me.up);
    slide::met_wall(run, flat, left);
    0.0
}

/// True where what carries it sinks into the contact, or that rises through it: from now on the contact carries.
fn takes_over(run: &Run<'_>, contact: &Contact) -> bool {
    let rises = (contact.velocity - run.carried).dot(run.up());
    run.staying.walkable(contact.normal, run.me.up) && rises > 1e-6
}

/// True where the contact comes down on what is stood on, or that lifts it up against the contact.
fn presses_down(run: &Run<'_>, contact: &Contact) -> bool {
    let normal = contact.normal.as_dvec3();
    let closing = (contact.velocity - run.carried).dot(normal);
    closing > 0.0 && normal.dot(run.up()) < -(1.0 - LEVEL)
}

/// True where walking along `slope`, instead of what was walked along so far, no longer runs into the contact.
fn passes(run: &Run<'_>, contact: &Contact, flat: DVec3, slope: Vec3) -> bool {
    let against = contact.velocity - run.carried;
    let onward = (lift(flat, slope, run.me.up) - against).dot(contact.normal.as_dvec3());
    onward >= -1e-6 * flat.length() && slope != run.ground.normal
}

fn walk_along(run: &mut Run<'_>, flat: DVec3, slope: Vec3) {
    run.ground.normal = slope;
    run.me.activity.set_step(StepOver::default());
    run.me.velocity = lift(flat, slope, run.me.up);
}
