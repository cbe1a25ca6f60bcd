//! The plane that a character may keep to.

use glam::{DVec3, Vec3};

use crate::math::flatten64;

/// The plane that a character keeps to, if any: through where it is, square to `normal`.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Plane {
    /// Unit normal of the plane: square to up for a side view, along it for a top view. Zero for a character that keeps
    /// to none.
    pub normal: Vec3,
}

impl Plane {
    /// The plane square to `normal`.
    #[must_use]
    pub fn new(normal: Vec3) -> Plane {
        Plane { normal }
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

    /// The part of a way that goes over the map: square to the unit vector `up`, and in the plane.
    pub(crate) fn over_map(&self, way: DVec3, up: DVec3) -> DVec3 {
        flatten64(self.flat64(way), up)
    }

    /// `place`, brought back to the plane through `on`.
    pub(crate) fn held(&self, place: DVec3, on: DVec3) -> DVec3 {
        if self.is_plane() && place != on { on + self.flat64(place - on) } else { place }
    }
}
