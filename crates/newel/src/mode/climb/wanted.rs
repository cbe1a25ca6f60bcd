//! How fast it wants to climb, and which way.

use super::grasp::Grasp;
use crate::drive::heading::Heading;
use crate::phase::Phase;
use crate::run::{GRID, Run};
use crate::terrain::Hold;
use crate::tuning::Climb;

/// Time constant that brings the character to the middle of a ladder or to a rung, seconds.
const SETTLES: f64 = 0.08;
/// Nearer than this, metres, is there.
const THERE: f64 = 1e-4;
/// Slower than this, m/s, it has stopped.
const STOPPED: f64 = 1e-6;

/// What it wants.
pub(super) struct Wanted {
    /// To the right and up along what it climbs, m/s.
    pub along: (f64, f64),
    /// How fast it gets there, m/s².
    pub rate: f64,
}

/// How fast it wants to go along what it climbs.
pub(super) fn wanted(run: &mut Run<'_>, tuned: &Climb, grasp: &Grasp) -> Wanted {
    let factor = f64::from(run.modifiers.speed);
    if grasp.hold == Hold::Ladder && run.on_grid {
        centre(run, tuned, grasp);
    }
    let sideways = grasp.frame.parts(run.me.velocity).0;
    if run.me.phase == Phase::SlidesDown {
        let along = (sideways, -f64::from(tuned.slide));
        return Wanted { along, rate: rate(run, tuned.slide_acceleration) };
    }
    let (right, up) = match grasp.hold {
        Hold::Pole if !matches!(run.heading, Heading::Surface(_)) => up_or_round(run, tuned, grasp),
        Hold::Ladder => (0.0, run.heading_up(&grasp.frame)),
        _ => run.heading_along(&grasp.frame),
    };
    let top = f64::from(if up > 0.0 { tuned.up } else { tuned.down });
    let rise = f64::from(up) * top * factor;
    let across = match grasp.hold {
        Hold::Ladder => sideways,
        _ => f64::from(right) * f64::from(tuned.aside) * factor,
    };
    let gains = rise != 0.0 || (across != 0.0 && grasp.hold != Hold::Ladder);
    let rate = rate(run, if gains { tuned.acceleration } else { tuned.deceleration });
    if rise == 0.0 && grasp.hold == Hold::Ladder && tuned.rung > 0.0 {
        return to_a_rung(run, tuned, grasp, Wanted { along: (across, 0.0), rate });
    }
    Wanted { along: (across, rise), rate }
}

/// A heading that leads into a pole, or away from it, only goes up or down, and one past that only round it: or going round would
/// turn what leads in into what leads away.
fn up_or_round(run: &Run<'_>, tuned: &Climb, grasp: &Grasp) -> (f32, f32) {
    let (right, up) = run.heading_along(&grasp.frame);
    let length = (right * right + up * up).sqrt();
    if up.abs() >= libm::cosf(tuned.cone.to_radians()) * length {
        (0.0, length.copysign(up))
    } else {
        (length.copysign(right), 0.0)
    }
}

fn rate(run: &Run<'_>, tuned: f32) -> f64 {
    f64::from(tuned) * f64::from(run.modifiers.acceleration)
}

/// Sideways to the middle of a ladder, whatever it does up and down: from one moment of the grid to the next at a speed that
/// gets there in a while, and changes no faster than it can.
fn centre(run: &mut Run<'_>, tuned: &Climb, grasp: &Grasp) {
    let off = grasp.aside.unwrap_or(0.0);
    let most = f64::from(tuned.aside);
    let wish = if off.abs() < THERE { 0.0 } else { (off / SETTLES).clamp(-most, most) };
    let (now, up) = grasp.frame.parts(run.me.velocity);
    let change = f64::from(tuned.acceleration) * GRID;
    let next = if wish == 0.0 && now.abs() <= change { 0.0 } else { wish.clamp(now - change, now + change) };
    if next != now {
        run.me.velocity = grasp.frame.along((next, up));
    }
}

/// To rest at a rung: on the way it is losing speed anyway, so much more slowly that it stops at the next; from rest at the
/// nearest.
fn to_a_rung(run: &Run<'_>, tuned: &Climb, grasp: &Grasp, stop: Wanted) -> Wanted {
    let apart = f64::from(tuned.rung);
    let height = grasp.height(run);
    let speed = grasp.frame.parts(run.me.velocity).1;
    if speed.abs() < STOPPED {
        let off = (height / apart).round() * apart - height;
        let most = f64::from(tuned.up);
        let up = if off.abs() < THERE { 0.0 } else { (off / SETTLES).clamp(-most, most) };
        return Wanted { along: (stop.along.0, up), ..stop };
    }
    if stop.rate == 0.0 {
        return stop;
    }
    let needs = 0.5 * speed * speed / stop.rate;
    let next = ((height * speed.signum() + needs - THERE) / apart).ceil() * apart - height * speed.signum();
    Wanted { rate: 0.5 * speed * speed / next.max(needs), ..stop }
}
