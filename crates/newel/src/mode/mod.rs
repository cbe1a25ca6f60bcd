//! Modes of movement: one folder for each mode, which says what it wants and when it ends; and what buttons ask for.

mod air;
mod along_walls;
mod climb;
mod commands;
mod custom;
mod dash;
mod displace;
mod drop;
mod gravity;
mod ground;
mod holding;
mod hover;
mod impact;
mod jump;
mod ledge;
mod mover;
mod righting;
mod round;
mod slide;
mod sprint;
mod stance;
mod swim;
mod trail;
mod transitions;
mod zones;

pub(crate) use commands::obey;
pub use custom::{CustomMode, Met, ModeCx, Next};
pub(crate) use zones::sample;

use crate::drive::buttons::{Button, Buttons};
use crate::phase::Mode;
use crate::run::Run;

/// Acts on what is new at this moment: a press, a release, ground under a press that waits.
pub(crate) fn decide(run: &mut Run<'_>, custom: &mut dyn CustomMode) {
    if run.me.mode == Mode::Air && run.me.keeps.is_top_view(run.me.up) {
        // Seen from above there is no falling: what was thrown slides on.
        transitions::enter_by_ground(run);
    }
    custom::decide(run, custom);
    if run.me.mode == Mode::Custom {
        // Its buttons are the game's own.
        return;
    }
    // A press is acted on once, also where several things happen at the same moment.
    let pressed = core::mem::replace(&mut run.pressed, Buttons::NONE);
    swim::decide(run);
    slide::decide(run);
    if pressed.has(Button::Slide) {
        slide::press(run);
    }
    if pressed.has(Button::Hover) {
        hover::press(run);
    }
    hover::decide(run);
    holding::decide(run, pressed.has(Button::Grab));
    if pressed.has(Button::Dash) {
        dash::press(run);
    }
    if pressed.has(Button::Drop) {
        drop::press(run);
    }
    if pressed.has(Button::Jump) {
        jump::press(run);
    } else if run.me.buffer > 0.0 {
        jump::wait(run);
    }
    jump::hold(run);
    if pressed.has(Button::Sprint) {
        sprint::press(run);
    }
    // Stances: a press may have asked it to stand up.
    stance::decide(run);
    // By what it is now on, and in which shape: a jump may have ended the sprint, or a crouch.
    sprint::decide(run);
}

/// Moves by the current mode's closed form for at most `span` seconds; returns the seconds used.
pub(crate) fn advance(run: &mut Run<'_>, custom: &mut dyn CustomMode, span: f64) -> f64 {
    match run.me.mode {
        Mode::Ground | Mode::Slide => ground::advance(run, span),
        Mode::Air => air::advance(run, span),
        Mode::Hover => hover::advance(run, span),
        Mode::Climb => climb::advance(run, span),
        Mode::Ledge => ledge::advance(run, span),
        Mode::Swim => swim::advance(run, span),
        Mode::Custom => custom::advance(run, custom, span),
    }
}
