//! Which of the islet can be walked to, worked out without the library's routes: a flood fill over heights sampled by rays.

use newel::glam::{DVec2, DVec3, Vec3};
use newel::{Terrain, When};

/// A cell of the fill, metres.
const CELL: f64 = 0.2;
/// The area, on the map.
const LOW: DVec2 = DVec2::new(-42.0, -34.0);
const HIGH: DVec2 = DVec2::new(52.0, 38.0);
/// Rays start this high, metres, and go this far down.
const SKY: f64 = 60.0;

/// Abilities of a walker, by the fill's own rules: stricter than the character, so that all it says can be walked to can be.
pub struct Rules {
    /// The steepest slope, degrees.
    pub steepest: f64,
    /// The highest step, metres.
    pub step: f64,
    /// Its radius.
    pub radius: f64,
    /// The lowest ground that counts: over the water, metres.
    pub lowest: f64,
}

pub struct Flood {
    wide: usize,
    heights: Vec<f64>,
    reached: Vec<bool>,
}

impl Flood {
    /// Fills from `start`.
    pub fn new(level: &dyn Terrain, rules: &Rules, start: DVec3) -> Flood {
        let size = ((HIGH - LOW) / CELL).ceil();
        let (wide, deep) = (size.x as usize, size.y as usize);
        let when = When::tick(0, 1.0 / 60.0);
        let middle = |n: usize| LOW + (DVec2::new((n % wide) as f64, (n / wide) as f64) + 0.5) * CELL;
        let cast = |n: usize| {
            let at = middle(n);
            level.cast(when, DVec3::new(at.x, SKY, at.y), Vec3::NEG_Y, 2.0 * SKY)
        };
        let hits: Vec<_> = (0..wide * deep).map(cast).collect();
        let heights: Vec<f64> = hits.iter().map(|h| h.map_or(f64::NAN, |h| SKY - h.distance)).collect();
        let level_enough = rules.steepest.to_radians().cos();
        let gentle = |n: usize| hits[n].is_some_and(|h| f64::from(h.normal.y.abs()) >= level_enough);
        let around = |n: usize, far: f64| {
            let cells = (far / CELL).ceil() as i64;
            let near = move |(i, k): &(i64, i64)| ((i * i + k * k) as f64).sqrt() * CELL <= far;
            let all = (-cells..=cells).flat_map(move |k| (-cells..=cells).map(move |i| (i, k))).filter(near);
            all.filter_map(move |(i, k)| {
                let (x, z) = ((n % wide) as i64 + i, (n / wide) as i64 + k);
                let inside = (0..wide as i64).contains(&x) && (0..deep as i64).contains(&z);
                inside.then(|| (z as usize * wide + x as usize, ((i * i + k * k) as f64).sqrt() * CELL))
            })
        };
        // Free where all about the foot is gentle, and neither up nor down by more than a slope or a step would be.
        let free = |n: usize| {
            let fits = |(other, far): (usize, f64)| {
                gentle(other) && (heights[other] - heights[n]).abs() <= far * rules.steepest.to_radians().tan().min(0.9)
            };
            heights[n] >= rules.lowest && around(n, rules.radius + CELL).all(fits)
        };
        let standing: Vec<bool> = (0..wide * deep).map(free).collect();
        let mut flood = Flood { wide, heights, reached: vec![false; wide * deep] };
        let mut open: Vec<usize> = flood.cell(start).into_iter().collect();
        while let Some(n) = open.pop() {
            if flood.reached[n] || !standing[n] {
                continue;
            }
            flood.reached[n] = true;
            let next =
                around(n, CELL).filter(|(other, _)| (flood.heights[*other] - flood.heights[n]).abs() <= rules.step);
            open.extend(next.map(|(other, _)| other));
        }
        flood
    }

    fn cell(&self, place: DVec3) -> Option<usize> {
        let at = ((DVec2::new(place.x, place.z) - LOW) / CELL).floor();
        let inside = at.x >= 0.0 && at.y >= 0.0 && (at.x as usize) < self.wide;
        let n = at.y.max(0.0) as usize * self.wide + at.x.max(0.0) as usize;
        (inside && n < self.heights.len()).then_some(n)
    }

    /// True where a place on the ground can be walked to from the start.
    pub fn reaches(&self, place: DVec3) -> bool {
        self.cell(place).is_some_and(|n| self.reached[n] && (self.heights[n] - place.y).abs() < 0.3)
    }

    /// Square metres reached.
    pub fn area(&self) -> f64 {
        self.reached.iter().filter(|r| **r).count() as f64 * CELL * CELL
    }
}
