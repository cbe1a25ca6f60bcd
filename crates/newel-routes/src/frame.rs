//! The map: two axes square to up, and the height along it.

use newel::glam::{DVec2, DVec3, Vec3};

/// Right-handed axes with up as one of them. Where +Y is up, the map's are +X and +Z.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Frame {
    east: DVec3,
    south: DVec3,
    pub up: DVec3,
}

impl Frame {
    /// `None` where up has no direction.
    pub fn new(up: Vec3) -> Option<Frame> {
        let up = up.as_dvec3().try_normalize()?;
        let any = if up.x.abs() < 0.9 { DVec3::X } else { DVec3::Z };
        let east = (any - up * any.dot(up)).normalize();
        Some(Frame { east, south: east.cross(up), up })
    }

    /// Where a place is on the map.
    pub fn map(&self, place: DVec3) -> DVec2 {
        DVec2::new(place.dot(self.east), place.dot(self.south))
    }

    /// How high it is.
    pub fn height(&self, place: DVec3) -> f64 {
        place.dot(self.up)
    }

    /// The place that is there on the map, and so high.
    pub fn place(&self, map: DVec2, height: f64) -> DVec3 {
        self.east * map.x + self.south * map.y + self.up * height
    }

    /// The distance over the map.
    pub fn across(&self, from: DVec3, to: DVec3) -> f64 {
        (self.map(to) - self.map(from)).length()
    }

    /// The direction of a way over the map; nothing for one straight up.
    pub fn direction(&self, way: DVec3) -> Option<DVec3> {
        (way - self.up * way.dot(self.up)).try_normalize()
    }
}
