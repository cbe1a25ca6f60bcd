//! The box about a character in which the terrain must not change while planned motion or rest stays valid.
//!
//! Changes outside the box do not disturb the character: a moving lift at the far side of the level neither ends rest nor
//! splits motion at tick ends.

use glam::DVec3;

/// A box in the world, from its least to its greatest corner.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub(crate) struct Region {
    low: DVec3,
    high: DVec3,
}

impl Default for Region {
    /// The empty region.
    fn default() -> Region {
        Region { low: DVec3::INFINITY, high: DVec3::NEG_INFINITY }
    }
}

impl Region {
    /// The box between two corners.
    pub fn between((low, high): (DVec3, DVec3)) -> Region {
        Region { low, high }
    }

    /// The smallest box that contains both.
    pub fn and(self, other: Region) -> Region {
        Region { low: self.low.min(other.low), high: self.high.max(other.high) }
    }

    /// True if the other box lies inside this one.
    pub fn holds(&self, other: &Region) -> bool {
        self.low.cmple(other.low).all() && self.high.cmpge(other.high).all()
    }

    /// The minimum and the maximum corner.
    pub fn corners(&self) -> (DVec3, DVec3) {
        (self.low, self.high)
    }
}
