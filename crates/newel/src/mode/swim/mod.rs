//! Swimming: with its head under water strokes lead every way; with its head out it floats at its line, and strokes lead across.
//!
//! Depths are told from where its feet would be, were it to stand up under its head: so they mean the same in every stance.

mod begin;
mod sample;
mod wanted;

pub(super) use begin::{decide, is_over_water, leap_out, on_ground_ahead, splash_ahead, splashes};
pub(super) use sample::sample;

use glam::DVec3;

use self::begin::stands_on;
use self::wanted::{Stroke, wanted};
use super::round::{Along, Corner};
use super::trail::Trail;
use super::{along_walls, climb, holding};
use crate::character::Phase;
use crate::contact::arcs::Path;
use crate::contact::point::Contact;
use crate::contact::slide::Planes;
use crate::math::flatten64;
use crate::motion::resisted::{Steered, against, freely};
use crate::motion::{Bob, Ramp};
use crate::run::water::{AT, Waterline};
use crate::run::{HARDLY, Run};
use crate::tuning::Swim;

/// Swims for at most `span` seconds; returns the seconds used.
pub(super) fn advance(run: &mut Run<'_>, span: f64) -> f64 {
    let (Some(tuned), Some(line)) = (run.tuning.values().swim, run.waterline()) else { return span };
    run.refresh_ride();
    run.walls.refresh(&run.near);
    let planes = run.walls.planes_against(run.carried);
    if planes.close_in() {
        return run.closed_in(span);
    }
    let depths = Depths::of(run, &tuned, &line);
    let velocity = planes.admissible(run.me.velocity);
    run.tell_pressed(&planes, run.me.velocity, velocity);
    let along = Along::of(run, velocity);
    let corner = along.corner();
    let span = span.min(corner.map_or(f64::INFINITY, |c| c.longest(0.0)));
    let (motion, planes, corner) = match corner {
        None => (Motion::next(run, &tuned, &depths, velocity, &planes), planes, None),
        Some(corner) => {
            let free = Motion::next(run, &tuned, &depths, velocity, &Planes::default());
            if corner.lets_go(velocity, free.rate()) {
                (free, Planes::default(), None)
            } else {
                // What it wants is held off as half way through the piece.
                let motion = Motion::next(run, &tuned, &depths, velocity, &corner.halfway(span));
                (motion, planes, Some(corner))
            }
        }
    };
    if motion.is_at_rest() {
        return rest(run, span);
    }
    run.leave_foothold();
    let span = span.min(motion.lasts());
    let walls = Held { planes, corner };
    let path = motion.path(&walls, span);
    let end = depths.next_change(run, &line, &path);
    let path = if end < span { motion.path(&walls, end) } else { path };
    if let Some(contact) = along_walls::touched_already(run, &path) {
        touch(run, &tuned, &contact);
        return 0.0;
    }
    let way = run.carried_along(path);
    let way = Path { span: run.smooth(&way, path.span), ..way };
    let trail = Trail::begin(run, way);
    let (used, hit) = along_walls::go(run, &way);
    let (used, hit) = along.ends(run, &trail, used).map_or((used, hit), |ended| (ended, None));
    run.me.velocity = motion.velocity_at(&path, &walls, used);
    if let Some(contact) = hit {
        touch(run, &tuned, &contact);
    }
    used
}

/// Where it is in the water: depths in metres.
struct Depths {
    /// How deep it is now.
    now: f64,
    /// Where it floats.
    float: f64,
    /// Where its head goes under.
    under: f64,
    /// Where it may stand again.
    ends: f64,
    /// Where it is out of the water.
    out: f64,
    /// How much deeper it would be standing up under its head.
    low: f64,
}

/// It is out of the water where its feet are over the surface by this part of its height: a little, so that it does not flutter.
const OUT: f64 = 0.02;

