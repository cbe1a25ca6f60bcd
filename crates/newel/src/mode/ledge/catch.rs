//! In the air: a ledge before it that its hands can reach is caught.

use glam::Vec3;

use super::meets::first_way;
use super::moves::{Move, begin};
use super::onto::Way;
use crate::Button;
use crate::contact::lip::{Lip, Looks};
use crate::mode::holding::{Frame, is_within};
use crate::outcome::EventKind;
use crate::phase::{Mode, Phase};
use crate::run::Run;
use crate::tuning::{Ledge, Takes};

/// How far before the body what is caught may be, in parts of the radius.
const NEAR: f32 = 0.5;
/// A ledge out of reach by at most this, metres, is within reach: an edge just as high as a jump and the reach have it would else be caught or
/// not by rounding, and by how soon after the top the next moment of the grid is (two thirds of a millimetre lower under 20 m/s²).
const JUST: f32 = 1e-3;
/// How far it is pressed on to touch, in touches.
const ON: f32 = 20.0;

/// Catches a ledge, if there is one; true where it did.
pub(in crate::mode) fn seek(run: &mut Run<'_>) -> bool {
    let tuned = run.tuning.values().ledge.filter(|_| run.modifiers.can_use_ledges);
    let Some(tuned) = tuned.filter(|_| run.me.mode == Mode::Air && run.may_take_hold()) else { return false };
    let asked = run.me.held.has(Button::Grab);
    let rises = run.me.velocity.dot(run.up()) > 1e-9;
    if rises || (tuned.takes == Takes::Button && !asked) {
        return false;
    }
    let Some(ahead) = facing_wall(run, &tuned, asked) else { return false };
    let radius = run.near.shape.radius;
    let looks = Looks {
        ahead,
        heights: (tuned.hang - tuned.below, tuned.hang + tuned.reach + JUST.min(tuned.reach + tuned.below)),
        reach: radius * (2.0 + NEAR),
        deep: tuned.depth,
        width: tuned.width,
    };
    let deep = |_: &mut Run<'_>, lip: &Lip| lip.depth >= tuned.depth - 1e-4;
    let Some((lip, way)) = first_way(run, &looks, deep, |run, lip| to_hang(run, &tuned, ahead, lip)) else {
        return false;
    };
    let to = Move { phase: Phase::Catch, ahead, lip, way, seconds: tuned.catch };
    begin(run, &to, EventKind::Caught { height: lip.height });
    true
}

/// The way straight into the wall before it that its heading leads into, or its look where it was asked to.
pub(super) fn facing_wall(run: &mut Run<'_>, tuned: &Ledge, asked: bool) -> Option<Vec3> {
    run.near.touch(NEAR * run.near.shape.radius);
    let mut best: Option<(f32, Vec3)> = None;
    for contact in run.near.contacts.iter() {
        let Some(frame) = Frame::on(contact.normal, run.up()) else { continue };
        let ahead = run.me.keeps.flat(frame.ahead());
        let led = run.leads_into(&frame);
        let into = if asked { led.or_else(|| Some(run.reaching().dot(ahead))) } else { led };
        let Some(into) = into.filter(|i| is_within(tuned.cone, *i) && ahead.length() > 0.999) else { continue };
        if best.is_none_or(|b| into > b.0 + 1e-6) {
            best = Some((into, ahead));
        }
    }
    best.map(|(_, ahead)| ahead)
}

/// The straight way to where it hangs from a lip.
fn to_hang(run: &mut Run<'_>, tuned: &Ledge, ahead: Vec3, lip: &Lip) -> Option<Way> {
    run.elsewhere(|run| try_to_hang(run, tuned, ahead, lip))
}

fn try_to_hang(run: &mut Run<'_>, tuned: &Ledge, ahead: Vec3, lip: &Lip) -> Option<Way> {
    let (from, up) = (run.near.place, run.me.up);
    let shape = run.near.shape;
    let rise = lip.height - tuned.hang;
    // Off what it is pressed to: a rim that is in the way of that by a hair only is none.
    run.near.push(-ahead * shape.touching());
    let begin = run.near.place;
    if run.near.push(up * rise).1.is_some() {
        return None;
    }
    let gap = (lip.ahead - shape.radius).max(0.0) + (ON + 1.0) * shape.touching();
    run.near.push(ahead * gap).1?;
    let moved = (run.near.place - from).dot(ahead.as_dvec3()) as f32;
    run.near.place = begin;
    let way = up * rise + ahead * (moved + shape.touching());
    let short = shape.touching() / way.length().max(shape.touching());
    (run.near.push(way).0 >= 1.0 - short).then_some(Way { rise, ahead: moved, stance: run.me.stance })
}
