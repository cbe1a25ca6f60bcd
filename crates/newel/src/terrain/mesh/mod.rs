//! A triangle mesh as terrain.

mod error;
mod query;
mod topology;
mod tree;
mod vertex;

pub use error::MeshError;
pub use vertex::Vertex;

use glam::{DVec3, Vec3};
use obvhs::aabb::Aabb;
use obvhs::bvh2::Bvh2;

use super::footing::Said;
use super::{Footing, Hold};
use crate::fingerprint::Fingerprint;
use topology::Topology;

/// Triangles that stand still, found through a tree.
///
/// Corners are kept in single precision about a double-precision origin, so a mesh is as exact at 100 km as at home.
/// Facets are two-sided; winding does not matter. Triangles without area are left out ([`Mesh::dropped`]).
///
/// ```
/// use newel::Mesh;
/// let corners = [[0.0, 0.0, 0.0], [10.0, 0.0, 0.0], [10.0, 0.0, 10.0], [0.0, 0.0, 10.0f32]];
/// let floor = Mesh::new(&corners, &[0, 1, 2, 0, 2, 3])?;
/// assert_eq!(floor.triangles(), 2);
/// # Ok::<(), newel::MeshError>(())
/// ```
#[derive(Clone)]
pub struct Mesh {
    origin: DVec3,
    triangles: Vec<Triangle>,
    tree: Bvh2,
    body: u64,
    dropped: usize,
    pub(super) footings: Said<Footing>,
    pub(super) holds: Said<Hold>,
    /// A hash of all of it.
    stamp: u64,
}

/// One triangle as it lies in memory: in the order of the tree's leaves, everything a gather needs side by side.
#[derive(Clone, Copy, Default)]
struct Triangle {
    a: Vec3,
    b: Vec3,
    c: Vec3,
    normal: Vec3,
    uneven: f32,
    id: u32,
    surface: u16,
    corners: u8,
    /// True where a corner can be so far off that its single-precision normal no longer places the plane.
    large: bool,
    /// Passed from below.
    one_way: bool,
}

impl Triangle {
    fn bounds(&self) -> Aabb {
        Aabb { min: self.a.min(self.b).min(self.c).into(), max: self.a.max(self.b).max(self.c).into() }
    }
}

/// Corners further than this from the mesh's origin, in metres, are refused: single precision would move them by
/// more than a millimetre.
const MOST_REACH: f64 = 16_384.0;
/// Triangles longer than this, in metres, get their plane worked out in double precision at every gather.
const LARGE: f32 = 16.0;
/// The origin of a mesh is a multiple of this, in metres, so that ordinary meshes keep their corners to the bit.
const ORIGIN_GRID: f64 = 1024.0;

impl Mesh {
    /// A mesh of `indices.len() / 3` triangles over `vertices`, in metres.
    ///
    /// # Errors
    /// [`MeshError`] where a coordinate is not finite or lies too far from the middle, an index is out of range,
    /// indices do not come in threes, or no triangle has an area.
    pub fn new<V: Vertex>(vertices: &[V], indices: &[u32]) -> Result<Mesh, MeshError> {
        let origin = checked_origin(vertices)?;
        check_indices(indices, vertices.len())?;
        let exact: Vec<DVec3> = vertices.iter().map(|v| v.xyz() - origin).collect();
        let local: Vec<Vec3> = exact.iter().map(|p| p.as_vec3()).collect();
        let furthest = vertices.iter().map(|v| v.xyz().abs().max_element()).fold(0.0, f64::max);
        let topology = Topology::new(&exact, indices, V::EXACT * furthest);
        drop(exact);
        let mut triangles = Vec::with_capacity(indices.len() / 3);
        for (id, corner) in indices.chunks_exact(3).enumerate() {
            let Some(normal) = topology.normal(id) else { continue };
            let [a, b, c] = [corner[0], corner[1], corner[2]].map(|i| local[i as usize]);
            let reach = (a.max(b).max(c) - a.min(b).min(c)).max_element();
            let off = |p: Vec3| normal.as_dvec3().dot(p.as_dvec3() - a.as_dvec3()).abs();
            let uneven = off(b).max(off(c)) as f32;
            let corners = topology.corners(id);
            triangles.push(Triangle {
                a,
                b,
                c,
                normal,
                uneven,
                id: id as u32,
                surface: 0,
                corners,
                large: reach > LARGE,
                one_way: false,
            });
        }
        if triangles.is_empty() {
            return Err(MeshError::NoTriangles { given: indices.len() / 3 });
        }
        let dropped = indices.len() / 3 - triangles.len();
        drop((local, topology));
        let tree = tree::build(&mut triangles);
        let mut mesh = Mesh {
            origin,
            triangles,
            tree,
            body: 0,
            dropped,
            footings: Said::default(),
            holds: Said::default(),
            stamp: 0,
        };
        mesh.stamp = mesh.hashed();
        Ok(mesh)
    }

