//! Round a corner: what presses an edge or a round while it goes along it is led round it, on an arc.
//!
//! Straight pieces of way would leave the corner, be pressed back and leave it again, as often as the ticks have it. An arc that
//! follows it is the same at every tick rate: the wall's normal is asked a little further on, and what it has turned by then is
//! the bend of the way.

use glam::{DVec3, Vec3};

use crate::contact::arcs::Path;
use crate::contact::closest::Feature;
use crate::contact::point::Contact;
use crate::motion::{Ramp, Rates};
use crate::run::Run;
use crate::walls::Walls;

/// How much further on the normal is asked, in parts of the radius.
const AHEAD: f64 = 0.01;
/// The longest arc taken at once, in parts of its radius.
const MOST_TURN: f64 = 0.2;
/// Turned as far as this, radians, from where the heading leads on freely it is free.
const FREE: f64 = 0.01;
/// As fast as what the corner leaves of the wish to within this part, it keeps up with that.
const KEEPS_UP: f64 = 0.02;
/// And what bends more is all but level, its direction across mostly rounding.
const SHARP: f64 = 10.0;
/// Times that where it will be is worked out anew from how fast it will be.
const CLOSER: usize = 3;
/// What bends less than this over the radius of the character is flat.
const FLAT: f64 = 1e-3;

/// The corner that is pressed now.
#[derive(Clone, Copy, Debug)]
pub(super) struct Corner {
    contact: Contact,
    /// Unit, square to up: along the corner, the way it goes.
    along: DVec3,
    /// Unit, square to up: into it.
    inward: DVec3,
    /// One over the radius of the way round it, 1/m.
    curvature: f64,
    /// How far it is led round at once, metres across.
    most: f64,
}

impl Corner {
    /// The one wall that `wish` presses, if it is a corner; `flat` is the velocity along it.
    pub fn pressed(run: &mut Run<'_>, flat: DVec3, wish: DVec3) -> Option<Corner> {
        let contact = pressed_edge(run, wish)?;
        let here = normal(run, &contact)?;
        let way = if flat == DVec3::ZERO { wish - here * wish.dot(here) } else { flat - here * flat.dot(here) };
        if way.length() <= 1e-6 * wish.length() {
            return None;
        }
        let along = way / way.length();
        let enters = |c: &Contact| !meets(run, c, &contact) && along.dot(c.normal.as_dvec3()) < -1e-3;
        if run.walls.iter().any(enters) {
            return None;
        }
        let step = AHEAD * f64::from(run.near.shape.radius);
        let place = run.near.place;
        run.near.place += along * step;
        let there = run.near.refreshed(&contact).and_then(|c| normal(run, &c));
        run.near.place = place;
        let curvature = along.dot(there? - here) / step;
        let left = libm::atan2(-wish.dot(here), wish.dot(along));
        let bends = curvature * f64::from(run.near.shape.radius);
        if !(FLAT..=SHARP).contains(&bends) || left < FREE {
            return None;
        }
        // An arc is gone as a parabola, which is off it by a fourth power: no further than still touches.
        let touching = f64::from(0.25 * run.near.shape.touching());
        let exact = (8.0 * touching / (curvature * curvature * curvature)).sqrt().sqrt();
        let most = exact.min(MOST_TURN.min(left) / curvature);
        Some(Corner { contact, along, inward: -here, curvature, most })
    }

    /// The ramp of the velocity along it, now `flat`, toward what is left of `wish`: the more, the further round it is.
    pub fn ramp(&self, flat: DVec3, wish: DVec3, rates: &Rates, span: f64) -> Ramp {
        let speed = flat.dot(self.along);
        let now = wish.dot(self.along);
        let fastest = speed.abs().max(now.abs());
        let span = self.span(fastest, span);
        // Faster by then, it is further round by then.
        let mut end = fastest;
        for _ in 0..CLOSER {
            end = wish.dot(self.way_after(0.5 * (fastest + end) * span));
        }
        let rate = (end - speed) / span;
        let keeps_up = (speed - now).abs() <= KEEPS_UP * now;
        if rates.ease.is_none() && keeps_up && (0.0..=rates.gain).contains(&rate) {
            // As fast as it may be, and so all the way: the ramp ends where the piece does.
            return Ramp::new(flat, self.along * end, rate);
        }
        let soon = rates.stage(flat, self.along * now, true).at(span).dot(self.along);
        let halfway = 0.25 * (speed + soon) * span;
        rates.stage(flat, self.along * wish.dot(self.way_after(halfway)), true)
    }

    /// Which way it leads after `gone` metres.
    fn way_after(&self, gone: f64) -> DVec3 {
        let turned = (self.curvature * gone.min(self.most)).clamp(-0.5, 0.5);
        self.along * (1.0 - turned * turned).sqrt() + self.inward * turned
    }

    /// The seconds of `span` in which it is led round at once.
    pub fn span(&self, fastest: f64, span: f64) -> f64 {
        if fastest * span > self.most { self.most / fastest } else { span }
    }

    /// The path, bent round the corner. It is gone at its mean speed: so it is off an arc outward only.
    pub fn bent(&self, path: Path, slope: Vec3, up: Vec3) -> Path {
        let mean = path.at(path.span) / path.span;
        let across = mean.dot(self.along);
        let bend = self.inward * (self.curvature * across * across);
        let (slope, up) = (slope.as_dvec3(), up.as_dvec3());
        Path { velocity: mean, rate: bend - up * (bend.dot(slope) / slope.dot(up)), span: path.span }
    }

    /// A flat velocity, turned with what was gone along `path` in `used` seconds.
    pub fn turned(&self, flat: DVec3, path: &Path, used: f64) -> DVec3 {
        self.way_after(path.at(used).dot(self.along)) * flat.dot(self.along)
    }

    /// Brings it back to the corner by the hair that the arc was off.
    pub fn hug(&self, run: &mut Run<'_>) {
        let Some(contact) = run.near.refreshed(&self.contact) else { return };
        if contact.gap > run.near.shape.tolerance() && contact.gap <= run.near.shape.touching() {
            run.near.push(contact.normal * -contact.gap);
        }
    }
}

/// The touch of the one edge or round that `wish` presses; `None` where it presses a face, or more than one place.
fn pressed_edge(run: &mut Run<'_>, wish: DVec3) -> Option<Contact> {
    let presses = |c: &&Contact| normal(run, c).is_some_and(|m| wish.dot(m) < 0.0);
    let contact = *run.walls.iter().find(presses)?;
    // The facets that share an edge touch at one point.
    let elsewhere = |c: &Contact| c.feature == Feature::Face || !meets(run, c, &contact);
    if run.near.patch.is_moving() || run.walls.iter().filter(presses).any(elsewhere) {
        return None;
    }
    let (limits, up) = (run.staying, run.me.up);
    run.near.touch(run.near.shape.touching());
    let Some(face) = run.near.face_with_rim(&contact, |face| !limits.walkable(face.normal, up)) else {
        return Some(contact);
    };
    // A seam within a wall, which goes on with another facet.
    run.walls.add(face);
    None
}

/// True where two touches are at one point.
fn meets(run: &Run<'_>, a: &Contact, b: &Contact) -> bool {
    (a.point - b.point).length() <= 2.0 * run.near.shape.touching()
}

/// The direction, square to up, in which a wall keeps off what follows the ground.
fn normal(run: &Run<'_>, contact: &Contact) -> Option<DVec3> {
    let mut wall = Walls::default();
    wall.add(*contact);
    wall.on_ground(run.ground.normal, run.me.up, run.carried).normals().first().copied()
}
