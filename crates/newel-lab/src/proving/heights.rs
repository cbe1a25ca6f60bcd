//! Heights over a grid, from fractal noise.

use fastrand::Rng;
use newel::glam::DVec3;
use noise::{Fbm, MultiFractal, NoiseFn, Perlin, RidgedMulti};

use super::parts::{Triangle, between};

/// Cells along each side.
const CELLS: usize = 96;
/// The outermost cells rise like a wall, so that nobody walks off the land.
const FENCE: usize = 4;
/// How much a cell of the fence rises, in cells.
const FENCE_RISE: f64 = 5.0;

/// Use of the noise.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Profile {
    /// The noise itself.
    Hills,
    /// Levels about as high as a step, with ramps between.
    Terraces,
    /// Levels of several metres with steep faces between.
    Cliffs,
    /// Sharp ridges.
    Canyons,
}

/// Heights at the corners of a grid of cells about the middle.
pub(super) struct HeightField {
    cell: f64,
    heights: Vec<f64>,
}

/// Heights of a profile over cells of a size, with slopes up to one that is drawn between 30 and 70 degrees.
pub(super) fn heights(profile: Profile, cell: f64, rng: &mut Rng) -> HeightField {
    let seed = rng.u32(..);
    let wave = between(rng, 8.0, 24.0);
    let steepest = between(rng, 30.0, 70.0).to_radians().tan();
    let fractal: Box<dyn NoiseFn<f64, 2>> = match profile {
        Profile::Canyons => Box::new(RidgedMulti::<Perlin>::new(seed).set_octaves(4)),
        _ => Box::new(Fbm::<Perlin>::new(seed).set_octaves(5)),
    };
    let at = |i: usize, k: usize| fractal.get([i as f64 / wave, k as f64 / wave]) * wave * cell;
    let mut field = HeightField { cell, heights: grid().map(|(i, k)| at(i, k)).collect() };
    let scale = steepest / field.steep_slope().max(1e-9);
    let level = match profile {
        Profile::Terraces => between(rng, 0.15, 0.6),
        Profile::Cliffs => between(rng, 3.0, 8.0),
        _ => 0.0,
    };
    for (height, (i, k)) in field.heights.iter_mut().zip(grid()) {
        let shaped = if level > 0.0 { terraced(*height * scale, level) } else { *height * scale };
        let edge = i.min(k).min(CELLS - i).min(CELLS - k);
        *height = shaped + FENCE.saturating_sub(edge) as f64 * FENCE_RISE * cell;
    }
    field
}

/// Level over most of each level's height, and up to the next one over the rest.
fn terraced(height: f64, level: f64) -> f64 {
    let whole = (height / level).floor();
    let part = height / level - whole;
    (whole + ((part - 0.7) / 0.3).clamp(0.0, 1.0)) * level
}

fn grid() -> impl Iterator<Item = (usize, usize)> {
    (0..=CELLS).flat_map(|i| (0..=CELLS).map(move |k| (i, k)))
}

impl HeightField {
    /// The slope that all but the steepest fiftieth of the cells stay under.
    fn steep_slope(&self) -> f64 {
        let cells = (0..CELLS).flat_map(|i| (0..CELLS).map(move |k| (i, k)));
        let slope = |(i, k): (usize, usize)| {
            let (x, z) = (self.height(i + 1, k) - self.height(i, k), self.height(i, k + 1) - self.height(i, k));
            x.hypot(z) / self.cell
        };
        quantile(cells.map(slope).collect(), 0.98)
    }

    fn height(&self, i: usize, k: usize) -> f64 {
        self.heights[i * (CELLS + 1) + k]
    }

    fn corner(&self, i: usize, k: usize) -> DVec3 {
        let along = |n: usize| (n as f64 - 0.5 * CELLS as f64) * self.cell;
        DVec3::new(along(i), self.height(i, k), along(k))
    }

    /// Two triangles a cell, split along either diagonal, but for a part of the cells that is left out.
    pub fn triangles(&self, rng: &mut Rng, holes: f64) -> Vec<Triangle> {
        let mut triangles = Vec::with_capacity(2 * CELLS * CELLS);
        for (i, k) in (0..CELLS).flat_map(|i| (0..CELLS).map(move |k| (i, k))) {
            let [a, b, c, d] =
                [self.corner(i, k), self.corner(i, k + 1), self.corner(i + 1, k + 1), self.corner(i + 1, k)];
            if rng.f64() < holes {
                continue;
            }
            triangles.extend(if rng.bool() { [[a, b, c], [a, c, d]] } else { [[a, b, d], [b, c, d]] });
        }
        triangles
    }

    /// Half the width of the land, in metres.
    pub fn width(&self) -> f64 {
        0.5 * CELLS as f64 * self.cell
    }

    /// The lowest height.
    pub fn lowest(&self) -> f64 {
        self.heights.iter().copied().fold(f64::INFINITY, f64::min)
    }

    /// The height that a part of the corners is under.
    pub fn quantile(&self, part: f64) -> f64 {
        quantile(self.heights.clone(), part)
    }

    /// The place of a random corner inside the fence.
    pub fn random_corner(&self, rng: &mut Rng) -> DVec3 {
        self.corner(rng.usize(FENCE..CELLS - FENCE), rng.usize(FENCE..CELLS - FENCE))
    }
}

fn quantile(mut values: Vec<f64>, part: f64) -> f64 {
    values.sort_by(f64::total_cmp);
    values[((values.len() - 1) as f64 * part) as usize]
}
