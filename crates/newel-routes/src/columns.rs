//! Floors under a square of the map, column by column: where it is worth trying to stand.

use newel::glam::{DVec2, DVec3};
use newel::{Effect, Patch, Terrain, When, Zone};

use crate::frame::Frame;

/// A place to try, on the map, and how high the feet would be there.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Try {
    pub map: DVec2,
    pub height: f64,
    /// Whether its floor is no steeper than what can be walked. A steeper one only shows where there is water to float in.
    pub is_walkable: bool,
    /// How far from the middle of its column.
    off: f64,
}

/// The columns of a square of the map.
pub(crate) struct Columns {
    /// The first column along each axis of the map, and how many there are along each.
    pub first: [i32; 2],
    pub count: usize,
    pub cell: f64,
    tries: Vec<Vec<Try>>,
    /// Terrain near each column.
    near: Vec<Vec<Stretch>>,
}

/// The heights between which a facet reaches near a column, and whether it is a gentle slope.
#[derive(Clone, Copy)]
struct Stretch {
    low: f64,
    high: f64,
    gentle: bool,
}

/// Possible floors: their steepest slope, what is between two, and the size of the foot.
#[derive(Clone, Copy)]
pub(crate) struct Floors {
    pub least_up: f64,
    /// Whether water over floors of any slope counts.
    pub swims: bool,
    pub apart: f64,
    pub radius: f64,
    /// Least upward part of a gentle normal.
    pub gentle: f64,
}

/// The feet are tried this much over the floor, metres.
const LIFT: f64 = 0.002;
/// The cosine of the steepest floor that is looked at under water.
const STEEPEST_UNDER_WATER: f64 = 0.1;

impl Columns {
    /// All that the terrain has for floors in `count` by `count` columns from the column `first`, and how many facets that took.
    pub fn of(
        terrain: &dyn Terrain,
        when: When,
        frame: Frame,
        square: ([i32; 2], usize, f64),
        heights: [f64; 2],
        floors: Floors,
    ) -> (Columns, usize) {
        let (first, count, cell) = square;
        let mut columns = Columns {
            first,
            count,
            cell,
            tries: vec![Vec::new(); count * count],
            near: vec![Vec::new(); count * count],
        };
        // Terrain near a column may lie beyond them all.
        let near = floors.radius + cell;
        let corner = DVec2::new(f64::from(first[0]), f64::from(first[1])) * cell;
        let (low, high) = bounds(frame, corner - near, corner + (count as f64 * cell + near), heights);
        let patch = Patch::of(terrain, when, low, high);
        let is_water = |zone: &&Zone| floors.swims && matches!(zone.effect, Effect::Water(_));
        let water: Vec<&Zone> = patch.zones().iter().filter(is_water).collect();
        for facet in patch.facets() {
            let level = facet.normal.as_dvec3().dot(frame.up).abs();
            let corners = [facet.a, facet.b, facet.c].map(|p| {
                let place = patch.origin() + p.as_dvec3();
                (frame.map(place), frame.height(place))
            });
            columns.note(corners, level >= floors.gentle, near);
            let is_walkable = level >= floors.least_up;
            if is_walkable || (level > STEEPEST_UNDER_WATER && water.iter().any(|zone| under(zone, corners, frame))) {
                let lift = LIFT + if is_walkable { floors.radius * (1.0 / level - 1.0) } else { 0.0 };
                columns.lay(corners, lift, is_walkable);
            }
        }
        if !patch.rounds().is_empty() {
            columns.near.clear();
        }
        columns.sort_out(floors.apart);
        (columns, patch.facets().len())
    }

    /// The same for a character that keeps to a plane seen from above: one try a column.
    pub fn level(square: ([i32; 2], usize, f64), height: f64) -> Columns {
        let (first, count, cell) = square;
        let mut columns = Columns { first, count, cell, tries: Vec::new(), near: Vec::new() };
        let tries =
            (0..count * count).map(|n| vec![Try { map: columns.middle(n), height, is_walkable: true, off: 0.0 }]);
        columns.tries = tries.collect();
        columns
    }

