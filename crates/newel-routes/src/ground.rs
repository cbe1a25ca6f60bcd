//! The ground as far as it has been surveyed: tiles, made when somebody first looks at them.

use std::collections::HashMap;
use std::sync::{Arc, RwLock};

use newel::glam::{DVec2, DVec3};

use crate::frame::Frame;
use crate::legs::Legs;
use crate::linking::{self, Neighbourhood};
use crate::tile::{self, NO_WAY, Node, SIDE, Tile, WAYS};

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

    /// The middle of its column, on the map.
    pub fn middle(self, cell: f64) -> DVec2 {
        (DVec2::new(f64::from(self.column[0]), f64::from(self.column[1])) + 0.5) * cell
    }
}

/// All tiles surveyed so far.
#[derive(Debug, Default)]
pub(crate) struct Ground {
    tiles: RwLock<HashMap<[i32; 2], Arc<Tile>>>,
}

impl Ground {
    pub fn known(&self, number: [i32; 2]) -> Option<Arc<Tile>> {
        self.tiles.read().expect("no survey panics").get(&number).cloned()
    }

    /// Makes those of the tiles that are not there yet.
    pub fn prepare<'a>(&self, numbers: &[[i32; 2]], legs: impl Fn() -> Legs<'a> + Sync) {
        let missing: Vec<[i32; 2]> = numbers.iter().copied().filter(|n| self.known(*n).is_none()).collect();
        let make = |number: &[i32; 2]| (*number, Arc::new(tile::survey(&mut legs(), *number)));
        #[cfg(feature = "parallel")]
        let made: Vec<_> = {
            use rayon::prelude::*;
            missing.par_iter().map(make).collect()
        };
        #[cfg(not(feature = "parallel"))]
        let made: Vec<_> = missing.iter().map(make).collect();
        self.tiles.write().expect("no survey panics").extend(made);
    }

    /// Looks for the links of those of the tiles that have none yet; all around them must be there.
    pub fn prepare_links<'a>(&self, numbers: &[[i32; 2]], legs: impl Fn() -> Legs<'a> + Sync) {
        let look = |number: &[i32; 2]| {
            let tiles = around(*number).map(|number| self.known(number));
            let Some(tile) = self.known(*number).filter(|tile| tile.links.get().is_none()) else { return };
            if tiles.iter().all(Option::is_some) {
                let mut all = Neighbourhood::new(tiles.map(|tile| tile.expect("all are there")));
                let _ = tile.links.set(linking::links(&mut legs(), &mut all));
            }
        };
        #[cfg(feature = "parallel")]
        {
            use rayon::prelude::*;
            numbers.par_iter().for_each(look);
        }
        #[cfg(not(feature = "parallel"))]
        numbers.iter().for_each(look);
    }

    /// Forgets the tiles between two corners of the map.
    pub fn forget(&self, low: [i32; 2], high: [i32; 2]) {
        let inside = |n: &[i32; 2]| (0..2).all(|axis| (low[axis]..=high[axis]).contains(&n[axis]));
        self.tiles.write().expect("no survey panics").retain(|number, _| !inside(number));
    }

    /// How many tiles there are, the places to stand in them, and what they take, bytes.
    pub fn size(&self) -> (usize, usize, usize) {
        let tiles = self.tiles.read().expect("no survey panics");
        let nodes = tiles.values().map(|t| t.nodes.len()).sum();
        (tiles.len(), nodes, tiles.values().map(|t| t.bytes()).sum())
    }
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
    tiles: HashMap<[i32; 2], Arc<Tile>>,
    last: Option<([i32; 2], Arc<Tile>)>,
}

