//! A point that a mesh can be built from.

use glam::{DVec3, Vec3};

/// A point that a mesh can be built from, in single or double precision.
pub trait Vertex: Copy {
    /// How exact a coordinate is, as a part of its size.
    const EXACT: f64;

    /// Its coordinates, metres.
    fn xyz(self) -> DVec3;
}

impl Vertex for [f32; 3] {
    const EXACT: f64 = f32::EPSILON as f64;

    fn xyz(self) -> DVec3 {
        Vec3::from_array(self).as_dvec3()
    }
}
impl Vertex for [f64; 3] {
    const EXACT: f64 = f64::EPSILON;

    fn xyz(self) -> DVec3 {
        DVec3::from_array(self)
    }
}
impl Vertex for Vec3 {
    const EXACT: f64 = f32::EPSILON as f64;

    fn xyz(self) -> DVec3 {
        self.as_dvec3()
    }
}
impl Vertex for DVec3 {
    const EXACT: f64 = f64::EPSILON;

    fn xyz(self) -> DVec3 {
        self
    }
}