    /// A box between two opposite corners, in either order, its normals outward.
    ///
    /// # Errors
    /// As [`Mesh::new`]: where it has no volume, or is too large.
    pub fn cuboid(one: DVec3, other: DVec3) -> Result<Mesh, MeshError> {
        let corner = [one, other].into_iter().enumerate().find(|(_, corner)| !corner.is_finite());
        if let Some((vertex, at)) = corner {
            return Err(MeshError::NotFinite { vertex, at: at.to_array() });
        }
        let (low, high) = (one.min(other), one.max(other));
        if (high - low).min_element() <= 0.0 {
            return Err(MeshError::Flat { size: (high - low).to_array() });
        }
        let pick = |bit: usize, axis: usize, i: usize| if i >> bit & 1 == 0 { low[axis] } else { high[axis] };
        let corners: Vec<[f64; 3]> = (0..8).map(|i| [pick(0, 0, i), pick(1, 1, i), pick(2, 2, i)]).collect();
        let faces = [[0, 4, 6, 2], [1, 3, 7, 5], [0, 1, 5, 4], [2, 6, 7, 3], [0, 2, 3, 1], [4, 5, 7, 6]];
        let indices: Vec<u32> = faces.iter().flat_map(|[a, b, c, d]| [*a, *b, *c, *a, *c, *d]).collect();
        Mesh::new(&corners, &indices)
    }

    /// The same mesh with what each triangle is made of, one number a triangle in the order they were given.
    ///
    /// # Errors
    /// [`MeshError::Surfaces`] where their count differs from that of the triangles given.
    pub fn with_surfaces(mut self, surfaces: &[u16]) -> Result<Mesh, MeshError> {
        let given = self.triangles.len() + self.dropped;
        if surfaces.len() != given {
            return Err(MeshError::Surfaces { given: surfaces.len(), triangles: given });
        }
        for triangle in &mut self.triangles {
            triangle.surface = surfaces[triangle.id as usize];
        }
        self.stamp = self.hashed();
        Ok(self)
    }

    /// The same mesh made of one surface throughout.
    #[must_use]
    pub fn with_surface(mut self, surface: u16) -> Mesh {
        self.triangles.iter_mut().for_each(|triangle| triangle.surface = surface);
        self.stamp = self.hashed();
        self
    }

    /// The same mesh with one of its surfaces passed from below and stood on from above; one dropped through where that is asked for
    /// ([`Button::Drop`](crate::Button::Drop)). Here winding counts: it is stood on where its normals face up, and passed both ways where
    /// they face down or aside; so it may be a sheet or a slab.
    #[must_use]
    pub fn with_one_way(mut self, surface: u16) -> Mesh {
        self.triangles.iter_mut().filter(|t| t.surface == surface).for_each(|t| t.one_way = true);
        self.stamp = self.hashed();
        self
    }

    /// The same mesh under the game's own name for it; 0, the world itself, if never set.
    #[must_use]
    pub fn with_body(mut self, id: u64) -> Mesh {
        self.body = id;
        self.stamp = self.hashed();
        self
    }

