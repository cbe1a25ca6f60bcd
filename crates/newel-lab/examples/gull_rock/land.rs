//! The land: shore, plateau, path, skerry, and the boulders along the water.

use newel::glam::DVec3;

use crate::build::Build;

/// A cell of the land, metres.
const CELL: f64 = 0.72;
/// Land lower than this is left to the sea.
const DEEPEST: f64 = -9.0;

/// The path from the lighthouse door to the head of the slipway: across, height, and down the page.
const PATH: [(f64, f64, f64); 5] =
    [(-4.0, 6.0, 3.0), (-1.0, 5.9, 6.5), (2.5, 5.0, 9.0), (4.8, 3.8, 11.0), (6.0, 3.02, 12.8)];

/// A number between 0 and 1 that depends on nothing but its arguments.
fn hash(x: i64, z: i64, seed: u64) -> f64 {
    let mut h = (x as u64).wrapping_mul(0x9E37_79B9_7F4A_7C15) ^ (z as u64).wrapping_mul(0xC2B2_AE3D_27D4_EB4F) ^ seed;
    for _ in 0..2 {
        h = (h ^ (h >> 31)).wrapping_mul(0xD6E8_FEB8_6659_FD93);
    }
    (h >> 11) as f64 / (1u64 << 53) as f64
}

/// Smooth noise between -1 and 1.
fn noise(x: f64, z: f64, seed: u64) -> f64 {
    let (i, k) = (x.floor(), z.floor());
    let ease = |t: f64| t * t * (3.0 - 2.0 * t);
    let (u, v) = (ease(x - i), ease(z - k));
    let at = |a: i64, b: i64| hash(i as i64 + a, k as i64 + b, seed);
    let row = |b: i64| at(0, b) + (at(1, b) - at(0, b)) * u;
    2.0 * (row(0) + (row(1) - row(0)) * v) - 1.0
}

fn rough(x: f64, z: f64) -> f64 {
    0.55 * noise(x / 6.0, z / 6.0, 11) + 0.28 * noise(x / 2.6, z / 2.6, 12) + 0.16 * noise(x / 1.2, z / 1.2, 13)
}

fn smooth(from: f64, to: f64, x: f64) -> f64 {
    let t = ((x - from) / (to - from)).clamp(0.0, 1.0);
    t * t * (3.0 - 2.0 * t)
}

/// The height of the land, metres over the sea.
pub fn height(x: f64, z: f64) -> f64 {
    let angle = z.atan2(x);
    let coast = 1.0 + 0.10 * noise(angle.cos() * 2.3 + 9.0, angle.sin() * 2.3, 3);
    let away = ((x + 4.0) / 27.0).hypot((z + 2.0) / 23.0) / coast;
    let north = smooth(0.0, -14.0, z);
    // Grass on top, a slope or a cliff, a shore, and the sea bed.
    let shelf = smooth(0.98, 0.52 + 0.30 * north, away) * 4.9;
    let shore = smooth(1.22, 0.90, away) * 3.9;
    let islet = shelf + shore - 2.9;
    let skerry = (x - 37.0).hypot(1.1 * (z - 19.0)) / 10.5;
    let rock = smooth(1.1, 0.35, skerry) * 4.2 - 2.9;
    let wild = islet.max(rock);
    let calm = 1.0 - 0.85 * smooth(4.6, 5.8, wild);
    let land = wild + rough(x, z) * 0.9 * calm * smooth(-3.0, -0.5, wild);
    on_slipway(x, z, on_path(x, z, on_pad(x, z, land)))
}

/// The level ground under the lighthouse and the cottage.
fn on_pad(x: f64, z: f64, land: f64) -> f64 {
    let tower = (x + 4.0).hypot(z + 3.0) - 6.5;
    let cottage = (x + 13.0).hypot(z - 3.0) - 4.5;
    land + (6.0 - land) * smooth(2.5, 0.0, tower.min(cottage))
}

fn on_path(x: f64, z: f64, land: f64) -> f64 {
    let mut best = (f64::INFINITY, land);
    for pair in PATH.windows(2) {
        let ((ax, ay, az), (bx, by, bz)) = (pair[0], pair[1]);
        let (dx, dz) = (bx - ax, bz - az);
        let along = (((x - ax) * dx + (z - az) * dz) / (dx * dx + dz * dz)).clamp(0.0, 1.0);
        let off = (x - ax - dx * along).hypot(z - az - dz * along);
        if off < best.0 {
            best = (off, ay + (by - ay) * along);
        }
    }
    land + (best.1 - land) * smooth(3.2, 1.3, best.0)
}

