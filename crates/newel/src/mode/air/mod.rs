//! Falling, jumping, and sliding down what is too steep: ballistics, steered across.

pub(super) mod wall;

mod fall;
mod motion;
mod nudge;

use glam::DVec3;

use self::fall::pull;
use self::motion::{Motion, next_motion};
use super::trail::Trail;
use super::transitions;
use super::{along_walls, climb, impact, swim};
use crate::character::Phase;
use crate::contact::ground::Decision;
use crate::contact::point::Contact;
use crate::math::flatten64;
use crate::outcome::EventKind;
use crate::run::{MOST_TOUCHED, Run};
use crate::support::Ground;
use crate::walls::Walls;

/// Moves through the air for at most `span` seconds; returns the seconds used.
pub(super) fn advance(run: &mut Run<'_>, span: f64) -> f64 {
    let up = run.up();
    run.walls.refresh(&run.near);
    if let Some(decision) = held_up(run) {
        touch_down(run, &decision);
        return 0.0;
    }
    let planes = run.walls.in_air(run.me.up);
    if planes.close_in() {
        return run.closed_in(span);
    }
    let velocity = planes.admissible(run.me.velocity);
    run.tell_pressed(&planes, run.me.velocity, velocity);
    let rise = velocity.dot(up);
    if run.me.phase.is_rising() && rise <= 0.0 {
        // A piece ended at the very top, or what it slid along took the rest of the rise.
        top_out(run, velocity);
        return 0.0;
    }
    let (motion, held) = next_motion(run, velocity, planes);
    let Motion { pull, steered, along, .. } = motion;
    note_slide(run, pull.slides);

    let mut span = held.holds_for(&motion, span.min(motion.smooth_span()));
    span = span.min(pull.until.map_or(f64::INFINITY, |speed| along.time_to(speed, up)));
    if steered.duration > 0.0 {
        span = span.min(steered.duration);
    }
    let top = if run.me.phase.is_rising() { along.time_to(0.0, up) } else { f64::INFINITY };
    span = along_walls::while_pushed_round(run, velocity, span.min(top));
    let path = motion.path(&held, span);
    let fastest = pull.speed_at_limit(rise).map_or(f64::INFINITY, |speed| motion.time_to(speed, up, &path));
    let path = if fastest < span { motion.path(&held, fastest) } else { path };
    let seen = run.near.look_along(&path);
    let path = if seen < path.span { motion.path(&held, seen) } else { path };
    let over = swim::is_over_water(run);
    let splash = if over { swim::splash_ahead(run, &path) } else { f64::INFINITY };
    let path = if splash < path.span { motion.path(&held, splash) } else { path };

    if let Some(contact) = along_walls::touched_already(run, &path) {
        touched(run, &contact);
        return 0.0;
    }
    let trail = Trail::begin(run, path);
    let (used, hit) = along_walls::go(run, &path);
    let (used, hit) = held.ends(run, &trail, used).map_or((used, hit), |ended| (ended, None));
    impact::note_fall(run, &path, used);
    run.me.velocity = motion.velocity_at(&path, &held, used);
    if let (Some(corner), None) = (held.corner(), &hit) {
        corner.hug(run);
    }
    if used == steered.duration && run.walls.leaning(run.me.up).is_none() {
        // Exactly the speed asked for, so that the next piece has nothing left to steer.
        run.me.velocity = steered.end + up * run.me.velocity.dot(up);
    }
    if used == top {
        top_out(run, flatten64(run.me.velocity, up));
    }
    match hit {
        Some(contact) => touched(run, &contact),
        None if over && !swim::is_over_water(run) => swim::splashes(run),
        None => look_underfoot(run),
    }
    used
}

/// Ground that carries after all, though nothing new was touched: between surfaces it only slid along.
fn held_up(run: &mut Run<'_>) -> Option<Decision> {
    let leaning = run.walls.leaning(run.me.up)?;
    if (run.me.velocity - leaning.velocity).dot(run.up()) > 0.0 {
        return None;
    }
    Some(run.near.ground(&run.limits)).filter(|found| found.is_firm() && run.may_land())
}

fn top_out(run: &mut Run<'_>, velocity: DVec3) {
    run.me.velocity = velocity;
    run.me.phase = Phase::Over;
    run.report(EventKind::Topped);
}

/// Down a wall from now on, or no longer.
fn note_slide(run: &mut Run<'_>, slides: bool) {
    if slides {
        run.me.phase = Phase::WallSlide;
    } else if run.me.phase == Phase::WallSlide {
        run.me.phase = Phase::Plain;
    }
}

/// Something was touched: land on what carries, slide along what does not.
fn touched(run: &mut Run<'_>, contact: &Contact) {
    let leaning = contact.normal.dot(run.me.up);
    if leaning > 1e-3 {
        let decision = run.near.ground(&run.limits);
        if decision.is_firm() && !leaves(run, &decision.ground) && run.may_land() {
            return touch_down(run, &decision);
        }
        run.ground = decision.ground;
    }
    let rise = run.me.velocity.dot(run.up());
    if leaning < -0.1 && rise > 0.0 {
        if run.me.phase.is_rising() && nudge::past(run, contact) {
            return;
        }
        impact::on_ceiling(run, contact);
        if run.me.phase.is_rising() {
            run.me.phase = Phase::Plain;
        }
    }
    if climb::meets(run, contact) {
        return;
    }
    impact::on_wall(run, contact);
    run.walls.refresh(&run.near);
    run.walls.add(*contact);
    run.me.velocity = run.walls.in_air(run.me.up).admissible(run.me.velocity);
}

/// True where it rises from what would carry it, and by more than a step: past the rim of one it is on its way up still, and is not to lose
/// its jump to that. What is left of a jump at its top is less than what feet step over anyway: there it lands, and runs on.
fn leaves(run: &Run<'_>, ground: &Ground) -> bool {
    let (body, time) = (run.near.body_named(ground.body), run.near.time());
    let moves = body.map_or(DVec3::ZERO, |body| body.velocity_at(ground.point, time));
    let speed = (run.me.velocity - moves).dot(ground.normal.as_dvec3());
    let rise = speed * speed / (-2.0 * pull(run, speed, 0.0, 0.0).rate).max(0.0);
    speed > transitions::LEAVES && rise > f64::from(run.staying.step)
}

fn touch_down(run: &mut Run<'_>, decision: &Decision) {
    let (velocity, fell) = (run.me.velocity, run.me.flight[0]);
    transitions::land(run, decision);
    // What it fell along is met again: on the ground it may lead up.
    (run.walls, run.unmet) = (Walls::default(), MOST_TOUCHED);
    impact::on_ground(run, velocity, fell);
}

/// Nothing new was touched: what it slid along may have ended.
fn look_underfoot(run: &mut Run<'_>) {
    if run.ground.support == Ground::default().support {
        return;
    }
    run.walls.refresh(&run.near);
    if run.walls.leaning(run.me.up).is_none() {
        run.ground = Ground::default();
    }
}