    /// The middle of a column on the map.
    pub fn middle(&self, column: usize) -> DVec2 {
        let (i, k) = (column % self.count, column / self.count);
        (DVec2::new(f64::from(self.first[0]), f64::from(self.first[1])) + DVec2::new(i as f64, k as f64) + 0.5)
            * self.cell
    }

    /// Tries in a column, lowest first.
    pub fn tries(&self, column: usize) -> &[Try] {
        &self.tries[column]
    }

    /// True where all that is near a column for somebody `tall` metres high, whose feet are at `height`, is one gentle floor: nothing to bump
    /// against, and no step higher than `step`.
    pub fn is_gentle(&self, column: usize, height: f64, tall: f64, step: f64) -> bool {
        let Some(near) = self.near.get(column) else { return false };
        let touches = |s: &&Stretch| s.high >= height - step && s.low <= height + tall + step;
        near.iter().filter(touches).all(|s| s.gentle && s.high <= height + step)
    }

    /// True where nothing near a column reaches between two heights.
    pub fn is_free(&self, column: usize, low: f64, high: f64) -> bool {
        self.near.get(column).is_some_and(|near| near.iter().all(|s| s.high < low || s.low > high))
    }

    /// Notes how high a triangle reaches near the columns that it comes within `far` of.
    fn note(&mut self, corners: [(DVec2, f64); 3], gentle: bool, far: f64) {
        let [a, b, c] = corners.map(|(map, _)| map);
        let (low, high) = (a.min(b).min(c) - far, a.max(b).max(c) + far);
        let heights = corners.map(|(_, height)| height);
        let least = heights.into_iter().fold(f64::INFINITY, f64::min);
        let most = heights.into_iter().fold(f64::NEG_INFINITY, f64::max);
        let slope = slope_of(corners);
        for column in self.between(low, high) {
            let (low, high) = match slope.filter(|_| gentle) {
                None => (least, most),
                Some(slope) => {
                    // As high as its plane is anywhere near the column, and as it is itself.
                    let middle = corners[0].1 + slope.dot(self.middle(column) - a);
                    let about = (slope.x.abs() + slope.y.abs()) * (far + 0.5 * self.cell);
                    ((middle - about).max(least), (middle + about).min(most))
                }
            };
            self.near[column].push(Stretch { low, high, gentle });
        }
    }

    /// The columns between two corners of the map.
    fn between(&self, low: DVec2, high: DVec2) -> impl Iterator<Item = usize> + use<> {
        let origin = DVec2::new(f64::from(self.first[0]), f64::from(self.first[1])) * self.cell;
        let (low, high) = (((low - origin) / self.cell).floor(), ((high - origin) / self.cell).floor());
        let (count, most) = (self.count, DVec2::splat(self.count as f64 - 1.0));
        let any = high.cmpge(DVec2::ZERO).all() && low.cmple(most).all();
        let (low, high) = (low.clamp(DVec2::ZERO, most), high.clamp(DVec2::ZERO, most));
        let rows = (low.y as usize..=high.y as usize).filter(move |_| any);
        rows.flat_map(move |k| (low.x as usize..=high.x as usize).map(move |i| k * count + i))
    }

    /// Lays a triangle over the columns that it reaches into.
    fn lay(&mut self, corners: [(DVec2, f64); 3], lift: f64, is_walkable: bool) {
        let [a, b, c] = corners.map(|(map, _)| map);
        for column in self.between(a.min(b).min(c), a.max(b).max(c)) {
            let middle = self.middle(column);
            let Some(weights) = nearest_in([a, b, c], middle) else { continue };
            let at = a * weights[0] + b * weights[1] + c * weights[2];
            let off = (at - middle).abs().max_element();
            if off <= 0.5 * self.cell {
                let height = corners.iter().zip(weights).map(|((_, h), w)| h * w).sum::<f64>() + lift;
                self.tries[column].push(Try { map: at, height, is_walkable, off });
            }
        }
    }