/// Dug away under the slipway.
fn on_slipway(x: f64, z: f64, land: f64) -> f64 {
    let beside = ((x - 6.0).abs() - 2.4).max(13.7 - z).max(z - 25.0);
    let bed = 3.0 - (z - 12.5) * 0.3167 - 0.6;
    let low = land.min(bed);
    low + (land - low) * smooth(0.0, 1.6, beside)
}

pub fn add_land(islet: &mut Build) {
    let (columns, rows) = ((94.0 / CELL) as i64, (72.0 / CELL) as i64);
    let corner = |i: i64, k: i64| {
        // Off the grid a little, so that no two triangles are alike.
        let x = -42.0 + (i as f64 + 0.3 * (hash(i, k, 21) - 0.5)) * CELL;
        let z = -34.0 + (k as f64 + 0.3 * (hash(i, k, 22) - 0.5)) * CELL;
        DVec3::new(x, height(x, z), z)
    };
    for k in 0..rows {
        for i in 0..columns {
            let [a, b, c, d] = [corner(i, k), corner(i, k + 1), corner(i + 1, k + 1), corner(i + 1, k)];
            if [a, b, c, d].iter().all(|p| p.y < DEEPEST) {
                continue;
            }
            // Split along the flatter diagonal.
            let halves =
                if (a.y - c.y).abs() < (b.y - d.y).abs() { [[a, b, c], [a, c, d]] } else { [[b, c, d], [b, d, a]] };
            halves.into_iter().for_each(|t| islet.triangle(cover(&t), t));
        }
    }
}

/// Plants and stones.
fn cover(t: &[DVec3; 3]) -> &'static str {
    let middle = (t[0] + t[1] + t[2]) / 3.0;
    let normal = (t[1] - t[0]).cross(t[2] - t[0]);
    let level = normal.y.abs() / normal.length();
    let path = (on_path(middle.x, middle.z, 100.0) - 100.0).abs() > 60.0 && middle.y > 2.4;
    match middle.y {
        y if y < -0.5 => "seabed",
        y if path && y > 2.4 && level > 0.8 => "path",
        y if y < 1.1 && level > 0.93 => "sand",
        y if y > 1.6 && level > 0.86 => "grass",
        _ => "rock",
    }
}

/// Boulders along the water's edge.
pub fn add_boulders(islet: &mut Build) {
    let mut placed = 0;
    for n in 0.. {
        let (x, z) = (-38.0 + 86.0 * hash(n, 1, 31), -30.0 + 64.0 * hash(n, 2, 31));
        let y = height(x, z);
        let works = (0.0..36.0).contains(&x) && (11.0..26.0).contains(&z);
        if (-0.7..1.4).contains(&y) && !works {
            let size = 0.35 + 1.15 * hash(n, 3, 31).powi(2);
            add_boulder(islet, DVec3::new(x, y + 0.15 * size, z), size, n);
            placed += 1;
        }
        if placed == 90 {
            break;
        }
    }
}

fn add_boulder(islet: &mut Build, middle: DVec3, size: f64, n: i64) {
    let golden = (1.0 + 5f64.sqrt()) / 2.0;
    let mut corners: Vec<DVec3> = Vec::new();
    for (p, q) in [(1.0, golden), (1.0, -golden), (-1.0, golden), (-1.0, -golden)] {
        corners.extend([DVec3::new(0.0, p, q), DVec3::new(p, q, 0.0), DVec3::new(q, 0.0, p)]);
    }
    // The twenty faces of an icosahedron are the triples at the shortest distance from each other.
    let near = |a: DVec3, b: DVec3| ((a - b).length() - 2.0).abs() < 1e-9;
    let place = |p: DVec3| {
        let way = p / p.length();
        let bump = 1.0 + 0.35 * noise(way.x * 2.0 + n as f64 * 7.0, way.z * 2.0 + way.y * 1.7, 41);
        middle + DVec3::new(way.x * 1.15, way.y * 0.75, way.z) * (size * bump)
    };
    for i in 0..12 {
        for j in i + 1..12 {
            for k in j + 1..12 {
                let (a, b, c) = (corners[i], corners[j], corners[k]);
                if near(a, b) && near(b, c) && near(a, c) {
                    let outward = (b - a).cross(c - a).dot(a) > 0.0;
                    let [a, b, c] = if outward { [a, b, c] } else { [a, c, b] };
                    let [ab, bc, ca] = [(a + b) / 2.0, (b + c) / 2.0, (c + a) / 2.0];
                    for face in [[a, ab, ca], [ab, b, bc], [ca, bc, c], [ab, bc, ca]] {
                        islet.triangle("boulder", face.map(place));
                    }
                }
            }
        }
    }
}
