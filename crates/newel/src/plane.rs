//! The plane that a character may keep to.

use glam::{DVec3, Vec3};

/// The plane that a character keeps to, if any: square to `normal`, at `offset` along it.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Plane {
    /// Unit normal of the plane: square to up for a side view, along it for a top view. Zero for a character that keeps
    /// to none.
    pub normal: Vec3,
    /// Where the plane is along the normal: the sum of the two, which together are as exact as a double to a few bits and take less
    /// room beside three singles.
    offset: [f32; 2],
}

impl Plane {
    /// The plane square to `normal` at `offset` metres along it.
    #[must_use]
    pub fn new(normal: Vec3, offset: f64) -> Plane {
        let coarse = offset as f32;
        Plane { normal, offset: [coarse, (offset - f64::from(coarse)) as f32] }
    }

    /// Where the plane is along the normal, metres.
    #[must_use]
    pub fn offset(&self) -> f64 {
        f64::from(self.offset[0]) + f64::from(self.offset[1])
    }

    /// True where there is a plane to keep to.
    #[must_use]
    pub fn is_plane(&self) -> bool {
        self.normal != Vec3::ZERO
    }

    /// True for a plane square to up: the world is seen from above, and the plane itself is the ground.
    #[must_use]
    pub fn is_top_view(&self, up: Vec3) -> bool {
        self.normal.dot(up).abs() > 0.5
    }

    /// The part of a vector that lies in the plane.
    pub(crate) fn flat(&self, v: Vec3) -> Vec3 {
        v - self.normal * v.dot(self.normal)
    }

    /// The same in double precision.
    pub(crate) fn flat64(&self, v: DVec3) -> DVec3 {
        let normal = self.normal.as_dvec3();
        v - normal * v.dot(normal)
    }

    /// The place brought back to the plane, unless it is there to within a nanometre: rounding is no motion.
    pub(crate) fn held(&self, place: DVec3) -> DVec3 {
        let normal = self.normal.as_dvec3();
        let off = place.dot(normal) - self.offset();
        if self.is_plane() && off.abs() > 1e-9 { place - normal * off } else { place }
    }
}
