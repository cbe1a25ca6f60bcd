//! What is surveyed: how finely, for a character of which tuning, and what it dares.

use newel::glam::Vec3;
use newel::{Spawn, Tuning, TuningError};

use crate::frame::Frame;

/// How ground is surveyed for a character.
///
/// The character itself is what surveys: its own legs try every way from one place to the next, its own jumps every gap. So its slope, step,
/// headroom, stances and jumps count as its [`Tuning`] has them, and none is given twice.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Survey {
    /// How far apart places are tried, metres, 0.05 to 10. A way narrower than the character and this together may be overlooked.
    pub cell: f64,
    /// Up, against gravity: the one way for all of the ground surveyed.
    pub up: Vec3,
    /// Normal of the plane that the character keeps to, as in [`Spawn::in_plane`]; zero for none. The planes of all characters that use the
    /// routes must be one: the one through `through`.
    pub plane: Vec3,
    /// A point of that plane.
    pub through: newel::glam::DVec3,
    /// Where the ground lies, metres along up from the origin: nothing lower or higher is looked at.
    pub heights: [f64; 2],
    /// The deepest drop it takes on purpose, metres, 0 or more; steps down the tuning takes in stride are none.
    pub drop: f64,
    /// The deepest water it walks in on purpose, metres over its feet, 0 or more.
    pub wades: f64,
    /// Whether it jumps, over gaps and up onto things, where the tuning can.
    pub jumps: bool,
    /// Whether it climbs: ladders, ledges and what is low, up and down, where the tuning can.
    pub climbs: bool,
    /// Whether it swims where the tuning can: on the surface, not down. Water it swims in it also wades into at any depth, whatever
    /// `wades` says.
    pub swims: bool,
    /// How many seconds longer a walk may take before it drops, jumps or climbs instead, 0 or more.
    pub reluctance: f64,
    /// How much one plan may work in all its calls, in places, at least 1: see [`Routes::plan`](crate::Routes::plan).
    pub most_places: usize,
}

impl Survey {
    /// As fine as is good for a character of this tuning: half its width; drops to 3 m, water to the waist.
    #[must_use]
    pub fn of(tuning: &Tuning) -> Survey {
        Survey {
            cell: f64::from(tuning.shape().radius).clamp(0.05, 10.0),
            up: Vec3::Y,
            plane: Vec3::ZERO,
            through: newel::glam::DVec3::ZERO,
            heights: [-500.0, 500.0],
            drop: 3.0,
            wades: 0.5 * f64::from(tuning.shape().height),
            jumps: true,
            climbs: true,
            swims: tuning.values().swim.is_some(),
            reluctance: 1.5,
            most_places: 3_000_000,
        }
    }

    pub(crate) fn check(&self) -> Result<Frame, SurveyError> {
        let within = |field, value: f64, least: f64, most: f64| {
            let wrong = SurveyError::OutOfRange { field, value, least, most };
            if (least..=most).contains(&value) { Ok(()) } else { Err(wrong) }
        };
        within("survey.cell", self.cell, 0.05, 10.0)?;
        within("survey.drop", self.drop, 0.0, 1000.0)?;
        within("survey.reluctance", self.reluctance, 0.0, 1000.0)?;
        within("survey.wades", self.wades, 0.0, 1000.0)?;
        within("survey.heights[0]", self.heights[0], -100_000.0, 100_000.0)?;
        within("survey.heights[1]", self.heights[1], self.heights[0], 100_000.0)?;
        within("survey.most_places", self.most_places as f64, 1.0, 1e12)?;
        if !(self.plane.is_finite() && self.through.is_finite()) {
            return Err(SurveyError::NotFinite { field: "survey.plane or through" });
        }
        Some(self.up)
            .filter(|up| up.is_finite())
            .and_then(Frame::new)
            .ok_or(SurveyError::NotFinite { field: "survey.up (it needs a direction)" })
    }

    /// A character as this survey has it, at a place.
    pub(crate) fn spawn(&self, place: newel::glam::DVec3, stance: newel::Stance) -> Spawn {
        Spawn::at(place).up(self.up).in_plane(self.plane).in_stance(stance)
    }
}

/// Why there can be no routes by a survey.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum SurveyError {
    /// A number is outside its range.
    #[error("{field} is {value}: {least} to {most} is allowed")]
    OutOfRange {
        /// What it is.
        field: &'static str,
        /// What was given.
        value: f64,
        /// The least allowed.
        least: f64,
        /// The most allowed.
        most: f64,
    },
    /// Something is NaN, infinite or without direction.
    #[error("{field} is not a usable number: it must be finite and sane")]
    NotFinite {
        /// What it is.
        field: &'static str,
    },
    /// Nobody can stand anywhere as the survey has it: its plane is askew, or a box has none.
    #[error("nobody can stand as the survey has it: {0}")]
    Spawn(#[from] newel::SpawnError),
    /// The tuning cannot be surveyed with.
    #[error("the tuning cannot be surveyed with: {0}")]
    Tuning(#[from] TuningError),
}
