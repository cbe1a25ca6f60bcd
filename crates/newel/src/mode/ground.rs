//! Walking: flat velocity ramps toward the heading and follows the surface; the feet settle on what is there.

use glam::{DVec3, Vec3};

use crate::character::Mode;
use crate::contact::Support;
use crate::contact::arcs::Path;
use crate::contact::ground::Decision;
use crate::contact::point::Contact;
use crate::motion::{Ramp, Rates};
use crate::outcome::EventKind;
use crate::run::Run;
use crate::walls::LEVEL;

use super::climb;
use super::corner::Corner;
use super::crest;
use super::footwork::{HALVINGS, flat_velocity, follow, lift, main_slope, piece, settle_down, stand_on};
use super::letting_go;
use super::stride;

/// Walks for at most `span` seconds; returns the seconds used.
pub(super) fn advance(run: &mut Run<'_>, span: f64) -> f64 {
    let wish = run.wish();
    run.refresh_ride();
    if wish == DVec3::ZERO && run.me.velocity == DVec3::ZERO {
        return if run.near.patch.is_moving() { stand_among_movers(run, span) } else { stand(run, span) };
    }
    let up = run.me.up;
    run.leave_foothold();
    run.walls.refresh(&run.near);
    if run.me.stride > 0.0 {
        return stride::advance(run, span);
    }
    let slope = run.me.ground.normal;
    let (ramp, corner) = walking_round(run, span);

    let span = piece(run, &ramp, span);
    let span = corner.map_or(span, |c| c.span(ramp.start().length().max(ramp.at(span).length()), span));
    let path = follow(&ramp, slope, up, span);
    let path = Path { span: run.smooth(&path, span), ..path };
    let (path, over) = until_the_bend(run, &ramp, path);
    let gathers = run.near.gathers;
    let path = corner.map_or(path, |c| c.bent(path, slope, up));
    if let Some(contact) = super::touched_already(run, &path) {
        return meet(run, &contact, path.span);
    }
    let from = run.near.place;
    if run.flickers() {
        // Over an edge that tilts and turns underfoot neither side is left for the other: over both, and down again.
        let hair = 0.25 * run.near.shape.skin();
        run.near.push(up * hair);
    }
    let way = run.carried_along(path);
    let (used, hit) = run.near.sweep(&way);
    let (used, hit) = letting_go::cut(run, from, &way, used, hit);
    let flat = corner.map_or(ramp.at(used), |c| c.turned(ramp.at(used), &path, used));
    run.me.velocity = lift(flat, slope, up);
    let thrown = run.me.thrown;
    crest::fly_on(run, used);
    if let Some(contact) = hit {
        let rest = path.span - used;
        return used + meet(run, &contact, rest);
    }
    if let Some(corner) = corner {
        corner.hug(run);
    }
    let over = over.filter(|_| run.near.gathers == gathers && corner.is_none());
    let before = run.near.place;
    let walked = match over.and_then(|facet| run.near.still_on(facet, &run.staying)) {
        Some(found) => {
            stand_on(run, &found);
            used
        }
        None => settle(run, from, &path, used),
    };
    if run.me.mode != Mode::Ground {
        return walked;
    }
    if crest::turned(run, path.velocity_at(used)).is_some() {
        return crest::fly_off(run, from, &path, used, thrown);
    }
    let drop = (run.near.place - before).dot(run.up()) as f32;
    if drop.abs() > 0.1 * run.staying.step {
        run.stepped(drop);
    }
    walked
}

/// Pressed against a wall, a ramp closer than this to its end, seconds, has ended.
const ARRIVED: f64 = 1e-3;

/// The ramp of the flat velocity toward the wish, no part of which runs into a wall.
pub(super) fn walking(run: &mut Run<'_>) -> Ramp {
    walking_round(run, 0.0).0
}

