//! Round a corner: what presses an edge or a round while it goes along it is led round it, on an arc.
//!
//! Straight pieces of way would leave the corner, be pressed back and leave it again, as often as the ticks have it. An arc that
//! follows it is the same at every tick rate: the wall's normal is asked a little further on, and what it has turned by then is
//! the bend of the way.

use glam::{DVec3, Vec3};

use super::footwork::lift;
use crate::contact::arcs::Path;
use crate::contact::closest::Feature;
use crate::contact::point::Contact;
use crate::mode::along_walls;
use crate::run::Run;
use crate::walls::Walls;

/// How much further on the normal is asked, in parts of the radius.
const AHEAD: f64 = 0.01;
/// The longest arc taken at once, in parts of its radius.
const MOST_TURN: f64 = 0.2;
/// Turned as far as this, radians, from where the heading leads on freely it is free, or flat against what is ahead.
const FREE: f64 = 1e-4;
/// And what bends more is all but level, its direction across mostly rounding.
const SHARP: f64 = 10.0;
/// Normals closer than this are one.
const SAME_WAY: f32 = 1e-4;
/// A bend of less than this over the radius of the character counts as flat.
const FLAT: f64 = 1e-3;

/// The corner that is pressed now.
#[derive(Clone, Copy, Debug)]
pub(super) struct Corner {
    contact: Contact,
    /// The face that it leads to.
    face: Option<Contact>,
    /// Unit, square to up: along the corner, the way it goes.
    pub(super) along: DVec3,
    /// Unit, square to up: into it.
    pub(super) inward: DVec3,
    /// One over the radius of the way round it, 1/m.
    pub(super) curvature: f64,
    /// How far it goes across for a metre along the ground.
    pub(super) shorter: f64,
    /// How far it is led round at once, metres across.
    pub(super) most: f64,
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
        let there = run.elsewhere(|run| {
            run.near.place += along * step;
            run.near.refreshed(&contact).and_then(|c| normal(run, &c))
        });
        let curvature = along.dot(there? - here) / step;
        let (until_flat, face) = until_a_face(run, &contact, along, here);
        let left = libm::atan2(-wish.dot(here), wish.dot(along)).min(until_flat);
        let bends = curvature * f64::from(run.near.shape.radius);
        if !(FLAT..=SHARP).contains(&bends) || left < FREE {
            return None;
        }
        // An arc is gone as a parabola, which is off it by a fourth power: no further than still touches.
        let touching = f64::from(0.25 * run.near.shape.touching());
        let exact = (8.0 * touching / (curvature * curvature * curvature)).sqrt().sqrt();
        let most = exact.min(MOST_TURN.min(left) / curvature);
        let shorter = lift(along, run.ground.normal, run.me.up).dot(along);
        Some(Corner { contact, face, along, inward: -here, curvature, shorter, most })
    }

    /// The path, bent round the corner to where an arc as long as it would end.
    ///
    /// It is a parabola that is off that arc outward only, so that it enters nothing; its end is as far round as the arc's.
    pub fn bent(&self, path: Path, slope: Vec3, up: Vec3) -> Path {
        let mean = path.at(path.span) / path.span;
        let angle = self.curvature * mean.dot(self.along) * path.span;
        if angle == 0.0 {
            return path;
        }
        let sine = libm::sin(angle);
        let across = sine * (1.0 + sine * sine * sine * sine / 8.0);
        let velocity = mean * (across / angle);
        let speed = velocity.dot(self.along);
        let bend = self.inward * (self.curvature * speed * speed);
        let (slope, up) = (slope.as_dvec3(), up.as_dvec3());
        Path { velocity, rate: bend - up * (bend.dot(slope) / slope.dot(up)), span: path.span }
    }

    /// The face that it has led to, if it has: that is met, however exactly it is come to.
    pub fn led_to(&self, run: &Run<'_>) -> Option<Contact> {
        let touch = run.near.refreshed(&self.face?).filter(|c| c.gap <= run.near.shape.touching())?;
        let face = Contact { normal: touch.face, feature: Feature::Face, ..touch };
        let (here, flat) = (normal(run, &touch)?, normal(run, &face)?);
        ((flat - here).length() < FREE).then_some(face)
    }

    /// A flat velocity, turned with what was gone along `path` in `used` seconds.
    pub fn turned(&self, flat: DVec3, path: &Path, used: f64) -> DVec3 {
        let turned = (self.curvature * path.at(used).dot(self.along)).clamp(-0.5, 0.5);
        (self.along * (1.0 - turned * turned).sqrt() + self.inward * turned) * flat.dot(self.along)
    }

    /// Brings it back to the corner by the hair that the arc was off.
    pub fn hug(&self, run: &mut Run<'_>) {
        if let Some(contact) = run.near.refreshed(&self.contact) {
            run.near.press_back(&contact);
        }
    }
}

/// The touch of the one edge or round that `wish` presses; `None` where it presses a face, or more than one place.
fn pressed_edge(run: &mut Run<'_>, wish: DVec3) -> Option<Contact> {
    let presses = |run: &Run<'_>, c: &Contact| normal(run, c).is_some_and(|m| wish.dot(m) < 0.0);
    if run.near.patch.is_moving() || !run.walls.iter().any(|c| presses(run, c)) {
        return None;
    }
    along_walls::over_seams(run);
    let mut pressed = run.walls.iter().filter(|c| presses(run, c));
    let contact = *pressed.next()?;
    // The facets that share an edge touch at one point.
    let elsewhere = |c: &Contact| c.feature == Feature::Face || !meets(run, c, &contact);
    if elsewhere(&contact) || pressed.any(elsewhere) {
        return None;
    }
    run.near.touch(run.near.shape.touching());
    Some(contact)
}

/// The face that the corner leads to, and by how much it turns until that is flat against it, radians; infinite where it leads to none.
fn until_a_face(run: &Run<'_>, contact: &Contact, along: DVec3, here: DVec3) -> (f64, Option<Contact>) {
    let (mut ahead, mut to, mut behind, mut flat) = (f64::INFINITY, None, false, false);
    for face in run.near.contacts.iter().filter(|c| c.feature != Feature::Round && meets(run, c, contact)) {
        let Some(normal) = normal(run, &Contact { normal: face.face, ..*face }) else { continue };
        match libm::atan2(normal.dot(along), normal.dot(here)) {
            angle if angle > FREE && angle >= ahead => {}
            angle if angle > FREE => (ahead, to) = (angle, Some(*face)),
            angle => (behind, flat) = (behind || angle < -FREE, flat || angle >= -FREE),
        }
    }
    // Flat against one and with another behind it has come to it; with none behind it only begins to leave it.
    if to.is_none() && behind && flat { (0.0, None) } else { (ahead, to) }
}

/// True where two touches are at one point, or anywhere along one upright edge: where on that it is closest only rounding says.
fn meets(run: &Run<'_>, a: &Contact, b: &Contact) -> bool {
    let (apart, up) = (a.point - b.point, run.me.up);
    let same_way = (a.normal - b.normal).length() <= SAME_WAY;
    let apart = if same_way { apart - up * apart.dot(up) } else { apart };
    apart.length() <= 2.0 * run.near.shape.touching()
}

/// The direction, square to up, in which a wall keeps off what follows the ground.
fn normal(run: &Run<'_>, contact: &Contact) -> Option<DVec3> {
    let mut wall = Walls::default();
    wall.add(*contact);
    wall.on_ground(run.ground.normal, run.me.up, run.carried).normals().first().copied()
}
