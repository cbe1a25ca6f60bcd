//! The search over surveyed ground (A*, after Hart, Nilsson and Raphael, 1968). It stops where the budget of a call ends and goes on in the
//! next, which no search crate does.

use std::cmp::Reverse;
use std::collections::BinaryHeap;

use newel::glam::{DVec2, DVec3};
use rustc_hash::{FxHashMap, FxHashSet};

use crate::budget::OutOfBudget;
use crate::ground::{Look, Place, Spot};

/// Costs are whole numbers: so many to the second.
const UNITS: f64 = 1e5;
/// Factor on the least remaining distance: a way may be so much slower than the quickest, and far fewer places are looked at.
const HASTE: f64 = 1.05;

/// How a search ended.
pub(crate) enum Found {
    /// The path to the end.
    Path(Vec<Spot>),
    /// Everything that can be reached was looked at.
    NoPath,
    /// So much work was done as it may.
    TooFar,
}

/// Search data of a place: the cost of the way there, the place before it, and whether it was gone on from.
#[derive(Clone, Copy)]
struct Known {
    cost: u32,
    before: Option<Place>,
    is_done: bool,
}

const UNKNOWN: Known = Known { cost: u32::MAX, before: None, is_done: false };

/// An entry of the frontier: by the estimate of the whole cost, of those the farthest first; no place is the end.
type Entry = Reverse<(u32, Reverse<u32>, Option<Place>)>;

/// A search for the quickest path from some places to others.
#[derive(Clone)]
pub(crate) struct Search {
    /// The place meant, and where the end of the path is on the map.
    to: DVec3,
    goal: DVec2,
    ins: Vec<(Place, f64)>,
    /// Only these tiles are looked at, if any are given.
    within: Option<FxHashSet<[i32; 2]>>,
    /// By tile and node.
    known: FxHashMap<[i32; 2], Vec<Known>>,
    open: BinaryHeap<Entry>,
    /// The way to the end: its cost, and the place it is come to from.
    end: Option<(u32, Place)>,
    /// The place nearest to the one meant, and how near that is.
    nearest: Option<(f64, Place)>,
    onward: Vec<(Place, f64)>,
}

impl Search {
    /// From some places to others, each with the seconds that takes. `meant` is what shall be come near to.
    pub fn new(
        look: &mut Look<'_>,
        outs: &[(Place, f64)],
        ins: Vec<(Place, f64)>,
        [goal, meant]: [DVec3; 2],
        within: Option<FxHashSet<[i32; 2]>>,
    ) -> Result<Search, OutOfBudget> {
        let goal = look.frame().map(goal);
        let mut search = Search {
            to: meant,
            goal,
            ins,
            within,
            known: FxHashMap::default(),
            open: BinaryHeap::new(),
            end: None,
            nearest: None,
            onward: Vec::new(),
        };
        for (place, seconds) in outs {
            search.come_to(look, *place, units(*seconds), None)?;
        }
        Ok(search)
    }

    /// The path to the place nearest to the one meant, of those looked at.
    pub fn path_to_nearest(&self, look: &mut Look<'_>) -> Result<Vec<Spot>, OutOfBudget> {
        self.nearest.map_or_else(|| Ok(Vec::new()), |(_, place)| self.path_to(look, place))
    }

