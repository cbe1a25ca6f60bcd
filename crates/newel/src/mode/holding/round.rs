//! Round an inside corner: from what is held onto what was met.

use super::Frame;
use super::creep::{Counts, press};
use crate::contact::point::Contact;
use crate::run::Run;

/// Surfaces within this cosine of the held one are no corner.
const STRAIGHT_ON: f64 = 0.99;

/// Onto what was met, whose frame is `onto`, if that `holds` and the heading leads into it and on along it; true where it is on it.
/// `level` where it only goes sideways.
pub(in crate::mode) fn goes_round(
    run: &mut Run<'_>,
    (held, onto): (&Frame, &Frame),
    (contact, counts): (&Contact, Counts),
    level: bool,
    mut holds: impl FnMut(&mut Run<'_>, &Contact) -> bool,
) -> bool {
    let way = |frame: &Frame| {
        let (right, up) = run.heading_along(frame);
        frame.along((f64::from(right), if level { 0.0 } else { f64::from(up) }))
    };
    let leads_in = way(held).dot(onto.out) < 0.0;
    let leads_on = way(onto).dot(held.out) > 1e-3;
    if onto.out.dot(held.out) >= STRAIGHT_ON || !(leads_in && leads_on) || !holds(run, contact) {
        return false;
    }
    let pressed = run.attempt(|run| press(run, contact.normal, counts).filter(|c| holds(run, c)));
    let Some(contact) = pressed else { return false };
    let velocity = onto.carried_from(held, run.me.velocity);
    run.hold_on_to(&contact);
    run.me.velocity = velocity;
    true
}
