//! Ways up onto a ledge and over it: looked for with the shape itself, up, ahead and down, so that what is found is free.

use glam::Vec3;

use super::moves::{Move, begin};
use crate::contact::lip::{Lip, Looks};
use crate::mode::holding::Frame;
use crate::outcome::{EventKind, HoldEnd};
use crate::phase::Phase;
use crate::run::Run;
use crate::stance::Stance;
use crate::tuning::Vault;

/// How far behind a lip the middle of the character comes to stand, in parts of its radius.
const INSIDE: f32 = 0.5;
/// How far over a top the feet go, in touches.
const CLEAR: f32 = 10.0;
/// The rises that are tried, in parts of the most there may be.
const RISES: [f32; 4] = [0.0, 0.3, 0.6, 1.0];
/// Largest distance of a pressed contact, in tolerances.
const HAIR: f32 = 4.0;
/// How far past what is gone over it comes, metres.
const PAST: f32 = 0.02;

/// A way from where it is: so far up, then so far ahead, and in which stance.
#[derive(Clone, Copy, Debug)]
pub(super) struct Way {
    pub rise: f32,
    pub ahead: f32,
    pub stance: Stance,
}

/// How far from the middle of the character a lip may be that it gets up onto from a wall it touches, metres.
pub(super) fn reach(run: &Run<'_>) -> f32 {
    2.0 * run.near.shape.radius
}

/// The way up onto what begins at `lip`, to stand there, or to crouch where there is no room to stand.
pub(super) fn onto(run: &mut Run<'_>, ahead: Vec3, lip: &Lip) -> Option<Way> {
    let stance = run.me.stance;
    let found = way_onto(run, ahead, lip, stance);
    if found.is_some()
        || stance != Stance::Stand
        || run.tuning.low(Stance::Crouch).is_none()
        || !run.modifiers.can_crouch
    {
        return found;
    }
    run.near.wear(run.tuning.shape_in(Stance::Crouch));
    let found = way_onto(run, ahead, lip, Stance::Crouch);
    run.near.wear(run.tuning.shape_in(stance));
    found
}

fn way_onto(run: &mut Run<'_>, ahead: Vec3, lip: &Lip, stance: Stance) -> Option<Way> {
    run.elsewhere(|run| {
        // A hair off what it presses against: the rim it rises past is no further out than that.
        run.near.place -= (ahead * (HAIR * run.near.shape.tolerance())).as_dvec3();
        try_onto(run, ahead, lip, stance)
    })
}

fn try_onto(run: &mut Run<'_>, ahead: Vec3, lip: &Lip, stance: Stance) -> Option<Way> {
    let (from, up, radius) = (run.near.place, run.me.up, run.near.shape.radius);
    let clear = CLEAR * run.near.shape.touching();
    let inside = lip.ahead + INSIDE * radius.min(lip.depth.max(0.1 * radius));
    let over = first_rise(run, ahead * inside, lip.height + clear, (1.0 + INSIDE) * radius)?;
    run.near.push(up * -(over - lip.height + radius)).1?;
    if !run.near.ground(&run.limits).is_firm() {
        return None;
    }
    let landing = (run.near.place - from).dot(run.up()) as f32;
    let rise = landing.max(lip.height) + clear;
    run.near.place = from;
    let free = run.near.push(up * rise).1.is_none() && run.near.push(ahead * inside).1.is_none();
    free.then_some(Way { rise, ahead: inside, stance })
}

/// From `least` up to as high as a top that rises as steeply as can be walked on may be: the first rise from which the way `ahead` is
/// free. Leaves the character there.
fn first_rise(run: &mut Run<'_>, ahead: Vec3, least: f32, more: f32) -> Option<f32> {
    let (from, up) = (run.near.place, run.me.up);
    for part in RISES {
        let rise = least + part * more;
        run.near.place = from;
        if run.near.push(up * rise).1.is_some() {
            return None;
        }
        if run.near.push(ahead).1.is_none() {
            return Some(rise);
        }
    }
    None
}

/// The way over what begins at `lip` to lower ground beyond.
pub(super) fn over(run: &mut Run<'_>, ahead: Vec3, lip: &Lip, tuned: &Vault) -> Option<Way> {
    run.elsewhere(|run| try_over(run, ahead, lip, tuned))
}

fn try_over(run: &mut Run<'_>, ahead: Vec3, lip: &Lip, tuned: &Vault) -> Option<Way> {
    let (up, radius) = (run.me.up, run.near.shape.radius);
    let clear = CLEAR * run.near.shape.touching();
    let rise = lip.height + clear;
    let far = lip.ahead + lip.depth + radius + PAST;
    if run.near.push(up * rise).1.is_some() || run.near.push(ahead * far).1.is_some() {
        return None;
    }
    run.near.push(up * -(rise + tuned.drop)).1?;
    run.near.ground(&run.limits).is_firm().then_some(Way { rise, ahead: far, stance: run.me.stance })
}

/// From a climbed wall onto the floor at its top; false where there is none, or no room.
pub(in crate::mode) fn over_the_top(run: &mut Run<'_>, frame: &Frame, seconds: f32) -> bool {
    let hands = run.tuning.values().climb.map_or(0.0, |c| c.hands) * run.near.shape.height;
    let ahead = run.me.keeps.flat(frame.ahead());
    let looks = Looks {
        ahead,
        heights: (run.limits.step.min(0.5 * hands), hands + run.near.shape.radius),
        reach: reach(run) + run.near.shape.radius,
        deep: run.near.shape.radius,
        width: 0.0,
    };
    let limits = run.limits;
    for lip in run.near.lips(&looks, &limits).into_iter().flatten() {
        if let Some(way) = onto(run, ahead, &lip) {
            run.report(EventKind::ClimbEnded { reason: HoldEnd::Ledge });
            let kind = EventKind::PulledUp { height: lip.height };
            begin(run, &Move { phase: Phase::PullUp, ahead, lip, way, seconds }, kind);
            return true;
        }
    }
    false
}
