//! The built-in grounds: plates, walls and ramps.

use newel::glam::DVec3;
use newel::{Hold, Mesh};

/// Corners and triangles being put together.
#[derive(Clone, Default)]
pub(crate) struct Ground {
    corners: Vec<[f64; 3]>,
    indices: Vec<u32>,
    is_one_way: bool,
    gives_hold: bool,
}

/// How far the grounds reach, metres: further than any trial goes.
const WIDE: f64 = 2000.0;

impl Ground {
    /// A level floor without end.
    pub fn floor() -> Ground {
        Ground::default().block([-WIDE, -10.0, -WIDE], [WIDE, 0.0, WIDE])
    }

    /// A level floor that ends at x = 0.
    pub fn quay() -> Ground {
        Ground::default().block([-WIDE, -50.0, -WIDE], [0.0, 0.0, WIDE])
    }

    /// The same with a floor at this height from x = `gap` on.
    pub fn beyond(self, gap: f64, height: f64) -> Ground {
        self.block([gap, -50.0, -WIDE], [gap + WIDE, height, WIDE])
    }

    /// The same with a box.
    pub fn block(self, min: [f64; 3], max: [f64; 3]) -> Ground {
        let p = |x: usize, y: usize, z: usize| [[min, max][x][0], [min, max][y][1], [min, max][z][2]];
        self.quad([p(0, 1, 0), p(0, 1, 1), p(1, 1, 1), p(1, 1, 0)])
            .quad([p(0, 0, 0), p(0, 0, 1), p(0, 1, 1), p(0, 1, 0)])
            .quad([p(1, 0, 0), p(1, 1, 0), p(1, 1, 1), p(1, 0, 1)])
            .quad([p(0, 0, 0), p(0, 1, 0), p(1, 1, 0), p(1, 0, 0)])
            .quad([p(0, 0, 1), p(1, 0, 1), p(1, 1, 1), p(0, 1, 1)])
    }

    /// The same with a ramp up from x = 0, 50 m long.
    pub fn ramp(self, degrees: f64) -> Ground {
        let (rise, run) = degrees.to_radians().sin_cos();
        let (x, y) = (50.0 * run, 50.0 * rise);
        self.quad([[0.0, 0.0, -WIDE], [0.0, 0.0, WIDE], [x, y, WIDE], [x, y, -WIDE]])
    }

    /// The same, all of it passed from below and dropped through.
    pub fn passed_from_below(self) -> Ground {
        Ground { is_one_way: true, ..self }
    }

    /// The same, all of it to be climbed.
    pub fn that_holds(self) -> Ground {
        Ground { gives_hold: true, ..self }
    }

    fn quad(mut self, corners: [[f64; 3]; 4]) -> Ground {
        let first = self.corners.len() as u32;
        self.corners.extend(corners);
        self.indices.extend([0, 1, 2, 0, 2, 3].map(|i| first + i));
        self
    }

    /// As terrain.
    pub fn mesh(&self) -> Mesh {
        // Made of the numbers above, none of which a mesh refuses.
        let mesh = Mesh::new(&self.corners, &self.indices).unwrap_or_else(|e| unreachable!("a built-in ground: {e}"));
        let mesh = if self.is_one_way { mesh.with_one_way(0) } else { mesh };
        if self.gives_hold { mesh.with_hold(0, Hold::Wall) } else { mesh }
    }
}

/// East, the way that every trial goes.
pub(crate) const AHEAD: DVec3 = DVec3::X;
