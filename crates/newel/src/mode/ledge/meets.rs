//! From the ground: what is walked into may be gone over, or got up onto.

use glam::Vec3;

use super::catch::facing_wall;
use super::moves::{Move, begin};
use super::onto::{Way, onto, over, reach};
use crate::Button;
use crate::contact::lip::{Lip, Looks};
use crate::contact::point::Contact;
use crate::mode::holding::{Frame, is_within};
use crate::outcome::EventKind;
use crate::phase::{Mode, Phase};
use crate::run::Run;
use crate::tuning::{Ledge, Takes, Vault};

/// Something is in the way of a walk: over it or up onto it, if that is tuned and there is a way; true where it is on it.
pub(in crate::mode) fn meets(run: &mut Run<'_>, contact: &Contact) -> bool {
    let values = run.tuning.values();
    if !run.seeks_ledges() || run.me.mode != Mode::Ground || !run.may_take_hold() {
        return false;
    }
    // A wall that moves past is tested on the grid, at the same moments at every tick rate.
    if run.moves_past(contact) && run.near.time() == 0.0 && !run.on_grid {
        return false;
    }
    let Some(frame) = Frame::on(contact.normal, run.up()) else { return false };
    let ahead = run.me.keeps.flat(frame.ahead());
    let Some(into) = run.leads_into(&frame).filter(|_| ahead.length() > 0.999) else { return false };
    values.vault.is_some_and(|vault| goes_over(run, &vault, ahead, into))
        || values.ledge.is_some_and(|ledge| gets_up(run, &ledge, ahead, into))
}

/// At the moments of the grid: what it presses against and moves past may have come within reach.
pub(in crate::mode) fn meets_again(run: &mut Run<'_>) -> bool {
    if !run.on_grid || !run.presses_what_moves_past() {
        return false;
    }
    let wish = run.wish();
    let pressed = |c: &&Contact| run.moves_past(c) && wish.dot(c.normal.as_dvec3()) < 0.0;
    let contact = run.walls.iter().find(pressed).copied();
    contact.is_some_and(|contact| meets(run, &contact))
}

/// Out of the water, where it swims against what has an edge in reach of its hands: up onto that; true where it is on its way.
pub(in crate::mode) fn out_of_water(run: &mut Run<'_>) -> bool {
    let Some(tuned) = run.tuning.values().ledge.filter(|_| run.modifiers.can_use_ledges) else { return false };
    let asked = run.me.held.has(Button::Grab);
    let Some(ahead) = facing_wall(run, &tuned, asked) else { return false };
    // As high as it would catch an edge in the air.
    let tuned = Ledge { highest: tuned.highest.max(tuned.hang + tuned.reach), ..tuned };
    gets_up(run, &tuned, ahead, 1.0)
}

fn goes_over(run: &mut Run<'_>, tuned: &Vault, ahead: Vec3, into: f32) -> bool {
    let speed = run.me.velocity.dot(ahead.as_dvec3());
    if !is_within(tuned.cone, into) || speed < f64::from(tuned.slowest) - 1e-4 {
        return false;
    }
    let looks = Looks {
        ahead,
        heights: (tuned.lowest, tuned.highest),
        reach: reach(run),
        deep: tuned.deepest + 0.01,
        width: run.near.shape.radius,
    };
    let thin = |_: &mut Run<'_>, lip: &Lip| lip.depth <= tuned.deepest;
    let found = first_way(run, &looks, thin, |run, lip| over(run, ahead, lip, tuned));
    let Some((lip, way)) = found else { return false };
    begin(
        run,
        &Move { phase: Phase::Vault, ahead, lip, way, seconds: tuned.time },
        EventKind::Vaulted { height: lip.height },
    );
    true
}

fn gets_up(run: &mut Run<'_>, tuned: &Ledge, ahead: Vec3, into: f32) -> bool {
    let asked = tuned.takes == Takes::Touch || run.me.held.has(Button::Grab);
    if !asked || !is_within(tuned.cone, into) {
        return false;
    }
    let looks = Looks {
        ahead,
        heights: (tuned.lowest, tuned.highest),
        reach: reach(run),
        deep: tuned.depth,
        width: tuned.width,
    };
    let deep = |_: &mut Run<'_>, lip: &Lip| lip.depth >= tuned.depth - 1e-4;
    let found = first_way(run, &looks, deep, |run, lip| onto(run, ahead, lip));
    let Some((lip, way)) = found else { return false };
    begin(
        run,
        &Move { phase: Phase::PullUp, ahead, lip, way, seconds: tuned.time },
        EventKind::PulledUp { height: lip.height },
    );
    true
}

/// The lowest lip that counts and has a way.
pub(super) fn first_way(
    run: &mut Run<'_>,
    looks: &Looks,
    counts: impl Fn(&mut Run<'_>, &Lip) -> bool,
    way: impl Fn(&mut Run<'_>, &Lip) -> Option<Way>,
) -> Option<(Lip, Way)> {
    let limits = run.limits;
    let lips = run.near.lips(looks, &limits);
    lips.into_iter().flatten().find_map(|lip| if counts(run, &lip) { Some((lip, way(run, &lip)?)) } else { None })
}
