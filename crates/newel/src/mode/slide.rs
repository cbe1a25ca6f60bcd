//! The slide: out of a run, low along the ground on the speed it has, which it loses, or gains down a slope.
//!
//! Everything that it changes follows from the mode, so that nothing has to be put back when it ends.

use glam::DVec3;

use super::ground::{flat_velocity, lift};
use super::stance;
use super::transitions::enter;
use crate::drive::buttons::Button;
use crate::math::{direction, turned_left64};
use crate::motion::Ramp;
use crate::outcome::{Ability, EventKind, Refusal, SlideEnd};
use crate::phase::{Mode, Phase};
use crate::run::Run;
use crate::stance::Stance;
use crate::tuning::{Along, Slide};

/// Speeds this near to a bound, as a part of it, have reached it.
const REACHED: f64 = 1e-9;
/// Speeds closer than this, m/s, are the same, as they are to a ramp.
const SAME: f64 = 2e-5;
/// A wall that leaves less than this part of the speed is met more than half head-on.
const HEAD_ON: f64 = 0.5;

/// Acts on a press.
pub(super) fn press(run: &mut Run<'_>) {
    if let Err(why) = attempt(run) {
        run.report(EventKind::Refused { ability: Ability::Slide, why });
    }
}

/// Ends it where its time has come.
pub(super) fn decide(run: &mut Run<'_>) {
    if !run.is_sliding() {
        return;
    }
    let Some(slide) = run.tuning.values().slide.filter(|_| run.modifiers.can_slide) else {
        return end(run, SlideEnd::Interrupted);
    };
    if slide.release && !run.me.held.has(Button::Slide) {
        end(run, SlideEnd::Released);
    } else if run.me.mode == Mode::Slide && is_slow(run, &slide) {
        end(run, SlideEnd::Slow);
    }
}

fn is_slow(run: &Run<'_>, slide: &Slide) -> bool {
    run.me.velocity.length() <= f64::from(slide.ends_below) + SAME
}

fn attempt(run: &mut Run<'_>) -> Result<(), Refusal> {
    let slide = run.tuning.values().slide.ok_or(Refusal::NotTuned)?;
    if !run.modifiers.can_slide {
        return Err(Refusal::SwitchedOff);
    }
    if run.is_sliding() {
        return Err(Refusal::Sliding);
    }
    if run.me.phase == Phase::Dash {
        return Err(Refusal::Dashing);
    }
    if run.me.mode != Mode::Ground {
        return Err(Refusal::InTheAir);
    }
    if run.me.marks.under_water() {
        return Err(Refusal::UnderWater);
    }
    if run.me.stance.is_low() {
        return Err(Refusal::TooLow);
    }
    if run.me.slide_cooldown > 0.0 {
        return Err(Refusal::CoolingDown);
    }
    // A run that is as fast as tuned but for rounding is as fast as tuned.
    let flat = flat_velocity(run.me.velocity, run.up());
    let speed = flat.length();
    if speed < f64::from(slide.from) * (1.0 - 1e-6) || speed == 0.0 {
        return Err(Refusal::TooSlow);
    }
    stance::change(run, Stance::Crouch).map_err(|_| Refusal::NoRoom)?;
    let heading = direction(run.heading_flat()).filter(|_| slide.along == Along::Heading);
    let way = heading.map_or(flat / speed, |h| h.as_dvec3());
    let faster = (speed + f64::from(slide.burst)).min(f64::from(slide.fastest)).max(speed);
    run.leave_foothold();
    run.me.velocity = lift(way * faster, run.ground.normal, run.me.up);
    enter(run, Mode::Slide);
    run.me.activity.set_slid(0.0);
    run.report(EventKind::SlideBegan { speed: faster as f32 });
    Ok(())
}

/// The game does something else with it: what slid, or flew on from a slide, does so no longer.
pub(super) fn interrupt(run: &mut Run<'_>) {
    end_if_sliding(run, SlideEnd::Interrupted);
}

/// The same for any reason.
pub(super) fn end_if_sliding(run: &mut Run<'_>, reason: SlideEnd) {
    if run.is_sliding() {
        end(run, reason);
    }
}

