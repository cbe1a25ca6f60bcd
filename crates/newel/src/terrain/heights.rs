//! A height field as terrain: facets where a character is, and only there.

use glam::{DVec3, Vec3};

use super::{Facet, Footing, Patch, RayHit, Said, Terrain, When};
use crate::fingerprint::Fingerprint;

/// Land given by its heights over a square grid in x and z, with +Y up.
///
/// Each cell is two triangles, divided from its corner with the least x and z to the opposite one. Where a height is not a number there is
/// a hole. Changing a height costs nothing.
///
/// ```
/// use newel::glam::DVec3;
/// use newel::{Character, Heights, Tuning};
/// // A slope of one in ten, 20 by 20 cells of half a metre.
/// let land = Heights::new(DVec3::ZERO, 0.5, 21, 21, |x, _z| x as f32 * 0.05)?;
/// let hero = Character::spawn(&land, &Tuning::walker(), [5.0, 0.51, 5.0])?;
/// assert!((land.height(5.25, 4.0).unwrap() - 0.525).abs() < 1e-6);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug)]
pub struct Heights {
    corner: DVec3,
    cell: f64,
    wide: usize,
    long: usize,
    heights: Vec<f32>,
    surfaces: Vec<u16>,
    footings: Said<Footing>,
    /// The sum of what stands for each height.
    print: u64,
}

/// Why a height field was refused.
#[derive(Clone, Copy, Debug, PartialEq)]
#[non_exhaustive]
pub enum HeightsError {
    /// Fewer than two heights one way or the other, or more than [`Heights::MOST`] in all.
    Size {
        /// Heights along x.
        wide: usize,
        /// Heights along z.
        long: usize,
    },
    /// A cell that is no size, or a corner that is not finite.
    Cell {
        /// The size, metres.
        cell: f64,
    },
    /// A height that is infinite, or further than 10,000 km.
    Height {
        /// Which along x, from 0.
        x: usize,
        /// Which along z, from 0.
        z: usize,
        /// Given height, metres.
        height: f32,
    },
}

impl core::fmt::Display for HeightsError {
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        match self {
            HeightsError::Size { wide, long } => {
                write!(
                    f,
                    "{wide} by {long} heights: two or more each way are needed, and at most {} in all",
                    Heights::MOST
                )
            }
            HeightsError::Cell { cell } => {
                write!(f, "cells of {cell} m from a corner: a finite corner and a size over 0 are needed")
            }
            HeightsError::Height { x, z, height } => {
                write!(
                    f,
                    "the height at {x}, {z} is {height} m: up to {FARTHEST} m is allowed, and no number for a hole"
                )
            }
        }
    }
}

impl core::error::Error for HeightsError {}

const FARTHEST: f32 = 1e7;

impl Heights {
    /// The most heights in one field.
    pub const MOST: usize = 1 << 30;

    /// A field of `wide` by `long` heights over cells of so many metres, the first at `corner`; `height` says how high each is over it.
    ///
    /// # Errors
    /// [`HeightsError`] names the first thing that makes no sense.
    pub fn new(
        corner: DVec3,
        cell: f64,
        wide: usize,
        long: usize,
        mut height: impl FnMut(usize, usize) -> f32,
    ) -> Result<Heights, HeightsError> {
        let count = wide.saturating_mul(long);
        if wide < 2 || long < 2 || count > Heights::MOST {
            return Err(HeightsError::Size { wide, long });
        }
        if !(corner.is_finite() && cell > 0.0 && cell.is_finite()) {
            return Err(HeightsError::Cell { cell });
        }
        let mut heights = Vec::with_capacity(count);
        for (x, z) in (0..long).flat_map(|z| (0..wide).map(move |x| (x, z))) {
            heights.push(checked(x, z, height(x, z))?);
        }
        let surfaces = Vec::new();
        let mut made = Heights { corner, cell, wide, long, heights, surfaces, footings: Said::default(), print: 0 };
        made.print = (0..count).map(|index| made.print_of(index)).fold(0, u64::wrapping_add);
        Ok(made)
    }

