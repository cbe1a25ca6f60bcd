//! Relations between a mesh's triangles: trustworthy normals, and which edges are real corners.

use glam::{DVec3, Vec3};

/// Worked out once when a mesh is built.
pub(super) struct Topology {
    normals: Vec<Option<Vec3>>,
    corners: Vec<u8>,
}

/// A triangle lower than this many times what its corners are exact to is a sliver: their rounding turns its normal by
/// a degree or more, so it takes its neighbours'.
const SLIVER: f64 = 64.0;
/// A neighbour that bends away by less than this sine continues the surface: the edge between is no corner.
const BEND: f32 = 2e-3;

impl Topology {
    /// `exact` is how far, in metres, rounding may have moved a corner before it came here.
    pub(super) fn new(vertices: &[DVec3], indices: &[u32], exact: f64) -> Topology {
        let welded = weld(vertices);
        let triangles: Vec<[u32; 3]> =
            indices.chunks_exact(3).map(|t| [t[0], t[1], t[2]].map(|i| welded[i as usize])).collect();
        let shapes: Vec<Shape> = triangles.iter().map(|t| Shape::new(t.map(|i| vertices[i as usize]), exact)).collect();
        let sides = Sides::new(&triangles);
        let normals = normals(&shapes, &sides);
        let corners = (0..triangles.len()).map(|t| corners_of(t, vertices, &triangles, &sides, &normals)).collect();
        Topology { normals, corners }
    }

    /// The unit normal, right-handed about its corners; `None` for a triangle without area.
    pub(super) fn normal(&self, triangle: usize) -> Option<Vec3> {
        self.normals[triangle]
    }

    /// The edges that are real corners, as in [`Facet::corners`](crate::Facet::corners).
    pub(super) fn corners(&self, triangle: usize) -> u8 {
        self.corners[triangle]
    }
}

/// For each vertex the first one at the very same place.
fn weld(vertices: &[DVec3]) -> Vec<u32> {
    // Adding zero turns -0.0 into 0.0, so that both weld.
    let key = |i: u32| (vertices[i as usize] + DVec3::ZERO).to_array().map(f64::to_bits);
    let mut order: Vec<u32> = (0..vertices.len() as u32).collect();
    order.sort_unstable_by_key(|&i| (key(i), i));
    let mut welded = vec![0; vertices.len()];
    for run in order.chunk_by(|&i, &j| key(i) == key(j)) {
        for &i in run {
            welded[i as usize] = run[0];
        }
    }
    welded
}

/// The normal of one triangle by itself, and whether it can be trusted.
#[derive(Clone, Copy)]
struct Shape {
    normal: Option<Vec3>,
    sliver: bool,
    longest: u8,
}

impl Shape {
    fn new([a, b, c]: [DVec3; 3], exact: f64) -> Shape {
        let cross = (b - a).cross(c - a);
        let area2 = cross.length();
        let lengths = [(b - a).length(), (c - b).length(), (a - c).length()];
        let longest = (0..3).max_by(|&i, &j| lengths[i].total_cmp(&lengths[j])).unwrap_or(0);
        let size = lengths[longest];
        let has_area = area2 > 1e-12 * size * size && size > 0.0;
        let normal = has_area.then(|| (cross / area2).as_vec3());
        Shape { normal, sliver: area2 < SLIVER * exact * size, longest: longest as u8 }
    }
}

/// Which triangles share an edge: every side of every triangle, sorted by its two ends.
struct Sides(Vec<Side>);

#[derive(Clone, Copy)]
struct Side {
    ends: (u32, u32),
    /// Three times the triangle, and which of its edges.
    number: u32,
}

impl Side {
    fn triangle(self) -> usize {
        self.number as usize / 3
    }

    fn edge(self) -> u8 {
        (self.number % 3) as u8
    }
}

impl Sides {
    fn new(triangles: &[[u32; 3]]) -> Sides {
        let mut sides = Vec::with_capacity(triangles.len() * 3);
        for (t, corner) in triangles.iter().enumerate() {
            for edge in 0..3 {
                let (i, j) = (corner[edge], corner[(edge + 1) % 3]);
                sides.push(Side { ends: (i.min(j), i.max(j)), number: (3 * t + edge) as u32 });
            }
        }
        sides.sort_unstable_by_key(|s| (s.ends, s.number));
        Sides(sides)
    }

    /// The other triangles along the edge with these ends.
    fn beside(&self, ends: (u32, u32), triangle: usize) -> impl Iterator<Item = usize> + '_ {
        let first = self.0.partition_point(|s| s.ends < ends);
        self.0[first..]
            .iter()
            .take_while(move |s| s.ends == ends)
            .map(|s| s.triangle())
            .filter(move |other| *other != triangle)
    }
}