/// The same for a piece of at most `span` seconds, and the corner that it leads round, if it does.
fn walking_round(run: &mut Run<'_>, span: f64) -> (Ramp, Option<Corner>) {
    let planes = run.walls.on_ground(run.me.ground.normal, run.me.up, run.carried);
    let flat = planes.admissible(flat_velocity(run.me.velocity, run.up()));
    if run.is_on_rails() {
        return (Ramp::hold(flat), None);
    }
    let wish = run.wish();
    let corner = if planes.normals().is_empty() { None } else { Corner::pressed(run, flat, wish) };
    let target = planes.admissible(wish);
    run.tell_pressed(&planes, wish, target);
    let rates = rates(run, wish != DVec3::ZERO);
    if let Some(corner) = corner {
        return (corner.ramp(flat, wish, &rates, span), Some(corner));
    }
    // Along a wall the target turns a little with every piece of way: chasing its last millisecond gets nowhere.
    let arrived = !planes.normals().is_empty() && (flat - target).length() < rates.gain.min(rates.loss) * ARRIVED;
    let ramp = if arrived { Ramp::hold(target) } else { rates.stage(flat, target, wish != DVec3::ZERO) };
    (ramp, None)
}

/// The rates of walking here and now.
fn rates(run: &mut Run<'_>, wanted: bool) -> Rates {
    let ground = run.tuning.values().ground;
    let factors = run.acceleration_factors();
    run.told.acceleration_factors = factors;
    let own = f64::from(factors.but_sprint());
    let sprint = run.tuning.values().sprint.filter(|_| run.me.sprinting);
    let ease = ground.ease.filter(|_| wanted).or(ground.ease_stop.or(ground.ease).filter(|_| !wanted));
    Rates {
        gain: f64::from(sprint.map_or(ground.acceleration, |s| s.acceleration)) * own,
        loss: f64::from(ground.deceleration) * own,
        reversal: f64::from(ground.reversal) * own,
        // Less grip takes longer.
        ease: ease.map(|ease| f64::from(ease) / own.max(1e-6)),
    }
}

/// Cuts the path where the surface underfoot bends away, so that the walk turns with it there at every tick rate.
/// Where it does not, also says which facet the foot will be over at the end.
fn until_the_bend(run: &Run<'_>, ramp: &Ramp, path: Path) -> (Path, Option<usize>) {
    let way = path.at(path.span).as_vec3();
    if run.me.ground.support != Support::Firm || way == Vec3::ZERO {
        return (path, None);
    }
    let (part, over) = run.near.support_end(run.me.ground.normal, way);
    if part >= 1.0 {
        return (path, over);
    }
    let part = f64::from(part);
    // Just past the bend, so that the next piece begins beyond it.
    let past = 4.0 * f64::from(run.near.shape.tolerance()) / path.reach();
    let span = (path.span * (part + past)).min(path.span);
    (follow(ramp, run.me.ground.normal, run.me.up, span), None)
}

/// Standing still: nothing is written while the ground carries and is within half a skin of where it should be.
fn stand(run: &mut Run<'_>, span: f64) -> f64 {
    if run.me.stride > 0.0 && stride::is_over_something(run) {
        return span;
    }
    let decision = run.near.ground_within(&run.staying, 0.5 * run.near.shape.skin());
    if decision.is_firm() {
        run.take_ground(decision.ground);
        return span;
    }
    match settle_down(run) {
        Some(found) => {
            run.leave_foothold();
            run.take_ground(found.ground);
            span
        }
        None => lose_ground(run, DVec3::ZERO, decision),
    }
}

/// Standing still where something moves: carried along by what it stands on, and pushed by what comes.
fn stand_among_movers(run: &mut Run<'_>, span: f64) -> f64 {
    // Whether the ground still carries is asked as on ground that stands still.
    stand(run, 0.0);
    if run.me.mode != Mode::Ground {
        return 0.0;
    }
    let still = Path { velocity: DVec3::ZERO, rate: DVec3::ZERO, span };
    let still = Path { span: run.smooth(&still, span), ..still };
    let from = run.near.place;
    let (used, hit) = run.near.sweep(&run.carried_along(still));
    match hit {
        Some(contact) => {
            run.leave_foothold();
            used + meet(run, &contact, still.span - used)
        }
        None => {
            run.carry_standing(from, used);
            used
        }
    }
}

