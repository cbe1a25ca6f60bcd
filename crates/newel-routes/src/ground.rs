//! The ground as far as it has been surveyed: tiles, made when somebody first looks at them.

use std::sync::{Arc, Mutex, RwLock};

use newel::glam::{DVec2, DVec3};
use rustc_hash::FxHashMap;

use crate::budget::OutOfBudget;
use crate::crossing::{Piece, with_crossings};
use crate::frame::Frame;
use crate::legs::Legs;
use crate::linking::Linking;
use crate::surveying::Surveying;
use crate::tile::{NO_WAY, Node, SIDE, Tile, WAYS};

/// A place to stand, by its column and floor.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub(crate) struct Spot {
    pub column: [i32; 2],
    pub floor: u8,
}

impl Spot {
    /// The spot on a floor of the column that lies this way.
    pub fn next(self, way: usize, floor: u8) -> Spot {
        let [i, k] = WAYS[way];
        Spot { column: [self.column[0] + i, self.column[1] + k], floor }
    }
}

/// The same by its tile and its number there.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub(crate) struct Place {
    pub tile: [i32; 2],
    pub node: u16,
}

/// All tiles surveyed so far, and those being surveyed.
#[derive(Default)]
pub(crate) struct Ground {
    tiles: RwLock<FxHashMap<[i32; 2], Arc<Tile>>>,
    surveying: Mutex<FxHashMap<[i32; 2], Surveying>>,
    linking: Mutex<FxHashMap<[i32; 2], Linking>>,
}

/// No more than so many tiles are kept half surveyed.
const MOST_UNFINISHED: usize = 64;

impl Ground {
    pub fn known(&self, number: [i32; 2]) -> Option<Arc<Tile>> {
        self.tiles.read().expect("no survey panics").get(&number).cloned()
    }

    /// Goes on surveying a tile, as far as the budget reaches.
    fn survey(&self, legs: &mut Legs<'_>, number: [i32; 2]) -> Result<Arc<Tile>, OutOfBudget> {
        let began = self.surveying.lock().expect("no survey panics").remove(&number);
        let mut surveying = began.unwrap_or_else(|| Surveying::new(legs, number));
        if let Err(out) = surveying.work(legs) {
            keep(&self.surveying, number, surveying);
            return Err(out);
        }
        let tile = Arc::new(surveying.finish());
        self.tiles.write().expect("no survey panics").insert(number, tile.clone());
        Ok(tile)
    }

    /// Goes on looking for the links of a tile, as far as the budget reaches.
    fn link(&self, legs: &mut Legs<'_>, number: [i32; 2], around: [Arc<Tile>; 9]) -> Result<(), OutOfBudget> {
        let tile = around[4].clone();
        let began = self.linking.lock().expect("no survey panics").remove(&number);
        let mut linking = began.unwrap_or_else(|| Linking::new(around));
        if let Err(out) = linking.work(legs) {
            keep(&self.linking, number, linking);
            return Err(out);
        }
        // Another search may have looked for them at the same time: it found the same.
        let _ = tile.links.set(linking.finish());
        Ok(())
    }

