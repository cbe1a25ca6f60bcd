//! The one gate through which a stance changes: it asks for room. Without room a change waits for the next grid moment, so that it happens at the same moment at every tick rate.

use glam::DVec3;

use crate::contact::point::Contact;
use crate::math::direction;
use crate::outcome::{Ability, EventKind, Refusal};
use crate::phase::Mode;
use crate::run::Run;
use crate::shape::{Form, Shape};
use crate::stance::Stance;
use crate::support::Support;
use crate::tuning::{Aloft, Anchor, Rise, Submerged};

/// A character that gets wider may be moved aside by at most this multiple of its growth.
const ASIDE: f32 = 1.5;

/// The contact that leaves no room.
pub(super) struct Blocked {
    /// The game's own name for the body; 0 is the world.
    body: u64,
    /// Where it is in the way, metres.
    point: DVec3,
}

impl Blocked {
    fn by(run: &Run<'_>, contact: &Contact) -> Blocked {
        let body = run.near.patch.body(contact.body).id;
        Blocked { body, point: run.near.patch.origin() + contact.point.as_dvec3() }
    }
}

/// Changes the stance, if another is to be had now and there is room for it; or as far toward it as there is.
pub(super) fn decide(run: &mut Run<'_>) {
    if run.me.mode.holds_on() {
        // A character that holds on keeps the stance it took hold with.
        return;
    }
    if core::mem::take(&mut run.asked_now) && run.me.mode != Mode::Swim {
        refuse_what_is_not_to_be_had(run);
    }
    let target = target(run);
    if target == run.me.stance {
        run.me.asked.done();
        return;
    }
    if run.me.asked.waits() && !run.on_grid {
        return;
    }
    let Err(blocked) = change(run, target) else {
        run.me.asked.done();
        return;
    };
    // From lying flat, up to a crouch at least.
    if target < Stance::Crouch && run.me.stance > Stance::Crouch && run.tuning.low(Stance::Crouch).is_some() {
        let _ = change(run, Stance::Crouch);
    }
    if run.me.asked.wait() {
        run.report(EventKind::NoRoom { wanted: target, body: blocked.body, point: blocked.point });
    }
    if run.tuning.values().stance.rise == Rise::Asked && target < run.me.stance {
        let stance = run.me.stance;
        run.me.asked.want(stance);
    }
}

/// It is to stand up, whatever the intent last asked for.
pub(super) fn stand_up(run: &mut Run<'_>) {
    run.me.asked.want(Stance::Stand);
}

/// The wanted stance here and now.
fn target(run: &Run<'_>) -> Stance {
    if run.is_sliding() {
        return Stance::Crouch;
    }
    if run.me.mode == Mode::Swim {
        return swimming(run);
    }
    let wanted = run.me.asked.wanted();
    let Some(low) = run.tuning.low(wanted).filter(|_| run.modifiers.can_crouch) else { return Stance::Stand };
    match low.air {
        _ if run.me.mode != Mode::Air => wanted,
        Aloft::Any => wanted,
        Aloft::Keep if run.me.stance.is_low() => run.me.stance,
        Aloft::Keep | Aloft::Stand => Stance::Stand,
    }
}

/// Swimming, a crouch asked for dives; what shape it has is tuned.
fn swimming(run: &Run<'_>) -> Stance {
    let crouches = run.tuning.values().swim.is_some_and(|swim| swim.under == Submerged::Crouch);
    let low = crouches && run.me.marks.under_water() && run.tuning.low(Stance::Crouch).is_some();
    if low && run.modifiers.can_crouch { Stance::Crouch } else { Stance::Stand }
}

fn refuse_what_is_not_to_be_had(run: &mut Run<'_>) {
    let wanted = run.me.asked.last();
    let ability = match wanted {
        Stance::Stand => return,
        Stance::Crouch => Ability::Crouch,
        Stance::Prone => Ability::Prone,
    };
    if run.tuning.low(wanted).is_none() {
        run.report(EventKind::Refused { ability, why: Refusal::NotTuned });
    } else if !run.modifiers.can_crouch {
        run.report(EventKind::Refused { ability, why: Refusal::SwitchedOff });
    }
}

