//! Round a corner in the water and in the air: what presses an edge or a round while it goes along it is led round it, on an arc.
//!
//! As on the ground the normal is asked a little further on, and what it has turned by then bends the way; and what drives it is held off
//! by the normal as it is in the middle of the piece. So a way round a corner is the same at every tick rate to a second power.

use glam::DVec3;

use crate::contact::arcs::Path;
use crate::contact::point::Contact;
use crate::contact::slide::Planes;
use crate::mode::along_walls;
use crate::mode::trail::Trail;
use crate::mode::transitions::LEAVES;
use crate::run::{MOST_TOUCHED, Run};

/// How much further on the normal is asked, and how long a piece of way round a corner is at most, in parts of the radius.
const AHEAD: f64 = 0.01;
const SHORT: f64 = 1.0 / 48.0;
/// Bends over the radius outside this range are flat, or too sharp to measure.
const FLAT: f64 = 1e-3;
const SHARP: f64 = 10.0;
/// Normals that differ by more than this are those of something else, or of a corner.
const TURNED: f32 = 1e-3;
/// Held on by less than this part of what drives it, it is let go.
const LET_GO: f64 = 1e-3;
/// Slower than this, m/s, there is no way to tell which way it leads.
const SLOW: f64 = 1e-3;

/// The contact that the motion follows.
#[derive(Clone, Copy)]
pub(super) enum Along {
    /// A face, or what is as flat, with this normal.
    Flat(Contact),
    /// A corner.
    Corner(Corner),
    /// Nothing, or more than can be told.
    Other,
}

/// The corner that it is led round.
#[derive(Clone, Copy)]
pub(super) struct Corner {
    contact: Contact,
    /// The normal now.
    normal: DVec3,
    /// How that turns on the way, per metre.
    turning: DVec3,
    speed: f64,
    /// How far it is led round at once, and how far it may come off it, metres.
    short: f64,
    hair: f64,
}

impl Along {
    /// The contact that a velocity follows.
    pub fn of(run: &mut Run<'_>, velocity: DVec3) -> Along {
        along_walls::over_seams(run);
        let speed = velocity.length();
        let Some(contact) = the_only_touch(run) else { return Along::Other };
        if speed < SLOW || run.near.patch.is_moving() {
            return Along::Other;
        }
        let radius = f64::from(run.near.shape.radius);
        let step = AHEAD * radius;
        let there = run.elsewhere(|run| {
            run.near.place += velocity * (step / speed);
            run.near.refreshed(&contact)
        });
        let Some(there) = there else { return Along::Other };
        let normal = contact.normal.as_dvec3();
        let turning = (there.normal.as_dvec3() - normal) / step;
        let bends = turning.dot(velocity) / speed * radius;
        match bends {
            bends if bends.abs() < FLAT => Along::Flat(contact),
            bends if (FLAT..=SHARP).contains(&bends) => {
                let (short, hair) = (SHORT * radius, f64::from(0.5 * run.near.shape.tolerance()));
                Along::Corner(Corner { contact, normal, turning, speed, short, hair })
            }
            _ => Along::Other,
        }
    }

    /// The corner, if it is one.
    pub fn corner(self) -> Option<Corner> {
        if let Along::Corner(corner) = self { Some(corner) } else { None }
    }

    /// Where what it went along for `used` seconds was flat and is no more, it is back where that ended; the seconds until then.
    pub fn ends(self, run: &mut Run<'_>, trail: &Trail, used: f64) -> Option<f64> {
        let Along::Flat(was) = self else { return None };
        // Just past an edge the normal still counts as the face's, but the surface falls away already: further than it goes off it.
        let (from, normal) = (trail.from, was.normal.as_dvec3());
        let falls_away = f64::from(was.gap + 0.5 * run.near.shape.tolerance());
        let turned = |run: &Run<'_>| {
            let is = run.near.refreshed(&was);
            is.is_some_and(|is| {
                (is.normal - was.normal).length() > TURNED
                    || f64::from(is.gap) - (run.near.place - from).dot(normal) > falls_away
            })
        };
        if !turned(run) {
            return None;
        }
        let (_, ended) = trail.last(run, used, |run, _| !turned(run));
        trail.go_to(run, ended);
        run.unmet = MOST_TOUCHED;
        Some(ended)
    }
}

