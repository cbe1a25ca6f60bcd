//! Data that only the present mode needs.

use crate::coarse::CoarseDirection;
use crate::fingerprint::Fingerprint;
use crate::phase::Mode;

/// The flight that a walk over a crest would have become without ground contact, for `ground.fly_off`.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[cfg_attr(feature = "serde", serde(default))]
pub struct CrestFlight {
    /// Height of that flight over the ground, metres.
    pub height: f32,
    /// Speed of that flight away from the ground, m/s.
    pub speed: f32,
}

/// A step in progress over an obstacle that is too blunt for the round of the foot.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[cfg_attr(feature = "serde", serde(default))]
pub struct StepOver {
    /// Horizontal direction of the step.
    pub direction: CoarseDirection,
    /// Remaining distance along that direction until the foot comes down, metres; 0 while no step is in progress.
    pub remaining: f32,
}

/// The part of a character's state that belongs to its mode. A change of mode replaces it.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum Activity {
    /// No data: climbing, hanging from a ledge, a game's own mode off the ground.
    #[default]
    None,
    /// On the ground: walking or sliding, also in a game's own mode.
    Ground {
        /// The flight that runs beside the walk.
        crest: CrestFlight,
        /// The step in progress.
        step: StepOver,
        /// Distance of the present slide, metres; 0 while walking.
        slid: f32,
    },
    /// In the air.
    Air {
        /// Height lost since the highest point of the flight, metres.
        fallen: f32,
        /// Distance of the slide that goes on after landing, metres; 0 without one.
        slid: f32,
    },
    /// Hovering.
    Hover {
        /// Depth below the height that the character keeps, metres.
        below: f32,
        /// Wanted vertical speed, m/s.
        rise: f32,
    },
    /// On the way along a ledge: catching it, pulling up, vaulting, or letting itself down.
    LedgeMove {
        /// Remaining height of the way, metres.
        rise: f32,
        /// Remaining horizontal distance, metres.
        ahead: f32,
    },
    /// Swimming.
    Swim {
        /// Height of the wave over the water's level, metres, as last sampled.
        wave: f32,
        /// Vertical speed of the wave, m/s, as last sampled.
        wave_speed: f32,
    },
}

impl Activity {
    /// The activity that a mode begins with. A slide goes on from the ground into the air and back.
    pub(crate) fn begin(mode: Mode, slid: f32) -> Activity {
        match mode {
            Mode::Ground | Mode::Slide => {
                Activity::Ground { crest: CrestFlight::default(), step: StepOver::default(), slid }
            }
            Mode::Air => Activity::Air { fallen: 0.0, slid },
            Mode::Hover => Activity::Hover { below: 0.0, rise: 0.0 },
            Mode::Swim => Activity::Swim { wave: 0.0, wave_speed: 0.0 },
            Mode::Climb | Mode::Ledge | Mode::Custom => Activity::None,
        }
    }

    /// This activity if it belongs to `mode`, else a new one: a game may write a mode alone.
    pub(crate) fn of_mode(self, mode: Mode) -> Activity {
        let begun = Activity::begin(mode, 0.0);
        let hangs = mode == Mode::Ledge && matches!(self, Activity::LedgeMove { .. });
        let walks = mode == Mode::Custom && matches!(self, Activity::Ground { .. });
        let is_alike = core::mem::discriminant(&self) == core::mem::discriminant(&begun);
        if hangs || walks || is_alike { self } else { begun }
    }

    /// Height lost since the highest point of the flight, metres; 0 outside the air.
    #[must_use]
    pub fn fallen(&self) -> f32 {
        if let Activity::Air { fallen, .. } = self { *fallen } else { 0.0 }
    }

    /// The flight beside a walk; none off the ground.
    #[must_use]
    pub fn crest(&self) -> CrestFlight {
        if let Activity::Ground { crest, .. } = self { *crest } else { CrestFlight::default() }
    }

    /// The step in progress; none off the ground.
    #[must_use]
    pub fn step(&self) -> StepOver {
        if let Activity::Ground { step, .. } = self { *step } else { StepOver::default() }
    }