impl Depths {
    fn of(run: &Run<'_>, tuned: &Swim, line: &Waterline) -> Depths {
        let height = f64::from(run.tuning.shape().height);
        let low = height - f64::from(run.near.shape.height);
        Depths {
            now: line.depth + low,
            float: f64::from(tuned.float) * height,
            under: height,
            ends: f64::from(tuned.ends) * height,
            out: -OUT * height,
            low,
        }
    }

    /// True where its head is under water: at the very border where it goes there.
    fn is_under(&self, sinks: f64) -> bool {
        if (self.now - self.under).abs() <= AT { sinks > 0.0 } else { self.now > self.under }
    }

    /// Seconds along a path until its head goes under or comes out, or it may stand, or is out of the water.
    fn next_change(&self, run: &Run<'_>, line: &Waterline, path: &Path) -> f64 {
        let borders = [self.under, self.ends, self.out];
        borders.into_iter().map(|depth| run.time_to_depth(line, path, depth - self.low)).fold(f64::INFINITY, f64::min)
    }
}

/// How a velocity changes is told from that so soon, seconds.
const SOON: f64 = 1e-5;

/// How it moves for a while, but for walls.
struct Motion {
    velocity: DVec3,
    /// Its strokes: in all directions, or across only where it floats.
    strokes: Steered,
    /// How it floats along up, against a surface that moves.
    floats: Option<(Bob, DVec3, f64)>,
}

impl Motion {
    fn next(run: &mut Run<'_>, tuned: &Swim, depths: &Depths, velocity: DVec3, planes: &Planes) -> Motion {
        let up = run.up();
        let waves = f64::from(run.me.flight[1]);
        let flows = run.me.keeps.flat64(run.me.current()) + up * waves;
        let flows = if run.me.keeps.is_top_view(run.me.up) { flatten64(flows, up) } else { flows };
        let gravity = gravity(run);
        let under = depths.is_under((flows - velocity).dot(up));
        let stroke = wanted(run, tuned, under);
        if under || stroke.dives || gravity == 0.0 || run.me.keeps.is_top_view(run.me.up) {
            let idle = if under && gravity > 0.0 { up * f64::from(tuned.idle) } else { DVec3::ZERO };
            let idle = run.me.keeps.flat64(idle);
            let strokes = steered(run, tuned, &stroke, velocity, flows, idle, planes);
            return Motion { velocity, strokes, floats: None };
        }
        let across = flatten64(velocity, up);
        // A beach leads up, whoever swims against it.
        let (limits, upward) = (run.limits, run.me.up);
        let banks = run.walls.across_of(upward, |c| !limits.walkable(c.normal, upward));
        let strokes = steered(run, tuned, &stroke, across, flatten64(flows, up), DVec3::ZERO, &banks);
        let stiffness = gravity / depths.float;
        let bob = Bob::new(depths.float - depths.now, velocity.dot(up) - waves, f64::from(tuned.drag), stiffness);
        Motion { velocity, strokes, floats: Some((bob, up, waves)) }
    }

    /// True where nothing of it changes and it does not move.
    fn is_at_rest(&self) -> bool {
        let floats = self.floats.is_none_or(|(bob, _, waves)| bob.is_at_rest() && waves == 0.0);
        floats && self.strokes.drift.at(1.0) == DVec3::ZERO && self.strokes.drift.rate() == DVec3::ZERO
    }

    /// Seconds for which it goes on so, and its path is as good as a parabola.
    fn lasts(&self) -> f64 {
        let strokes = if self.strokes.duration > 0.0 { self.strokes.duration } else { f64::INFINITY };
        strokes.min(self.strokes.drift.smooth_span())
    }

    /// How its velocity changes at first, m/s².
    fn rate(&self) -> DVec3 {
        (self.at(SOON) - self.velocity) / SOON
    }

    fn at(&self, t: f64) -> DVec3 {
        let floats = self.floats.map_or(DVec3::ZERO, |(bob, up, waves)| up * (bob.at(t).1 + waves));
        let ended = t == self.strokes.duration;
        floats + if ended { self.strokes.end } else { self.strokes.drift.at(t) }
    }