/// Something is in the way: a surface to walk on, a step to take, or a wall.
pub(super) fn meet(run: &mut Run<'_>, contact: &Contact, rest: f64) -> f64 {
    run.flip();
    let flat = flat_velocity(run.me.velocity, run.up());
    let here = run.near.ground(&run.staying);
    run.near.ease_out();
    let slope = main_slope(&here.footholds, flat, run);
    if here.is_firm() && passes(run, contact, flat, slope) {
        let flat = flat + run.take_ground(here.ground);
        walk_along(run, flat, slope);
        return 0.0;
    }
    let ramp = walking(run);
    if let Some(used) = climb::climb(run, contact, &ramp, rest) {
        return used;
    }
    if run.staying.walkable(contact.normal, run.me.up) && passes(run, contact, flat, contact.normal) {
        walk_along(run, flat, contact.normal);
        return 0.0;
    }
    if takes_over(run, contact) {
        let ground = run.near.ground_at(contact, Support::Firm, contact.normal);
        let flat = flat + run.take_ground(ground);
        walk_along(run, flat, contact.normal);
        return 0.0;
    }
    run.walls.add(*contact);
    let planes = run.walls.on_ground(run.me.ground.normal, run.me.up, run.carried);
    if planes.close_in() || presses_down(run, contact) {
        let mover = run.walls.mover().filter(|_| contact.velocity == DVec3::ZERO);
        run.crush(&mover.unwrap_or(*contact));
        run.me.velocity = DVec3::ZERO;
        return rest;
    }
    run.me.velocity = lift(planes.admissible(flat), run.me.ground.normal, run.me.up);
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
    onward >= -1e-6 * flat.length() && slope != run.me.ground.normal
}

fn walk_along(run: &mut Run<'_>, flat: DVec3, slope: Vec3) {
    (run.me.ground.normal, run.me.stride) = (slope, 0.0);
    run.me.velocity = lift(flat, slope, run.me.up);
}

/// After a free piece of way: where is the ground now?
fn settle(run: &mut Run<'_>, from: DVec3, path: &Path, used: f64) -> f64 {
    let Some(found) = settle_down(run) else {
        let (left, decision) = last_support(run, from, path, used);
        lose_ground(run, path.velocity_at(left), decision);
        return left;
    };
    stand_on(run, &found);
    used
}

/// The last moment of `path`, gone from `from`, at which there was still ground; leaves the character there.
fn last_support(run: &mut Run<'_>, from: DVec3, path: &Path, used: f64) -> (f64, Decision) {
    let path = &run.carried_along(*path);
    let start = run.near.time() - used;
    let (mut held, mut lost) = (0.0, used);
    let mut place = from;
    for _ in 0..HALVINGS {
        let middle = 0.5 * (held + lost);
        run.near.place = from + path.at(middle);
        run.near.set_time(start + middle);
        if settle_down(run).is_some() {
            (held, place) = (middle, run.near.place);
        } else {
            lost = middle;
        }
    }
    // What is there instead, to say why: an edge with too little on it, something steep, or nothing.
    run.near.place = from + path.at(lost);
    run.near.set_time(start + lost);
    run.near.push(run.me.up * -run.staying.step);
    let after = run.near.ground(&run.staying);
    run.near.place = place;
    run.near.set_time(start + held);
    (held, after)
}

/// The ground has ended: into the air with the velocity it had. No time passes.
pub(super) fn lose_ground(run: &mut Run<'_>, own: DVec3, after: Decision) -> f64 {
    let support = after.ground.support;
    run.me.velocity = own;
    super::lose(run);
    run.me.ground = after.ground;
    run.report(EventKind::LeftGround { support });
    0.0
}
