//! Into the water and out of it: at two different depths, each at its very moment.

use glam::DVec3;

use super::Depths;
use super::sample::note_surface;
use crate::activity::Activity;
use crate::contact::arcs::Path;
use crate::math::flatten64;
use crate::mode::jump::leap;
use crate::mode::transitions::{LEAVES, enter_by_ground, take_off, take_off_into};
use crate::mode::{climb, ledge, slide};
use crate::outcome::{EventKind, Off};
use crate::phase::{Mode, Phase};
use crate::run::Run;
use crate::run::water::{AT, Waterline};
use crate::tuning::Swim;

/// Begins and ends it where the water is deep enough, or no longer.
pub(in crate::mode) fn decide(run: &mut Run<'_>) {
    if run.me.mode != Mode::Swim && run.is_far_from_water() {
        return;
    }
    let tuned = run.tuning.values().swim.filter(|_| run.modifiers.can_swim);
    match (run.me.mode, tuned) {
        (Mode::Swim, None) => enter_by_ground(run),
        (Mode::Swim, Some(tuned)) => go_on(run, &tuned),
        (Mode::Ground | Mode::Slide, Some(tuned)) => wade_in(run, &tuned),
        (Mode::Air, Some(tuned)) => fall_in(run, &tuned),
        _ => {}
    }
}

/// Still in the water, or out of it?
fn go_on(run: &mut Run<'_>, tuned: &Swim) {
    let Some(line) = run.waterline() else { return enter_by_ground(run) };
    let depths = Depths::of(run, tuned, &line);
    if run.me.keeps.is_top_view(run.me.up) {
        if depths.now <= depths.ends + AT {
            enter_by_ground(run);
        }
        return;
    }
    if depths.now <= depths.out + AT {
        return take_off(run);
    }
    if depths.now <= depths.ends + AT {
        stands_on(run, tuned);
    }
    if run.me.mode == Mode::Swim && run.on_grid && run.heading.is_any() && !depths.is_under(0.0) && run.may_take_hold()
    {
        let _ = ledge::out_of_water(run) || climb::seek(run, false);
    }
}

/// Deep enough on foot: what carries it from now on is the water.
fn wade_in(run: &mut Run<'_>, tuned: &Swim) {
    let Some(line) = run.waterline() else { return };
    if line.depth < depth_to_begin(run, tuned) - AT || stays_down(run, tuned, &line) {
        return;
    }
    slide::interrupt(run);
    begin(run);
}

/// True where what sinks is on the ground with its head under water: it walks there.
fn stays_down(run: &Run<'_>, tuned: &Swim, line: &Waterline) -> bool {
    tuned.idle < 0.0 && line.depth >= f64::from(run.near.shape.height) - AT
}

/// Out of the air: with its feet in water that is deep enough, on its way down.
fn fall_in(run: &mut Run<'_>, tuned: &Swim) {
    let Some(line) = run.waterline().filter(|line| line.depth >= -AT && run.displaced.is_none()) else { return };
    // On a surface that moves, when it begins to come down against that is looked at only at the moments of the grid.
    let exact = line.depth <= AT || line.moves == DVec3::ZERO || run.on_grid;
    if !exact || run.sinks_at(&line) < 0.0 || run.me.keeps.is_top_view(run.me.up) {
        return;
    }
    let begins = depth_to_begin(run, tuned);
    let ground = run.near.height_over_ground(begins);
    if line.depth + ground.unwrap_or(begins) >= begins - AT {
        begin(run);
    }
}

/// The depth from which on it swims, metres.
fn depth_to_begin(run: &Run<'_>, tuned: &Swim) -> f64 {
    f64::from(tuned.begins) * f64::from(run.tuning.shape().height)
}

