//! Falling, jumping, and sliding down what is too steep: ballistics, steered across.

pub(super) mod wall;

mod fall;
mod nudge;

use glam::DVec3;

use self::fall::pull;
use super::transitions;
use super::{along_walls, climb, impact, swim};
use crate::character::Phase;
use crate::contact::arcs::Path;
use crate::contact::ground::{Decision, FLAT};
use crate::contact::point::Contact;
use crate::contact::slide::Planes;
use crate::math::flatten64;
use crate::motion::resisted::{against, freely};
use crate::motion::{Drift, Ramp, with_excess};
use crate::outcome::EventKind;
use crate::run::{HARDLY, MOST_TOUCHED, Run};
use crate::support::{Ground, Support};
use crate::walls::Walls;

/// On a slope too steep to stand on, steering that is closer than this to its end, seconds, has ended.
const SETTLED: f64 = 1.0 / 120.0;

/// What is this near to the velocity across that is wanted, m/s, is held.
const ARRIVED: f64 = 1e-3;

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
    let (drag, wind) = run.air();
    let (ramp, strength) = steering(run, velocity);
    let rise = velocity.dot(up);
    if run.me.phase.is_rising() && rise <= 0.0 {
        // A piece ended at the very top, or what it slid along took the rest of the rise.
        top_out(run, velocity);
        return 0.0;
    }
    // A jump rises as tuned, whatever the air does.
    let held = if run.me.phase.is_rising() { 0.0 } else { drag };
    let pull = pull(run, rise, held, wind.dot(up));
    note_slide(run, pull.slides);
    let steered = if drag > 0.0 { against(flatten64(wind, up), drag, &ramp, strength) } else { freely(&ramp) };
    let along = match held > 0.0 && !pull.slides && !pull.holds(rise) {
        true => Drift::toward(up * rise, up * (wind.dot(up) + pull.rate / held), held),
        false => Drift::at_rate(up * rise, up * pull.rate),
    };
    let motion = Motion { velocity, across: steered.drift, along, tips: tipping(run) * -pull.rate };

    let mut span = span.min(motion.smooth_span());
    span = span.min(pull.until.map_or(f64::INFINITY, |speed| along.time_to(speed, up)));
    if steered.duration > 0.0 {
        span = span.min(steered.duration);
    }
    let top = if run.me.phase.is_rising() { along.time_to(0.0, up) } else { f64::INFINITY };
    span = span.min(top);
    let path = motion.path(&planes, span);
    let fastest = pull.speed_at_limit(rise).map_or(f64::INFINITY, |speed| motion.time_to(speed, up, &path));
    let path = if fastest < span { motion.path(&planes, fastest) } else { path };
    let seen = run.near.look_along(&path);
    let path = if seen < path.span { motion.path(&planes, seen) } else { path };
    let over = swim::is_over_water(run);
    let splash = if over { swim::splash_ahead(run, &path) } else { f64::INFINITY };
    let path = if splash < path.span { motion.path(&planes, splash) } else { path };

    if let Some(contact) = along_walls::touched_already(run, &path) {
        touched(run, &contact);
        return 0.0;
    }
    let (used, hit) = along_walls::go(run, &path);
    impact::note_fall(run, &path, used);
    run.me.velocity = motion.velocity_at(&path, &planes, used);
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

/// How it moves for a while, but for walls: across as steered, along up as pulled.
struct Motion {
    velocity: DVec3,
    across: Drift,
    along: Drift,
    /// What tips it off an edge, m/s².
    tips: DVec3,
}

impl Motion {
    fn smooth_span(&self) -> f64 {
        self.across.smooth_span().min(self.along.smooth_span())
    }

    fn resists(&self) -> bool {
        self.smooth_span().is_finite()
    }

    /// The path of the next `span` seconds, along the walls. What they take from the velocity they take from its rate of change too.
    fn path(&self, walls: &Planes, span: f64) -> Path {
        let own = match self.resists() {
            false => self.across.rate() + self.along.rate(),
            // Ends where it would, whatever the pieces; along walls with the velocity that it would have.
            true if walls.normals().is_empty() => {
                (self.across.mean(span) + self.along.mean(span) - self.velocity) * (2.0 / span)
            }
            true => (self.across.at(span) + self.along.at(span) - self.velocity) / span,
        };
        let rate = walls.not_left_by(self.velocity).admissible(own + self.tips);
        Path { velocity: self.velocity, rate, span }
    }

    /// The velocity `used` seconds into its path.
    fn velocity_at(&self, path: &Path, walls: &Planes, used: f64) -> DVec3 {
        let free = self.resists() && walls.normals().is_empty();
        if free { self.across.at(used) + self.along.at(used) + self.tips * used } else { path.velocity_at(used) }
    }

    /// Seconds until its speed along up is this.
    fn time_to(&self, speed: f64, up: DVec3, path: &Path) -> f64 {
        if self.resists() {
            return self.along.time_to(speed, up);
        }
        let time = (speed - path.velocity.dot(up)) / path.rate.dot(up);
        if time > 0.0 { time } else { f64::INFINITY }
    }
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
/// up it nor brake on it. And how strongly it holds the velocity where nothing of that is left to steer, m/s².
fn steering(run: &mut Run<'_>, velocity: DVec3) -> (Ramp, f64) {
    let air = run.tuning.values().air;
    let flat = flatten64(velocity, run.up());
    if run.is_on_rails() {
        return (Ramp::hold(flat), 0.0);
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
    let on_slope = run.walls.leaning(run.me.up).is_some_and(|slope| !wall::is_wall(run, slope));
    let settled = (on_slope && ramp.duration() < SETTLED) || (walls && ramp.duration() < HARDLY);
    let arrived = settled || (flat - target).length() < ARRIVED;
    (if settled { Ramp::hold(flat) } else { ramp }, if arrived { rate } else { 0.0 })
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
    if climb::meets(run, contact) {
        return;
    }
    impact::on_wall(run, contact);
    run.walls.refresh(&run.near);
    run.walls.add(*contact);
    run.me.velocity = run.walls.in_air(run.me.up).admissible(run.me.velocity);
}

fn touch_down(run: &mut Run<'_>, decision: &Decision) {
    let (velocity, fell) = (run.me.velocity, run.me.flight[0]);
    transitions::land(run, decision);
    // What it fell along is met again: on the ground it may lead up.
    (run.walls, run.unmet) = (Walls::default(), MOST_TOUCHED);
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
