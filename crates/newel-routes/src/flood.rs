//! The search over pieces of tiles: whether a way leads there at all, and through which tiles. Where everything was prepared it answers
//! long before a search over places would (the search is Dijkstra's, 1959).

use std::cmp::Reverse;
use std::collections::BinaryHeap;

use newel::glam::DVec3;
use rustc_hash::{FxHashMap, FxHashSet};

use crate::budget::OutOfBudget;
use crate::crossing::{Piece, with_crossings};
use crate::ground::{Look, Spot, around};
use crate::tile::{SIDE, Tile};

/// Cost of going on from a piece, in places.
const PIECE: u64 = 8;

/// Result of a flood.
pub(crate) enum Reach {
    /// A way leads there through these tiles.
    Through(FxHashSet<[i32; 2]>),
    /// No way leads there; this place comes nearest.
    Not(Option<Spot>),
    /// It came to ground that was not prepared.
    Unknown,
}

/// Pieces reached so far.
#[derive(Clone)]
pub(crate) struct Flood {
    to: DVec3,
    ends: FxHashSet<Piece>,
    /// The cost of each piece, in hops between tiles, and from where it was reached.
    reached: FxHashMap<Piece, (u64, Option<Piece>)>,
    open: BinaryHeap<Reverse<(u64, Piece)>>,
    /// The place nearest to the end, of those in the pieces gone on from, and how far it is.
    nearest: Option<(f64, Spot)>,
}

impl Flood {
    /// From some spots to others; `to` is the place meant.
    pub fn new(
        look: &mut Look<'_>,
        starts: impl Iterator<Item = Spot>,
        ends: impl Iterator<Item = Spot>,
        to: DVec3,
    ) -> Result<Flood, OutOfBudget> {
        let mut flood = Flood {
            to,
            ends: FxHashSet::default(),
            reached: FxHashMap::default(),
            open: BinaryHeap::new(),
            nearest: None,
        };
        for spot in ends {
            flood.ends.extend(look.piece(spot)?);
        }
        for spot in starts {
            let piece = look.piece(spot)?;
            piece.into_iter().for_each(|piece| flood.reach(piece, 0, None));
        }
        Ok(flood)
    }

    fn reach(&mut self, piece: Piece, cost: u64, from: Option<Piece>) {
        if self.reached.get(&piece).is_none_or(|(known, _)| cost < *known) {
            self.reached.insert(piece, (cost, from));
            self.open.push(Reverse((cost, piece)));
        }
    }

    /// Goes on, as far as the budget reaches.
    pub fn work(&mut self, look: &mut Look<'_>) -> Result<Reach, OutOfBudget> {
        while let Some(Reverse((cost, piece))) = self.open.peek().copied() {
            look.legs.budget.check()?;
            if self.reached[&piece].0 == cost {
                if self.ends.contains(&piece) {
                    return Ok(Reach::Through(self.corridor(piece)));
                }
                let Some(tile) = with_crossings(look, piece.tile)? else { return Ok(Reach::Unknown) };
                look.legs.budget.spend(PIECE);
                self.look_for_nearest(look, piece, &tile);
                let crossings = tile.crossings.get().map_or(&[][..], Vec::as_slice);
                for crossing in crossings.iter().filter(|crossing| crossing.from == piece.number) {
                    self.reach(crossing.to, cost + hops(piece.tile, crossing.to.tile), Some(piece));
                }
            }
            self.open.pop();
        }
        Ok(Reach::Not(self.nearest.map(|(_, spot)| spot)))
    }

    /// The tiles on the way to a piece, and those around them.
    fn corridor(&self, end: Piece) -> FxHashSet<[i32; 2]> {
        let way = core::iter::successors(Some(end), |piece| self.reached[piece].1);
        way.flat_map(|piece| around(piece.tile)).collect()
    }

    /// Notes the place of a piece that is nearest to the end, where it is nearer than all before.
    fn look_for_nearest(&mut self, look: &mut Look<'_>, piece: Piece, tile: &Tile) {
        let size = SIDE as f64 * look.cell();
        let middle = piece.tile.map(|n| (f64::from(n) + 0.5) * size);
        let off = (look.frame().map(self.to) - newel::glam::DVec2::from_array(middle)).length() - size;
        if self.nearest.is_some_and(|(far, _)| far <= off) {
            return;
        }
        look.legs.budget.spend(tile.nodes.len() as u64 / 8);
        for (node, at) in tile.nodes.iter().enumerate().filter(|(node, _)| tile.piece[*node] == piece.number) {
            let far = (tile.place(at) - self.to).length();
            if self.nearest.is_none_or(|(nearest, _)| far < nearest) {
                self.nearest = Some((far, Look::spot_of(piece.tile, tile, node)));
            }
        }
    }
}

/// About how far one tile is from another: 10 a side, 14 across corners.
fn hops(from: [i32; 2], to: [i32; 2]) -> u64 {
    let [i, k] = [0, 1].map(|axis| u64::from(from[axis].abs_diff(to[axis])));
    10 * i.max(k) + 4 * i.min(k) + 1
}