    /// The path of the next `span` seconds, along the walls and round corners: in the open it ends where it would.
    fn path(&self, walls: &Held, span: f64) -> Path {
        if walls.planes.normals().is_empty() {
            let floats = |(bob, up, waves): (Bob, DVec3, f64)| up * ((bob.at(span).0 - bob.height) / span + waves);
            let mean = self.strokes.drift.mean(span) + self.floats.map_or(DVec3::ZERO, floats);
            return Path { velocity: self.velocity, rate: (mean - self.velocity) * (2.0 / span), span };
        }
        let rate = (self.at(span) - self.velocity) / span;
        match walls.corner {
            Some(corner) => corner.bent(self.velocity, rate, span),
            None => {
                let rate = walls.planes.not_left_by(self.velocity).admissible(rate);
                Path { velocity: self.velocity, rate, span }
            }
        }
    }

    /// The velocity `used` seconds into its path.
    fn velocity_at(&self, path: &Path, walls: &Held, used: f64) -> DVec3 {
        if walls.planes.normals().is_empty() { self.at(used) } else { path.velocity_at(used) }
    }
}

/// What holds it off: walls, and the corner that it is led round.
struct Held {
    planes: Planes,
    corner: Option<Corner>,
}

/// Its strokes, in water that flows and in which it drifts by itself: part of their strength holds its speed.
fn steered(
    run: &mut Run<'_>,
    tuned: &Swim,
    stroke: &Stroke,
    velocity: DVec3,
    flows: DVec3,
    idle: DVec3,
    planes: &Planes,
) -> Steered {
    if run.is_on_rails() {
        return freely(&Ramp::hold(velocity));
    }
    let factors = run.acceleration_factors();
    run.told.acceleration_factors = factors;
    let rate = f64::from(if stroke.is_any { tuned.acceleration } else { tuned.deceleration } * factors.product());
    // What it does not want to go along up by itself, it is left to drift.
    let drifts = if stroke.rises { DVec3::ZERO } else { idle };
    let target = planes.admissible(flows + stroke.wish + drifts);
    let ramp = Ramp::new(velocity, target, rate);
    // Along a wall that turns with the way, chasing the last hair of it gets nowhere.
    let settled = !planes.normals().is_empty() && ramp.duration() < HARDLY;
    let ramp = if settled { Ramp::hold(target) } else { ramp };
    let arrived = (velocity - target).length() < ARRIVED;
    match tuned.drag > 0.0 {
        true => against(flows + idle, f64::from(tuned.drag), &ramp, if arrived { rate } else { 0.0 }),
        false => freely(&ramp),
    }
}

/// What is this near to the velocity that is wanted, m/s, is held.
const ARRIVED: f64 = 1e-3;

/// What gravity does to whatever falls here, m/s².
fn gravity(run: &Run<'_>) -> f64 {
    run.tuning.falling_gravity() * f64::from(run.modifiers.gravity) * f64::from(run.me.gravity_factor)
}

/// Stays where it is, or where the water takes it, for `span` seconds; returns the seconds used.
fn rest(run: &mut Run<'_>, span: f64) -> f64 {
    run.me.velocity = DVec3::ZERO;
    let (used, met) = holding::still(run, span);
    if let Some(contact) = met {
        run.flip();
        run.slide_along(&contact);
    }
    used
}

/// Something was touched: the ground it stands on again, something to hold on to, or a wall.
fn touch(run: &mut Run<'_>, tuned: &Swim, contact: &Contact) {
    run.flip();
    if contact.normal.dot(run.me.up) > 1e-3 && stands_on(run, tuned) {
        return;
    }
    if run.me.phase != Phase::Dash && climb::meets(run, contact) {
        return;
    }
    run.slide_along(contact);
}
