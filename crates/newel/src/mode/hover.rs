//! Hovering: gravity does not pull; velocity ramps toward the heading and toward the height that is kept.

use glam::DVec3;

use super::mover::{self, Law, Piece, Policy};
use super::transitions::{enter_by_ground, take_off_into};
use super::{holding, slide};
use crate::activity::Activity;
use crate::contact::arcs::Path;
use crate::contact::point::Contact;
use crate::contact::slide::Planes;
use crate::drive::buttons::Button;
use crate::math::flatten64;
use crate::motion::Ramp;
use crate::outcome::{Ability, EventKind, Refusal};
use crate::phase::{Mode, Phase};
use crate::run::{HARDLY, Run};
use crate::tuning::{Holds, Hover};

/// Time constant that restores the kept height, seconds.
const SETTLES: f64 = 0.2;
/// Nearer to the height than this, metres, is at it: what drifted to a stop stays there.
const THERE: f64 = 1e-4;
/// Slower across than this, m/s, it has stopped.
const STOPPED: f64 = 1e-6;
/// How far below its feet it looks for ground, in parts of the height it keeps over that.
const LOOKS: f64 = 4.0;

/// The button begins and ends it.
pub(super) fn press(run: &mut Run<'_>) {
    if run.me.mode == Mode::Hover {
        return end(run);
    }
    let why = match run.tuning.values().hover {
        None => Refusal::NotTuned,
        Some(_) if !run.modifiers.can_hover => Refusal::SwitchedOff,
        Some(_) if run.is_locked() => Refusal::Locked,
        Some(_) => return begin(run),
    };
    run.report(EventKind::Refused { ability: Ability::Hover, why });
}

fn begin(run: &mut Run<'_>) {
    slide::interrupt(run);
    holding::interrupt(run);
    take_off_into(run, Mode::Hover);
    run.in_control();
    run.report(EventKind::HoverBegan);
}

/// Back onto the ground, where there is any underfoot, or into the air: in the same tick.
pub(super) fn end(run: &mut Run<'_>) {
    enter_by_ground(run);
    if run.me.is_on_ground() {
        let up = run.up();
        let own = run.me.velocity;
        run.me.velocity = own - up * own.dot(up);
    }
}

/// Ends it where it is not to be had any more; and looks, at the moments of the grid, how fast it is to rise or sink.
pub(super) fn decide(run: &mut Run<'_>) {
    if run.me.mode != Mode::Hover {
        return;
    }
    let Some(tuned) = run.tuning.values().hover.filter(|_| run.modifiers.can_hover) else { return end(run) };
    if run.on_grid {
        let climb = f64::from(tuned.climb);
        let [below, _] = run.me.activity.hover();
        let rise = wanted_rise(run, &tuned).clamp(-climb, climb) as f32;
        run.me.activity = Activity::Hover { below, rise };
    }
}

/// How fast it is to rise, m/s.
fn wanted_rise(run: &mut Run<'_>, tuned: &Hover) -> f64 {
    let below = match tuned.holds {
        Holds::Height => f64::from(run.me.activity.hover()[0]),
        Holds::Ground => {
            let over = f64::from(tuned.over);
            run.near.height_over_ground(over * LOOKS).map_or(-over, |height| over - height)
        }
        Holds::Nothing => {
            let held = |down: bool| if down { f64::from(tuned.climb) } else { 0.0 };
            let rises = run.me.held.has(Button::Jump) && run.modifiers.can_jump;
            return held(rises) - held(run.me.asked.last().is_low());
        }
    };
    if below.abs() < THERE { 0.0 } else { below / SETTLES }
}

/// Floats for at most `span` seconds; returns the seconds used.
pub(super) fn advance(run: &mut Run<'_>, span: f64) -> f64 {
    let Some(tuned) = run.tuning.values().hover else { return span };
    let from = run.near.place;
    let used = mover::advance(run, &mut Hovers { tuned }, span);
    let [below, rise] = run.me.activity.hover();
    let risen = (run.near.place - from).dot(run.up()) as f32;
    if run.me.mode == Mode::Hover {
        run.me.activity = Activity::Hover { below: below - risen, rise };
    }
    used
}

struct Hovers {
    tuned: Hover,
}

impl Policy for Hovers {
    type Law = Ramp;

    /// Toward the heading across, and the wanted rise along up, on one straight way in velocity.
    fn law(&mut self, run: &mut Run<'_>, velocity: DVec3, planes: &Planes) -> Ramp {
        if run.is_on_rails() || run.me.phase == Phase::Dash {
            return Ramp::hold(velocity);
        }
        let tuned = &self.tuned;
        let factors = run.acceleration_factors();
        run.told.acceleration_factors = factors;
        let wish = run.wish();
        let wish = run.no_further(wish, f64::from(tuned.acceleration * factors.product()));
        let target = planes.admissible(wish + run.up() * f64::from(run.me.activity.hover()[1]));
        // Without a heading it brakes, also while it makes good its height.
        let brakes = wish == DVec3::ZERO
            && (run.me.activity.hover()[1] == 0.0 || flatten64(velocity, run.up()).length() > STOPPED);
        let rate = f64::from(if brakes { tuned.deceleration } else { tuned.acceleration } * factors.product());
        let ramp = Ramp::new(velocity, target, rate);
        // Along a wall that turns with the way, chasing the last hair of it gets nowhere.
        if !planes.normals().is_empty() && ramp.duration() < HARDLY { Ramp::hold(velocity) } else { ramp }
    }

    /// It gets to the speed asked for exactly, so that the next piece has nothing left of it.
    fn gone(&mut self, run: &mut Run<'_>, piece: &Piece<Ramp>, _: &Path, used: f64) {
        if used == piece.law.duration() && used > 0.0 && !piece.is_led_round() {
            run.me.velocity = piece.law.at(used);
        }
    }

    /// Along it.
    fn met(&mut self, run: &mut Run<'_>, contact: &Contact) {
        run.slide_along(contact);
    }
}

impl Law for Ramp {
    fn rate(&self) -> DVec3 {
        self.acceleration()
    }

    fn lasts(&self) -> f64 {
        if self.duration() > 0.0 { self.duration() } else { f64::INFINITY }
    }
}