    /// One try for each floor of a column: of those less than `apart` over each other the one nearest to its middle.
    fn sort_out(&mut self, apart: f64) {
        for tries in &mut self.tries {
            // Of several triangles of one floor the higher has the foot.
            tries.sort_by(|a, b| {
                let walkable_first = b.is_walkable.cmp(&a.is_walkable);
                walkable_first.then(a.off.total_cmp(&b.off)).then(b.height.total_cmp(&a.height))
            });
            let mut kept: Vec<Try> = Vec::new();
            for one in tries.drain(..) {
                if kept.iter().all(|k| (k.height - one.height).abs() >= apart) {
                    kept.push(one);
                }
            }
            kept.sort_by(|a, b| a.height.total_cmp(&b.height));
            *tries = kept;
        }
    }
}

/// The box in the world that holds a square of the map between two heights.
fn bounds(frame: Frame, low: DVec2, high: DVec2, heights: [f64; 2]) -> (DVec3, DVec3) {
    let corners = [low, DVec2::new(low.x, high.y), high, DVec2::new(high.x, low.y)];
    let places = corners.into_iter().flat_map(|map| heights.map(|h| frame.place(map, h)));
    places.fold((DVec3::INFINITY, DVec3::NEG_INFINITY), |(l, h), p| (l.min(p), h.max(p)))
}

/// True where a corner of a triangle lies in a zone.
fn under(zone: &Zone, corners: [(DVec2, f64); 3], frame: Frame) -> bool {
    corners.iter().any(|(map, height)| zone.holds(frame.place(*map, *height)))
}

/// How its height changes over the map; `None` for a triangle that is upright.
fn slope_of(corners: [(DVec2, f64); 3]) -> Option<DVec2> {
    let [(a, p), (b, q), (c, r)] = corners;
    let (u, v) = (b - a, c - a);
    let area = u.perp_dot(v);
    let slope = DVec2::new((q - p) * v.y - (r - p) * u.y, (r - p) * u.x - (q - p) * v.x) / area;
    Some(slope).filter(|slope| slope.is_finite())
}

/// The weights of a triangle's corners at its point nearest to `p`; `None` where it has no area.
fn nearest_in(t: [DVec2; 3], p: DVec2) -> Option<[f64; 3]> {
    let [a, b, c] = t;
    let area = (b - a).perp_dot(c - a);
    if area.abs() < 1e-12 {
        return None;
    }
    let (v, w) = ((p - a).perp_dot(c - a) / area, (b - a).perp_dot(p - a) / area);
    if v >= 0.0 && w >= 0.0 && v + w <= 1.0 {
        return Some([1.0 - v - w, v, w]);
    }
    let on_edge = |from: usize, to: usize| {
        let (edge, way) = (t[to] - t[from], p - t[from]);
        let part = (way.dot(edge) / edge.length_squared()).clamp(0.0, 1.0);
        let mut weights = [0.0; 3];
        (weights[from], weights[to]) = (1.0 - part, part);
        ((way - edge * part).length_squared(), weights)
    };
    let edges = [on_edge(0, 1), on_edge(1, 2), on_edge(2, 0)];
    edges.into_iter().reduce(|a, b| if b.0 < a.0 { b } else { a }).map(|(_, weights)| weights)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_nearest_point_of_a_triangle() {
        let t = [DVec2::ZERO, DVec2::new(2.0, 0.0), DVec2::new(0.0, 2.0)];
        let at = |p: DVec2| {
            let w = nearest_in(t, p).unwrap();
            t[0] * w[0] + t[1] * w[1] + t[2] * w[2]
        };
        assert_eq!(at(DVec2::new(0.5, 0.5)), DVec2::new(0.5, 0.5));
        assert_eq!(at(DVec2::new(1.0, -3.0)), DVec2::new(1.0, 0.0));
        assert_eq!(at(DVec2::new(2.0, 2.0)), DVec2::new(1.0, 1.0));
        assert_eq!(at(DVec2::new(-1.0, -1.0)), DVec2::ZERO);
    }
}
