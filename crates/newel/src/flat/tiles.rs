//! A grid of tiles as terrain: made into facets where a character is, and only there.

use core::ops::RangeInclusive;

use glam::{DVec2, Vec3};

use super::Scale;
use super::slab::add_line;
use crate::fingerprint::Fingerprint;
use crate::terrain::{Facet, Footing, Hold, Patch, Said};

/// Kind of a tile.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub enum Tile {
    /// Nothing.
    #[default]
    Empty,
    /// All of it is solid.
    Solid,
    /// Its top alone, passed from below, stood on from above and dropped through. In a top view nothing.
    OneWay,
    /// Solid from its bottom up to a slope: as high as this at its left and at its right, 0 to 1 of its height. In a top view up is the
    /// top of the picture.
    Slope {
        /// How high it is at its left side.
        left: f32,
        /// How high at its right.
        right: f32,
    },
}

/// Why a grid of tiles was refused.
#[derive(Clone, Copy, Debug, PartialEq)]
#[non_exhaustive]
pub enum TilesError {
    /// It has no tiles, or more than [`Tiles::MOST`].
    Size {
        /// Tiles across.
        wide: usize,
        /// Tiles from top to bottom.
        tall: usize,
    },
    /// A tile's slope is no number from 0 to 1, or 0 on both sides.
    Slope {
        /// Which tile across, from 0.
        x: usize,
        /// Which from y 0 on, from 0.
        y: usize,
        /// Given value.
        left: f32,
        /// And at its right.
        right: f32,
    },
}

impl core::fmt::Display for TilesError {
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        match self {
            TilesError::Size { wide, tall } => {
                write!(f, "{wide} by {tall} tiles: from one to {} in all are allowed", Tiles::MOST)
            }
            TilesError::Slope { x, y, left, right } => {
                write!(
                    f,
                    "the tile at {x}, {y} slopes from {left} to {right}: 0 to 1 is allowed, and not 0 on both sides"
                )
            }
        }
    }
}

impl core::error::Error for TilesError {}

/// A grid of square tiles: terrain of a flat world.
///
/// Tile 0, 0 has its corner at pixel 0, 0; y counts the way the scale has y. Where two tiles meet there is no edge to catch on, and
/// what lies between two solid ones is not there. Changing a tile costs nothing.
#[derive(Clone, Debug)]
pub struct Tiles {
    pub(super) scale: Scale,
    pub(super) side: f64,
    pub(super) wide: usize,
    tall: usize,
    tiles: Vec<Tile>,
    surfaces: Vec<u16>,
    pub(super) footings: Said<Footing>,
    pub(super) holds: Said<Hold>,
    /// The sum of what stands for each tile: the same for the same tiles.
    pub(super) print: u64,
}

/// Facets of one tile, at most: two for each of five sides.
const FACETS: u32 = 10;

impl Tiles {
    /// The most tiles in one grid.
    pub const MOST: usize = 1 << 28;

    /// A grid of `wide` by `tall` tiles, each a metre of the scale on a side: `tile` says what each is.
    ///
    /// # Errors
    /// [`TilesError`] for no tiles or too many, and names the first that makes no sense.
    pub fn new(
        scale: Scale,
        wide: usize,
        tall: usize,
        mut tile: impl FnMut(usize, usize) -> Tile,
    ) -> Result<Tiles, TilesError> {
        let count = wide.saturating_mul(tall);
        if count == 0 || count > Tiles::MOST {
            return Err(TilesError::Size { wide, tall });
        }
        let mut tiles = Vec::with_capacity(count);
        for (x, y) in (0..tall).flat_map(|y| (0..wide).map(move |x| (x, y))) {
            tiles.push(checked(x, y, tile(x, y))?);
        }
        let surfaces = vec![0; count];
        let (footings, holds, side) = (Said::default(), Said::default(), 1.0);
        let mut made = Tiles { scale, side, wide, tall, tiles, surfaces, footings, holds, print: 0 };
        made.print = (0..count).map(|index| made.print_of(index)).fold(0, u64::wrapping_add);
        Ok(made)
    }

    /// The same with tiles of so many pixels on a side, instead of as many as a metre has; anything but a number over 0 changes nothing.
    #[must_use]
    pub fn with_tile_size(mut self, pixels: f64) -> Tiles {
        let side = self.scale.metres(pixels);
        if side > 0.0 && side.is_finite() {
            self.side = side;
        }
        self
    }