/// Takes the stance if there is room for it; else nothing has changed, and what is most in the way is returned. In the air, where
/// what would have to stay leaves no room, as just over the ground, the feet stay instead.
pub(super) fn change(run: &mut Run<'_>, to: Stance) -> Result<(), Blocked> {
    let rise = shift(run, &run.near.shape, &run.tuning.shape_in(to));
    let changed = change_about(run, to, rise);
    if matches!(run.me.mode, Mode::Air | Mode::Swim) && rise < 0.0 {
        changed.or_else(|_| change_about(run, to, 0.0))
    } else {
        changed
    }
}

/// The same with the feet moved by `rise` along up; swimming along itself, which is not upright just after gravity has turned.
fn change_about(run: &mut Run<'_>, to: Stance, rise: f32) -> Result<(), Blocked> {
    let (now, then) = (run.near.shape, run.tuning.shape_in(to));
    let place = run.near.place;
    // An existing contact may stay: a change makes nothing worse.
    run.near.touch(0.0);
    let deep = run.near.contacts.iter().fold(0.0, |deep: f32, c| deep.max(-c.gap));
    let allowed = deep.min(0.5 * then.skin()).max(2.0 * now.tolerance());
    let middle = run.near.middle();
    run.near.wear(then);
    let along = if run.me.mode == Mode::Swim { run.me.axis.as_dvec3() } else { run.up() };
    run.near.place = place + along * f64::from(rise);
    let aside = ASIDE * (then.radius - now.radius).max(0.0) + (deep - allowed).max(0.0);
    // Room beyond a wall is none.
    let free = is_free(run, allowed, aside).and_then(|()| is_open(run, middle, rise));
    match free {
        Ok(()) => {
            run.me.eyes -= rise;
            run.wear(to);
            Ok(())
        }
        Err(contact) => {
            run.near.wear(now);
            run.near.place = place;
            Err(contact)
        }
    }
}

/// Whether there is room as it is placed now, or at most `aside` from there.
fn is_free(run: &mut Run<'_>, allowed: f32, aside: f32) -> Result<(), Blocked> {
    run.near.touch(0.0);
    let deepest = run.near.contacts.iter().copied().reduce(|a, b| if b.gap < a.gap { b } else { a });
    let Some(blocked) = deepest.filter(|c| c.gap < -allowed) else { return Ok(()) };
    if aside > 0.0 {
        let from = run.near.place;
        let moved = run.attempt(|run| (run.near.push_out(allowed, aside) && run.near.is_open_from(from)).then_some(()));
        if moved.is_some() {
            return Ok(());
        }
    }
    Err(Blocked::by(run, &blocked))
}

/// Whether nothing stands between where its middle was and where it is, where the feet have been moved.
fn is_open(run: &Run<'_>, middle: DVec3, rise: f32) -> Result<(), Blocked> {
    let way = (run.near.middle() - middle).as_vec3();
    let Some(along) = direction(way).filter(|_| rise != 0.0) else { return Ok(()) };
    match run.near.ray(middle, along, f64::from(way.length())) {
        Some(hit) => Err(Blocked { body: hit.body, point: middle + along.as_dvec3() * hit.distance }),
        None => Ok(()),
    }
}

/// How far the feet move along up with the change. On the ground only as far as a foot of another size rests higher or lower where
/// it is; in the air the tuned part of the character stays where it is.
fn shift(run: &Run<'_>, now: &Shape, then: &Shape) -> f32 {
    if run.me.mode == Mode::Swim {
        // Its head is as deep as before.
        return now.height - then.height;
    }
    if run.me.mode == Mode::Air {
        let part = match run.tuning.values().stance.anchor {
            Anchor::Feet => 0.0,
            Anchor::Centre => 0.5,
            Anchor::Head => 1.0,
        };
        return part * (now.height - then.height);
    }
    if now.radius == then.radius {
        return 0.0;
    }
    let (normal, up) = (run.ground.normal, run.me.up);
    let cosine = normal.dot(up).max(0.1);
    let sine = (1.0 - cosine * cosine).max(0.0).sqrt();
    match (run.ground.support, now.form) {
        (Support::Firm, Form::Capsule) => (then.radius - now.radius) * (1.0 / cosine - 1.0),
        (Support::Firm, Form::Box) => (then.radius - now.radius) * sine / cosine,
        (Support::Edge, Form::Capsule) => {
            let foot = (run.near.place - run.ground.point).as_vec3();
            let out = (foot - up * foot.dot(up)).length_squared();
            let over = |radius: f32| (radius * radius - out).max(0.0).sqrt() - radius;
            over(then.radius) - over(now.radius)
        }
        _ => 0.0,
    }
}