impl Corner {
    /// Seconds that it may be led round at once, while its speed changes by as much as `rate`, m/s².
    pub fn longest(&self, rate: f64) -> f64 {
        let short = 2.0 * self.short / (self.speed + (self.speed * self.speed + 2.0 * rate * self.short).sqrt());
        // Where the speed changes a parabola comes off the corner by a third and a fourth power of the time.
        let off = self.hair / self.turning.length();
        let third = libm::cbrt(2.0 * off / (self.speed * rate));
        let fourth = (8.0 * off / (rate * rate)).sqrt().sqrt();
        short.min(third).min(fourth)
    }

    /// The constraint half way through `span` seconds.
    pub fn halfway(&self, span: f64) -> Planes {
        let mut planes = Planes::default();
        planes.add_moving(self.normal_at(0.5 * span), 0.0);
        planes
    }

    fn normal_at(&self, t: f64) -> DVec3 {
        let normal = self.normal + self.turning * (t * self.speed);
        normal / normal.length()
    }

    /// Brings it back to the corner by the hair that the way round it was off, and its velocity along it.
    pub fn hug(&self, run: &mut Run<'_>) {
        let Some(contact) = run.near.refreshed(&self.contact).filter(|c| c.gap <= run.near.shape.touching()) else {
            return;
        };
        let along = |normal: DVec3| run.me.velocity - normal * run.me.velocity.dot(normal);
        // The bend turns the velocity and does not change its length.
        let (before, now) = (along(self.normal), along(contact.normal.as_dvec3()));
        run.me.velocity = now * (before.length() / now.length().max(f64::MIN_POSITIVE));
        run.near.press_back(&contact);
    }

    /// True where it leaves the corner, or what drives it, m/s², is too weak to keep it there, or leads off it.
    pub fn lets_go(&self, velocity: DVec3, rate: DVec3) -> bool {
        velocity.dot(self.normal) > LEAVES || self.lifts(velocity, rate, 0.0) >= -LET_GO * rate.length()
    }

    /// The part of `span` seconds until it lets go.
    pub fn holds_for(&self, velocity: DVec3, rate: DVec3, span: f64) -> f64 {
        let then = self.bent(velocity, rate, span).velocity_at(span);
        let (now, then) = (self.lifts(velocity, rate, 0.0), self.lifts(then, rate, span));
        if now < 0.0 && then > 0.0 { span * now / (now - then) } else { span }
    }

    /// How much more than what drives it into the corner it takes to follow that, m/s², `t` seconds on.
    fn lifts(&self, velocity: DVec3, rate: DVec3, t: f64) -> f64 {
        rate.dot(self.normal_at(t)) + self.turning.length() * velocity.length_squared()
    }

    /// The path with the velocity that it has, driven at `rate` and bent round the corner.
    pub fn bent(&self, velocity: DVec3, rate: DVec3, span: f64) -> Path {
        let middle = self.normal_at(0.5 * span);
        // As it is at first: gaining speed it is off the corner outward only, and enters nothing.
        let bend = velocity.dot(self.turning) * self.speed;
        Path { velocity, rate: rate - middle * rate.dot(middle) - self.normal * bend, span }
    }
}

/// The touch at the one face, edge or round that it has met, if it has met nothing else. An obstacle that the axis passes through has no side to follow.
fn the_only_touch(run: &Run<'_>) -> Option<Contact> {
    let first = run.walls.iter().next().and_then(|c| run.near.refreshed(c))?;
    if first.gap <= -run.near.shape.rounding() {
        return None;
    }
    let near = 2.0 * run.near.shape.touching();
    let same = |c: &Contact| (c.point - first.point).length() <= near || (c.normal - first.normal).length() < TURNED;
    run.walls.iter().all(same).then_some(first)
}