    /// The same with what each tile is made of: the game's own number.
    #[must_use]
    pub fn with_surfaces(mut self, mut surface: impl FnMut(usize, usize) -> u16) -> Tiles {
        for y in 0..self.tall {
            for x in 0..self.wide {
                self.change(y * self.wide + x, |tiles, index| tiles.surfaces[index] = surface(x, y));
            }
        }
        self
    }

    /// The same with what walking is like on a surface.
    #[must_use]
    pub fn with_footing(mut self, surface: u16, footing: Footing) -> Tiles {
        self.footings.set(surface, footing);
        self
    }

    /// The same with what a surface gives to hold on to.
    #[must_use]
    pub fn with_hold(mut self, surface: u16, hold: Hold) -> Tiles {
        self.holds.set(surface, hold);
        self
    }

    /// Its scale.
    #[must_use]
    pub fn scale(&self) -> Scale {
        self.scale
    }

    /// Tiles across, and from y 0 on.
    #[must_use]
    pub fn size(&self) -> (usize, usize) {
        (self.wide, self.tall)
    }

    /// How wide a tile is, pixels.
    #[must_use]
    pub fn tile_size(&self) -> f64 {
        self.scale.pixels(self.side)
    }

    /// A tile; empty beyond the grid.
    #[must_use]
    pub fn tile(&self, x: usize, y: usize) -> Tile {
        if x < self.wide && y < self.tall { self.tiles[y * self.wide + x] } else { Tile::Empty }
    }

    /// Kind of a tile; 0 beyond the grid.
    #[must_use]
    pub fn surface(&self, x: usize, y: usize) -> u16 {
        if x < self.wide && y < self.tall { self.surfaces[y * self.wide + x] } else { 0 }
    }

    /// Makes a tile another, from the next tick on; beyond the grid nothing.
    ///
    /// # Errors
    /// [`TilesError::Slope`] for a slope that makes no sense; it is then as it was.
    pub fn set(&mut self, x: usize, y: usize, tile: Tile) -> Result<(), TilesError> {
        let tile = checked(x, y, tile)?;
        if x < self.wide && y < self.tall {
            self.change(y * self.wide + x, |tiles, index| tiles.tiles[index] = tile);
        }
        Ok(())
    }

    fn change(&mut self, index: usize, change: impl FnOnce(&mut Tiles, usize)) {
        let before = self.print_of(index);
        change(self, index);
        self.print = self.print.wrapping_sub(before).wrapping_add(self.print_of(index));
    }

    /// Hash of one tile.
    fn print_of(&self, index: usize) -> u64 {
        let kind = match self.tiles[index] {
            Tile::Empty => return 0,
            Tile::Solid => 1,
            Tile::OneWay => 2,
            Tile::Slope { left, right } => u64::from(left.to_bits()) << 32 | u64::from(right.to_bits()),
        };
        let mut print = Fingerprint::new();
        [index as u64, kind, u64::from(self.surfaces[index])].iter().for_each(|x| print.u64(*x));
        print.value()
    }

    /// The outline of a tile, in metres with y up: the height of its top at left and right, over the bottom at `low`.
    pub(super) fn profile(&self, x: i64, row: i64) -> Option<(f64, f64)> {
        let (x, y) = (usize::try_from(x).ok()?, usize::try_from(self.y_of(row)).ok()?);
        match self.tile(x, y) {
            Tile::Solid => Some((1.0, 1.0)),
            Tile::Slope { left, right } => Some((f64::from(left), f64::from(right))),
            Tile::Empty | Tile::OneWay => None,
        }
    }

    /// Rows count upward from the picture's y 0, y as the scale has it.
    fn y_of(&self, row: i64) -> i64 {
        if self.scale.is_y_down() { -1 - row } else { row }
    }

    fn is_one_way(&self, x: i64, row: i64) -> bool {
        let at = usize::try_from(x).ok().zip(usize::try_from(self.y_of(row)).ok());
        !self.scale.is_top_view() && at.is_some_and(|(x, y)| self.tile(x, y) == Tile::OneWay)
    }