    /// Surveys those of the tiles that are not there yet.
    pub fn prepare<'a>(&self, numbers: &[[i32; 2]], legs: impl Fn() -> Legs<'a> + Sync) {
        self.each(numbers, |number| {
            if self.known(number).is_none() {
                let _ = self.survey(&mut legs(), number);
            }
        });
    }

    /// Looks for the links of those of the tiles that have none yet; all around them must be there.
    pub fn prepare_links<'a>(&self, numbers: &[[i32; 2]], legs: impl Fn() -> Legs<'a> + Sync) {
        self.each(numbers, |number| {
            let tiles = around(number).map(|number| self.known(number));
            let unlinked = tiles[4].as_ref().is_some_and(|tile| tile.links.get().is_none());
            if unlinked && tiles.iter().all(Option::is_some) {
                let _ = self.link(&mut legs(), number, tiles.map(|tile| tile.expect("all are there")));
            }
        });
    }

    /// Finds the crossings of those of the tiles that are linked, with all around them.
    pub fn prepare_crossings<'a>(&self, numbers: &[[i32; 2]], legs: impl Fn() -> Legs<'a> + Sync) {
        self.each(numbers, |number| {
            let _ = with_crossings(&mut Look::new(self, legs()), number);
        });
    }

    #[cfg(feature = "parallel")]
    #[expect(clippy::unused_self, reason = "as without threads")]
    fn each(&self, numbers: &[[i32; 2]], work: impl Fn([i32; 2]) + Sync) {
        use rayon::prelude::*;
        numbers.par_iter().for_each(|number| work(*number));
    }

    #[cfg(not(feature = "parallel"))]
    fn each(&self, numbers: &[[i32; 2]], work: impl Fn([i32; 2])) {
        numbers.iter().for_each(|number| work(*number));
    }

    /// Forgets the tiles between two corners of the map, and what those around them know of them.
    pub fn forget(&self, low: [i32; 2], high: [i32; 2]) {
        let within = |n: &[i32; 2], by: i32| (0..2).all(|axis| (low[axis] - by..=high[axis] + by).contains(&n[axis]));
        let mut tiles = self.tiles.write().expect("no survey panics");
        tiles.retain(|number, _| !within(number, 0));
        for (_, tile) in tiles.iter_mut().filter(|(number, _)| within(number, 1)) {
            *tile = Arc::new(tile.by_itself());
        }
        self.surveying.lock().expect("no survey panics").retain(|number, _| !within(number, 0));
        self.linking.lock().expect("no survey panics").retain(|number, _| !within(number, 1));
    }

    /// How many tiles there are, the places to stand in them, and what they take, bytes.
    pub fn size(&self) -> (usize, usize, usize) {
        let tiles = self.tiles.read().expect("no survey panics");
        let nodes = tiles.values().map(|t| t.nodes.len()).sum();
        (tiles.len(), nodes, tiles.values().map(|t| t.bytes()).sum())
    }
}

impl core::fmt::Debug for Ground {
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        let (tiles, places, bytes) = self.size();
        f.debug_struct("Ground").field("tiles", &tiles).field("places", &places).field("bytes", &bytes).finish()
    }
}

/// Keeps unfinished work for the next call; where there is too much of it, some is begun anew.
fn keep<T>(unfinished: &Mutex<FxHashMap<[i32; 2], T>>, number: [i32; 2], work: T) {
    let mut unfinished = unfinished.lock().expect("no survey panics");
    if unfinished.len() >= MOST_UNFINISHED {
        let first = unfinished.keys().min().copied();
        first.and_then(|first| unfinished.remove(&first));
    }
    unfinished.insert(number, work);
}

/// So near to what is to be avoided, metres, no way leads.
const AVOIDS: f64 = 0.6;

/// Which tile a column is in.
pub(crate) fn tile_of(column: [i32; 2]) -> [i32; 2] {
    column.map(|n| n.div_euclid(SIDE as i32))
}

/// Which column a place on the map is in.
pub(crate) fn column_of(map: DVec2, cell: f64) -> [i32; 2] {
    [map.x, map.y].map(|x| (x / cell).floor().clamp(-1e9, 1e9) as i32)
}

/// A look at the ground by one search: it asks for each tile once.
pub(crate) struct Look<'a> {
    pub ground: &'a Ground,
    pub legs: Legs<'a>,
    /// Places that something was in the way at, which the survey does not know of.
    pub avoids: Vec<DVec3>,
    tiles: FxHashMap<[i32; 2], Arc<Tile>>,
    last: Option<([i32; 2], Arc<Tile>)>,
}

