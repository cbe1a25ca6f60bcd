//! How it moves through the air for a while, but for what it touches: steered across, and pulled along up.

use glam::DVec3;

use super::fall::{Pull, pull};
use super::wall;
use crate::contact::arcs::Path;
use crate::contact::ground::FLAT;
use crate::math::flatten64;
use crate::mode::mover::Law;
use crate::motion::resisted::{Steered, against, freely};
use crate::motion::{Drift, Ramp, with_excess};
use crate::run::{HARDLY, Run};
use crate::support::Support;

/// On a slope too steep to stand on, steering that is closer than this to its end, seconds, has ended.
const SETTLED: f64 = 1.0 / 120.0;

/// As fast a fall as this part of the fastest is all but the fastest.
const NEARLY: f64 = 0.9;

/// How a velocity changes is told from that so soon, seconds.
const SOON: f64 = 1e-5;

/// A horizontal velocity this close to the wish, m/s, is kept constant.
const ARRIVED: f64 = 1e-3;

/// How it moves for a while, but for walls: across as steered, along up as pulled.
#[derive(Clone, Copy)]
pub(super) struct Motion {
    velocity: DVec3,
    pub steered: Steered,
    pub pull: Pull,
    pub along: Drift,
    /// Acceleration that tips the character off an edge, m/s².
    tips: DVec3,
}

impl Motion {
    pub fn of(run: &mut Run<'_>, velocity: DVec3) -> Motion {
        let (up, rise) = (run.up(), velocity.dot(run.up()));
        let (drag, wind) = run.air();
        let (ramp, strength) = steering(run, velocity);
        // A jump rises as tuned, whatever the air does.
        let held = if run.me.phase.is_rising() { 0.0 } else { drag };
        let pull = pull(run, rise, held, wind.dot(up));
        let steered = if drag > 0.0 { against(flatten64(wind, up), drag, &ramp, strength) } else { freely(&ramp) };
        let along = match held > 0.0 && !pull.slides && !pull.holds(rise) {
            true => Drift::toward(up * rise, up * (wind.dot(up) + pull.rate / held), held),
            false => Drift::at_rate(up * rise, up * pull.rate),
        };
        Motion { velocity, steered, pull, along, tips: tipping(run) * -pull.rate }
    }

    /// True where it is not bound to what a corner would turn: at the fastest it falls it is held to that, and turning would take it off by a
    /// hair.
    pub fn may_be_led(&self, up: DVec3) -> bool {
        let limited = self.pull.slides || -self.velocity.dot(up) > NEARLY * self.pull.limit;
        self.tips == DVec3::ZERO && !limited
    }

    fn smooth_span(&self) -> f64 {
        self.steered.drift.smooth_span().min(self.along.smooth_span())
    }

    fn resists(&self) -> bool {
        self.smooth_span().is_finite()
    }

    fn at(&self, t: f64) -> DVec3 {
        self.steered.drift.at(t) + self.along.at(t)
    }

    /// Seconds until its speed along up is this.
    pub fn time_to(&self, speed: f64, up: DVec3, path: &Path) -> f64 {
        if self.resists() {
            return self.along.time_to(speed, up);
        }
        let time = (speed - path.velocity.dot(up)) / path.rate.dot(up);
        if time > 0.0 { time } else { f64::INFINITY }
    }
}

impl Law for Motion {
    fn rate(&self) -> DVec3 {
        if self.resists() {
            return (self.at(SOON) - self.velocity) / SOON;
        }
        self.steered.drift.rate() + self.along.rate()
    }

    fn lasts(&self) -> f64 {
        let steered = if self.steered.duration > 0.0 { self.steered.duration } else { f64::INFINITY };
        steered.min(self.smooth_span())
    }

    fn path(&self, velocity: DVec3, span: f64) -> Path {
        let rate = match self.resists() {
            true => (self.steered.drift.mean(span) + self.along.mean(span) - velocity) * (2.0 / span),
            false => self.rate() + self.tips,
        };
        Path { velocity, rate, span }
    }

    fn mean_rate(&self, velocity: DVec3, span: f64) -> DVec3 {
        let own = if self.resists() { (self.at(span) - velocity) / span } else { self.rate() };
        own + self.tips
    }

    fn end(&self, path: &Path, used: f64) -> (DVec3, Option<DVec3>) {
        (if self.resists() { self.at(used) } else { path.velocity_at(used) }, None)
    }
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

/// Where a flat bottom slips off an edge it lies on: outward, as if down a slope of 45 degrees; else zero.
fn tipping(run: &Run<'_>) -> DVec3 {
    let flat = run.walls.leaning(run.me.up).filter(|c| c.normal.dot(run.me.up) > FLAT);
    if run.ground.support != Support::Slipping || flat.is_none() {
        return DVec3::ZERO;
    }
    let out = flatten64(run.near.place - run.ground.point, run.up());
    if out.length() > 0.0 { out / out.length() } else { DVec3::ZERO }
}
