//! How it moves through the air for a while: steered across, pulled along up, and held off what it touches.

use glam::DVec3;

use super::fall::{Pull, pull};
use super::wall;
use crate::character::Phase;
use crate::contact::arcs::Path;
use crate::contact::ground::FLAT;
use crate::contact::slide::Planes;
use crate::math::flatten64;
use crate::mode::round::{Along, Corner};
use crate::mode::trail::Trail;
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

/// What is this near to the velocity across that is wanted, m/s, is held.
const ARRIVED: f64 = 1e-3;

/// What holds it off what it touches.
pub(super) struct Held {
    /// Planes, or none of them; unless it is led round a corner.
    planes: Planes,
    /// What all that is, if it is one thing.
    along: Along,
    /// How its velocity would change were nothing there, m/s².
    open: DVec3,
}

impl Held {
    fn off(planes: Planes, along: Along) -> Held {
        Held { planes, along, open: DVec3::ZERO }
    }

    /// The corner that it is led round.
    pub fn corner(&self) -> Option<Corner> {
        self.along.corner()
    }

    fn is_free(&self) -> bool {
        self.planes.normals().is_empty() && self.corner().is_none()
    }

    /// Where the face that it went along for `used` seconds has ended, it is back there; the seconds until then.
    pub fn ends(&self, run: &mut Run<'_>, trail: &Trail, used: f64) -> Option<f64> {
        self.along.ends(run, trail, used)
    }

    /// Seconds of `span` that it does so, or may be led round at once.
    pub fn holds_for(&self, motion: &Motion, span: f64) -> f64 {
        let Some(corner) = self.corner() else { return span };
        corner.holds_for(motion.velocity, self.open, span.min(corner.longest(motion.own_rate().length())))
    }
}

/// How it moves next with this velocity, and what holds it off what it touches: planes; or where all that is one corner that it goes along,
/// that, or where it leaves that, nothing.
pub(super) fn next_motion(run: &mut Run<'_>, velocity: DVec3, planes: Planes) -> (Motion, Held) {
    let motion = Motion::of(run, velocity);
    let led = !planes.normals().is_empty() && motion.tips == DVec3::ZERO;
    // At the fastest it falls, it is held to that, and turning would take it off by a hair.
    let limited = motion.pull.slides || -velocity.dot(run.up()) > NEARLY * motion.pull.limit;
    if !led || limited || run.is_on_rails() || run.me.phase == Phase::Dash {
        return (motion, Held::off(planes, Along::Other));
    }
    let along = Along::of(run, velocity);
    let Some(corner) = along.corner() else { return (motion, Held::off(planes, along)) };
    let walls = core::mem::take(&mut run.walls);
    let open = Motion::of(run, velocity);
    run.walls = walls;
    if corner.lets_go(velocity, open.own_rate()) {
        return (open, Held::off(Planes::default(), Along::Other));
    }
    (motion, Held { planes, along, open: open.own_rate() })
}

/// How it moves for a while, but for walls: across as steered, along up as pulled.
#[derive(Clone, Copy)]
pub(super) struct Motion {
    velocity: DVec3,
    pub steered: Steered,
    pub pull: Pull,
    pub along: Drift,
    /// What tips it off an edge, m/s².
    tips: DVec3,
}

impl Motion {
    fn of(run: &mut Run<'_>, velocity: DVec3) -> Motion {
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

    pub fn smooth_span(&self) -> f64 {
        self.steered.drift.smooth_span().min(self.along.smooth_span())
    }

    fn resists(&self) -> bool {
        self.smooth_span().is_finite()
    }

    /// The path of the next `span` seconds, along the walls. What they take from the velocity they take from its rate of change too.
    pub fn path(&self, walls: &Held, span: f64) -> Path {
        let own = match self.resists() {
            false => self.own_rate(),
            // Ends where it would, whatever the pieces; along walls with the velocity that it would have.
            true if walls.is_free() => {
                (self.steered.drift.mean(span) + self.along.mean(span) - self.velocity) * (2.0 / span)
            }
            true => (self.steered.drift.at(span) + self.along.at(span) - self.velocity) / span,
        };
        if let Some(corner) = walls.corner() {
            return corner.bent(self.velocity, own, span);
        }
        let rate = walls.planes.not_left_by(self.velocity).admissible(own + self.tips);
        Path { velocity: self.velocity, rate, span }
    }

    /// How its velocity changes at first, m/s².
    fn own_rate(&self) -> DVec3 {
        if self.resists() {
            return (self.steered.drift.at(SOON) + self.along.at(SOON) - self.velocity) / SOON;
        }
        self.steered.drift.rate() + self.along.rate()
    }

    /// The velocity `used` seconds into its path.
    pub fn velocity_at(&self, path: &Path, walls: &Held, used: f64) -> DVec3 {
        let free = self.resists() && walls.is_free();
        if free { self.steered.drift.at(used) + self.along.at(used) + self.tips * used } else { path.velocity_at(used) }
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
