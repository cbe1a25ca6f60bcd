//! Boxes about facets, and how far off they are: most facets are passed over by that alone.

use glam::{Vec3, Vec3A};

use super::Facet;

/// The box about a facet, in the coordinates of its patch, in lanes.
#[derive(Clone, Copy, Debug)]
pub(crate) struct FacetBounds {
    least: Vec3A,
    most: Vec3A,
}

/// A box with a distance about it: its corners are rounded, as those of a capsule's way are.
#[derive(Clone, Copy, Debug)]
pub(crate) struct RoundedBox {
    least: Vec3A,
    most: Vec3A,
    /// Square of the distance, square metres.
    reach_squared: f32,
}

impl FacetBounds {
    pub fn of(facet: &Facet) -> FacetBounds {
        let [a, b, c] = [facet.a, facet.b, facet.c].map(Vec3A::from);
        FacetBounds { least: a.min(b).min(c), most: a.max(b).max(c) }
    }
}

impl RoundedBox {
    /// All points within `reach` metres of the box between `low` and `high`.
    pub fn new(low: Vec3, high: Vec3, reach: f32) -> RoundedBox {
        RoundedBox { least: low.into(), most: high.into(), reach_squared: reach * reach }
    }

    /// True where a point of a facet may lie within the reach.
    #[inline]
    pub fn may_hold(&self, bounds: &FacetBounds) -> bool {
        let apart = (bounds.least - self.most).max(self.least - bounds.most).max(Vec3A::ZERO);
        apart.length_squared() <= self.reach_squared
    }
}
