//! Hanging from a ledge: still, along it and round its corners, and off it.

use glam::DVec3;

use super::meets::first_way;
use super::moves::{Move, begin};
use super::onto::{onto, reach};
use crate::contact::lip::{Lip, Looks};
use crate::contact::point::Contact;
use crate::math::{direction, flatten};
use crate::mode::holding::{self, Creep, Frame, anything, creep, goes_round, is_within, or_rest, still, touched};
use crate::outcome::{EventKind, HoldEnd};
use crate::phase::Phase;
use crate::run::Run;
use crate::tuning::Ledge;

/// How far from where it should be under the hands a ledge is still held, metres: it runs up and down at most that much in a piece
/// of way.
const GIVES: f32 = 0.05;
/// A contact from the side that leans more than this, and faces the character less than this, would lead it up or down.
const LEANS: f64 = 0.1;
const ASIDE: f64 = 0.7;
/// A way that leads into it by less than this part leads along it.
const HARDLY_INTO: f64 = 1e-4;
/// The hands are this far apart, in parts of the radius.
const HANDS: f32 = 0.5;

/// Lets go or pulls up, as it is asked to.
pub(in crate::mode) fn decide(run: &mut Run<'_>) {
    if run.me.phase.is_ledge_move() {
        // A ledge move goes on to its end: over the top of a ladder, too, for who has no ledges.
        return;
    }
    let Some(tuned) = run.tuning.values().ledge.filter(|_| run.modifiers.can_use_ledges) else {
        return holding::interrupt(run);
    };
    if core::mem::take(&mut run.asked_now) && run.me.asked.last().is_low() {
        return holding::end(run, HoldEnd::LetGo);
    }
    let Some(frame) = Frame::on(run.ground.normal, run.up()) else { return };
    let into = run.leads_into(&frame).is_some_and(|into| is_within(tuned.cone, into));
    if !into {
        run.me.marks.set_may_pull_up(true);
    } else if (run.me.marks.may_pull_up() || tuned.at_once) && run.on_grid {
        pull_up(run, &tuned, &frame);
    }
}

/// The jump button: up, or off it where the heading leads away; false where it is to be a jump off it.
pub(in crate::mode) fn press_jump(run: &mut Run<'_>) -> bool {
    let Some(tuned) = run.tuning.values().ledge else { return false };
    let Some(frame) = Frame::on(run.ground.normal, run.up()) else { return false };
    let off = run.leads_into(&frame).is_some_and(|into| into < 0.5);
    !off && pull_up(run, &tuned, &frame)
}

fn pull_up(run: &mut Run<'_>, tuned: &Ledge, frame: &Frame) -> bool {
    let ahead = run.me.keeps.flat(frame.ahead());
    let looks = Looks { width: 0.0, reach: reach(run), deep: tuned.depth, ..at_the_hands(tuned, frame, run) };
    let Some((lip, way)) = first_way(run, &looks, |_, _| true, |run, lip| onto(run, ahead, lip)) else { return false };
    let to = Move { phase: Phase::PullUp, ahead, lip, way, seconds: tuned.pull_up };
    begin(run, &to, EventKind::PulledUp { height: lip.height });
    true
}

fn at_the_hands(tuned: &Ledge, frame: &Frame, run: &Run<'_>) -> Looks {
    Looks {
        ahead: frame.ahead(),
        heights: (tuned.hang - GIVES, tuned.hang + GIVES),
        reach: reach(run),
        deep: 0.0,
        width: 2.0 * HANDS * run.near.shape.radius,
    }
}

