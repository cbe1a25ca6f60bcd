//! Errors of meshes.

/// Why a mesh was refused.
#[derive(Clone, Debug, PartialEq)]
#[non_exhaustive]
pub enum MeshError {
    /// A coordinate is NaN or infinite.
    NotFinite {
        /// Which vertex, counted from 0.
        vertex: usize,
        /// Its coordinates.
        at: [f64; 3],
    },
    /// A triangle names a vertex that is not there.
    OutOfRange {
        /// Which triangle, counted from 0.
        triangle: usize,
        /// The index it names.
        index: u32,
        /// How many vertices there are.
        vertices: usize,
    },
    /// The indices do not come in threes.
    NotInThrees {
        /// How many there are.
        indices: usize,
    },
    /// There is no triangle with an area.
    NoTriangles {
        /// How many triangles were given.
        given: usize,
    },
    /// A corner is too far from the middle of the mesh to be exact.
    TooLarge {
        /// How far the furthest corner is from the mesh's origin, metres.
        reach: f64,
        /// The most that is allowed, metres.
        most: f64,
    },
    /// A box has no volume.
    Flat {
        /// Its size along x, y and z, metres.
        size: [f64; 3],
    },
    /// There is not one surface number for each triangle.
    Surfaces {
        /// How many surface numbers were given.
        given: usize,
        /// How many triangles the mesh was given.
        triangles: usize,
    },
}

impl core::fmt::Display for MeshError {
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        match self {
            MeshError::NotFinite { vertex, at } => {
                write!(f, "vertex {vertex} is at {at:?}: every coordinate must be a finite number of metres")
            }
            MeshError::Flat { size } => {
                write!(f, "the box is {size:?} m in size: two corners apart along every axis are needed")
            }
            MeshError::OutOfRange { triangle, index, vertices } => write!(
                f,
                "triangle {triangle} names vertex {index}, but there are only {vertices} (0 to {})",
                vertices.saturating_sub(1)
            ),
            MeshError::NotInThrees { indices } => {
                write!(f, "{indices} indices: triangles take three each, so their number must be a multiple of 3")
            }
            MeshError::NoTriangles { given: 0 } => write!(f, "the mesh has no triangles: at least one is needed"),
            MeshError::NoTriangles { given } => {
                write!(f, "none of the {given} triangles has an area: at least one must")
            }
            MeshError::TooLarge { reach, most } => write!(
                f,
                "a corner is {reach:.0} m from the middle of the mesh, at most {most:.0} m is allowed: split the mesh"
            ),
            MeshError::Surfaces { given, triangles } => {
                write!(f, "{given} surface numbers for {triangles} triangles: one for each is needed")
            }
        }
    }
}

impl core::error::Error for MeshError {}
