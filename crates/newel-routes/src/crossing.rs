//! Pieces of tiles, and how one comes from one to another: the coarse map over the fine one.

use std::sync::Arc;

use crate::budget::OutOfBudget;
use crate::ground::{Look, Spot, around, tile_of};
use crate::tile::{NO_WAY, Tile};

/// The places of one tile that can be walked to and from each other.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub(crate) struct Piece {
    pub tile: [i32; 2],
    /// Its lowest node.
    pub number: u16,
}

/// One comes from a piece of this tile to another piece, of this tile or one beside it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) struct Crossing {
    pub from: u16,
    pub to: Piece,
}

/// Cost of finding the crossings of a tile, in places.
const CROSSINGS: u64 = 300;

/// A tile with its crossings found; `None` where not all around it has been prepared.
pub(crate) fn with_crossings(look: &mut Look<'_>, number: [i32; 2]) -> Result<Option<Arc<Tile>>, OutOfBudget> {
    let Some(tile) = look.ground.known(number) else { return Ok(None) };
    if tile.crossings.get().is_some() {
        return Ok(Some(tile));
    }
    let Some(links) = tile.links.get() else { return Ok(None) };
    look.legs.budget.spend(CROSSINGS);
    let mut crossings = Vec::new();
    let leads_to = |spot: Spot| look.ground.known(tile_of(spot.column)).is_some();
    for (node, from) in tile.nodes.iter().enumerate() {
        let spot = Look::spot_of(number, &tile, node);
        for way in (0..8).filter(|&way| from.next[way] != NO_WAY) {
            let other = spot.next(way, from.next[way]);
            if !leads_to(other) {
                return Ok(None);
            }
            // Within the tile most neighbours are of the same piece.
            let to = look.piece(other)?;
            let own = Piece { tile: number, number: tile.piece[node] };
            crossings.extend(to.filter(|to| *to != own).map(|to| Crossing { from: own.number, to }));
        }
    }
    for link in links {
        let lands = look.column_at(link.lands);
        if around(tile_of(lands)).iter().any(|number| look.ground.known(*number).is_none()) {
            return Ok(None);
        }
        if let Some((spot, _)) = look.spot_at(link.lands)?
            && let Some(to) = look.piece(spot)?
        {
            crossings.push(Crossing { from: tile.piece[usize::from(link.from)], to });
        }
    }
    crossings.sort();
    crossings.dedup();
    // Another search may have found them at the same time: the same.
    let _ = tile.crossings.set(crossings);
    Ok(Some(tile))
}
