//! From one mode into another: the table of what can lead to what is `Mode::leads_to`.

use glam::DVec3;

use super::ground::{flat_velocity, lift};
use super::slide;
use crate::activity::Activity;
use crate::contact::ground::Decision;
use crate::outcome::EventKind;
use crate::phase::{Mode, Phase};
use crate::run::Run;
use crate::support::Ground;

/// A velocity away from the ground above this, m/s, leaves it.
pub(super) const LEAVES: f64 = 1e-3;

/// Into `Ground` or `Air`, by what is underfoot now.
pub(super) fn enter_by_ground(run: &mut Run<'_>) {
    slide::interrupt(run);
    let decision = run.near.ground_within(&run.limits, 0.5 * run.near.shape.skin());
    run.ground = decision.ground;
    // It is in the air from now on, if at all.
    run.me.coyote = run.me.coyote.max(0.0);
    enter(run, if decision.is_firm() { Mode::Ground } else { Mode::Air });
    run.me.activity = Activity::begin(run.me.mode, 0.0);
    if decision.is_firm() {
        run.board();
        run.me.velocity -= run.carried;
    }
}

/// Up has changed, or the body has turned: on the ground still if there is any underfoot, and as fast along it; else in the air.
pub(super) fn reground(run: &mut Run<'_>) {
    let decision = run.near.ground_within(&run.staying, 0.5 * run.near.shape.skin());
    if !decision.is_firm() {
        let support = decision.ground.support;
        lose(run);
        // The old ground is no longer underfoot, so there is no coyote time.
        run.me.coyote = 0.0;
        run.report(EventKind::LeftGround { support });
        return;
    }
    run.take_ground(decision.ground);
    if run.me.velocity != DVec3::ZERO {
        let flat = flat_velocity(run.me.velocity, run.up());
        run.me.velocity = lift(flat, decision.ground.normal, run.me.up);
    }
}

/// Changes the mode. The only place that does.
pub(super) fn enter(run: &mut Run<'_>, mode: Mode) {
    debug_assert!(run.me.mode == mode || run.me.mode.leads_to().contains(&mode), "{:?} to {mode:?}", run.me.mode);
    if run.me.mode == Mode::Hover && mode != Mode::Hover {
        run.report(EventKind::HoverEnded);
    }
    if run.me.mode == Mode::Swim && mode != Mode::Swim {
        run.report(EventKind::SwimEnded);
    }
    if run.me.mode != mode {
        let is_slide = run.me.mode.is_on_ground() && mode.is_on_ground();
        run.me.mode = mode;
        if !is_slide {
            run.me.activity = Activity::begin(mode, run.me.activity.slid());
        }
    }
}

/// Into `Air`, whatever is underfoot.
pub(super) fn take_off(run: &mut Run<'_>) {
    take_off_into(run, Mode::Air);
}

/// The same into a mode in which nothing underfoot carries it.
pub(super) fn take_off_into(run: &mut Run<'_>, mode: Mode) {
    run.alight();
    enter(run, mode);
    run.me.asked.try_again();
    run.ground = Ground::default();
    run.me.activity = Activity::begin(mode, run.me.activity.slid());
    run.me.coyote = 0.0;
    match run.me.phase {
        Phase::Dash | Phase::Slide => {}
        Phase::Shaken => run.in_control(),
        _ => run.me.phase = Phase::Plain,
    }
}

/// The ground ended: into `Air`, or on in the game's own mode. For a moment it can still be jumped from.
pub(super) fn lose(run: &mut Run<'_>) {
    slide::lose(run);
    take_off_into(run, if run.me.mode == Mode::Custom { Mode::Custom } else { Mode::Air });
    run.me.coyote = run.tuning.values().jump.map_or(0.0, |jump| jump.coyote);
}

/// Onto the ground that was found underfoot. Speed across is kept, speed along up is spent.
pub(super) fn land(run: &mut Run<'_>, decision: &Decision) {
    let up = run.up();
    enter(run, Mode::Ground);
    run.ground = decision.ground;
    if run.me.phase == Phase::Slide {
        slide::land(run);
    } else if !matches!(run.me.phase, Phase::Dash | Phase::LetGo) && !run.staggers() {
        run.in_control();
    }
    run.me.asked.try_again();
    (run.me.coyote, run.me.extra_jumps, run.me.air_dashes) = (0.0, 0, 0);
    run.board();
    run.me.velocity -= run.carried;
    run.me.velocity -= up * run.me.velocity.dot(up);
}
