//! The search over surveyed ground, and the ground as plain tables.

use std::cell::RefCell;
use std::collections::HashMap;

use newel::Character;
use newel::glam::DVec3;
use pathfinding::directed::astar::astar;

use crate::ground::{Look, Spot};
use crate::plan::{Short, ways_out};

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

/// The quickest path from where somebody stands to one of the spots that lead `in` to the place meant.
pub(crate) fn search(look: &mut Look<'_>, start: &Character, to: DVec3, ins: &HashMap<Spot, f64>) -> Found {
    let (frame, cell, speed) = (look.frame(), look.cell(), look.top_speed());
    let outs = ways_out(look, start);
    let goal = frame.map(to);
    let units = |seconds: f64| (seconds * UNITS).round().max(1.0) as u64;
    // Middles of columns are off by less than a cell.
    let left = |spot: Spot| ((spot.middle(cell) - goal).length() - cell).max(0.0);
    let most = look.legs.survey.most_places;
    let nearest: RefCell<Option<(f64, Spot)>> = RefCell::new(None);
    let looked = RefCell::new(0usize);
    let look = RefCell::new(look);
    let onward = |step: &Step| -> Vec<(Step, u64)> {
        match *step {
            Step::Ends => Vec::new(),
            Step::Begins => outs.iter().map(|(spot, s)| (Step::At(*spot), units(*s))).collect(),
            Step::At(spot) => {
                *looked.borrow_mut() += 1;
                if *looked.borrow() > most {
                    return Vec::new();
                }
                let mut look = look.borrow_mut();
                let here = look.place(spot).map_or(f64::INFINITY, |(at, _)| (at - to).length());
                let mut nearest = nearest.borrow_mut();
                if nearest.is_none_or(|(far, _)| here < far) {
                    *nearest = Some((here, spot));
                }
                let walked = look.onward(spot).into_iter().map(|(other, s)| (Step::At(other), units(s)));
                walked.chain(ins.get(&spot).map(|s| (Step::Ends, units(*s)))).collect()
            }
        }
    };
    let heuristic = |step: &Step| match *step {
        Step::At(spot) => (left(spot) / speed * UNITS) as u64,
        _ => 0,
    };
    let spots = |path: Vec<Step>| {
        let at = |step: Step| if let Step::At(spot) = step { Some(spot) } else { None };
        path.into_iter().filter_map(at).collect()
    };
    if let Some((path, _)) = astar(&Step::Begins, onward, heuristic, |step| *step == Step::Ends) {
        return Found { path: spots(path), short: None };
    }
    let short = Some(if *looked.borrow() > most { Short::TooFar } else { Short::NoWay });
    let Some((_, nearest)) = *nearest.borrow() else { return Found { path: Vec::new(), short } };
    *looked.borrow_mut() = 0;
    let left = |spot: Spot| ((spot.middle(cell) - nearest.middle(cell)).length() - cell).max(0.0);
    let path = astar(
        &Step::Begins,
        |step: &Step| match *step {
            Step::At(spot) => {
                look.borrow_mut().onward(spot).into_iter().map(|(other, s)| (Step::At(other), units(s))).collect()
            }
            _ => outs.iter().map(|(spot, s)| (Step::At(*spot), units(*s))).collect::<Vec<_>>(),
        },
        |step| if let Step::At(spot) = *step { (left(spot) / speed * UNITS) as u64 } else { 0 },
        |step| *step == Step::At(nearest),
    );
    Found { path: path.map_or(Vec::new(), |(path, _)| spots(path)), short }
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
            ways.push((number, (seconds * UNITS).round().max(1.0) as u64));
        }
        let left = ((spot.middle(cell) - frame.map(to)).length() - cell).max(0.0);
        grid.left.push((left / speed * UNITS) as u64);
        grid.places.extend(look.place(spot).map(|(at, _)| at));
        grid.onward.push(ways);
    }
    (grid.start, grid.end) = (0, *numbers.get(&end)?);
    Some(grid)
}