/// It swims from now on, as fast as it is.
pub(in crate::mode) fn begin(run: &mut Run<'_>) {
    let velocity = run.me.velocity + run.carried;
    let dashes = run.me.phase == Phase::Dash;
    let left = run.me.phase_left;
    take_off_into(run, Mode::Swim);
    run.in_control();
    if dashes {
        (run.me.phase, run.me.phase_left) = (Phase::Dash, left);
    }
    run.me.velocity = velocity;
    (run.me.buffer, run.me.extra_jumps, run.me.air_dashes) = (0.0, 0, 0);
    run.me.asked.try_again();
    run.report(EventKind::SwimBegan);
    if let Some(line) = run.waterline() {
        // As if sampled at the last moment of the grid.
        let (lift, rate) = run.waves_here(&line);
        let wave = (lift - rate * run.since_grid()) as f32;
        run.me.activity = Activity::Swim { wave, wave_speed: rate as f32 };
        note_surface(run, &line);
    }
}

/// On ground that carries it, where it is no deeper than it may stand; true where it does from now on.
pub(super) fn stands_on(run: &mut Run<'_>, tuned: &Swim) -> bool {
    let Some(line) = run.waterline() else { return false };
    let depths = Depths::of(run, tuned, &line);
    if depths.now > depths.ends + AT && !stays_down(run, tuned, &line) {
        return false;
    }
    let found = run.near.ground(&run.limits);
    let leaves = run.me.velocity.dot(found.ground.normal.as_dvec3()) > LEAVES;
    if !found.is_firm() || leaves || !run.may_land() {
        return false;
    }
    let up = run.up();
    let velocity = run.me.velocity + run.carried;
    run.alight();
    run.me.velocity = velocity;
    enter_by_ground(run);
    if run.me.is_on_ground() {
        run.me.velocity = flatten64(run.me.velocity, up);
    }
    true
}

/// The jump button: with its head out of the water it leaps; else it rises for as long as it is held.
pub(in crate::mode) fn leap_out(run: &mut Run<'_>) {
    let (Some(tuned), Some(line)) = (run.tuning.values().swim, run.waterline()) else { return };
    let depths = Depths::of(run, &tuned, &line);
    if tuned.jump == 0.0 || depths.now > depths.under || !run.modifiers.can_jump || run.me.keeps.is_top_view(run.me.up)
    {
        return;
    }
    let across = flatten64(run.me.velocity + run.carried, run.up());
    let waves = run.up() * run.me.activity.wave()[1].max(0.0);
    leap(run, across, tuned.jump, Off::Water);
    run.me.velocity += waves;
}

/// True where there is water under its feet, and they are not in it.
pub(in crate::mode) fn is_over_water(run: &Run<'_>) -> bool {
    !run.is_far_from_water() && run.waterline().is_some_and(|line| line.depth < -AT)
}

/// Seconds along a path through the air until its feet come through the surface under them; infinite where they do not.
pub(in crate::mode) fn splash_ahead(run: &Run<'_>, path: &Path) -> f64 {
    run.waterline().map_or(f64::INFINITY, |line| run.time_to_depth(&line, path, 0.0))
}

/// Its feet have come through a surface.
pub(in crate::mode) fn splashes(run: &mut Run<'_>) {
    let Some(line) = run.waterline() else { return };
    let speed = (line.moves - run.me.velocity - run.carried).dot(line.out).max(0.0) as f32;
    run.report(EventKind::Splashed { speed });
}

/// Seconds along a path over the ground until it is deep enough to swim; infinite where it is not.
pub(in crate::mode) fn on_ground_ahead(run: &Run<'_>, path: &Path) -> f64 {
    if run.is_far_from_water() {
        return f64::INFINITY;
    }
    let Some(tuned) = run.tuning.values().swim.filter(|_| run.modifiers.can_swim) else { return f64::INFINITY };
    let Some(line) = run.waterline() else { return f64::INFINITY };
    let begins = depth_to_begin(run, &tuned);
    if line.depth < begins { run.time_to_depth(&line, path, begins) } else { f64::INFINITY }
}
