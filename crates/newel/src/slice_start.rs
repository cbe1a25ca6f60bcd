//! The start of a slice, right after its first decisions: a tick that reads the slice starts from there.

use glam::Vec3;

use crate::activity::Activity;
use crate::drive::buttons::Buttons;
use crate::marks::Marks;
use crate::phase::{Mode, Phase};
use crate::stance::{Asked, Stance};
use crate::state::State;

/// The fields of a state that have the same value all along a slice that can be read.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Steady {
    mode: Mode,
    phase: Phase,
    stance: Stance,
    asked: Asked,
    marks: Marks,
    held: Buttons,
    extra_jumps: u8,
    air_dashes: u8,
}

impl Steady {
    pub fn of(state: &State) -> Steady {
        let &State { mode, phase, stance, asked, marks, held, extra_jumps, air_dashes, .. } = state;
        Steady { mode, phase, stance, asked, marks, held, extra_jumps, air_dashes }
    }
}

/// The state at the start of a slice, as far as no law of motion gives it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct SliceStart {
    steady: Steady,
    pub facing: Vec3,
    carried: Vec3,
    activity: Activity,
    coyote: f32,
    buffer: f32,
    phase_left: f32,
    cooldown: f32,
    slide_cooldown: f32,
    time_under: f32,
    eyes: f32,
    gait: f32,
}

impl SliceStart {
    pub fn of(state: &State) -> SliceStart {
        let &State { facing, carried, activity, coyote, buffer, phase_left, cooldown, .. } = state;
        let &State { slide_cooldown, time_under, eyes, gait, .. } = state;
        SliceStart {
            steady: Steady::of(state),
            facing,
            carried,
            activity,
            coyote,
            buffer,
            phase_left,
            cooldown,
            slide_cooldown,
            time_under,
            eyes,
            gait,
        }
    }

    /// True where the steady fields still are as they were.
    pub fn is_steady_in(&self, state: &State) -> bool {
        self.steady == Steady::of(state)
    }

    /// The state `t` seconds after the start, a `part` of the slice that ends in `end`, without the fields that its laws give.
    pub fn toward(&self, end: &State, t: f32, part: f32) -> State {
        let between = |a: f32, b: f32| a + (b - a) * part;
        // A timer stops at its end.
        let down = |start: f32, end: f32| (start - t).max(end);
        // A step of the feet may have been completed on the way.
        let gait = (self.gait + (end.gait - self.gait + if end.gait < self.gait { 1.0 } else { 0.0 }) * part).fract();
        State {
            carried: self.carried + (end.carried - self.carried) * part,
            activity: self.activity.toward(&end.activity, part),
            coyote: down(self.coyote, end.coyote),
            buffer: down(self.buffer, end.buffer),
            phase_left: down(self.phase_left, end.phase_left),
            cooldown: down(self.cooldown, end.cooldown),
            slide_cooldown: down(self.slide_cooldown, end.slide_cooldown),
            time_under: (self.time_under + t).min(end.time_under),
            eyes: between(self.eyes, end.eyes),
            gait,
            ..*end
        }
    }
}
