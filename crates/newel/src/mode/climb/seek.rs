//! Taking hold: where a heading leads into what is touched, or of what is in reach on request.

use glam::Vec3;

use super::grasp;
use crate::contact::point::Contact;
use crate::drive::buttons::Button;
use crate::mode::holding::{Frame, gives_hold, is_within, press};
use crate::mode::slide;
use crate::mode::transitions::take_off_into;
use crate::outcome::{EventKind, HoldEnd};
use crate::phase::Mode;
use crate::run::Run;
use crate::tuning::{Climb, Takes};

/// How far what is asked for may be, in parts of the radius: as far as it is pressed on.
const REACH: f32 = 0.15;

/// Takes hold, if there is something to; true where it did.
pub(in crate::mode) fn seek(run: &mut Run<'_>, asked: bool) -> bool {
    let Some(tuned) = run.tuning.values().climb.filter(|_| run.modifiers.can_climb && run.may_take_hold()) else {
        return false;
    };
    let asked = asked || (tuned.takes == Takes::Button && run.me.held.has(Button::Grab));
    if !asked && tuned.takes == Takes::Button {
        return false;
    }
    if seek_volume(run, &tuned, asked) {
        return true;
    }
    let limits = run.limits;
    if !asked && !run.near.is_beside_steep(&limits) {
        return false;
    }
    let reach = if asked { REACH * run.near.shape.radius } else { run.near.shape.touching() };
    run.near.touch(reach);
    let mut best: Option<(f32, Contact)> = None;
    for contact in run.near.contacts.iter() {
        let Some(into) = leads_into(run, &tuned, contact, asked) else { continue };
        if best.is_none_or(|b| into > b.0 + 1e-6) {
            best = Some((into, *contact));
        }
    }
    best.is_some_and(|(_, contact)| take(run, &tuned, &contact))
}

/// Something is in the way: taken hold of, if a heading into it is all that it takes; true where it was.
pub(in crate::mode) fn meets(run: &mut Run<'_>, contact: &Contact) -> bool {
    let Some(tuned) = run.tuning.values().climb.filter(|_| run.modifiers.can_climb && run.may_take_hold()) else {
        return false;
    };
    let takes = tuned.takes == Takes::Touch || run.me.held.has(Button::Grab);
    takes && leads_into(run, &tuned, contact, false).is_some() && take(run, &tuned, contact)
}

/// Takes hold of what is touched, if the hands find hold there.
fn take(run: &mut Run<'_>, tuned: &Climb, contact: &Contact) -> bool {
    grasp::holds(run, tuned, contact).is_some() && pressed_on(run, tuned, contact.normal)
}

/// Pressed on to what faces it like `normal` it climbs from now on, if the hands find hold there.
fn pressed_on(run: &mut Run<'_>, tuned: &Climb, normal: Vec3) -> bool {
    let held = run.attempt(|run| {
        let contact = press(run, normal, gives_hold)?;
        Some((contact, grasp::holds(run, tuned, &contact)?))
    });
    let Some((contact, grip)) = held else { return false };
    if run.me.mode == Mode::Ledge {
        run.report(EventKind::LedgeLeft { reason: HoldEnd::Climb });
    }
    let stands = begin(run);
    run.hold_on_to(&contact);
    settle_velocity(run, stands);
    run.report(EventKind::ClimbBegan { hold: grip.hold, surface: grip.surface });
    true
}

/// How much of its heading, or of its look where it was asked to, leads into what is touched, if that is enough.
fn leads_into(run: &Run<'_>, tuned: &Climb, contact: &Contact, asked: bool) -> Option<f32> {
    let counts = run.is_climbable(contact.normal) && run.near.gives_hold(contact);
    let frame = Frame::on(contact.normal, run.up()).filter(|_| counts)?;
    let away = (run.me.velocity + run.carried - contact.velocity).dot(frame.out);
    if away > 1e-3 && run.me.mode == Mode::Air && !asked {
        return None;
    }
    into(run, tuned, &frame, asked)
}

fn into(run: &Run<'_>, tuned: &Climb, frame: &Frame, asked: bool) -> Option<f32> {
    if asked {
        let into = run.leads_into(frame).unwrap_or_else(|| run.reaching().dot(frame.ahead()));
        return (into > 0.0).then_some(into);
    }
    run.leads_into(frame).filter(|into| is_within(tuned.cone, *into))
}

/// Of a volume that holds by itself.
fn seek_volume(run: &mut Run<'_>, tuned: &Climb, asked: bool) -> bool {
    let hands = run.near.hands(tuned.hands);
    let Some((grip, out, _)) = run.near.volume_at(hands, 0.0) else {
        return false;
    };
    let Some(frame) = Frame::on(out, run.up()) else { return false };
    if into(run, tuned, &frame, asked).is_none() {
        return false;
    }
    let stands = begin(run);
    run.hold_on_in(&frame, grip.surface);
    settle_velocity(run, stands);
    run.report(EventKind::ClimbBegan { hold: grip.hold, surface: grip.surface });
    true
}

/// The character climbs from now on; true where it stood on the ground.
fn begin(run: &mut Run<'_>) -> bool {
    let stands = run.me.is_on_ground();
    slide::interrupt(run);
    take_off_into(run, Mode::Climb);
    run.in_control();
    (run.me.buffer, run.me.extra_jumps, run.me.air_dashes) = (0.0, 0, 0);
    stands
}

/// Removes the velocity into the wall, and the downward velocity of a standing character.
fn settle_velocity(run: &mut Run<'_>, stands: bool) {
    if let Some(frame) = Frame::on(run.ground.normal, run.up()) {
        let (right, up) = frame.parts(run.me.velocity);
        run.me.velocity = frame.along((right, if stands { up.max(0.0) } else { up }));
    }
}

/// Whether it would climb where it is, touching this.
pub(in crate::mode) fn would_hold(run: &mut Run<'_>, contact: &Contact) -> bool {
    run.tuning.values().climb.is_some_and(|tuned| grasp::holds(run, &tuned, contact).is_some())
}

/// From a ledge onto what gives hold below it; true where it climbs from now on.
pub(in crate::mode) fn takes_over(run: &mut Run<'_>, normal: Vec3) -> bool {
    let Some(tuned) = run.tuning.values().climb.filter(|_| run.modifiers.can_climb) else { return false };
    pressed_on(run, &tuned, normal)
}
