//! Falling, jumping, and sliding down what is too steep: ballistics, steered across.

pub(super) mod wall;

mod fall;
mod nudge;

use glam::DVec3;

use self::fall::pull;
use super::transitions;
use super::{along_walls, impact};
use crate::character::Phase;
use crate::contact::arcs::Path;
use crate::contact::ground::{Decision, FLAT};
use crate::contact::point::Contact;
use crate::math::flatten64;
use crate::motion::{Ramp, with_excess};
use crate::outcome::EventKind;
use crate::run::{HARDLY, Run};
use crate::support::{Ground, Support};

/// On a slope too steep to stand on, steering that is closer than this to its end, seconds, has ended.
const SETTLED: f64 = 1.0 / 120.0;

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
        return crushed(run, span);
    }
    let velocity = planes.admissible(run.me.velocity);
    run.tell_pressed(&planes, run.me.velocity, velocity);
    let steering = steering(run, velocity);
    let rise = velocity.dot(up);
    if run.me.phase.is_rising() && rise <= 0.0 {
        // A piece ended at the very top, or what it slid along took the rest of the rise.
        top_out(run, velocity);
        return 0.0;
    }
    let pull = pull(run, rise);
    note_slide(run, pull.slides);
    let free = steering.acceleration() + up * pull.rate - tipping(run) * pull.rate;
    // What the walls take from the velocity they take from its rate of change too.
    let rate = planes.not_left_by(velocity).admissible(free);

    let mut span = span.min(pull.until);
    if steering.duration() > 0.0 {
        span = span.min(steering.duration());
    }
    let top = if run.me.phase.is_rising() && rise > 0.0 && pull.rate < 0.0 { rise / -pull.rate } else { f64::INFINITY };
    let fastest = pull.time_to_limit(rise, rate.dot(up));
    span = span.min(top).min(fastest);

    let path = Path { velocity, rate, span };
    if let Some(contact) = along_walls::touched_already(run, &path) {
        touched(run, &contact);
        return 0.0;
    }
    let (used, hit) = along_walls::go(run, &path);
    impact::note_fall(run, &path, used);
    run.me.velocity = path.velocity_at(used);
    if used == steering.duration() && run.walls.leaning(run.me.up).is_none() {
        // Exactly the speed asked for, so that the next piece has nothing left to steer.
        run.me.velocity = steering.at(used) + up * run.me.velocity.dot(up);
    }
    if used == top {
        top_out(run, flatten64(run.me.velocity, up));
    }
    match hit {
        Some(contact) => touched(run, &contact),
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

/// The ramp of the velocity across toward the wish, no part of which pushes into a wall.
///
/// Down a slope too steep to stand on gravity alone decides: steering can leave it and go along it, but neither push
/// up it nor brake on it.
fn steering(run: &mut Run<'_>, velocity: DVec3) -> Ramp {
    let air = run.tuning.values().air;
    let flat = flatten64(velocity, run.up());
    if run.is_on_rails() {
        return Ramp::hold(flat);
    }
    let wish = run.wish();
    let mut target = run.walls.across(run.me.up).admissible(wish);
    for (away, _) in run.walls.leaning_flat(run.me.up).filter(|(m, _)| wish.dot(*m) <= 0.0) {
        target += away * (flat - target).dot(away);
    }
    let factors = run.acceleration_factors();
    run.told.acceleration_factors = factors;
    // Heading on is heading on, also where the air has no speed of its own to give.
    let heading = run.heading_level();
    let rate = f64::from(if heading == DVec3::ZERO { air.deceleration } else { air.acceleration } * factors.product());
    let loss = f64::from(air.excess_loss * factors.product());
    let ramp = match heading == DVec3::ZERO {
        true => Ramp::new(flat, target, rate),
        false => {
            let way = if target == DVec3::ZERO { heading } else { target };
            with_excess(flat, target, way / way.length(), run.top_speed(), rate, loss)
        }
    };
    // On a slope steering and sliding never quite agree: what is all but steered is left to slide.
    // And along any wall that turns with the way, chasing the last hair of it gets nowhere.
    let walls = run.walls.iter().next().is_some();
    let settled =
        (run.walls.leaning(run.me.up).is_some() && ramp.duration() < SETTLED) || (walls && ramp.duration() < HARDLY);
    if settled { Ramp::hold(flat) } else { ramp }
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

/// Where a flat bottom slips off an edge it lies on: outward, as if down a slope of 45 degrees; else zero.
fn tipping(run: &Run<'_>) -> DVec3 {
    let flat = run.walls.leaning(run.me.up).filter(|c| c.normal.dot(run.me.up) > FLAT);
    if run.ground.support != Support::Slipping || flat.is_none() {
        return DVec3::ZERO;
    }
    let out = flatten64(run.near.place - run.ground.point, run.up());
    if out.length() > 0.0 { out / out.length() } else { DVec3::ZERO }
}

/// Something was touched: land on what carries, slide along what does not.
fn touched(run: &mut Run<'_>, contact: &Contact) {
    let leaning = contact.normal.dot(run.me.up);
    if leaning > 1e-3 {
        let decision = run.near.ground(&run.limits);
        if decision.is_firm() && run.may_land() {
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
    impact::on_wall(run, contact);
    run.walls.refresh(&run.near);
    run.walls.add(*contact);
    run.me.velocity = run.walls.in_air(run.me.up).admissible(run.me.velocity);
}

fn touch_down(run: &mut Run<'_>, decision: &Decision) {
    let (velocity, fell) = (run.me.velocity, run.me.flight[0]);
    transitions::land(run, decision);
    impact::on_ground(run, velocity, fell);
}

/// Between surfaces that close in from all sides: it stays where it is while time passes.
fn crushed(run: &mut Run<'_>, span: f64) -> f64 {
    if let Some(mover) = run.walls.mover() {
        run.crush(&mover);
    }
    run.me.velocity = DVec3::ZERO;
    span
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
