//! Geometry of a named body of a scene.

use std::sync::Arc;

use glam::{DVec3, Vec3};

use crate::fingerprint::Fingerprint;
use crate::terrain::{Body, Facet, Layers, Mesh, MeshError, Patch, RayHit, Round, Terrain, When};

use super::reach;

/// Something solid about its own origin: a mesh, a box, a ball or a capsule.
///
/// ```
/// use newel::glam::DVec3;
/// use newel::{Layers, Scene, Solid};
/// const BUOYS: Layers = Layers::of(4);
/// let mut scene = Scene::new();
/// scene.add(7, Solid::ball(0.4).of_surface(2).on(BUOYS), DVec3::new(3.0, 0.4, 0.0), Default::default())?;
/// # Ok::<(), newel::SceneError>(())
/// ```
#[derive(Clone, Debug)]
pub struct Solid {
    shape: Shape,
    surface: u16,
    pub(super) belt: DVec3,
    pub(super) layers: Layers,
    pub(super) owner: u64,
}

#[derive(Clone, Debug)]
enum Shape {
    Mesh(Arc<Mesh>),
    Round { from: DVec3, to: DVec3, radius: f32 },
}

impl Solid {
    fn new(shape: Shape) -> Solid {
        Solid { shape, surface: 0, belt: DVec3::ZERO, layers: Layers::FIRST, owner: 0 }
    }

    /// A mesh, about its own origin.
    #[must_use]
    pub fn mesh(mesh: Mesh) -> Solid {
        Solid::new(Shape::Mesh(Arc::new(mesh)))
    }

    /// A box between two corners.
    ///
    /// # Errors
    /// As [`Mesh::cuboid`].
    pub fn cuboid(low: DVec3, high: DVec3) -> Result<Solid, MeshError> {
        Mesh::cuboid(low, high).map(Solid::mesh)
    }

    /// A ball, metres.
    #[must_use]
    pub fn ball(radius: f32) -> Solid {
        Solid::capsule(DVec3::ZERO, DVec3::ZERO, radius)
    }

    /// All within `radius` metres of the way between two places.
    #[must_use]
    pub fn capsule(from: DVec3, to: DVec3, radius: f32) -> Solid {
        Solid::new(Shape::Round { from, to, radius: radius.max(0.0) })
    }

    /// The same made of one surface throughout.
    #[must_use]
    pub fn of_surface(mut self, surface: u16) -> Solid {
        self.surface = surface;
        if let Shape::Mesh(mesh) = &mut self.shape {
            *mesh = Arc::new(Mesh::clone(mesh).with_surface(surface));
        }
        self
    }

    /// The same with a surface that runs, m/s in its own axes: a conveyor.
    #[must_use]
    pub fn with_belt(self, belt: DVec3) -> Solid {
        Solid { belt, ..self }
    }

    /// The same on other layers than the first.
    #[must_use]
    pub fn on(self, layers: Layers) -> Solid {
        Solid { layers, ..self }
    }

    /// The same as a part of the character with this name, who does not touch it.
    #[must_use]
    pub fn owned_by(self, owner: u64) -> Solid {
        Solid { owner, ..self }
    }

    /// The mesh that it is, if it is one.
    pub(super) fn as_mesh(&self) -> Option<&Mesh> {
        if let Shape::Mesh(mesh) = &self.shape { Some(mesh) } else { None }
    }

    pub(super) fn as_mesh_mut(&mut self) -> Option<&mut Mesh> {
        if let Shape::Mesh(mesh) = &mut self.shape { Some(Arc::make_mut(mesh)) } else { None }
    }

    /// How far it reaches from its own origin, metres.
    pub(super) fn reach(&self) -> f64 {
        match &self.shape {
            Shape::Mesh(mesh) => {
                let (low, high) = mesh.bounds();
                low.abs().max(high.abs()).length()
            }
            Shape::Round { from, to, radius } => from.length().max(to.length()) + f64::from(*radius),
        }
    }

    pub(super) fn feed(&self, print: &mut Fingerprint) {
        match &self.shape {
            Shape::Mesh(mesh) => print.u64(mesh.print()),
            Shape::Round { from, to, radius } => {
                from.to_array().iter().chain(&to.to_array()).for_each(|x| print.f64(*x));
                print.f32(*radius);
            }
        }
        self.belt.to_array().iter().for_each(|x| print.f64(*x));
        [u64::from(self.surface), u64::from(self.layers.0), self.owner].iter().for_each(|x| print.u64(*x));
    }

