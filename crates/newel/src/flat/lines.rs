//! Drawn lines as terrain.

use glam::DVec2;

use super::Scale;
use super::slab::in_world;
use crate::terrain::{Mesh, MeshError};

/// How far to either side of the picture they reach, metres.
const DEEP: f64 = 64.0;

/// Lines of a picture, each through its points in pixels, as terrain: walls and floors without thickness, solid from both sides. The
/// triangles of a line are two for each of its pieces, in order, and their normals point to the right of the way along it: with
/// [`Mesh::with_one_way`] it is stood on there. [`Mesh::with_surfaces`] says what each is made of.
///
/// ```
/// use newel::glam::DVec2;
/// use newel::{Tuning, flat};
/// let px = flat::Scale::new(32.0)?.y_down();
/// let shore = [[0.0, 100.0], [320.0, 100.0], [640.0, 160.0], [960.0, 160.0]].map(DVec2::from_array);
/// let level = flat::lines(px, &[&shore])?;
/// let mut hero = flat::Runner::spawn(&level, &Tuning::walker(), px.at(100.0, 100.0))?;
/// for _frame in 0..300 {
///     hero.advance(1.0 / 60.0, &level, &Tuning::walker(), |_| flat::toward(1.0, 0.0), |_| {})?;
/// }
/// assert!(hero.position().x > 640.0 && (hero.position().y - 160.0).abs() < 0.01, "down the slope and on");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
///
/// # Errors
/// As [`Mesh::new`]: a point that is not finite or too far off, or no line with a length.
pub fn lines(scale: Scale, lines: &[&[DVec2]]) -> Result<Mesh, MeshError> {
    let deep = scale.normal().as_dvec3() * DEEP;
    let (mut corners, mut indices) = (Vec::new(), Vec::new());
    for line in lines {
        for pair in line.windows(2) {
            let first = corners.len() as u32;
            // As a tile's sides are, in metres with y up.
            let [a, b] = [pair[0], pair[1]].map(|p| in_world(&scale, scale.upward(p)));
            corners.extend([a + deep, a - deep, b - deep, b + deep].map(|p| p.to_array()));
            indices.extend([0, 1, 2, 0, 2, 3].map(|corner| first + corner));
        }
    }
    Mesh::new(&corners, &indices)
}
