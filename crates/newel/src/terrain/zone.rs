//! Volumes with an effect.

use glam::DVec3;

/// An upright box in the world in which something holds.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Zone {
    /// The game's own name for it.
    pub id: u64,
    /// Least corner, metres.
    pub min: DVec3,
    /// Greatest corner, metres.
    pub max: DVec3,
    /// What it does to a character whose middle is inside.
    pub effect: Effect,
}

/// What a [`Zone`] does.
#[derive(Clone, Copy, Debug, PartialEq)]
#[non_exhaustive]
pub enum Effect {
    /// Gravity times this factor, 0 to 10. Where zones overlap their factors multiply.
    Gravity(f32),
}

impl Zone {
    /// True where `point` is inside or on the border.
    #[must_use]
    pub fn holds(&self, point: DVec3) -> bool {
        point.cmpge(self.min).all() && point.cmple(self.max).all()
    }
}
