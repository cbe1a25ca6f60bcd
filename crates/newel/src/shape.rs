//! The shape of a character: a capsule about the feet, standing along the character's own up.

use glam::Vec3;

/// A capsule: all points within `radius` of an upright segment.
///
/// Lengths in metres. `height` is the whole height from the lowest to the highest point, at least twice the radius.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Capsule {
    /// Radius of the round parts, in metres.
    pub radius: f32,
    /// Height from the feet to the top of the head, in metres.
    pub height: f32,
}

/// The part of the radius that is skin, and the most it can be in metres: see [`Capsule::skin`].
const SKIN_PART: f32 = 0.03;
const SKIN_MOST: f32 = 0.01;

impl Capsule {
    /// The skin, in metres: 3 % of the radius, at most 1 cm.
    ///
    /// The skin lies *inside* the tuned size. Contacts rest with the tuned surface just touching; a character
    /// overlaps only once a surface is deeper than the skin.
    #[must_use]
    pub fn skin(&self) -> f32 {
        (self.radius * SKIN_PART).min(SKIN_MOST)
    }

    /// How exactly contact is found, in metres: 5 micrometres, and in proportion for characters over 10 m.
    #[must_use]
    pub fn tolerance(&self) -> f32 {
        5e-6 * (self.height / 10.0).max(1.0)
    }

    /// The segment inside the capsule, for feet at `feet` and a unit `up`.
    #[must_use]
    pub(crate) fn core(&self, feet: Vec3, up: Vec3) -> Core {
        Core { low: feet + up * self.radius, high: feet + up * (self.height - self.radius), radius: self.radius }
    }
}

/// A placed capsule: the segment and the radius about it, in the coordinates of a patch.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Core {
    /// Centre of the lower round end.
    pub low: Vec3,
    /// Centre of the upper round end.
    pub high: Vec3,
    /// Radius about the segment.
    pub radius: f32,
}
