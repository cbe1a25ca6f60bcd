//! The box about a character within which the terrain has to stay as it is for what was worked out there to hold.
//!
//! What changes outside of it disturbs nobody in it: a lift on the far side of the level neither wakes what stands still here, nor cuts
//! its motion where a tick ends.

use glam::DVec3;

use crate::character::State;
use crate::contact::surroundings::Figure;
use crate::tuning::Tuning;

/// How far a region reaches beyond the character, metres, beside a body's height and as far as it comes in some time.
const SPARE: f64 = 1.0;
/// That time, seconds: two strides of the grid.
const AHEAD: f64 = 1.0 / 30.0;

/// A box in the world, from its least to its greatest corner.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub(crate) struct Region {
    low: DVec3,
    high: DVec3,
}

impl Default for Region {
    /// One with nothing in it.
    fn default() -> Region {
        Region { low: DVec3::INFINITY, high: DVec3::NEG_INFINITY }
    }
}

impl Region {
    /// The box between these corners.
    pub fn between((low, high): (DVec3, DVec3)) -> Region {
        Region { low, high }
    }

    /// All that a character in this state is likely to ask about within a stride of the grid.
    pub fn about(state: &State, tuning: &Tuning) -> Region {
        let (middle, half) = Figure::of(state, tuning).bounding_box(state.position);
        let spare = SPARE + f64::from(tuning.shape().height) + state.velocity.length() * AHEAD;
        Region { low: middle - half - spare, high: middle + half + spare }
    }

    /// The least box that holds both.
    pub fn and(self, other: Region) -> Region {
        Region { low: self.low.min(other.low), high: self.high.max(other.high) }
    }

    /// True where all of the other lies in it.
    pub fn holds(&self, other: &Region) -> bool {
        self.low.cmple(other.low).all() && self.high.cmpge(other.high).all()
    }

    /// Its least and its greatest corner, as a terrain is asked about them.
    pub fn corners(&self) -> (DVec3, DVec3) {
        (self.low, self.high)
    }
}