/// It slides no longer: it walks on, or flies on.
pub(super) fn end(run: &mut Run<'_>, reason: SlideEnd) {
    let speed = run.me.velocity.length() as f32;
    let mut distance = run.me.activity.slid();
    if run.me.mode == Mode::Slide {
        distance += run.slid_in_piece() as f32;
        enter(run, Mode::Ground);
    }
    if run.me.phase == Phase::Slide {
        run.me.phase = Phase::Plain;
    }
    run.me.activity.set_slid(0.0);
    run.me.slide_cooldown = run.tuning.values().slide.map_or(0.0, |slide| slide.cooldown);
    run.me.asked.try_again();
    run.report(EventKind::SlideEnded { speed, distance, reason });
}

/// The ground has ended under it: that ends it too, or it goes on where it lands.
pub(super) fn lose(run: &mut Run<'_>) {
    if run.me.mode != Mode::Slide {
        return;
    }
    if run.tuning.values().slide.is_some_and(|slide| !slide.air) {
        run.me.activity.set_slid(run.me.activity.slid() + run.slid_in_piece() as f32);
        enter(run, Mode::Air);
        run.me.phase = Phase::Slide;
    } else {
        end(run, SlideEnd::LeftGround);
    }
}

/// Back on the ground after it flew on from a slide.
pub(super) fn land(run: &mut Run<'_>) {
    // The distance of the flight does not count as sliding.
    run.piece.place = run.near.place;
    enter(run, Mode::Slide);
    run.me.phase = Phase::Plain;
}

/// A wall has left `after` of the velocity `before`.
pub(super) fn met_wall(run: &mut Run<'_>, before: DVec3, after: DVec3) {
    let ends = run.me.mode == Mode::Slide && run.tuning.values().slide.is_some_and(|slide| slide.wall);
    if ends && after.length() < HEAD_ON * before.length() {
        end(run, SlideEnd::Wall);
    }
}

/// The next stage of the slide from the flat velocity `flat`, for at most `span` seconds: the speed at a constant rate, the way
/// turning toward the heading.
pub(super) fn ramp(run: &mut Run<'_>, flat: DVec3, span: f64) -> Ramp {
    let Some(slide) = run.tuning.values().slide else { return Ramp::hold(flat) };
    let speed = flat.length();
    if speed == 0.0 {
        return Ramp::hold(flat);
    }
    let way = flat / speed;
    let (angle, span) = steered(run, &slide, way, span);
    let up = run.up();
    let rate = rate(run, &slide, speed, turned_left64(way, up, 0.5 * angle));
    let too_fast = speed > f64::from(slide.fastest) * (1.0 + REACHED);
    let bound = f64::from(if rate > 0.0 || too_fast { slide.fastest } else { slide.ends_below });
    let until = if rate == 0.0 { f64::INFINITY } else { ((bound - speed) / rate).max(0.0) };
    if angle == 0.0 {
        return if until.is_finite() { Ramp::new(flat, way * bound, rate.abs()) } else { Ramp::hold(flat) };
    }
    let until = span.min(until);
    Ramp::turning(flat, up, angle * (until / span), rate, until)
}

/// How far it turns in at most `span` seconds, radians to the left, and the seconds that takes.
fn steered(run: &Run<'_>, slide: &Slide, way: DVec3, span: f64) -> (f64, f64) {
    let left = run.slide_angle(way);
    let rate = f64::from(slide.steer).to_radians();
    if left == 0.0 || rate == 0.0 || span <= 0.0 {
        return (0.0, span);
    }
    let span = span.min(left.abs() / rate);
    ((rate * span).copysign(left), span)
}

/// How fast the speed changes the way it goes, m/s²: what the ground takes from it, and what the slope gives or takes.
fn rate(run: &mut Run<'_>, slide: &Slide, speed: f64, way: DVec3) -> f64 {
    let factors = run.acceleration_factors();
    run.told.acceleration_factors = factors;
    let loss = f64::from(slide.deceleration) * f64::from(factors.but_sprint());
    let weight = f64::from(run.modifiers.gravity) * f64::from(run.me.gravity_factor);
    let fall = -lift(way, run.ground.normal, run.me.up).dot(run.up());
    let rate = f64::from(slide.slope) * run.tuning.falling_gravity() * weight * fall - loss;
    // As fast as it gets it goes on; faster than that it slows down whatever pulls.
    let over = speed / f64::from(slide.fastest) - 1.0;
    match rate > 0.0 {
        true if over > REACHED => -loss,
        true if over > -REACHED => 0.0,
        _ => rate,
    }
}
