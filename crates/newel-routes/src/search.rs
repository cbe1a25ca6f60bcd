//! The search over surveyed ground, and the ground as plain tables.

use std::collections::HashMap;

use newel::Character;
use newel::glam::{DVec2, DVec3};
use pathfinding::directed::astar::astar;

use crate::ends::ways_out;
use crate::ground::{Look, Spot};
use crate::route::Short;

/// Costs are whole numbers: so many to the second.
const UNITS: f64 = 1e5;

/// The path it found: to the end, or as near as can be.
pub(crate) struct Found {
    pub path: Vec<Spot>,
    pub short: Option<Short>,
}

/// A step of the search.
#[derive(Clone, Copy, PartialEq, Eq, Hash)]
enum Step {
    Begins,
    At(Spot),
    Ends,
}

/// The quickest path from where somebody stands to one of the spots that lead `in` to the place meant; where there is none, to the spot that
/// is nearest to it of those that can be reached.
pub(crate) fn search(look: &mut Look<'_>, start: &Character, to: DVec3, ins: &HashMap<Spot, f64>) -> Found {
    let outs = ways_out(look, start);
    let goal = look.frame().map(to);
    let mut seen = Seen { look, outs, ins, nearest: None, looked: 0 };
    let most = seen.look.legs.survey.most_places;
    if let Some(path) = seen.path(goal, most, to, |step| step == Step::Ends) {
        return Found { path, short: None };
    }
    let short = Some(if seen.looked > most { Short::TooFar } else { Short::NoWay });
    let Some((_, nearest)) = seen.nearest else { return Found { path: Vec::new(), short } };
    let middle = nearest.middle(seen.look.cell());
    let path = seen.path(middle, usize::MAX, to, |step| step == Step::At(nearest));
    Found { path: path.unwrap_or_default(), short }
}

/// What searches have seen so far.
struct Seen<'s, 'a> {
    look: &'s mut Look<'a>,
    outs: Vec<(Spot, f64)>,
    ins: &'s HashMap<Spot, f64>,
    /// The spot nearest to the place meant, and how near that is.
    nearest: Option<(f64, Spot)>,
    looked: usize,
}

impl Seen<'_, '_> {
    /// The quickest path to where `ends` says, looking at no more than `most` spots; `goal` is where that is on the map.
    fn path(&mut self, goal: DVec2, most: usize, to: DVec3, ends: impl Fn(Step) -> bool) -> Option<Vec<Spot>> {
        let (cell, speed) = (self.look.cell(), self.look.top_speed());
        // Middles of columns are off by less than a cell.
        let left = |spot: Spot| ((spot.middle(cell) - goal).length() - cell).max(0.0);
        let heuristic = |step: &Step| match *step {
            Step::At(spot) => (left(spot) / speed * UNITS) as u64,
            _ => 0,
        };
        self.looked = 0;
        let (path, _) = astar(&Step::Begins, |step| self.onward(*step, most, to), heuristic, |step| ends(*step))?;
        let at = |step: Step| if let Step::At(spot) = step { Some(spot) } else { None };
        Some(path.into_iter().filter_map(at).collect())
    }

    fn onward(&mut self, step: Step, most: usize, to: DVec3) -> Vec<(Step, u64)> {
        let spot = match step {
            Step::Ends => return Vec::new(),
            Step::Begins => return self.outs.iter().map(|(spot, s)| (Step::At(*spot), units(*s))).collect(),
            Step::At(spot) => spot,
        };
        self.looked += 1;
        if self.looked > most {
            return Vec::new();
        }
        let here = self.look.place(spot).map_or(f64::INFINITY, |(at, _)| (at - to).length());
        if self.nearest.is_none_or(|(far, _)| here < far) {
            self.nearest = Some((here, spot));
        }
        let walked = self.look.onward(spot).into_iter().map(|(other, s)| (Step::At(other), units(s)));
        walked.chain(self.ins.get(&spot).map(|s| (Step::Ends, units(*s)))).collect()
    }
}

fn units(seconds: f64) -> u64 {
    (seconds * UNITS).round().max(1.0) as u64
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
    let (start, end) = (look.spot_at(from)?.0, look.spot_at(to)?.0);
    let (frame, cell, speed) = (look.frame(), look.cell(), look.top_speed());
    let mut grid = Grid::default();
    let mut numbers: HashMap<Spot, u32> = HashMap::from([(start, 0)]);
    let mut spots = vec![start];
    let mut next = 0;
    while next < spots.len() {
        let spot = spots[next];
        next += 1;
        let onward = look.onward(spot);
        let mut ways = Vec::with_capacity(onward.len());
        for (other, seconds) in onward {
            let number = *numbers.entry(other).or_insert_with(|| {
                spots.push(other);
                spots.len() as u32 - 1
            });
            ways.push((number, units(seconds)));
        }
        let left = ((spot.middle(cell) - frame.map(to)).length() - cell).max(0.0);
        grid.left.push((left / speed * UNITS) as u64);
        grid.places.extend(look.place(spot).map(|(at, _)| at));
        grid.onward.push(ways);
    }
    (grid.start, grid.end) = (0, *numbers.get(&end)?);
    Some(grid)
}