    /// The same mesh with what walking is like on one of its surfaces.
    ///
    /// ```
    /// # use newel::{Footing, Mesh, Terrain};
    /// # let corners = [[0.0, 0.0, 0.0], [0.0, 0.0, 10.0], [10.0, 0.0, 0.0f32]];
    /// const ICE: u16 = 1;
    /// let pond = Mesh::new(&corners, &[0, 1, 2])?.with_surfaces(&[ICE])?;
    /// let pond = pond.with_footing(ICE, Footing { grip: 0.1, speed: 1.0 });
    /// assert_eq!(pond.footing(ICE).grip, 0.1);
    /// # Ok::<(), newel::MeshError>(())
    /// ```
    #[must_use]
    pub fn with_footing(mut self, surface: u16, footing: Footing) -> Mesh {
        self.footings.set(surface, footing);
        self
    }

    /// The same mesh with what a surface gives to hold on to.
    ///
    /// ```
    /// # use newel::{Hold, Mesh, Terrain};
    /// const RUNGS: u16 = 4;
    /// let corners = [[0.0, 0.0, 0.0], [0.5, 0.0, 0.0], [0.0, 3.0, 0.0f32]];
    /// let ladder = Mesh::new(&corners, &[0, 1, 2])?.with_surface(RUNGS).with_hold(RUNGS, Hold::Ladder);
    /// assert_eq!(ladder.hold(RUNGS), Hold::Ladder);
    /// # Ok::<(), newel::MeshError>(())
    /// ```
    #[must_use]
    pub fn with_hold(mut self, surface: u16, hold: Hold) -> Mesh {
        self.holds.set(surface, hold);
        self
    }

    /// Hash of the whole mesh.
    pub(crate) fn print(&self) -> u64 {
        self.stamp
    }

    /// A hash of everything that a gather can answer with.
    fn hashed(&self) -> u64 {
        let mut print = Fingerprint::new();
        self.origin.to_array().iter().for_each(|v| print.f64(*v));
        print.u64(self.body);
        for t in &self.triangles {
            [t.a, t.b, t.c].iter().flat_map(|p| p.to_array()).for_each(|v| print.f32(v));
            print.u64(u64::from(t.one_way) << 48 | u64::from(t.id) << 16 | u64::from(t.surface));
        }
        print.value()
    }

    /// How many triangles it holds.
    #[must_use]
    pub fn triangles(&self) -> usize {
        self.triangles.len()
    }

    /// How many triangles were left out because they have no area.
    #[must_use]
    pub fn dropped(&self) -> usize {
        self.dropped
    }

    /// The least and greatest corner of its bounds, in the world, metres.
    #[must_use]
    pub fn bounds(&self) -> (DVec3, DVec3) {
        let root = self.tree.nodes[0].aabb();
        let (min, max) = (Vec3::from(root.min), Vec3::from(root.max));
        (self.origin + min.as_dvec3(), self.origin + max.as_dvec3())
    }

    /// The corners of every triangle in the world, with its surface: for drawing, exporting and checking.
    pub fn corners(&self) -> impl Iterator<Item = ([DVec3; 3], u16)> + '_ {
        self.triangles.iter().map(|t| ([t.a, t.b, t.c].map(|p| self.origin + p.as_dvec3()), t.surface))
    }
}

impl core::fmt::Debug for Mesh {
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        f.debug_struct("Mesh").field("triangles", &self.triangles.len()).field("bounds", &self.bounds()).finish()
    }
}

fn checked_origin<V: Vertex>(vertices: &[V]) -> Result<DVec3, MeshError> {
    let (mut min, mut max) = (DVec3::INFINITY, DVec3::NEG_INFINITY);
    for (vertex, point) in vertices.iter().map(|v| v.xyz()).enumerate() {
        if !point.is_finite() {
            return Err(MeshError::NotFinite { vertex, at: point.to_array() });
        }
        (min, max) = (min.min(point), max.max(point));
    }
    if vertices.is_empty() {
        return Ok(DVec3::ZERO);
    }
    let middle = (min + max) / 2.0;
    let origin = (middle / ORIGIN_GRID).round() * ORIGIN_GRID;
    let reach = (max - origin).abs().max((min - origin).abs()).max_element();
    if reach > MOST_REACH {
        return Err(MeshError::TooLarge { reach, most: MOST_REACH });
    }
    Ok(origin)
}

