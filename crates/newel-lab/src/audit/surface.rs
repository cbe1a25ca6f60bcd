//! The triangles of a world in a tree, to be asked for those near a place.

use newel::Scene;
use newel::glam::DVec3;
use rstar::{AABB, RTree, RTreeObject};

use super::distance::ray_to_triangle;

/// The triangles of a world: those that stay in a tree, those of moving bodies in a list.
pub struct Surface {
    still: RTree<Triangle>,
    moving: Vec<Triangle>,
}

/// A triangle, and whether it is passed from below.
struct Triangle {
    corners: [DVec3; 3],
    one_way: bool,
}

impl Triangle {
    fn bounds(&self) -> (DVec3, DVec3) {
        let [a, b, c] = self.corners;
        (a.min(b).min(c), a.max(b).max(c))
    }
}

impl RTreeObject for Triangle {
    type Envelope = AABB<[f64; 3]>;
    fn envelope(&self) -> Self::Envelope {
        let (low, high) = self.bounds();
        AABB::from_corners(low.to_array(), high.to_array())
    }
}

impl Surface {
    /// The triangles of a scene, bodies where they are at its beginning.
    #[must_use]
    pub fn of(scene: &Scene) -> Surface {
        let triangle = |(corners, surface): ([DVec3; 3], u16)| Triangle { corners, one_way: scene.is_one_way(surface) };
        let still = RTree::bulk_load(scene.corners_that_stay().map(triangle).collect());
        Surface { still, moving: scene.corners_of_bodies(scene.time).map(triangle).collect() }
    }

    /// Puts the bodies that follow a track where they are `time` seconds into the scene.
    pub fn set_time(&mut self, scene: &Scene, time: f64) {
        if scene.is_moving() {
            let all = scene.corners_of_bodies(time);
            self.moving.clear();
            self.moving.extend(all.map(|(corners, surface)| Triangle { corners, one_way: scene.is_one_way(surface) }));
        }
    }

    /// Replaces the triangles of moving bodies, for a game that moves them itself.
    pub fn set_moving(&mut self, triangles: impl Iterator<Item = [DVec3; 3]>) {
        self.moving.clear();
        self.moving.extend(triangles.map(|corners| Triangle { corners, one_way: false }));
    }

    fn reaching(&self, low: DVec3, high: DVec3) -> impl Iterator<Item = &Triangle> {
        let still = self.still.locate_in_envelope_intersecting(AABB::from_corners(low.to_array(), high.to_array()));
        let reaches = move |triangle: &&Triangle| {
            let (least, most) = triangle.bounds();
            least.cmple(high).all() && most.cmpge(low).all()
        };
        still.chain(self.moving.iter().filter(reaches))
    }

    /// The triangles whose bounds reach into the box between two corners.
    pub fn within(&self, low: DVec3, high: DVec3) -> impl Iterator<Item = &[DVec3; 3]> {
        self.reaching(low, high).map(|triangle| &triangle.corners)
    }

    /// The same without those that are passed from below, which may be in a character for a while.
    pub fn solid_within(&self, low: DVec3, high: DVec3) -> impl Iterator<Item = &[DVec3; 3]> {
        self.reaching(low, high).filter(|triangle| !triangle.one_way).map(|triangle| &triangle.corners)
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