    /// The same with what each cell is made of, by the corner with its least x and z: the game's own number.
    #[must_use]
    pub fn with_surfaces(mut self, mut surface: impl FnMut(usize, usize) -> u16) -> Heights {
        self.surfaces = (0..self.heights.len()).map(|index| surface(index % self.wide, index / self.wide)).collect();
        self.print = (0..self.heights.len()).map(|index| self.print_of(index)).fold(0, u64::wrapping_add);
        self
    }

    /// The same with what walking is like on a surface.
    #[must_use]
    pub fn with_footing(mut self, surface: u16, footing: Footing) -> Heights {
        self.footings.set(surface, footing);
        self
    }

    /// Sets a height, from the next tick on; beyond the field nothing.
    ///
    /// # Errors
    /// [`HeightsError::Height`] for one that makes no sense; it is then as it was.
    pub fn set(&mut self, x: usize, z: usize, height: f32) -> Result<(), HeightsError> {
        let height = checked(x, z, height)?;
        if x < self.wide && z < self.long {
            let index = z * self.wide + x;
            let before = self.print_of(index);
            self.heights[index] = height;
            self.print = self.print.wrapping_sub(before).wrapping_add(self.print_of(index));
        }
        Ok(())
    }

    /// How high the land is at a place of the map, metres in the world; `None` beyond it and in holes.
    #[must_use]
    pub fn height(&self, x: f64, z: f64) -> Option<f64> {
        let (u, v) = ((x - self.corner.x) / self.cell, (z - self.corner.z) / self.cell);
        let (i, k) = (u.floor(), v.floor());
        let triangles = self.triangles(i as i64, k as i64)?;
        // Beside the diagonal the first, beyond it the second.
        let [a, b, c] = triangles[usize::from(u - i > v - k)];
        let normal = (b - a).cross(c - a);
        (normal.y != 0.0)
            .then(|| a.y - ((x - a.x) * normal.x + (z - a.z) * normal.z) / normal.y)
            .filter(|y| y.is_finite())
    }

    fn print_of(&self, index: usize) -> u64 {
        let mut print = Fingerprint::new();
        let surface = self.surfaces.get(index).copied().unwrap_or(0);
        print.u64(index as u64 ^ u64::from(surface) << 48);
        print.f32(self.heights[index]);
        print.value()
    }

    /// The two triangles of a cell, in the world, wound to face up.
    fn triangles(&self, x: i64, z: i64) -> Option<[[DVec3; 3]; 2]> {
        let (x, z) = (usize::try_from(x).ok()?, usize::try_from(z).ok()?);
        if x + 1 >= self.wide || z + 1 >= self.long {
            return None;
        }
        let at = |i: usize, k: usize| {
            let height = f64::from(self.heights[(z + k) * self.wide + x + i]);
            self.corner + DVec3::new((x + i) as f64 * self.cell, height, (z + k) as f64 * self.cell)
        };
        Some([[at(0, 0), at(0, 1), at(1, 1)], [at(0, 0), at(1, 1), at(1, 0)]])
    }

    /// The cells between two places along an axis.
    fn between(&self, low: f64, high: f64, count: usize) -> core::ops::RangeInclusive<i64> {
        let cell = |at: f64| (at / self.cell).floor().clamp(-1.0, count as f64) as i64;
        cell(low).max(0)..=cell(high).min(count as i64 - 2)
    }
}

fn checked(x: usize, z: usize, height: f32) -> Result<f32, HeightsError> {
    if height.is_nan() || height.abs() <= FARTHEST { Ok(height) } else { Err(HeightsError::Height { x, z, height }) }
}