/// Hangs, or moves along, for at most `span` seconds; returns the seconds used.
pub(super) fn advance(run: &mut Run<'_>, span: f64) -> f64 {
    let Some(tuned) = run.tuning.values().ledge else { return span };
    run.refresh_ride();
    let held = touched(run, run.ground.normal, anything).filter(|contact| lip_at(run, &tuned, contact).is_some());
    let Some((contact, frame)) = held.and_then(|c| Some((c, level(run, &c)?))) else {
        holding::end(run, HoldEnd::Lost);
        return 0.0;
    };
    run.hold_on_to(&contact);
    let (right, _) = run.heading_along(&frame);
    let wish = frame.right * (f64::from(right) * f64::from(tuned.aside * run.modifiers.speed));
    let along = frame.right * run.me.velocity.dot(frame.right);
    let [wish, velocity] = levelled(run, &frame, [wish, along]);
    run.me.velocity = velocity;
    if wish == DVec3::ZERO && run.me.velocity == DVec3::ZERO {
        let (used, met) = still(run, span);
        if let Some(contact) = met {
            touch(run, &tuned, &frame, &contact);
        }
        return used;
    }
    let rate = f64::from(tuned.acceleration * run.modifiers.acceleration);
    let crept =
        creep(run, &Creep { frame, wish, rate, counts: anything }, span, |run, contact| hangs(run, &tuned, contact));
    if crept.ended {
        run.me.velocity = DVec3::ZERO;
    }
    let (used, met) = or_rest(run, &crept, span);
    if let Some(contact) = met {
        touch(run, &tuned, &frame, &contact);
    }
    used
}

/// Of these ways along the ledge none that something beside it would lead up or down: it hangs level, so that stops it.
fn levelled(run: &mut Run<'_>, frame: &Frame, ways: [DVec3; 2]) -> [DVec3; 2] {
    if ways == [DVec3::ZERO; 2] {
        return ways;
    }
    let up = run.up();
    run.near.touch(run.near.shape.touching());
    let normals = run.near.contacts.iter().map(|contact| contact.normal.as_dvec3());
    let leaning = |n: &DVec3| n.dot(up).abs() > LEANS && n.dot(frame.out) < ASIDE;
    let stops = |way: DVec3| {
        let into = |n: DVec3| n.dot(way) < -HARDLY_INTO * way.length();
        normals.clone().filter(leaning).any(into)
    };
    ways.map(|way| if stops(way) { DVec3::ZERO } else { way })
}

/// The level frame of what is touched.
fn level(run: &Run<'_>, contact: &Contact) -> Option<Frame> {
    Frame::on(direction(flatten(contact.normal, run.me.up))?, run.up())
}

/// Whether it would hang from a ledge where it is, touching this.
pub(super) fn hangs_at(run: &mut Run<'_>, contact: &Contact) -> bool {
    let tuned = run.tuning.values().ledge;
    tuned.is_some_and(|tuned| lip_at(run, &tuned, contact).is_some())
}

/// The ledge before it, where it is touched like this.
fn lip_at(run: &mut Run<'_>, tuned: &Ledge, contact: &Contact) -> Option<Lip> {
    let frame = level(run, contact)?;
    let limits = run.limits;
    run.near.lip(&at_the_hands(tuned, &frame, run), 0.0, &limits)
}

/// Whether each hand has it too, or is round a corner where there is nothing: but no wall that goes on higher up.
fn hands_hold(run: &mut Run<'_>, tuned: &Ledge, contact: &Contact) -> bool {
    let Some(frame) = level(run, contact) else { return false };
    let looks = at_the_hands(tuned, &frame, run);
    let (limits, half) = (run.limits, 0.5 * looks.width);
    let wider = Looks { heights: (looks.heights.0 - half, looks.heights.1 + half), reach: looks.reach + half, ..looks };
    [-half, half].into_iter().all(|aside| {
        let hand = run.near.hands(0.0) + run.me.up * (tuned.hang + half) + frame.right.as_vec3() * aside;
        run.near.lip(&wider, aside, &limits).is_some() || run.near.is_open(hand, hand + frame.ahead() * wider.reach)
    })
}

/// Whether it hangs where it has come to, touching this: under the ledge, brought to its height.
fn hangs(run: &mut Run<'_>, tuned: &Ledge, contact: &Contact) -> bool {
    let Some(lip) = lip_at(run, tuned, contact).filter(|_| hands_hold(run, tuned, contact)) else { return false };
    let off = lip.height - tuned.hang;
    off.abs() < 1e-6 || run.near.push(run.me.up * off).1.is_none()
}

/// Something is in the way: another side of the ledge, round an inside corner, or a wall.
fn touch(run: &mut Run<'_>, tuned: &Ledge, frame: &Frame, contact: &Contact) {
    let holds = |run: &mut Run<'_>, contact: &Contact| lip_at(run, tuned, contact).is_some();
    let round =
        level(run, contact).is_some_and(|other| goes_round(run, (frame, &other), (contact, anything), true, holds));
    if !round {
        run.slide_along(contact);
    }
}
