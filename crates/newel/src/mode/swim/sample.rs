//! Water at the moments of the grid: depth, current and waves.

use super::Depths;
use crate::activity::Activity;
use crate::coarse::{CoarsePart, CoarseVelocity};
use crate::outcome::{EventKind, SlideEnd};
use crate::phase::Mode;
use crate::run::Run;
use crate::run::water::Waterline;
use crate::support::{Ground, Support};
use crate::{mode::slide, run::GRID};

/// Eyes go under where the surface is this far over them, as a part of the height, and come up where it is under them.
const HAIR: f64 = 0.01;

/// Samples the water; the wind, if any, stands in the flow already.
pub(in crate::mode) fn sample(run: &mut Run<'_>) {
    if run.is_far_from_water() && run.me.immersed.is_zero() && !run.me.marks.under_water() {
        return;
    }
    let line = run.waterline().filter(|line| line.depth > 0.0);
    let depth = line.map_or(0.0, |line| line.depth);
    let height = f64::from(run.near.shape.height);
    run.me.immersed = CoarsePart::from(depth / height);
    look_under(run, depth);
    let Some(line) = line else { return };
    if run.me.is_knee_deep() {
        run.me.flow = CoarseVelocity::from(run.current_at(&line));
    }
    if run.me.mode == Mode::Swim {
        lift(run, &line);
        note_surface(run, &line);
    }
}

/// Its eyes go under water, or come out.
fn look_under(run: &mut Run<'_>, depth: f64) {
    let eyes = f64::from(run.tuning.eyes_in(run.me.stance));
    let was = run.me.marks.under_water();
    let is = depth > if was { eyes } else { eyes + HAIR * f64::from(run.near.shape.height) };
    if is == was {
        return;
    }
    if is {
        slide::end_if_sliding(run, SlideEnd::Water);
        run.me.time_under = 0.0;
        run.me.marks.set_under_water(true);
        run.report(EventKind::WentUnder);
    } else {
        let seconds = run.me.time_under;
        run.me.time_under = 0.0;
        run.me.marks.set_under_water(false);
        run.report(EventKind::Surfaced { seconds });
    }
}

/// A wave lifts whatever floats in it along: the water that a body takes the place of would be lifted so (after Archimedes). The less
/// of it is in the water, the less; and the deeper, too.
fn lift(run: &mut Run<'_>, line: &Waterline) {
    let Some(tuned) = run.tuning.values().swim else { return };
    let (lift, rate) = run.waves_here(line);
    let depths = Depths::of(run, &tuned, line);
    let fades = 1.0 - ((depths.now - depths.under) / depths.under).clamp(0.0, 1.0);
    let rate = rate * fades;
    let part = (depths.now / depths.float).clamp(0.0, 1.0) * fades;
    let gained = run.up() * ((rate - run.me.activity.wave()[1]) * part);
    run.me.velocity += run.me.keeps.flat64(gained);
    run.me.activity = Activity::Swim { wave: lift as f32, wave_speed: rate as f32 };
}

/// The water is stored as the ground: its surface and its body.
pub(super) fn note_surface(run: &mut Run<'_>, line: &Waterline) {
    run.hold_on_at(Ground {
        point: run.near.place + run.up() * line.depth,
        normal: run.normal_of(line),
        surface: 0,
        support: Support::Water,
        body: run.body_of(line),
    });
}

/// A step of the grid is short against how fast waves come and go.
const _: () = assert!(GRID < 0.01);
