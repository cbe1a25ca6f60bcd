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
use super::mover::{self, Law, Piece, Policy};
use super::{climb, holding};
use crate::contact::arcs::Path;
use crate::contact::point::Contact;
use crate::contact::slide::Planes;
use crate::math::flatten64;
use crate::motion::resisted::{Steered, against, freely};
use crate::motion::{Bob, Ramp};
use crate::phase::Phase;
use crate::run::water::{AT, Waterline};
use crate::run::{HARDLY, Run};
use crate::tuning::Swim;

/// Swims for at most `span` seconds; returns the seconds used.
pub(super) fn advance(run: &mut Run<'_>, span: f64) -> f64 {
    let (Some(tuned), Some(line)) = (run.tuning.values().swim, run.waterline()) else { return span };
    run.refresh_ride();
    let depths = Depths::of(run, &tuned, &line);
    mover::advance(run, &mut Swims { tuned, line, depths }, span)
}

struct Swims {
    tuned: Swim,
    line: Waterline,
    depths: Depths,
}

impl Policy for Swims {
    type Law = Motion;

    fn law(&mut self, run: &mut Run<'_>, velocity: DVec3, planes: &Planes) -> Motion {
        Motion::next(run, &self.tuned, &self.depths, velocity, planes)
    }

    /// Stays where it is, or where the water takes it.
    fn instead(&mut self, run: &mut Run<'_>, piece: &Piece<Motion>, span: f64) -> Option<f64> {
        piece.law.is_at_rest().then(|| rest(run, span))
    }

    /// Until its head goes under or comes out, or it may stand, or is out of the water.
    fn cut(&mut self, run: &mut Run<'_>, piece: &Piece<Motion>, path: Path) -> Path {
        let end = self.depths.next_change(run, &self.line, &path);
        if end < path.span { piece.path(end) } else { path }
    }

    /// The ground it stands on again, something to hold on to, or a wall.
    fn met(&mut self, run: &mut Run<'_>, contact: &Contact) {
        if contact.normal.dot(run.me.up) > 1e-3 && stands_on(run, &self.tuned) {
            return;
        }
        if run.me.phase != Phase::Dash && climb::meets(run, contact) {
            return;
        }
        run.slide_along(contact);
    }
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
        let waves = run.me.activity.wave()[1];
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

    fn at(&self, t: f64) -> DVec3 {
        let floats = self.floats.map_or(DVec3::ZERO, |(bob, up, waves)| up * (bob.at(t).1 + waves));
        let ended = t == self.strokes.duration;
        floats + if ended { self.strokes.end } else { self.strokes.drift.at(t) }
    }
}

impl Law for Motion {
    fn rate(&self) -> DVec3 {
        (self.at(SOON) - self.velocity) / SOON
    }

    fn lasts(&self) -> f64 {
        let strokes = if self.strokes.duration > 0.0 { self.strokes.duration } else { f64::INFINITY };
        strokes.min(self.strokes.drift.smooth_span())
    }

    fn path(&self, velocity: DVec3, span: f64) -> Path {
        let floats = |(bob, up, waves): (Bob, DVec3, f64)| up * ((bob.at(span).0 - bob.height) / span + waves);
        let mean = self.strokes.drift.mean(span) + self.floats.map_or(DVec3::ZERO, floats);
        Path { velocity, rate: (mean - velocity) * (2.0 / span), span }
    }

    fn mean_rate(&self, velocity: DVec3, span: f64) -> DVec3 {
        (self.at(span) - velocity) / span
    }

    fn end(&self, _: &Path, used: f64) -> (DVec3, Option<DVec3>) {
        (self.at(used), None)
    }
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
    // Without a vertical wish it drifts vertically.
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

/// A velocity this close to the wish, m/s, is kept constant.
const ARRIVED: f64 = 1e-3;

/// Acceleration of a fall here, m/s².
fn gravity(run: &Run<'_>) -> f64 {
    run.tuning.falling_gravity() * f64::from(run.modifiers.gravity) * f64::from(run.me.gravity_factor)
}

/// Stays where it is, or where the water takes it, for `span` seconds; returns the seconds used.
fn rest(run: &mut Run<'_>, span: f64) -> f64 {
    run.me.velocity = DVec3::ZERO;
    let (used, met) = holding::still(run, span);
    if let Some(contact) = met {
        run.slide_along(&contact);
    }
    used
}
