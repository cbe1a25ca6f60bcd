//! Down over the edge it stands at, on request: to hang from it, or onto what there is to climb below it.

use glam::{DVec3, Vec3};

use super::hang::hangs_at;
use super::moves::{Move, begin};
use super::onto::Way;
use crate::activity::Activity;
use crate::contact::lip::Lip;
use crate::contact::point::Contact;
use crate::math::{direction, flatten};
use crate::mode::climb;
use crate::mode::holding::{anything, end, press};
use crate::outcome::{EventKind, HoldEnd};
use crate::phase::{Mode, Phase};
use crate::run::Run;

/// How far out it is tried, in parts of the radius.
const OUT: [f32; 5] = [1.1, 1.5, 1.9, 2.3, 2.7];
/// How far off what it comes down along it stays, in touches.
const OFF: f32 = 10.0;

/// Lets itself down the way it looks or heads, if there is something below to hold; true where it does.
pub(in crate::mode) fn let_down(run: &mut Run<'_>) -> bool {
    if run.me.mode != Mode::Ground || !run.may_take_hold() {
        return false;
    }
    let values = run.tuning.values();
    let ledge = values.ledge.filter(|_| run.modifiers.can_use_ledges);
    let climb = values.climb.filter(|_| run.modifiers.can_climb);
    let out = run.me.keeps.flat(run.reaching());
    if out.length() < 0.999 {
        return false;
    }
    let height = run.near.shape.height;
    let onto_hold = climb.and_then(|c| Some((way_down(run, out, c.hands * height + 0.05, climb::would_hold)?, c.over)));
    let found = onto_hold.or_else(|| ledge.and_then(|l| Some((way_down(run, out, l.hang, hangs_at)?, l.pull_up))));
    let Some((way, seconds)) = found else { return false };
    let body = run.near.body_index(run.ground.body);
    let lip = Lip { height: 0.0, ahead: 0.0, depth: 0.0, surface: run.ground.surface, body };
    let to = Move { phase: Phase::LetDown, ahead: -out, lip, way, seconds };
    begin(run, &to, EventKind::LetDown { height: way.rise });
    true
}

/// The way out and then down by `depth` after which `holds`.
fn way_down(run: &mut Run<'_>, out: Vec3, depth: f32, holds: fn(&mut Run<'_>, &Contact) -> bool) -> Option<Way> {
    let radius = run.near.shape.radius;
    OUT.into_iter().find_map(|part| run.elsewhere(|run| try_down(run, out, part * radius, depth, holds)))
}

fn try_down(
    run: &mut Run<'_>,
    out: Vec3,
    far: f32,
    depth: f32,
    holds: fn(&mut Run<'_>, &Contact) -> bool,
) -> Option<Way> {
    let (from, up) = (run.near.place, run.me.up);
    let free = run.near.push(out * far).1.is_none() && run.near.push(up * -depth).1.is_none();
    // Back to what is below the edge.
    let met = if free { run.near.push(-out * far).1? } else { return None };
    let wall = direction(flatten(met.normal, up)).filter(|n| n.dot(out) > 0.7)?;
    let contact = press(run, wall, anything).filter(|c| holds(run, c))?;
    let off = OFF * run.near.shape.touching();
    let ahead = (run.near.place - from).dot(out.as_dvec3()) as f32 + off / contact.normal.dot(out).max(0.1);
    run.near.place = from;
    let free = run.near.push(out * ahead).1.is_none() && run.near.push(up * -depth).1.is_none();
    free.then_some(Way { rise: depth, ahead, stance: run.me.stance })
}

/// It has come down: it climbs, hangs, or falls.
pub(super) fn arrive(run: &mut Run<'_>) {
    run.me.velocity = DVec3::ZERO;
    run.me.activity = Activity::None;
    let normal = run.ground.normal;
    if climb::takes_over(run, normal) {
        return;
    }
    let held = press(run, normal, anything).filter(|contact| hangs_at(run, contact));
    run.in_control();
    match held {
        Some(contact) => run.hold_on_to(&contact),
        None => end(run, HoldEnd::Lost),
    }
}