impl<'a> Look<'a> {
    pub fn new(ground: &'a Ground, legs: Legs<'a>) -> Look<'a> {
        Look { ground, legs, avoids: Vec::new(), tiles: FxHashMap::default(), last: None }
    }

    pub fn frame(&self) -> Frame {
        self.legs.frame
    }

    pub fn cell(&self) -> f64 {
        self.legs.survey.cell
    }

    /// The tile with this number.
    pub fn tile(&mut self, number: [i32; 2]) -> Result<Arc<Tile>, OutOfBudget> {
        if let Some((_, tile)) = self.last.as_ref().filter(|(known, _)| *known == number) {
            return Ok(tile.clone());
        }
        let tile = match self.tiles.get(&number) {
            Some(tile) => tile.clone(),
            None => self.fetch(number)?,
        };
        self.last = Some((number, tile.clone()));
        Ok(tile)
    }

    fn fetch(&mut self, number: [i32; 2]) -> Result<Arc<Tile>, OutOfBudget> {
        let tile = match self.ground.known(number) {
            Some(tile) => tile,
            None => self.ground.survey(&mut self.legs, number)?,
        };
        self.tiles.insert(number, tile.clone());
        Ok(tile)
    }

    /// The same with its links looked for.
    fn tile_with_links(&mut self, number: [i32; 2]) -> Result<Arc<Tile>, OutOfBudget> {
        let tile = self.tile(number)?;
        if tile.links.get().is_none() {
            let mut tiles = [const { None }; 9];
            for (tile, number) in tiles.iter_mut().zip(around(number)) {
                *tile = Some(self.tile(number)?);
            }
            self.ground.link(&mut self.legs, number, tiles.map(|tile| tile.expect("each was set")))?;
        }
        Ok(tile)
    }

    /// The tile a spot is in, and which of its nodes it is; `None` where there is none such.
    pub fn node(&mut self, spot: Spot) -> Result<Option<(Arc<Tile>, usize)>, OutOfBudget> {
        let tile = self.tile(tile_of(spot.column))?;
        let (first, floors) = tile.floors(inside(spot.column));
        let found = usize::from(spot.floor) < floors.len();
        Ok(found.then(|| (tile.clone(), first + usize::from(spot.floor))))
    }

    pub fn place(&mut self, spot: Spot) -> Result<Option<(DVec3, Node)>, OutOfBudget> {
        let node = self.node(spot)?;
        Ok(node.map(|(tile, node)| (tile.place(&tile.nodes[node]), tile.nodes[node])))
    }

    /// The spots at most `cells` columns from a place on the map, and where they are: the nearest first, by `far`.
    pub fn around(
        &mut self,
        place: DVec3,
        cells: i32,
        far: impl Fn(DVec3) -> Option<f64>,
    ) -> Result<Vec<(f64, Spot, DVec3)>, OutOfBudget> {
        let [i, k] = column_of(self.frame().map(place), self.cell());
        let mut found = Vec::new();
        for column in (-cells..=cells).flat_map(|b| (-cells..=cells).map(move |a| [i + a, k + b])) {
            let tile = self.tile(tile_of(column))?;
            for (floor, node) in tile.floors(inside(column)).1.iter().enumerate() {
                let at = tile.place(node);
                found.extend(far(at).map(|far| (far, Spot { column, floor: floor as u8 }, at)));
            }
        }
        found.sort_by(|a, b| a.0.total_cmp(&b.0).then(a.1.cmp(&b.1)));
        Ok(found)
    }

    /// The column that a place is in.
    pub fn column_at(&self, place: DVec3) -> [i32; 2] {
        column_of(self.frame().map(place), self.cell())
    }

    /// The spot nearest to a place where it stands, on the same floor.
    pub fn spot_at(&mut self, place: DVec3) -> Result<Option<(Spot, DVec3)>, OutOfBudget> {
        let (frame, step) = (self.frame(), self.legs.step() + 0.1);
        let far = |at: DVec3| {
            let rise = (frame.height(at) - frame.height(place)).abs();
            (rise <= step).then(|| frame.across(place, at) + rise)
        };
        Ok(self.around(place, 1, far)?.first().map(|(_, spot, at)| (*spot, *at)))
    }

    /// Notes where it can get from a place, and in how many seconds, in `onward`.
    pub fn go_on_from(&mut self, from: Place, onward: &mut Vec<(Place, f64)>) -> Result<(), OutOfBudget> {
        onward.clear();
        let (number, index) = (from.tile, usize::from(from.node));
        let tile = self.tile_with_links(number)?;
        let Some(node) = tile.nodes.get(index).copied() else { return Ok(()) };
        let (column, at) = (tile.column_of(index), tile.place(&node));
        for way in (0..8).filter(|&way| node.next[way] != NO_WAY) {
            let floor = usize::from(node.next[way]);
            let (other, inside) = match Tile::column_beside(column, way) {
                Some(inside) => (number, inside),
                None => {
                    let spot = Look::spot_in(number, column).next(way, 0);
                    (tile_of(spot.column), inside(spot.column))
                }
            };
            let there = if other == number { tile.clone() } else { self.tile(other)? };
            let (first, floors) = there.floors(inside);
            let Some(next) = floors.get(floor) else { continue };
            let to = there.place(next);
            if !self.is_avoided(at, to) {
                let place = Place { tile: other, node: (first + floor) as u16 };
                onward.push((place, (to - at).length() / self.speed(&node, next)));
            }
        }
        for link in tile.links_of(index) {
            if let Some((other, to)) = self.spot_at(link.lands)?.filter(|_| !self.is_avoided(at, link.lands)) {
                let walk = (to - link.lands).length() / self.top_speed();
                let seconds = self.legs.survey.reluctance + f64::from(link.seconds) + walk;
                onward.extend(self.node_of(other)?.map(|place| (place, seconds)));
            }
        }
        Ok(())
    }

    /// The place that a spot is.
    pub fn node_of(&mut self, spot: Spot) -> Result<Option<Place>, OutOfBudget> {
        let node = self.node(spot)?;
        Ok(node.map(|(_, node)| Place { tile: tile_of(spot.column), node: node as u16 }))
    }

    /// The first floor of a column of a tile.
    fn spot_in(number: [i32; 2], column: usize) -> Spot {
        let inside = [(column % SIDE) as i32, (column / SIDE) as i32];
        Spot { column: core::array::from_fn(|axis| number[axis] * SIDE as i32 + inside[axis]), floor: 0 }
    }

    /// The piece of a tile that a spot is in.
    pub fn piece(&mut self, spot: Spot) -> Result<Option<Piece>, OutOfBudget> {
        let node = self.node(spot)?;
        Ok(node.map(|(tile, node)| Piece { tile: tile_of(spot.column), number: tile.piece[node] }))
    }

    /// The spot that a node of a tile is.
    pub fn spot_of(number: [i32; 2], tile: &Tile, node: usize) -> Spot {
        let column = tile.column_of(node);
        Spot { floor: (node - usize::from(tile.first[column])) as u8, ..Look::spot_in(number, column) }
    }

    /// True where the straight way between two places leads nearer to one that is to be avoided.
    pub fn is_avoided(&self, from: DVec3, to: DVec3) -> bool {
        self.avoids.iter().any(|place| {
            let way = to - from;
            let part = ((*place - from).dot(way) / way.length_squared().max(1e-12)).clamp(0.0, 1.0);
            part > 0.0 && (from + way * part - *place).length() < AVOIDS
        })
    }

    /// How fast it goes between two nodes, m/s.
    fn speed(&self, from: &Node, to: &Node) -> f64 {
        let lower = from.stance.max(to.stance);
        let low = self.legs.real.low(lower).map_or(1.0, |low| low.speed);
        let pace = f64::from(from.pace.min(to.pace)) / 100.0;
        self.top_speed() * (pace * f64::from(low)).max(0.01)
    }

    /// Its top speed, m/s: something to count by where it has none.
    pub fn top_speed(&self) -> f64 {
        f64::from(self.legs.real.values().ground.speed).max(0.01)
    }
}

/// A tile and those around it, in rows.
pub(crate) fn around([i, k]: [i32; 2]) -> [[i32; 2]; 9] {
    core::array::from_fn(|n| [i + (n % 3) as i32 - 1, k + (n / 3) as i32 - 1])
}

/// The column within its tile.
fn inside(column: [i32; 2]) -> usize {
    let [i, k] = column.map(|n| n.rem_euclid(SIDE as i32) as usize);
    k * SIDE + i
}
