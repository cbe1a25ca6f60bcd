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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::contact::closest::to_facet;
    use crate::shape::Core;

    #[test]
    fn no_facet_within_the_reach_is_passed_over() {
        let mut dice = 7u64;
        let mut roll = || {
            dice = dice.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
            (dice >> 40) as f32 / (1u64 << 24) as f32
        };
        let (mut near, mut held) = (0, 0);
        for _ in 0..200_000 {
            // From centimetres to a hundred metres.
            let size = 100.0 * roll().powi(4) + 0.01;
            let mut place = |size: f32| Vec3::new(roll() - 0.5, roll() - 0.5, roll() - 0.5) * size;
            let middle = place(4.0);
            let [a, b, c] = [middle + place(size), middle + place(size), middle + place(size)];
            let (low, high, radius) = (place(3.0), place(3.0), 0.3);
            let Some(facet) = Facet::new(a, b, c) else { continue };
            let within = RoundedBox::new(low.min(high), low.max(high), radius).may_hold(&FacetBounds::of(&facet));
            let touches = to_facet(&Core { low, high, radius }, &facet).distance < radius - 2e-5;
            assert!(within || !touches, "{a} {b} {c} {low} {high}");
            (near, held) = (near + u32::from(touches), held + u32::from(within));
        }
        assert!(near > 5_000 && held < 100_000, "{near} touch, {held} of 200000 are held");
    }
}