    /// Goes on, as far as the budget reaches; `is_worth_it` says whether it may look at more.
    pub fn work(&mut self, look: &mut Look<'_>, is_worth_it: impl Fn(&Look<'_>) -> bool) -> Result<Found, OutOfBudget> {
        while let Some(entry) = self.open.pop() {
            let Reverse((_, Reverse(cost), place)) = entry;
            let gone_on = match (place, self.end) {
                (None, Some((_, last))) => self.path_to(look, last).map(Found::Path).map(Some),
                (None, None) => Ok(None),
                (Some(_), _) if !is_worth_it(look) => Ok(Some(Found::TooFar)),
                (Some(place), _) if self.known_of(place).cost < cost || self.known_of(place).is_done => Ok(None),
                (Some(place), _) => {
                    look.legs.budget.check().and_then(|()| self.go_on_from(look, place, cost)).map(|()| None)
                }
            };
            match gone_on {
                Ok(None) => {}
                Ok(Some(found)) => return Ok(found),
                Err(out) => {
                    self.open.push(entry);
                    return Err(out);
                }
            }
        }
        Ok(Found::NoPath)
    }

    fn known_of(&self, place: Place) -> Known {
        self.known.get(&place.tile).and_then(|known| known.get(usize::from(place.node))).map_or(UNKNOWN, |known| *known)
    }

    fn go_on_from(&mut self, look: &mut Look<'_>, place: Place, cost: u32) -> Result<(), OutOfBudget> {
        let mut onward = core::mem::take(&mut self.onward);
        look.go_on_from(place, &mut onward)?;
        look.legs.budget.spend(1);
        let tile = look.tile(place.tile)?;
        let far = (tile.place(&tile.nodes[usize::from(place.node)]) - self.to).length();
        if self.nearest.is_none_or(|(nearest, _)| far < nearest) {
            self.nearest = Some((far, place));
        }
        for (other, seconds) in &onward {
            if self.within.as_ref().is_none_or(|within| within.contains(&other.tile)) {
                self.come_to(look, *other, cost.saturating_add(units(*seconds)), Some(place))?;
            }
        }
        self.onward = onward;
        for (_, seconds) in self.ins.iter().filter(|(end, _)| *end == place) {
            let whole = cost.saturating_add(units(*seconds));
            if self.end.is_none_or(|(known, _)| whole < known) {
                self.end = Some((whole, place));
                self.open.push(Reverse((whole, Reverse(whole), None)));
            }
        }
        if let Some(known) = self.known.get_mut(&place.tile).and_then(|known| known.get_mut(usize::from(place.node))) {
            known.is_done = true;
        }
        Ok(())
    }

    fn come_to(
        &mut self,
        look: &mut Look<'_>,
        place: Place,
        cost: u32,
        before: Option<Place>,
    ) -> Result<(), OutOfBudget> {
        let tile = look.tile(place.tile)?;
        let known = self.known.entry(place.tile).or_insert_with(|| vec![UNKNOWN; tile.nodes.len()]);
        // Another thread may have told of changes meanwhile.
        let Some(known) = known.get_mut(usize::from(place.node)) else { return Ok(()) };
        if cost < known.cost {
            *known = Known { cost, before, is_done: false };
            let at = look.frame().map(tile.place(&tile.nodes[usize::from(place.node)]));
            let left = self.left(look, at);
            self.open.push(Reverse((cost.saturating_add(left), Reverse(cost), Some(place))));
        }
        Ok(())
    }

    /// Remaining distance from a place on the map: along the eight ways of the grid, at top speed.
    fn left(&self, look: &Look<'_>, at: DVec2) -> u32 {
        let off = (at - self.goal).abs();
        let along = off.max_element() + (core::f64::consts::SQRT_2 - 1.0) * off.min_element();
        // Places lie off the middles of their columns by less than a cell.
        (HASTE * (along - look.cell()).max(0.0) / look.top_speed() * UNITS) as u32
    }

    /// The quickest path found so far to a place that was come to.
    fn path_to(&self, look: &mut Look<'_>, last: Place) -> Result<Vec<Spot>, OutOfBudget> {
        let places = core::iter::successors(Some(last), |place| self.known_of(*place).before);
        let mut path = Vec::new();
        for place in places {
            path.push(Look::spot_of(place.tile, &*look.tile(place.tile)?, usize::from(place.node)));
        }
        path.reverse();
        Ok(path)
    }
}

fn units(seconds: f64) -> u32 {
    (seconds * UNITS).round().max(1.0) as u32
}

/// The places that a search may look at, and the ways between them, as plain tables: for measuring, drawing and searches of a game's own.
#[derive(Clone, Debug, Default)]
pub struct Grid {
    /// Where each place is, metres.
    pub places: Vec<DVec3>,
    /// Where one can get from each, and in how many hundred-thousandths of a second.
    pub onward: Vec<Vec<(u32, u64)>>,
    /// How much is left from each at least, in the same.
    pub left: Vec<u64>,
    /// The place that is nearest to where the way begins, and to where it ends.
    pub start: u32,
    /// See `start`.
    pub end: u32,
}

/// All that can be reached from one place, as tables; `None` where there is no place at either end.
pub(crate) fn grid(look: &mut Look<'_>, from: DVec3, to: DVec3) -> Option<Grid> {
    let mut at = |place: DVec3| {
        let spot = look.spot_at(place).ok().flatten()?.0;
        look.node_of(spot).ok().flatten()
    };
    let (start, end) = (at(from)?, at(to)?);
    let (frame, cell, speed) = (look.frame(), look.cell(), look.top_speed());
    let mut grid = Grid::default();
    let mut numbers: FxHashMap<Place, u32> = FxHashMap::from_iter([(start, 0)]);
    let (mut places, mut onward, mut next) = (vec![start], Vec::new(), 0);
    while next < places.len() {
        let place = places[next];
        next += 1;
        look.go_on_from(place, &mut onward).ok()?;
        let mut ways = Vec::with_capacity(onward.len());
        for (other, seconds) in &onward {
            let number = *numbers.entry(*other).or_insert_with(|| {
                places.push(*other);
                places.len() as u32 - 1
            });
            ways.push((number, u64::from(units(*seconds))));
        }
        let tile = look.tile(place.tile).ok()?;
        let at = tile.place(&tile.nodes[usize::from(place.node)]);
        grid.left.push(((frame.across(at, to) - cell).max(0.0) / speed * UNITS) as u64);
        grid.places.push(at);
        grid.onward.push(ways);
    }
    (grid.start, grid.end) = (0, *numbers.get(&end)?);
    Some(grid)
}
