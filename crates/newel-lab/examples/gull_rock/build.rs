//! Triangles by material, and the solids that the islet's works are made of.

use std::collections::{BTreeMap, HashMap};

use newel::glam::{DVec3, Vec3};

/// Geometry built so far.
#[derive(Default)]
pub struct Build {
    pub parts: BTreeMap<&'static str, Part>,
}

/// All triangles of one material, corners shared.
#[derive(Default)]
pub struct Part {
    pub corners: Vec<Vec3>,
    pub indices: Vec<u32>,
    known: HashMap<[i64; 3], u32>,
}

impl Build {
    pub fn triangles(&self) -> usize {
        self.parts.values().map(|p| p.indices.len() / 3).sum()
    }

    pub fn triangle(&mut self, material: &'static str, corners: [DVec3; 3]) {
        let part = self.parts.entry(material).or_default();
        for corner in corners {
            // Corners within a tenth of a millimetre are one.
            let key = (corner * 10_000.0).round().to_array().map(|x| x as i64);
            let next = part.corners.len() as u32;
            let index = *part.known.entry(key).or_insert(next);
            if index == next {
                part.corners.push(corner.as_vec3());
            }
            part.indices.push(index);
        }
    }

    pub fn quad(&mut self, material: &'static str, [a, b, c, d]: [DVec3; 4]) {
        self.triangle(material, [a, b, c]);
        self.triangle(material, [a, c, d]);
    }

    /// A solid between two rings of as many corners, bottom and top, anticlockwise seen from above.
    pub fn solid(&mut self, material: &'static str, bottom: &[DVec3], top: &[DVec3]) {
        let count = bottom.len();
        for i in 0..count {
            let j = (i + 1) % count;
            self.quad(material, [bottom[i], bottom[j], top[j], top[i]]);
        }
        for i in 1..count - 1 {
            self.triangle(material, [top[0], top[i], top[i + 1]]);
            self.triangle(material, [bottom[0], bottom[i + 1], bottom[i]]);
        }
    }

    /// An upright box between two corners.
    pub fn cuboid(&mut self, material: &'static str, from: [f64; 3], to: [f64; 3]) {
        self.solid(material, &rectangle(from, to, from[1]), &rectangle(from, to, to[1]));
    }

    /// A round solid, `sides` round, whose radius goes from `low` at `from` to `high` at `from + height`.
    pub fn cone(&mut self, material: &'static str, from: DVec3, height: f64, low: f64, high: f64, sides: usize) {
        let top = from + DVec3::Y * height;
        self.solid(material, &ring(from, low, sides), &ring(top, high.max(1e-3), sides));
    }
}

/// The corners of a level rectangle, anticlockwise seen from above.
pub fn rectangle(from: [f64; 3], to: [f64; 3], y: f64) -> [DVec3; 4] {
    [(from[0], from[2]), (from[0], to[2]), (to[0], to[2]), (to[0], from[2])].map(|(x, z)| DVec3::new(x, y, z))
}

/// The corners of a level regular polygon, anticlockwise seen from above.
pub fn ring(middle: DVec3, radius: f64, sides: usize) -> Vec<DVec3> {
    let corner = |i: usize| {
        let angle = std::f64::consts::TAU * (i as f64 + 0.5) / sides as f64;
        middle + DVec3::new(radius * angle.cos(), 0.0, -radius * angle.sin())
    };
    (0..sides).map(corner).collect()
}