    /// Distance of the present slide, metres; 0 without one.
    #[must_use]
    pub fn slid(&self) -> f32 {
        match self {
            Activity::Ground { slid, .. } | Activity::Air { slid, .. } => *slid,
            _ => 0.0,
        }
    }

    /// The remaining way along a ledge: height and horizontal distance, metres.
    pub(crate) fn ledge_move(&self) -> [f32; 2] {
        if let Activity::LedgeMove { rise, ahead } = self { [*rise, *ahead] } else { [0.0; 2] }
    }

    /// Height and vertical speed of the wave that a swimmer floats on.
    pub(crate) fn wave(&self) -> [f64; 2] {
        if let Activity::Swim { wave, wave_speed } = self { [*wave, *wave_speed].map(f64::from) } else { [0.0; 2] }
    }

    /// Depth below the height to keep, and wanted vertical speed, while hovering.
    pub(crate) fn hover(&self) -> [f32; 2] {
        if let Activity::Hover { below, rise } = self { [*below, *rise] } else { [0.0; 2] }
    }

    pub(crate) fn set_crest(&mut self, to: CrestFlight) {
        if let Activity::Ground { crest, .. } = self {
            *crest = to;
        }
    }

    pub(crate) fn set_step(&mut self, to: StepOver) {
        if let Activity::Ground { step, .. } = self {
            *step = to;
        }
    }

    pub(crate) fn set_slid(&mut self, to: f32) {
        if let Activity::Ground { slid, .. } | Activity::Air { slid, .. } = self {
            *slid = to;
        }
    }

    pub(crate) fn set_fallen(&mut self, to: f32) {
        if let Activity::Air { fallen, .. } = self {
            *fallen = to;
        }
    }

    /// The same variant with a `part` of the way to the numbers of `other`; `other` where that is another variant.
    pub(crate) fn toward(&self, other: &Activity, part: f32) -> Activity {
        let between = |a: f32, b: f32| a + (b - a) * part;
        match (*self, *other) {
            (Activity::Ground { crest, slid, .. }, Activity::Ground { crest: to, slid: far, step }) => {
                let (height, speed) = (between(crest.height, to.height), between(crest.speed, to.speed));
                Activity::Ground { crest: CrestFlight { height, speed }, step, slid: between(slid, far) }
            }
            (Activity::Air { fallen, .. }, Activity::Air { fallen: to, slid }) => {
                Activity::Air { fallen: between(fallen, to), slid }
            }
            (Activity::Hover { below, rise }, Activity::Hover { below: to, rise: faster }) => {
                Activity::Hover { below: between(below, to), rise: between(rise, faster) }
            }
            (Activity::LedgeMove { rise, ahead }, Activity::LedgeMove { rise: to, ahead: far }) => {
                Activity::LedgeMove { rise: between(rise, to), ahead: between(ahead, far) }
            }
            (Activity::Swim { wave, wave_speed }, Activity::Swim { wave: to, wave_speed: faster }) => {
                Activity::Swim { wave: between(wave, to), wave_speed: between(wave_speed, faster) }
            }
            _ => *other,
        }
    }

    /// The kind of activity and its numbers, each once.
    pub(crate) fn numbers(&self) -> (u64, [f32; 4]) {
        match *self {
            Activity::None => (0, [0.0; 4]),
            Activity::Ground { crest, step, slid } => (1, [crest.height, crest.speed, step.remaining, slid]),
            Activity::Air { fallen, slid } => (2, [fallen, slid, 0.0, 0.0]),
            Activity::Hover { below, rise } => (3, [below, rise, 0.0, 0.0]),
            Activity::LedgeMove { rise, ahead } => (4, [rise, ahead, 0.0, 0.0]),
            Activity::Swim { wave, wave_speed } => (5, [wave, wave_speed, 0.0, 0.0]),
        }
    }

    pub(crate) fn feed(&self, print: &mut Fingerprint) {
        let (kind, numbers) = self.numbers();
        print.u64(kind);
        numbers.iter().for_each(|x| print.f32(*x));
        self.step().direction.0.iter().for_each(|x| print.u64(u64::from(*x)));
    }
}
