//! Where a swimmer wants to go: along its heading, up and down with the view or by the buttons.

use glam::{DVec3, Vec3};

use crate::drive::buttons::Button;
use crate::drive::heading::Bearings;
use crate::factors::Factors;
use crate::math::flatten;
use crate::run::Run;
use crate::tuning::{Steers, Swim};

/// A heading with at most this vertical part is level.
const LEVEL: f32 = 1e-5;

/// Where it wants to go.
pub(super) struct Stroke {
    /// Against the water, m/s.
    pub wish: DVec3,
    /// True where it wants to go anywhere.
    pub is_any: bool,
    /// True where it wants to go up or down, and where that is down.
    pub rises: bool,
    pub dives: bool,
}

/// Where it wants to go: with its head out only across, or down.
pub(super) fn wanted(run: &mut Run<'_>, tuned: &Swim, under: bool) -> Stroke {
    let up = run.me.up;
    let heading = heading(run, tuned, under);
    let sprints = run.me.held.has(Button::Sprint) && run.modifiers.can_sprint;
    let speed = tuned.sprint.filter(|_| sprints).unwrap_or(tuned.speed);
    let factors = Factors { modifiers: run.modifiers.speed, ..Factors::default() };
    run.told.speed_factors = factors;
    let dives = run.me.asked.last().is_low();
    let rises = run.me.held.has(Button::Jump) && under;
    let by_buttons = if rises { tuned.rise } else { 0.0 } - if dives { tuned.dive } else { 0.0 };
    let rate = f64::from(tuned.acceleration * run.acceleration_factors().product());
    let across = run.no_further((heading * speed * run.modifiers.speed).as_dvec3(), rate);
    let wish = across.as_vec3() + up * by_buttons * run.modifiers.speed;
    let wish = run.me.keeps.flat(wish);
    let wish = if run.me.keeps.is_top_view(up) { flatten(wish, up) } else { wish };
    // A vertical part from rounding is no wish.
    let along = wish.dot(up);
    let rises = along.abs() > LEVEL * wish.length();
    Stroke { wish: wish.as_dvec3(), is_any: wish != Vec3::ZERO, rises, dives: rises && along < 0.0 }
}

/// Its heading in space, at most one long.
fn heading(run: &Run<'_>, tuned: &Swim, under: bool) -> Vec3 {
    let level = run.heading_flat();
    if tuned.steers == Steers::Buttons {
        return level;
    }
    let bearings = Bearings::of(&run.me, run.view, run.tuning);
    let heading = bearings.in_space(run.heading);
    let up = run.me.up;
    let rise = heading.dot(up);
    if rise.abs() <= LEVEL * heading.length() {
        return level;
    }
    if under {
        return heading;
    }
    // With its head out, up is no way to go; and down only where it means to.
    let down = -rise / heading.length();
    let steep = libm::sinf(tuned.dive_angle.to_radians());
    if down > 0.0 && down >= steep { heading } else { level }
}
