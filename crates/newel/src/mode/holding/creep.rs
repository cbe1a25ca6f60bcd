//! Moving along what is held on to, pressed against it: round curves and corners.

use glam::{DVec3, Vec3};

use super::Frame;
use crate::contact::arcs::Path;
use crate::contact::point::Contact;
use crate::contact::slide::Planes;
use crate::contact::surroundings::Surroundings;
use crate::mode::along_walls;
use crate::mode::trail::Trail;
use crate::motion::Ramp;
use crate::run::{HARDLY, Run};

/// How far it is pressed on after a piece of way, in parts of its radius: more than a corner takes it off in one.
const PRESSED: f32 = 0.2;

/// A piece of way to go along what is held on to.
pub(in crate::mode) struct Creep {
    pub frame: Frame,
    /// The velocity wanted, and how fast it is gained or lost, m/s and m/s².
    pub wish: DVec3,
    pub rate: f64,
    /// Contacts that may be held.
    pub counts: Counts,
}

/// Contacts that count.
pub(in crate::mode) type Counts = fn(&Surroundings<'_>, &Contact) -> bool;

/// What gives hold.
pub(in crate::mode) fn gives_hold(near: &Surroundings<'_>, contact: &Contact) -> bool {
    near.gives_hold(contact)
}

/// All of it.
pub(in crate::mode) fn anything(_near: &Surroundings<'_>, _contact: &Contact) -> bool {
    true
}

/// The result of a move along a hold.
pub(in crate::mode) struct Crept {
    /// Seconds used.
    pub used: f64,
    /// The obstacle on the way, if any.
    pub met: Option<Contact>,
    /// True where what is held on to ended: it is as far as it goes.
    pub ended: bool,
    /// True where it does not go on at all.
    pub nowhere: bool,
}

/// Goes along for at most `span` seconds, as far as `holds` where it comes to.
pub(in crate::mode) fn creep(
    run: &mut Run<'_>,
    creep: &Creep,
    span: f64,
    mut holds: impl FnMut(&mut Run<'_>, &Contact) -> bool,
) -> Crept {
    run.leave_foothold();
    run.walls.refresh(&run.near);
    let planes = run.walls.planes_against(run.carried);
    if planes.close_in() {
        return Crept { used: run.closed_in(span), met: None, ended: false, nowhere: false };
    }
    let velocity = planes.admissible(run.me.velocity);
    run.tell_pressed(&planes, run.me.velocity, velocity);
    let (velocity, ramp) = ramp(creep, &planes, velocity);
    let span = if ramp.duration() > 0.0 { span.min(ramp.duration()) } else { span };
    let rate = planes.not_left_by(velocity).admissible(ramp.acceleration());
    let path = Path { velocity, rate, span };
    let path = Path { span: run.smooth(&path, span), ..path };
    if let Some(contact) = along_walls::touched_already(run, &path) {
        return Crept { used: 0.0, met: Some(contact), ended: false, nowhere: false };
    }
    let way = run.carried_along(path);
    let trail = Trail::begin(run, way);
    let (used, met) = along_walls::go(run, &way);
    run.me.velocity = if used == ramp.duration() && used > 0.0 { ramp.at(used) } else { path.velocity_at(used) };
    let normal = creep.frame.out.as_vec3();
    let pressed = press(run, normal, creep.counts);
    match pressed.filter(|contact| holds(run, contact)) {
        Some(contact) => {
            take(run, &creep.frame, &contact);
            Crept { used, met, ended: false, nowhere: false }
        }
        None => back(run, creep, &trail, used, holds),
    }
}

/// How it gets from a velocity to the one wanted, along `planes`; and from which: where what is held turns
/// with the way, chasing the last hair of it would get nowhere, so that is made good at once.
fn ramp(creep: &Creep, planes: &Planes, velocity: DVec3) -> (DVec3, Ramp) {
    let target = planes.admissible(creep.wish);
    let ramp = Ramp::new(velocity, target, creep.rate);
    let chases = ramp.duration() < HARDLY;
    if chases { (target, Ramp::hold(target)) } else { (velocity, ramp) }
}

/// The same where there is nothing to press against: as far as `holds`.
pub(in crate::mode) fn creep_freely(
    run: &mut Run<'_>,
    creep: &Creep,
    span: f64,
    mut holds: impl FnMut(&mut Run<'_>) -> bool,
) -> Crept {
    run.walls.refresh(&run.near);
    let planes = run.walls.planes();
    let velocity = planes.admissible(run.me.velocity);
    let (velocity, ramp) = ramp(creep, &planes, velocity);
    let span = if ramp.duration() > 0.0 { span.min(ramp.duration()) } else { span };
    let path = Path { velocity, rate: planes.not_left_by(velocity).admissible(ramp.acceleration()), span };
    if let Some(contact) = along_walls::touched_already(run, &path) {
        return Crept { used: 0.0, met: Some(contact), ended: false, nowhere: false };
    }
    let trail = Trail::begin(run, path);
    let (used, met) = along_walls::go(run, &path);
    run.me.velocity = if used == ramp.duration() && used > 0.0 { ramp.at(used) } else { path.velocity_at(used) };
    if holds(run) {
        return Crept { used, met, ended: false, nowhere: false };
    }
    let (held, _) = trail.last(run, used, |run, _| holds(run));
    trail.go_to(run, held);
    Crept { used: held, met: None, ended: true, nowhere: false }
}

/// Back to where it last held.
fn back(
    run: &mut Run<'_>,
    creep: &Creep,
    trail: &Trail,
    used: f64,
    mut holds: impl FnMut(&mut Run<'_>, &Contact) -> bool,
) -> Crept {
    let normal = creep.frame.out.as_vec3();
    let (held, _) =
        trail.last(run, used, |run, _| press(run, normal, creep.counts).is_some_and(|contact| holds(run, &contact)));
    trail.go_to(run, held);
    match press(run, normal, creep.counts).filter(|contact| holds(run, contact)) {
        Some(contact) => {
            take(run, &creep.frame, &contact);
            Crept { used: held, met: None, ended: true, nowhere: false }
        }
        None => {
            // Nowhere on it: where it began it held.
            trail.go_to(run, 0.0);
            Crept { used: 0.0, met: None, ended: true, nowhere: true }
        }
    }
}

/// The present contact becomes the hold; the velocity turns with it.
fn take(run: &mut Run<'_>, frame: &Frame, contact: &Contact) {
    run.hold_on_to(contact);
    if let Some(now) = Frame::on(contact.normal, run.up()) {
        run.me.velocity = now.carried_from(frame, run.me.velocity);
    }
}

/// Against what faces it like `normal`, if it is near: the contact with it.
pub(in crate::mode) fn press(run: &mut Run<'_>, normal: Vec3, counts: Counts) -> Option<Contact> {
    let frame = Frame::on(normal, run.up())?;
    let from = run.near.place;
    let reach = PRESSED * run.near.shape.radius;
    let found = run.attempt(|run| {
        run.near.push(run.me.keeps.flat(frame.ahead()) * reach);
        run.near.touch(run.near.shape.touching());
        facing(run, normal, counts)
    })?;
    // Square to the surface and no way along it, or what leans would be crept up by a hair with every piece.
    let off = run.near.place - from;
    run.near.place = from + frame.out * off.dot(frame.out);
    Some(found)
}

/// The contact with what faces it like `normal`, where it is or against it.
pub(in crate::mode) fn touched(run: &mut Run<'_>, normal: Vec3, counts: Counts) -> Option<Contact> {
    run.near.touch(0.5 * run.near.shape.skin());
    facing(run, normal, counts).or_else(|| press(run, normal, counts))
}

/// The steep contact whose normal is most like `normal`.
fn facing(run: &Run<'_>, normal: Vec3, counts: Counts) -> Option<Contact> {
    let steep = |c: &&Contact| c.normal.dot(run.me.up).abs() < 0.95 && c.normal.dot(normal) > 0.3;
    let found = run.near.contacts.iter().filter(steep).filter(|c| counts(&run.near, c)).copied();
    found.reduce(|a, b| if b.normal.dot(normal) > a.normal.dot(normal) { b } else { a })
}
