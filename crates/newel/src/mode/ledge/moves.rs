//! Ways of its own along a ledge: at one speed up and then ahead, swept all the way, in the tuned time.

use glam::{DVec3, Vec3};

use super::down;
use super::onto::Way;
use crate::activity::Activity;
use crate::contact::arcs::Path;
use crate::contact::lip::Lip;
use crate::contact::point::Contact;
use crate::math::{direction, flatten};
use crate::mode::holding;
use crate::mode::slide;
use crate::mode::transitions::take_off_into;
use crate::outcome::{EventKind, HoldEnd};
use crate::phase::{Mode, Phase};
use crate::run::Run;
use crate::support::{Ground, Support};

/// Less than this of a leg, metres, is none.
const NONE: f32 = 1e-6;
/// A contact counts as grazing if less than this part of the way leads into it.
const GRAZES: f32 = 0.02;

/// A way along a ledge that begins.
pub(super) struct Move {
    pub phase: Phase,
    pub ahead: Vec3,
    pub lip: Lip,
    pub way: Way,
    pub seconds: f32,
}

/// Begins it, whatever it did before.
pub(super) fn begin(run: &mut Run<'_>, to: &Move, kind: EventKind) {
    run.report(kind);
    slide::interrupt(run);
    let velocity = run.me.velocity + run.carried;
    take_off_into(run, Mode::Ledge);
    run.in_control();
    if to.way.stance != run.me.stance {
        run.wear(to.way.stance);
    }
    run.me.marks.set_may_pull_up(false);
    (run.me.buffer, run.me.extra_jumps, run.me.air_dashes) = (0.0, 0, 0);
    (run.me.phase, run.me.phase_left) = (to.phase, to.seconds);
    run.me.activity = Activity::LedgeMove { rise: to.way.rise, ahead: to.way.ahead };
    let point = run.near.place + run.up() * f64::from(to.lip.height) + (to.ahead * to.lip.ahead).as_dvec3();
    let body = run.near.patch.body(to.lip.body).id;
    run.hold_on_at(Ground { point, normal: -to.ahead, surface: to.lip.surface, support: Support::Held, body });
    run.me.velocity = velocity - run.carried;
}

/// Goes on along it for at most `span` seconds; returns the seconds used.
pub(super) fn advance(run: &mut Run<'_>, span: f64) -> f64 {
    if run.me.phase_left <= 0.0 {
        arrive(run);
        return 0.0;
    }
    run.refresh_ride();
    run.leave_foothold();
    if run.me.activity.ledge_move() == [0.0; 2] {
        // Rounding may leave some time after all of the way.
        return span.min(f64::from(run.me.phase_left));
    }
    let (velocity, leg) = leg(run);
    let span = span.min(leg);
    run.me.velocity = velocity;
    let path = run.carried_along(Path { velocity, rate: DVec3::ZERO, span });
    let path = Path { span: run.smooth(&path, span), ..path };
    let from = run.near.place;
    let (used, hit) = run.near.sweep(&path);
    let gone = run.near.place - from - run.carried * used;
    go_down(run, gone);
    if hit.is_some() {
        run.flip();
    }
    let into = |contact: &Contact| -velocity.dot(contact.normal.as_dvec3()) / velocity.length();
    match hit {
        Some(contact) if into(&contact) > f64::from(GRAZES) || run.flickers() => {
            run.me.velocity = DVec3::ZERO;
            holding::end(run, HoldEnd::Blocked);
            used
        }
        // A graze: past it by a hair.
        Some(contact) => {
            run.near.push(contact.normal * (4.0 * run.near.shape.tolerance()));
            used.max(span.min(1e-6))
        }
        None => used,
    }
}

/// The velocity of the leg it is on, and the seconds that leg lasts.
fn leg(run: &Run<'_>) -> (DVec3, f64) {
    let [rise, ahead] = run.me.activity.ledge_move().map(f64::from);
    let left = f64::from(run.me.phase_left);
    let way = direction(flatten(-run.ground.normal, run.me.up)).unwrap_or(Vec3::ZERO).as_dvec3();
    if run.me.phase == Phase::Catch {
        return ((run.up() * rise + way * ahead) / left, left);
    }
    let speed = (rise + ahead) / left;
    if run.me.phase == Phase::LetDown {
        return if ahead > 0.0 { (way * -speed, ahead / speed) } else { (run.up() * -speed, left) };
    }
    if rise > 0.0 { (run.up() * speed, rise / speed) } else { (way * speed, left) }
}

/// Subtracts the distance gone from the remaining way.
fn go_down(run: &mut Run<'_>, gone: DVec3) {
    let up = gone.dot(run.up());
    let ahead = -gone.dot(run.ground.normal.as_dvec3());
    let [rise, on] = run.me.activity.ledge_move();
    let left = |of: f32, by: f64| if (of - by as f32).abs() < NONE { 0.0 } else { of - by as f32 };
    let [rise, ahead] = match run.me.phase {
        Phase::Catch => [left(rise, up), left(on, ahead)],
        Phase::LetDown if on > 0.0 => [rise, left(on, -ahead).max(0.0)],
        Phase::LetDown => [left(rise, -up).max(0.0), 0.0],
        _ if rise > 0.0 => [left(rise, up).max(0.0), on],
        _ => [0.0, left(on, ahead).max(0.0)],
    };
    run.me.activity = Activity::LedgeMove { rise, ahead };
}

/// It is where it leads: hanging there, or standing on it and walking on where the heading says so, or past it.
fn arrive(run: &mut Run<'_>) {
    if run.me.phase == Phase::Catch {
        run.in_control();
        (run.me.velocity, run.me.activity) = (DVec3::ZERO, Activity::None);
        return;
    }
    if run.me.phase == Phase::LetDown {
        return down::arrive(run);
    }
    let speed = run.me.velocity.length();
    let way = -run.ground.normal;
    let top = f64::from(run.tuning.values().ground.speed);
    let wanted = f64::from(run.heading_flat().dot(way)) * top;
    // Never faster than it walks: what the way took is no run-up.
    let keeps = if run.me.phase == Phase::Vault { speed.min(top) } else { speed.min(wanted).max(0.0) };
    run.me.velocity = way.as_dvec3() * keeps;
    if run.me.phase == Phase::PullUp {
        run.near.push(run.me.up * -run.limits.step.max(0.05 * run.near.shape.radius));
    }
    holding::end(run, HoldEnd::Done);
}
