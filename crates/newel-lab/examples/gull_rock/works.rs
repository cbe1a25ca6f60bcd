//! What people built: slipway, jetty, steps, beacon, lighthouse, cottage and wall.

use newel::glam::DVec3;

use crate::build::{Build, rectangle};
use crate::land::height;

/// The height of the slipway's surface at `z`.
fn slipway(z: f64) -> f64 {
    3.0 - (z - 12.5) * 0.3167
}

pub fn add_slipway(islet: &mut Build) {
    let (from, to) = (12.5, 25.0);
    let across = |low: f64, high: f64, z: f64, y: f64| [DVec3::new(low, y, z), DVec3::new(high, y, z)];
    let slab = |islet: &mut Build, material, x: (f64, f64), z: (f64, f64), top: f64, deep: f64| {
        let [a, b] = across(x.0, x.1, z.0, slipway(z.0) + top);
        let [d, c] = across(x.0, x.1, z.1, slipway(z.1) + top);
        let down = DVec3::Y * -(deep + top);
        islet.solid(material, &[a + down, d + down, c + down, b + down], &[a, d, c, b]);
    };
    slab(islet, "concrete", (4.0, 8.0), (from, to), 0.0, 0.8);
    slab(islet, "concrete", (3.75, 4.0), (from, to), 0.22, 0.8);
    // The kerb toward the sea leaves room for the jetty.
    slab(islet, "concrete", (8.0, 8.25), (from, 17.7), 0.22, 0.8);
    slab(islet, "concrete", (8.0, 8.25), (20.7, to), 0.22, 0.8);
}

/// The deck's height over the sea.
const DECK: f64 = 0.78;
/// Where the deck is broken, along x.
const GAP: (f64, f64) = (19.6, 21.8);

pub fn add_jetty(islet: &mut Build) {
    let (start, end) = (7.7, 30.1);
    let (pitch, width) = (0.30, 0.285);
    let mut x = start;
    while x + width < end {
        if x + width < GAP.0 || x > GAP.1 {
            islet.cuboid("plank", [x, DECK - 0.06, 18.0], [x + width, DECK, 20.4]);
        }
        x += pitch;
    }
    for (from, to) in [(start, GAP.0 - 0.2), (GAP.1 + 0.1, end)] {
        for z in [18.25, 20.0] {
            islet.cuboid("beam", [from, DECK - 0.26, z], [to, DECK - 0.06, z + 0.15]);
        }
    }
    for i in 0..9 {
        let x = 8.6 + 2.6 * f64::from(i);
        if (GAP.0 - 0.3..GAP.1 + 0.2).contains(&x) {
            continue;
        }
        for z in [17.85, 20.55] {
            islet.cone("pile", DVec3::new(x, -3.0, z), DECK + 3.9, 0.16, 0.14, 10);
        }
    }
}

pub fn add_skerry_steps(islet: &mut Build) {
    let (rise, tread, count) = (0.173, 0.33, 14);
    let end = 30.0 + tread * f64::from(count);
    for i in 0..count {
        let x = 30.0 + tread * f64::from(i);
        let top = DECK + rise * f64::from(i + 1);
        islet.cuboid("step", [x, top - rise - if i == 0 { 1.5 } else { 0.0 }, 18.1], [end, top, 20.3]);
    }
}

/// The platform the steps lead up to.
const PLATFORM: f64 = DECK + 0.173 * 14.0;

pub fn add_beacon(islet: &mut Build) {
    let middle = DVec3::new(37.4, 0.0, 19.2);
    islet.cone("masonry", middle - DVec3::Y, PLATFORM + 1.0, 3.35, 3.2, 28);
    let foot = middle + DVec3::Y * PLATFORM;
    islet.cone("paint_red", foot, 0.5, 0.9, 0.9, 16);
    islet.cone("paint_white", foot + DVec3::Y * 0.5, 2.2, 0.55, 0.4, 16);
    islet.cone("glass", foot + DVec3::Y * 2.7, 0.7, 0.42, 0.42, 16);
    islet.cone("paint_red", foot + DVec3::Y * 3.4, 0.5, 0.6, 0.0, 16);
}

