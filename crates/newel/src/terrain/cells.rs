//! A loose grid that finds the bodies near a box.
//!
//! Each thing is a ball and lies in one cell, by its middle; cells are a few times as large as the things in them, and what is larger
//! lies in cells as much larger (a loose grid: Ulrich, *Loose Octrees*, 2000). Nothing here has an order: whoever asks sorts.

use core::hash::{BuildHasherDefault, Hasher};
use std::collections::HashMap;

use glam::DVec3;

/// The size of the smallest cells, metres; each level's are so many times as large as the one's before.
const SMALLEST: f64 = 4.0;
const LARGER: f64 = 8.0;
/// Levels; what is larger than the cells of the last lies in none, and is always near.
const LEVELS: usize = 5;

#[derive(Clone, Debug, Default)]
pub(crate) struct Cells {
    levels: [Level; LEVELS],
    everywhere: Vec<u32>,
}

/// Cells of one size.
#[derive(Clone, Debug, Default)]
struct Level {
    cells: HashMap<[i64; 3], Vec<u32>, BuildHasherDefault<CornerHasher>>,
    /// The radius of the largest thing that was in them, metres: so far out of its cell a thing may reach.
    largest: f64,
}

/// Hashes the numbers of a cell, which nobody chooses to harm: after SplitMix64 by Steele, Lea and Flood, 2014.
#[derive(Clone, Copy, Debug, Default)]
struct CornerHasher(u64);

impl Hasher for CornerHasher {
    fn finish(&self) -> u64 {
        self.0
    }

    fn write(&mut self, bytes: &[u8]) {
        for chunk in bytes.chunks(8) {
            let mut word = [0; 8];
            word[..chunk.len()].copy_from_slice(chunk);
            let mixed = (self.0 ^ u64::from_le_bytes(word)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
            self.0 = mixed ^ (mixed >> 29);
        }
    }
}

/// Where a thing lies.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum Cell {
    At(usize, [i64; 3]),
    Everywhere,
}

fn size_of(level: usize) -> f64 {
    SMALLEST * LARGER.powi(level as i32)
}

/// The cell of this size that a place is in, by its number along each axis.
fn corner(place: DVec3, size: f64) -> [i64; 3] {
    (place / size).floor().to_array().map(|n| n as i64)
}

impl Cell {
    /// The cell of a ball.
    pub fn of(middle: DVec3, radius: f64) -> Cell {
        let level = (0..LEVELS).find(|level| radius <= size_of(*level));
        level.map_or(Cell::Everywhere, |level| Cell::At(level, corner(middle, size_of(level))))
    }
}

impl Cells {
    /// Empties it, and keeps its storage.
    pub fn clear(&mut self) {
        for level in &mut self.levels {
            // Where nothing was the last time there is nobody any more.
            level.cells.retain(|_, things| !things.is_empty());
            level.cells.values_mut().for_each(Vec::clear);
            level.largest = 0.0;
        }
        self.everywhere.clear();
    }

    /// Puts a thing of this radius into its cell.
    pub fn insert(&mut self, cell: Cell, radius: f64, thing: u32) {
        if let Cell::At(level, _) = cell {
            self.levels[level].largest = self.levels[level].largest.max(radius);
        }
        self.list(cell).push(thing);
    }

    #[cfg(feature = "mesh")]
    pub fn remove(&mut self, cell: Cell, thing: u32) {
        self.list(cell).retain(|other| *other != thing);
        if let Cell::At(level, at) = cell
            && self.levels[level].cells.get(&at).is_some_and(Vec::is_empty)
        {
            self.levels[level].cells.remove(&at);
        }
    }

    fn list(&mut self, cell: Cell) -> &mut Vec<u32> {
        match cell {
            Cell::At(level, at) => self.levels[level].cells.entry(at).or_default(),
            Cell::Everywhere => &mut self.everywhere,
        }
    }

    /// Hands on whatever may reach into a box, and perhaps more.
    pub fn each_near(&self, low: DVec3, high: DVec3, mut found: impl FnMut(u32)) {
        self.everywhere.iter().for_each(|thing| found(*thing));
        for (number, Level { cells, largest }) in self.levels.iter().enumerate() {
            if cells.is_empty() {
                continue;
            }
            let size = size_of(number);
            let (from, to) = (corner(low - *largest, size), corner(high + *largest, size));
            let count: f64 = (0..3).map(|i| to[i].saturating_sub(from[i]) as f64 + 1.0).product();
            if count > cells.len() as f64 {
                cells.values().flatten().for_each(|thing| found(*thing));
                continue;
            }
            for x in from[0]..=to[0] {
                for y in from[1]..=to[1] {
                    for z in from[2]..=to[2] {
                        cells.get(&[x, y, z]).into_iter().flatten().for_each(|thing| found(*thing));
                    }
                }
            }
        }
    }
}
