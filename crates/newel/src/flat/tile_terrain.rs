//! A grid of tiles as terrain. Rays go from cell to cell (Amanatides and Woo, *A Fast Voxel Traversal Algorithm for Ray Tracing*, 1987).

use glam::{DVec2, DVec3, Vec3};

use super::slab::{in_picture, in_world};
use super::tiles::Tiles;
use crate::fingerprint::Fingerprint;
use crate::terrain::{Footing, Hold, Patch, RayHit, Terrain, When};

impl Terrain for Tiles {
    fn gather(&self, _when: When, patch: &mut Patch) {
        let (low, high) = patch.world_bounds();
        let [a, b] = [low, high].map(|corner| in_picture(&self.scale, corner));
        let (low, high) = (a.min(b), a.max(b));
        for row in self.between(low.y, high.y, self.rows()) {
            for x in self.between(low.x, high.x, (0, self.wide as i64 - 1)) {
                self.add_tile(x, row, patch);
            }
        }
    }

    fn stamp(&self, _when: When, _within: (DVec3, DVec3)) -> Option<u64> {
        let mut print = Fingerprint::new();
        let view = u64::from(self.scale.is_y_down()) | u64::from(self.scale.is_top_view()) << 1;
        [self.print, self.wide as u64, view].iter().for_each(|x| print.u64(*x));
        print.f64(self.side);
        Some(print.value())
    }

    fn footing(&self, surface: u16) -> Footing {
        self.footings.of(surface).unwrap_or_default()
    }

    fn hold(&self, surface: u16) -> Hold {
        self.holds.of(surface).unwrap_or_default()
    }

    fn cast(&self, _when: When, from: DVec3, along: Vec3, length: f64) -> Option<RayHit> {
        cast(self, from, along, length)
    }
}

/// No ray goes through more cells.
const MOST: usize = 1 << 20;

/// Where a ray first meets a tile from outside, or leaves the one that it begins in.
fn cast(tiles: &Tiles, from: DVec3, along: Vec3, length: f64) -> Option<RayHit> {
    let scale = tiles.scale();
    let (start, way) = (in_picture(&scale, from), in_picture(&scale, along.as_dvec3()));
    if !(start.is_finite() && way.is_finite() && length > 0.0) || way == DVec2::ZERO {
        return None;
    }
    let side = tiles.side();
    let mut cell = (start / side).floor();
    let step = way.signum();
    let (mut t, mut count) = (0.0, 0);
    while t <= length && count < MOST {
        count += 1;
        let bound = |axis: usize| {
            let edge = (cell[axis] + f64::from(step[axis] > 0.0)) * side;
            if way[axis] == 0.0 { f64::INFINITY } else { (edge - start[axis]) / way[axis] }
        };
        let (x, y) = (bound(0), bound(1));
        let end = x.min(y);
        if let Some((at, normal)) = in_cell(tiles, cell, start, way, (t, end.min(length))) {
            let surface = tiles.surface_at(cell.x as i64, cell.y as i64);
            let normal = in_world(&scale, normal).as_vec3();
            return Some(RayHit { distance: at, normal, surface, body: 0, one_way: false });
        }
        t = end;
        cell[usize::from(y < x)] += step[usize::from(y < x)];
    }
    None
}

/// The first side of the tile in a cell that a ray crosses between two of its moments, and that side's normal, outward.
fn in_cell(tiles: &Tiles, cell: DVec2, start: DVec2, way: DVec2, (from, to): (f64, f64)) -> Option<(f64, DVec2)> {
    let (left, right) = tiles.profile(cell.x as i64, cell.y as i64)?;
    let side = tiles.side();
    let at = |u: f64, v: f64| (cell + DVec2::new(u, v)) * side;
    let corners = [at(0.0, 0.0), at(1.0, 0.0), at(1.0, right), at(0.0, left)];
    let slack = 1e-9 * side;
    let crossed = (0..4).filter_map(|i| {
        let (a, b) = (corners[i], corners[(i + 1) % 4]);
        let normal = DVec2::new(b.y - a.y, a.x - b.x);
        let closing = normal.dot(way);
        if closing == 0.0 || a == b {
            return None;
        }
        let t = normal.dot(a - start) / closing;
        let part = (start + way * t - a).dot(b - a) / (b - a).length_squared();
        let inside = (from - slack..=to + slack).contains(&t) && (0.0..=1.0).contains(&part);
        // Between two solid tiles there is nothing: a side that another covers is met from inside it alone.
        (inside && t >= 0.0 && !is_covered(tiles, cell, i, part, (left, right))).then(|| (t, normal / normal.length()))
    });
    crossed.min_by(|a, b| a.0.total_cmp(&b.0))
}

/// True where the neighbour of a cell is solid just there.
fn is_covered(tiles: &Tiles, cell: DVec2, side: usize, part: f64, (left, right): (f64, f64)) -> bool {
    let beside = |dx: i64, dy: i64| tiles.profile(cell.x as i64 + dx, cell.y as i64 + dy);
    match side {
        0 => beside(0, -1).is_some_and(|(l, r)| l >= 1.0 && r >= 1.0),
        1 => beside(1, 0).is_some_and(|(l, _)| part * right <= l),
        2 => left >= 1.0 && right >= 1.0 && beside(0, 1).is_some(),
        _ => beside(-1, 0).is_some_and(|(_, r)| (1.0 - part) * left <= r),
    }
}
