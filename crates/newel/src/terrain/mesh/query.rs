//! Queries of a mesh: triangles near a box, and rays.

use glam::{DVec3, Vec3, Vec3A};
use obvhs::aabb::Aabb;
use obvhs::ray::{Ray, RayHit as TreeHit};

use super::{Mesh, Triangle};
use crate::terrain::Hold;
use crate::terrain::{Body, Facet, Footing, Patch, RayHit, Terrain, When};

/// Rays count as meeting a triangle this part of its size beyond its edges.
const SEAM: f32 = 1e-6;

/// Data of a triangle beside its corners.
pub(in crate::terrain) struct Tag {
    pub surface: u16,
    pub id: u32,
    pub one_way: bool,
}

impl Mesh {
    /// Hands on the corners in the world, and the rest, of every triangle whose bounds meet the box.
    pub(in crate::terrain) fn each_within(&self, low: DVec3, high: DVec3, mut found: impl FnMut([DVec3; 3], Tag)) {
        self.each_near(low - self.origin, high - self.origin, |_, t| {
            let tag = Tag { surface: t.surface, id: t.id, one_way: t.one_way };
            found([t.a, t.b, t.c].map(|p| self.origin + p.as_dvec3()), tag);
        });
    }

    /// The same in the mesh's own frame, by the triangle's place in the tree's order.
    fn each_near(&self, low: DVec3, high: DVec3, mut found: impl FnMut(usize, &Triangle)) {
        // The tree is asked in single precision: widen by what rounding may have moved.
        let (low, high) = (low.as_vec3(), high.as_vec3());
        let slop = Vec3::splat(low.abs().max(high.abs()).max_element() * 2.5e-7);
        let asked = Aabb { min: Vec3A::from(low - slop), max: Vec3A::from(high + slop) };
        self.tree.aabb_traverse(asked, |tree, node| {
            let leaf = &tree.nodes[node as usize];
            let first = leaf.first_index as usize;
            let leaf = first..first + leaf.prim_count as usize;
            for (index, triangle) in leaf.clone().zip(&self.triangles[leaf]) {
                let [a, b, c] = [triangle.a, triangle.b, triangle.c].map(Vec3A::from);
                let (least, most) = (a.min(b).min(c), a.max(b).max(c));
                if (least.cmple(asked.max) & most.cmpge(asked.min)).all() {
                    found(index, triangle);
                }
            }
            true
        });
    }
}

impl Terrain for Mesh {
    fn gather(&self, _when: When, patch: &mut Patch) {
        let shift = self.origin - patch.origin();
        let (min, max) = patch.bounds();
        let body = if self.body == 0 { 0 } else { patch.add_body(Body::still(self.body, self.origin)) };
        // Sorted before they are facets: names are lighter to move.
        let mut order = core::mem::take(&mut patch.order);
        order.clear();
        let named = |index: usize, id: u32| u64::from(id) << 32 | index as u64;
        self.each_near(min.as_dvec3() - shift, max.as_dvec3() - shift, |index, t| order.push(named(index, t.id)));
        order.sort_unstable();
        let found = order.iter().map(|name| self.triangles[(name & 0xFFFF_FFFF) as usize].facet(shift, body));
        patch.facets.extend(found);
        patch.order = order;
    }

    fn stamp(&self, _when: When, _within: (DVec3, DVec3)) -> Option<u64> {
        Some(self.stamp)
    }

    fn footing(&self, surface: u16) -> Footing {
        self.footings.of(surface).unwrap_or_default()
    }

    fn hold(&self, surface: u16) -> Hold {
        self.holds.of(surface).unwrap_or_default()
    }

    fn cast(&self, _when: When, from: DVec3, along: Vec3, length: f64) -> Option<RayHit> {
        let local = (from - self.origin).as_vec3();
        if !(local.is_finite() && along.is_finite() && length > 0.0) {
            return None;
        }
        let ray = Ray::new(local.into(), along.into(), 0.0, length as f32);
        let mut nearest = TreeHit::none();
        self.tree.ray_traverse(ray, &mut nearest, |_, i| self.triangles[i].cast(local, along));
        let hit = self.triangles.get(nearest.primitive_id as usize)?;
        let distance = f64::from(nearest.t);
        Some(RayHit { distance, normal: hit.normal, surface: hit.surface, body: self.body, one_way: hit.one_way })
    }
}

impl Triangle {
    /// The triangle in the coordinates of a patch that lies `shift` before the mesh's origin.
    #[inline]
    fn facet(&self, shift: DVec3, body: u16) -> Facet {
        let (mut normal, mut exact, mut uneven) = (self.normal, self.normal.as_dvec3(), self.uneven);
        if self.large {
            uneven = 0.0;
            let a = self.a.as_dvec3();
            let cross = (self.b.as_dvec3() - a).cross(self.c.as_dvec3() - a);
            exact = cross / cross.length();
            normal = exact.as_vec3();
        }
        let first = self.a.as_dvec3() + shift;
        Facet {
            a: first.as_vec3(),
            b: (self.b.as_dvec3() + shift).as_vec3(),
            c: (self.c.as_dvec3() + shift).as_vec3(),
            normal,
            offset: exact.dot(first) as f32,
            uneven,
            corners: self.corners,
            one_way: self.one_way,
            surface: self.surface,
            body,
            id: self.id,
        }
    }

    /// How far along a ray the triangle is met, or infinity (Moller and Trumbore, 1997).
    fn cast(&self, from: Vec3, along: Vec3) -> f32 {
        let (ab, ac) = (self.b - self.a, self.c - self.a);
        let across = along.cross(ac);
        let size = ab.dot(across);
        if size == 0.0 {
            return f32::INFINITY;
        }
        let off = from - self.a;
        let u = off.dot(across) / size;
        let around = off.cross(ab);
        let v = along.dot(around) / size;
        let distance = ac.dot(around) / size;
        // A ray at the seam of two triangles must meet one of them, whatever the rounding.
        if u >= -SEAM && v >= -SEAM && u + v <= 1.0 + SEAM && distance >= 0.0 { distance } else { f32::INFINITY }
    }
}
