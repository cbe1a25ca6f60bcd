//! Holding still: where it is, or where what it holds on to takes it.

use glam::DVec3;

use super::creep::Crept;
use crate::contact::arcs::Path;
use crate::contact::point::Contact;
use crate::run::{HARDLY, Run};

/// Holds still for at most `span` seconds, carried along by what it holds; the seconds used, and what came in its way.
pub(in crate::mode) fn still(run: &mut Run<'_>, span: f64) -> (f64, Option<Contact>) {
    if !run.near.patch.is_moving() && !run.is_carried() {
        return (span, None);
    }
    let path = Path { velocity: DVec3::ZERO, rate: DVec3::ZERO, span };
    let path = Path { span: run.smooth(&path, span), ..path };
    let from = run.near.place;
    let (used, hit) = run.near.sweep(&run.carried_along(path));
    match hit {
        Some(_) => run.leave_foothold(),
        None => run.carry_standing(from, used),
    }
    (used, hit)
}

/// The seconds that a piece of way has used, and what was met on it; where it ended at once, as far as it goes, it holds still for the
/// rest of the `span`.
pub(in crate::mode) fn or_rest(run: &mut Run<'_>, crept: &Crept, span: f64) -> (f64, Option<Contact>) {
    if !crept.ended || crept.used > HARDLY {
        return (crept.used, crept.met);
    }
    let (used, met) = still(run, span - crept.used);
    (crept.used + used, met)
}