/// Slivers take the normal of the neighbour across their longest edge that is none, turned to their own side.
fn normals(shapes: &[Shape], sides: &Sides) -> Vec<Option<Vec3>> {
    let mut normals: Vec<Option<Vec3>> = shapes.iter().map(|s| s.normal).collect();
    for side in &sides.0 {
        let t = side.triangle();
        let own = shapes[t];
        let (true, Some(normal)) = (own.sliver && own.longest == side.edge(), own.normal) else { continue };
        let lender = sides.beside(side.ends, t).find(|&n| !shapes[n].sliver);
        if let Some(lent) = lender.and_then(|n| shapes[n].normal) {
            normals[t] = Some(if lent.dot(normal) < 0.0 { -lent } else { lent });
        }
    }
    normals
}

/// An edge is a real corner unless exactly one other triangle shares it and continues it flatly. Facets are two-sided,
/// so an edge that bends at all is convex from one side or the other.
fn corners_of(t: usize, vertices: &[DVec3], triangles: &[[u32; 3]], sides: &Sides, normals: &[Option<Vec3>]) -> u8 {
    let mut corners = 0;
    let Some(normal) = normals[t] else { return 7 };
    for edge in 0..3 {
        let (i, j) = (triangles[t][edge], triangles[t][(edge + 1) % 3]);
        let mut beside = sides.beside((i.min(j), i.max(j)), t);
        let plain = match (beside.next(), beside.next()) {
            (Some(other), None) => continues(t, other, i, vertices, triangles, normal, normals[other]),
            _ => false,
        };
        if !plain {
            corners |= 1 << edge;
        }
    }
    corners
}

/// True where `other` continues the plane of `t` on the far side of the edge they share (which `end` is part of).
fn continues(
    t: usize,
    other: usize,
    end: u32,
    vertices: &[DVec3],
    triangles: &[[u32; 3]],
    normal: Vec3,
    other_normal: Option<Vec3>,
) -> bool {
    let Some(other_normal) = other_normal else { return false };
    let flat = normal.cross(other_normal).length() < BEND;
    let shared = |v: &&u32| triangles[t].contains(*v);
    let Some(&apex) = triangles[other].iter().find(|v| !shared(v)) else { return false };
    let Some(&own_apex) = triangles[t].iter().find(|v| !triangles[other].contains(v)) else { return false };
    let (at, own) =
        (vertices[apex as usize] - vertices[end as usize], vertices[own_apex as usize] - vertices[end as usize]);
    let edge = triangles[t].iter().find(|&&v| v != end && v != own_apex).map_or(DVec3::ZERO, |&v| vertices[v as usize]);
    let across = normal.as_dvec3().cross(edge - vertices[end as usize]);
    // Folded back onto itself is a rim, not a continuation.
    flat && across.dot(at) * across.dot(own) < 0.0
}

#[cfg(test)]
mod tests {
    use super::*;

    const EXACT: f64 = 1e-7;

    #[test]
    fn a_flat_quad_has_four_corners_and_a_plain_diagonal() {
        let v = [DVec3::ZERO, DVec3::X, DVec3::X + DVec3::Z, DVec3::Z];
        let topology = Topology::new(&v, &[0, 1, 2, 0, 2, 3], EXACT);
        assert_eq!(topology.corners(0), 0b011, "0-1 and 1-2 are rims, 2-0 is the diagonal");
        assert_eq!(topology.corners(1), 0b110);
    }

    #[test]
    fn a_fold_and_a_flap_are_corners_and_unwelded_copies_are_not() {
        let v = [DVec3::ZERO, DVec3::X, DVec3::X + DVec3::Z, DVec3::new(0.0, 1.0, 1.0)];
        assert_eq!(Topology::new(&v, &[0, 1, 2, 0, 2, 3], EXACT).corners(0), 7, "the diagonal is folded");
        let flap = [DVec3::ZERO, DVec3::X, DVec3::X + DVec3::Z, DVec3::new(0.9, 0.0, 0.5)];
        assert_eq!(
            Topology::new(&flap, &[0, 1, 2, 0, 2, 3], EXACT).corners(0),
            7,
            "the second lies back over the first"
        );
        let copies = [DVec3::ZERO, DVec3::X, DVec3::X + DVec3::Z, DVec3::ZERO, DVec3::X + DVec3::Z, DVec3::Z];
        assert_eq!(Topology::new(&copies, &[0, 1, 2, 3, 4, 5], EXACT).corners(0), 0b011);
    }

    #[test]
    fn slivers_borrow_and_specks_have_no_normal() {
        // A sliver whose third corner stands 0.1 mm out of the floor: its own normal is useless.
        let v = [DVec3::ZERO, DVec3::X, DVec3::new(0.5, 1e-4, -1e-4), DVec3::new(0.5, 0.0, 1.0)];
        let topology = Topology::new(&v, &[0, 1, 2, 1, 0, 3], 1e-4);
        assert!(topology.normal(0).unwrap().y.abs() > 0.999_999);
        let own = Topology::new(&v, &[0, 1, 2, 1, 0, 3], EXACT);
        assert!(own.normal(0).unwrap().y.abs() < 0.8, "where its corners are known better, its normal is its own");
        assert_eq!(topology.normal(0).map(|n| n.y > 0.0), own.normal(0).map(|n| n.y > 0.0), "turned to its own side");
        assert_eq!(Topology::new(&v, &[0, 1, 1], EXACT).normal(0), None);
    }
}