impl<'a> Look<'a> {
    pub fn new(ground: &'a Ground, legs: Legs<'a>) -> Look<'a> {
        Look { ground, legs, avoids: Vec::new(), tiles: HashMap::new(), last: None }
    }

    pub fn frame(&self) -> Frame {
        self.legs.frame
    }

    pub fn cell(&self) -> f64 {
        self.legs.survey.cell
    }

    /// The tile with this number; where it has to be made, so are those around it, at the same time.
    pub fn tile(&mut self, number: [i32; 2]) -> Arc<Tile> {
        if let Some((_, tile)) = self.last.as_ref().filter(|(known, _)| *known == number) {
            return tile.clone();
        }
        let tile = match self.tiles.get(&number) {
            Some(tile) => tile.clone(),
            None => self.fetch(number),
        };
        self.last = Some((number, tile.clone()));
        tile
    }

    /// The same with its links looked for.
    fn tile_with_links(&mut self, number: [i32; 2]) -> Arc<Tile> {
        let tile = self.tile(number);
        if tile.links.get().is_none() {
            let around = around(number).map(|number| self.tile(number));
            let links = linking::links(&mut self.legs, &mut Neighbourhood::new(around));
            // Another search may have looked for them at the same time: it found the same.
            let _ = tile.links.set(links);
        }
        tile
    }

    fn fetch(&mut self, number: [i32; 2]) -> Arc<Tile> {
        if self.ground.known(number).is_none() {
            let legs = &self.legs;
            self.ground.prepare(&around(number), legs.again());
        }
        let tile = self.ground.known(number).unwrap_or_else(|| Arc::new(tile::survey(&mut self.legs, number)));
        self.tiles.insert(number, tile.clone());
        tile
    }

    /// The tile a spot is in, and which of its nodes it is; `None` where there is none such.
    pub fn node(&mut self, spot: Spot) -> Option<(Arc<Tile>, usize)> {
        let tile = self.tile(tile_of(spot.column));
        let (first, floors) = tile.floors(inside(spot.column));
        let found = usize::from(spot.floor) < floors.len();
        found.then(|| (tile.clone(), first + usize::from(spot.floor)))
    }

    pub fn place(&mut self, spot: Spot) -> Option<(DVec3, Node)> {
        let (tile, node) = self.node(spot)?;
        Some((tile.place(&tile.nodes[node]), tile.nodes[node]))
    }

    /// The spots at most `cells` columns from a place on the map, and where they are: the nearest first, by `far`.
    pub fn around(&mut self, place: DVec3, cells: i32, far: impl Fn(DVec3) -> Option<f64>) -> Vec<(f64, Spot, DVec3)> {
        let [i, k] = column_of(self.frame().map(place), self.cell());
        let mut found = Vec::new();
        for column in (-cells..=cells).flat_map(|b| (-cells..=cells).map(move |a| [i + a, k + b])) {
            let tile = self.tile(tile_of(column));
            for (floor, node) in tile.floors(inside(column)).1.iter().enumerate() {
                let at = tile.place(node);
                found.extend(far(at).map(|far| (far, Spot { column, floor: floor as u8 }, at)));
            }
        }
        found.sort_by(|a, b| a.0.total_cmp(&b.0).then(a.1.cmp(&b.1)));
        found
    }

    /// The spot nearest to a place where it stands, on the same floor.
    pub fn spot_at(&mut self, place: DVec3) -> Option<(Spot, DVec3)> {
        let (frame, step) = (self.frame(), self.legs.step() + 0.1);
        let far = |at: DVec3| {
            let rise = (frame.height(at) - frame.height(place)).abs();
            (rise <= step).then(|| frame.across(place, at) + rise)
        };
        self.around(place, 1, far).first().map(|(_, spot, at)| (*spot, *at))
    }

    /// Where it can get from a spot, and in how many seconds.
    pub fn onward(&mut self, spot: Spot) -> Vec<(Spot, f64)> {
        let Some((tile, index)) = self.node(spot) else { return Vec::new() };
        let (node, from) = (tile.nodes[index], tile.place(&tile.nodes[index]));
        let mut onward = Vec::with_capacity(8);
        for way in (0..8).filter(|&way| node.next[way] != NO_WAY) {
            let other = spot.next(way, node.next[way]);
            if let Some((at, next)) = self.place(other).filter(|(at, _)| !self.is_avoided(from, *at)) {
                let seconds = (at - from).length() / self.speed(&node, &next);
                onward.push((other, seconds));
            }
        }
        let links = self.tile_with_links(tile_of(spot.column));
        for link in links.links_of(index) {
            if let Some((other, at)) = self.spot_at(link.lands).filter(|_| !self.is_avoided(from, link.lands)) {
                let walk = (at - link.lands).length() / self.top_speed();
                onward.push((other, self.legs.survey.reluctance + f64::from(link.seconds) + walk));
            }
        }
        onward
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
fn around([i, k]: [i32; 2]) -> [[i32; 2]; 9] {
    core::array::from_fn(|n| [i + (n % 3) as i32 - 1, k + (n / 3) as i32 - 1])
}

/// The column within its tile.
fn inside(column: [i32; 2]) -> usize {
    let [i, k] = column.map(|n| n.rem_euclid(SIDE as i32) as usize);
    k * SIDE + i
}