impl Terrain for Heights {
    fn gather(&self, _when: When, patch: &mut Patch) {
        let (low, high) = patch.world_bounds();
        let (least, most) = (low - self.corner, high - self.corner);
        let origin = patch.origin();
        for z in self.between(least.z, most.z, self.long) {
            for x in self.between(least.x, most.x, self.wide) {
                let Some(triangles) = self.triangles(x, z) else { continue };
                let index = z as usize * self.wide + x as usize;
                let surface = self.surfaces.get(index).copied().unwrap_or(0);
                for (number, corners) in triangles.into_iter().enumerate() {
                    let over = corners.iter().all(|c| c.y > high.y);
                    let under = corners.iter().all(|c| c.y < low.y);
                    if over || under {
                        continue;
                    }
                    let [a, b, c] = corners.map(|corner| (corner - origin).as_vec3());
                    if let Some(facet) = Facet::new(a, b, c) {
                        patch.add_facet(Facet { surface, id: 2 * index as u32 + number as u32, ..facet });
                    }
                }
            }
        }
    }

    fn stamp(&self, _when: When, _within: (DVec3, DVec3)) -> Option<u64> {
        let mut print = Fingerprint::new();
        self.corner.to_array().iter().for_each(|x| print.f64(*x));
        print.f64(self.cell);
        [self.print, self.wide as u64].iter().for_each(|x| print.u64(*x));
        Some(print.value())
    }

    fn footing(&self, surface: u16) -> Footing {
        self.footings.of(surface).unwrap_or_default()
    }

    /// From cell to cell along the way over the map (Amanatides and Woo, 1987).
    fn cast(&self, _when: When, from: DVec3, along: Vec3, length: f64) -> Option<RayHit> {
        let way = along.as_dvec3();
        if !(from.is_finite() && way.is_finite() && length > 0.0) {
            return None;
        }
        let start = (from - self.corner) / self.cell;
        let step = way / self.cell;
        // The part of it that is over the field.
        let (mut t, mut end) = (0.0f64, length);
        for (at, by, most) in [(start.x, step.x, self.wide - 1), (start.z, step.z, self.long - 1)] {
            let (one, other) = ((0.0 - at) / by, (most as f64 - at) / by);
            if by == 0.0 && !(0.0..=most as f64).contains(&at) {
                return None;
            }
            if by != 0.0 {
                (t, end) = (t.max(one.min(other)), end.min(one.max(other)));
            }
        }
        while t <= end {
            // A hair on, so that on a border it is in the cell that it leads into.
            let inside = start + step * (t + 1e-9 * (1.0 + t));
            let (x, z) = (inside.x.floor(), inside.z.floor());
            let hit = self.triangles(x as i64, z as i64).and_then(|both| {
                let met = both.into_iter().filter_map(|corners| Some((ray_to_triangle(from, way, corners)?, corners)));
                met.filter(|(t, _)| *t <= length).min_by(|a, b| a.0.total_cmp(&b.0))
            });
            if let Some((distance, [a, b, c])) = hit {
                let index = z as usize * self.wide + x as usize;
                let normal = (b - a).cross(c - a).normalize().as_vec3();
                let surface = self.surfaces.get(index).copied().unwrap_or(0);
                return Some(RayHit { distance, normal, surface, body: 0, one_way: false });
            }
            let bound = |at: f64, by: f64, cell: f64| match by {
                _ if by > 0.0 => (cell + 1.0 - at) / by,
                _ if by < 0.0 => (cell - at) / by,
                _ => f64::INFINITY,
            };
            let next = bound(start.x, step.x, x).min(bound(start.z, step.z, z));
            if next <= t {
                t += 1e-9 * (1.0 + t);
            } else {
                t = next;
            }
        }
        None
    }
}

/// How far along a ray a triangle is met (Moller and Trumbore, 1997).
fn ray_to_triangle(from: DVec3, along: DVec3, [a, b, c]: [DVec3; 3]) -> Option<f64> {
    let (ab, ac) = (b - a, c - a);
    let across = along.cross(ac);
    let size = ab.dot(across);
    let off = from - a;
    let u = off.dot(across) / size;
    let turned = off.cross(ab);
    let v = along.dot(turned) / size;
    let t = ac.dot(turned) / size;
    let slack = -1e-9;
    (u >= slack && v >= slack && u + v <= 1.0 - slack && t >= 0.0).then_some(t)
}