pub fn add_lighthouse(islet: &mut Build) {
    let middle = DVec3::new(-4.0, 0.0, -3.0);
    let at = |y: f64| middle + DVec3::Y * y;
    islet.cone("masonry", at(5.4), 0.85, 5.2, 5.0, 36);
    islet.cone("masonry", at(6.25), 0.25, 4.3, 4.3, 36);
    for (low, high, material) in
        [(0, 1, "paint_white"), (1, 2, "paint_red"), (2, 3, "paint_white"), (3, 4, "paint_red")]
    {
        let radius = |i: i32| 2.7 - 0.25 * f64::from(i);
        islet.cone(material, at(6.5 + 3.4 * f64::from(low)), 3.4, radius(low), radius(high), 32);
    }
    let gallery = 6.5 + 4.0 * 3.4;
    islet.cone("masonry", at(gallery), 0.3, 2.2, 2.5, 32);
    islet.cone("glass", at(gallery + 0.3), 2.2, 1.25, 1.25, 16);
    islet.cone("paint_red", at(gallery + 2.5), 1.5, 1.6, 0.0, 16);
    for i in 0..16 {
        let angle = std::f64::consts::TAU * f64::from(i) / 16.0;
        let post = at(gallery + 0.3) + DVec3::new(2.35 * angle.cos(), 0.0, 2.35 * angle.sin());
        islet.cone("iron", post, 1.0, 0.04, 0.04, 5);
    }
    // The porch, with the door to the south.
    islet.cuboid("masonry", [-5.0, 6.5, -0.9], [-4.7, 8.9, 0.3]);
    islet.cuboid("masonry", [-3.3, 6.5, -0.9], [-3.0, 8.9, 0.3]);
    islet.cuboid("slate", [-5.2, 8.9, -1.0], [-2.8, 9.1, 0.5]);
    islet.cuboid("door", [-4.7, 6.5, -0.6], [-3.3, 8.7, -0.45]);
}

pub fn add_cottage(islet: &mut Build) {
    let (x, z, floor, eaves) = ((-16.2, -10.0), (1.0, 5.2), 5.7, 8.5);
    islet.cuboid("plaster", [x.0, floor, z.0], [x.1, eaves, z.1]);
    let ridge = 10.2;
    let middle = (z.0 + z.1) / 2.0;
    let over = 0.35;
    let p = |x: f64, y: f64, z: f64| DVec3::new(x, y, z);
    let (l, r) = (x.0 - over, x.1 + over);
    let low = rectangle([l, 0.0, z.0 - over], [r, 0.0, z.1 + over], eaves);
    islet.quad("slate", [low[1], low[2], p(r, ridge, middle), p(l, ridge, middle)]);
    islet.quad("slate", [low[3], low[0], p(l, ridge, middle), p(r, ridge, middle)]);
    islet.triangle("plaster", [low[0], low[1], p(l, ridge, middle)]);
    islet.triangle("plaster", [low[2], low[3], p(r, ridge, middle)]);
    islet.quad("slate", [low[3], low[2], low[1], low[0]]);
    islet.cuboid("masonry", [-15.4, eaves, middle - 0.4], [-14.6, ridge + 0.8, middle + 0.4]);
    islet.cuboid("door", [-13.6, 6.0, z.1 - 0.05], [-12.5, 8.0, z.1 + 0.05]);
}

/// A low dry-stone wall round the garden south of the cottage.
pub fn add_garden_wall(islet: &mut Build) {
    let corners: [(f64, f64); 4] = [(-17.5, 5.6), (-17.6, 9.4), (-9.2, 9.9), (-8.4, 6.2)];
    for pair in corners.windows(2) {
        let ((ax, az), (bx, bz)) = (pair[0], pair[1]);
        let length = (bx - ax).hypot(bz - az);
        let count = (length / 0.7).round() as i32;
        for i in 0..count {
            let part = |k: i32| f64::from(k) / f64::from(count);
            let (sx, sz) = (-(bz - az) / length * 0.22, (bx - ax) / length * 0.22);
            let at = |k: i32| (ax + (bx - ax) * part(k), az + (bz - az) * part(k));
            let ((px, pz), (qx, qz)) = (at(i), at(i + 1));
            let top = height((px + qx) / 2.0, (pz + qz) / 2.0) + 0.85 + 0.07 * f64::from((i * 7) % 3);
            let foot = top - 1.7;
            let ring = |y: f64| {
                [(px + sx, pz + sz), (qx + sx, qz + sz), (qx - sx, qz - sz), (px - sx, pz - sz)]
                    .map(|(x, z)| DVec3::new(x, y, z))
            };
            islet.solid("drystone", &ring(foot), &ring(top));
        }
    }
}
