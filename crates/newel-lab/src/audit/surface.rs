//! The triangles of a world in a tree, to be asked for those near a place.

use newel::Scene;
use newel::glam::DVec3;
use rstar::{AABB, RTree, RTreeObject};

use super::distance::ray_to_triangle;

/// The triangles of a world: those that stay in a tree, those of moving bodies in a list.
pub struct Surface {
    still: RTree<Triangle>,
    moving: Vec<[DVec3; 3]>,
}

struct Triangle([DVec3; 3]);

impl RTreeObject for Triangle {
    type Envelope = AABB<[f64; 3]>;
    fn envelope(&self) -> Self::Envelope {
        let [a, b, c] = self.0;
        AABB::from_corners(a.min(b).min(c).to_array(), a.max(b).max(c).to_array())
    }
}

impl Surface {
    /// The solid triangles of a scene, bodies where they are at its beginning.
    #[must_use]
    pub fn of(scene: &Scene) -> Surface {
        let still = RTree::bulk_load(scene.solid_corners_that_stay().map(Triangle).collect());
        Surface { still, moving: scene.solid_corners_of_bodies(scene.time).collect() }
    }

    /// Puts the bodies that follow a track where they are `time` seconds into the scene.
    pub fn set_time(&mut self, scene: &Scene, time: f64) {
        if scene.is_moving() {
            self.set_moving(scene.solid_corners_of_bodies(time));
        }
    }

    /// Replaces the triangles of moving bodies, for a game that moves them itself.
    pub fn set_moving(&mut self, triangles: impl Iterator<Item = [DVec3; 3]>) {
        self.moving.clear();
        self.moving.extend(triangles);
    }

    /// The triangles whose bounds reach into the box between two corners.
    pub fn within(&self, low: DVec3, high: DVec3) -> impl Iterator<Item = &[DVec3; 3]> {
        let envelope = AABB::from_corners(low.to_array(), high.to_array());
        let still = self.still.locate_in_envelope_intersecting(envelope).map(|triangle| &triangle.0);
        let reaches = move |t: &&[DVec3; 3]| {
            t[0].min(t[1]).min(t[2]).cmple(high).all() && t[0].max(t[1]).max(t[2]).cmpge(low).all()
        };
        still.chain(self.moving.iter().filter(reaches))
    }

    /// The triangles near a place.
    pub fn around(&self, place: DVec3, reach: f64) -> impl Iterator<Item = &[DVec3; 3]> {
        self.within(place - DVec3::splat(reach), place + DVec3::splat(reach))
    }

    /// How far along `way` from `from` the first triangle is met, in lengths of `way` up to 1, and its normal toward `from`.
    #[must_use]
    pub fn cast(&self, from: DVec3, way: DVec3) -> Option<(f64, DVec3)> {
        let to = from + way;
        let hits = self
            .within(from.min(to), from.max(to))
            .filter_map(|t| Some((ray_to_triangle(from, way, t)?, facing(t, -way))));
        hits.filter(|hit| hit.0 <= 1.0).min_by(|a, b| a.0.total_cmp(&b.0))
    }
}

/// The unit normal of a triangle, on the side that faces along `toward`.
pub(crate) fn facing(t: &[DVec3; 3], toward: DVec3) -> DVec3 {
    let normal = (t[1] - t[0]).cross(t[2] - t[0]);
    normal * (normal.dot(toward).signum() / normal.length().max(f64::MIN_POSITIVE))
}