fn check_indices(indices: &[u32], vertices: usize) -> Result<(), MeshError> {
    if !indices.len().is_multiple_of(3) {
        return Err(MeshError::NotInThrees { indices: indices.len() });
    }
    match indices.iter().position(|&i| i as usize >= vertices) {
        Some(at) => Err(MeshError::OutOfRange { triangle: at / 3, index: indices[at], vertices }),
        None => Ok(()),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::terrain::{Layers, Patch, Terrain, When, Who};

    const CORNERS: [[f32; 3]; 4] = [[0.0, 0.0, 0.0], [4.0, 0.0, 0.0], [4.0, 0.0, 4.0], [0.0, 0.0, 4.0]];
    const WHEN: When = When {
        number: 0,
        dt: 0.01,
        who: Who { id: 0, on: Layers::FIRST, touches: Layers::ALL },
        from: 0.0,
        span: 0.01,
    };

    fn around(mesh: &Mesh, origin: DVec3) -> Patch {
        let mut patch = Patch::default();
        patch.reset(origin, Vec3::splat(-1.0), Vec3::splat(1.0));
        mesh.gather(WHEN, &mut patch);
        patch
    }

    #[test]
    fn bad_meshes_are_refused_by_name() {
        let nan = [[0.0, 0.0, 0.0], [1.0, f32::NAN, 0.0], [0.0, 0.0, 1.0]];
        assert!(matches!(Mesh::new(&nan, &[0, 1, 2]), Err(MeshError::NotFinite { vertex: 1, .. })));
        let out = Mesh::new(&CORNERS, &[0, 1, 2, 0, 2, 9]).unwrap_err();
        assert_eq!(out, MeshError::OutOfRange { triangle: 1, index: 9, vertices: 4 });
        assert_eq!(Mesh::new(&CORNERS, &[0, 1]).unwrap_err(), MeshError::NotInThrees { indices: 2 });
        assert_eq!(Mesh::new(&CORNERS, &[]).unwrap_err(), MeshError::NoTriangles { given: 0 });
        assert_eq!(Mesh::new(&CORNERS, &[1, 1, 2]).unwrap_err(), MeshError::NoTriangles { given: 1 });
        let far = [[0.0, 0.0, 0.0], [1e9, 0.0, 0.0], [0.0, 0.0, 1.0f64]];
        assert!(matches!(Mesh::new(&far, &[0, 1, 2]), Err(MeshError::TooLarge { .. })));
        assert!(Mesh::new(&CORNERS, &[0, 1, 2]).unwrap().with_surfaces(&[1, 2]).is_err());
    }

    #[test]
    fn a_gather_far_from_home_is_as_exact_as_at_home() {
        let far: Vec<[f64; 3]> =
            CORNERS.iter().map(|c| [f64::from(c[0]) + 100_000.3, 7.0, f64::from(c[2]) - 5_000.7]).collect();
        let mesh = Mesh::new(&far, &[0, 1, 2, 0, 2, 3]).unwrap();
        let patch = around(&mesh, DVec3::new(100_002.3, 7.5, -4_998.7));
        assert_eq!(patch.facets().len(), 2);
        let facet = patch.facets()[0];
        assert!((facet.height_of(Vec3::ZERO).abs() - 0.5).abs() < 1e-6);
        assert!((facet.a - Vec3::new(-2.0, -0.5, -2.0)).length() < 1e-4, "{}", facet.a);
    }

    #[test]
    fn a_ray_meets_the_floor_and_says_what_it_is_made_of() {
        let mesh = Mesh::new(&CORNERS, &[0, 1, 2, 0, 2, 3]).unwrap().with_surfaces(&[3, 4]).unwrap().with_body(9);
        let hit = mesh.cast(WHEN, DVec3::new(1.0, 2.0, 3.0), Vec3::NEG_Y, 10.0).unwrap();
        assert!((hit.distance - 2.0).abs() < 1e-6);
        assert_eq!((hit.surface, hit.body), (4, 9));
        assert_eq!(mesh.cast(WHEN, DVec3::new(1.0, 2.0, 3.0), Vec3::NEG_Y, 1.0), None);
        assert_eq!(mesh.cast(WHEN, DVec3::new(1.0, 2.0, 3.0), Vec3::Y, 10.0), None);
    }
}