    /// Adds what of it can come into the patch while it moves as `body` does for `dt` seconds.
    pub(super) fn gather(&self, body: &Body, dt: f64, patch: &mut Patch) {
        let (low, high) = reach(body, dt, patch.world_bounds());
        let origin = patch.origin();
        let mut index = None;
        match &self.shape {
            Shape::Mesh(mesh) => mesh.each_within(low, high, |corners, tag| {
                let index = *index.get_or_insert_with(|| patch.add_body(*body));
                let [a, b, c] = corners.map(|corner| (body.to_world(corner) - origin).as_vec3());
                if let Some(facet) = Facet::new(a, b, c) {
                    let (surface, id, one_way) = (tag.surface, tag.id, tag.one_way);
                    patch.add_facet(Facet { surface, id, one_way, body: index, ..facet });
                }
            }),
            Shape::Round { from, to, radius } => {
                let spare = DVec3::splat(f64::from(*radius));
                let (least, most) = (from.min(*to) - spare, from.max(*to) + spare);
                if least.cmple(high).all() && most.cmpge(low).all() {
                    let body_index = patch.add_body(*body);
                    let [a, b] = [from, to].map(|end| (body.to_world(*end) - origin).as_vec3());
                    patch.add_round(Round { a, b, radius: *radius, surface: self.surface, body: body_index, id: 0 });
                }
            }
        }
    }

    /// Where a ray in its own axes meets it.
    pub(super) fn cast(&self, when: When, from: DVec3, along: Vec3, length: f64) -> Option<RayHit> {
        match &self.shape {
            Shape::Mesh(mesh) => mesh.cast(when, from, along, length),
            Shape::Round { from: a, to: b, radius } => {
                let (distance, normal) = ray_to_round(from, along.as_dvec3(), *a, *b, f64::from(*radius))?;
                let hit = RayHit { distance, normal: normal.as_vec3(), surface: self.surface, body: 0, one_way: false };
                (distance <= length).then_some(hit)
            }
        }
    }
}

/// Where a ray from outside first comes within `radius` of a segment, and the way out there: of the round middle and of both ends
/// whichever it meets first.
fn ray_to_round(from: DVec3, along: DVec3, a: DVec3, b: DVec3, radius: f64) -> Option<(f64, DVec3)> {
    // The first zero of |off + along t|² = radius², with what lies along an axis left out.
    let first = |off: DVec3, way: DVec3| {
        let (square, half, rest) = (way.length_squared(), off.dot(way), off.length_squared() - radius * radius);
        let under = half * half - square * rest;
        (square > 1e-18 && under >= 0.0).then(|| (-half - under.sqrt()) / square).filter(|t| *t >= 0.0)
    };
    let axis = (b - a).try_normalize();
    let middle = axis.and_then(|axis| {
        let flat = |v: DVec3| v - axis * v.dot(axis);
        let t = first(flat(from - a), flat(along))?;
        let part = (from + along * t - a).dot(axis);
        (0.0..=(b - a).length()).contains(&part).then_some((t, a + axis * part))
    });
    let ends = [a, b].into_iter().filter_map(|end| Some((first(from - end, along)?, end)));
    let (t, core) = ends.chain(middle).min_by(|x, y| x.0.total_cmp(&y.0))?;
    Some((t, (from + along * t - core) / radius))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_ray_meets_a_round_where_it_is_and_not_where_it_ends() {
        let capsule = Solid::capsule(DVec3::ZERO, DVec3::Y * 2.0, 0.5);
        let cast = |from: DVec3, along: Vec3| capsule.cast(When::tick(0, 0.1), from, along, 10.0);
        let side = cast(DVec3::new(3.0, 1.0, 0.0), Vec3::NEG_X).unwrap();
        assert!((side.distance - 2.5).abs() < 1e-12 && side.normal == Vec3::X);
        let top = cast(DVec3::new(0.0, 5.0, 0.0), Vec3::NEG_Y).unwrap();
        assert!((top.distance - 2.5).abs() < 1e-12 && top.normal == Vec3::Y);
        assert_eq!(cast(DVec3::new(3.0, 2.6, 0.0), Vec3::NEG_X), None);
        assert_eq!(cast(DVec3::new(3.0, 1.0, 0.0), Vec3::X), None);
    }
}