    pub(super) fn surface_at(&self, x: i64, row: i64) -> u16 {
        let at = usize::try_from(x).ok().zip(usize::try_from(self.y_of(row)).ok());
        let at = at.filter(|(x, y)| *x < self.wide && *y < self.tall);
        at.map_or(0, |(x, y)| self.surfaces[y * self.wide + x])
    }

    pub(super) fn side(&self) -> f64 {
        self.side
    }

    /// The columns, or rows, between two places along an axis, within the grid.
    pub(super) fn between(&self, low: f64, high: f64, (first, last): (i64, i64)) -> RangeInclusive<i64> {
        let cell = |at: f64| (at / self.side).floor().clamp(-1e9, 1e9) as i64;
        cell(low).max(first)..=cell(high).min(last)
    }

    /// The first and last row of the grid, counted upward.
    pub(super) fn rows(&self) -> (i64, i64) {
        let tall = self.tall as i64;
        if self.scale.is_y_down() { (-tall, -1) } else { (0, tall - 1) }
    }

    /// Every line of the outline of what is solid, in metres with y up, its outside to the right of the way along it; what it is made of,
    /// and whether it is passed from below. For drawing, and for making other terrain of it.
    pub fn lines(&self) -> impl Iterator<Item = ([DVec2; 2], u16, bool)> + '_ {
        let (first, last) = self.rows();
        (first..=last).flat_map(move |row| (0..self.wide as i64).map(move |x| (x, row))).flat_map(move |(x, row)| {
            let mut lines = Vec::new();
            self.each_line(x, row, |line, one_way| lines.push((line, self.surface_at(x, row), one_way)));
            lines
        })
    }

    /// Adds what is there of a tile.
    pub(super) fn add_tile(&self, x: i64, row: i64, patch: &mut Patch) {
        let index = (row - self.rows().0) as u64 * self.wide as u64 + x as u64;
        let (surface, mut number) = (self.surface_at(x, row), 0);
        self.each_line(x, row, |line, one_way| {
            let id = (index as u32).wrapping_mul(FACETS).wrapping_add(2 * number);
            number += 1;
            add_line(&self.scale, line, Facet { surface, one_way, id, ..BLANK }, patch);
        });
    }

    /// Hands on those sides of a tile that border on nothing, and whether they are passed from below.
    fn each_line(&self, x: i64, row: i64, mut found: impl FnMut([DVec2; 2], bool)) {
        let at = |u: f64, v: f64| DVec2::new(x as f64 + u, row as f64 + v) * self.side;
        if self.is_one_way(x, row) {
            return found([at(1.0, 1.0), at(0.0, 1.0)], true);
        }
        let Some((left, right)) = self.profile(x, row) else { return };
        let beside = |dx: i64| self.profile(x + dx, row);
        // Its top, but for one of full height under something; its bottom, over nothing; its sides as far as nobody's are as high.
        let covered = left == 1.0 && right == 1.0 && self.profile(x, row + 1).is_some();
        if !covered {
            found([at(1.0, right), at(0.0, left)], false);
        }
        if self.profile(x, row - 1).is_none_or(|(l, r)| l < 1.0 || r < 1.0) {
            found([at(0.0, 0.0), at(1.0, 0.0)], false);
        }
        let bare = beside(-1).map_or(0.0, |(_, r)| r);
        if left > bare {
            found([at(0.0, left), at(0.0, bare)], false);
        }
        let bare = beside(1).map_or(0.0, |(l, _)| l);
        if right > bare {
            found([at(1.0, bare), at(1.0, right)], false);
        }
    }
}

/// Data of a tile's facet beside its corners.
const BLANK: Facet = Facet {
    a: Vec3::ZERO,
    b: Vec3::ZERO,
    c: Vec3::ZERO,
    normal: Vec3::ZERO,
    offset: 0.0,
    uneven: 0.0,
    corners: 7,
    one_way: false,
    surface: 0,
    body: 0,
    id: 0,
};

fn checked(x: usize, y: usize, tile: Tile) -> Result<Tile, TilesError> {
    if let Tile::Slope { left, right } = tile {
        let fine = |height: f32| (0.0..=1.0).contains(&height);
        if !(fine(left) && fine(right) && left + right > 0.0) {
            return Err(TilesError::Slope { x, y, left, right });
        }
    }
    Ok(tile)
}
