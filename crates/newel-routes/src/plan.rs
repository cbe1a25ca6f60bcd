//! The search over surveyed ground, and what becomes of the path it finds: a route of straight ways that were walked to try them.

use std::cell::RefCell;
use std::collections::HashMap;

use newel::glam::DVec3;
use newel::{Character, Stance};
use pathfinding::directed::astar::astar;

use crate::ground::{Look, Spot};
use crate::link::LinkKind;
use crate::link::Script;

/// A way from one place to another: what a character is to do, leg by leg.
#[derive(Clone, Debug, PartialEq)]
pub struct Route {
    /// Where it begins, metres.
    pub from: DVec3,
    /// Its legs, in order.
    pub legs: Vec<Leg>,
    /// How long it is, metres along the ground; links count straight.
    pub length: f64,
    /// How long it should take from rest to rest, seconds.
    pub seconds: f64,
    /// Why it does not lead all the way, if it does not: it leads as near as can be.
    pub short: Option<Short>,
}

/// A leg of a [`Route`].
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Leg {
    /// Where it ends, metres.
    pub to: DVec3,
    /// How.
    pub by: By,
    /// How much before its end it may turn toward the leg after it, metres: that corner can be cut so far.
    pub rounds: f64,
}

/// How a leg is gone.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum By {
    /// Straight over the map, in a stance that has room.
    Walking(Stance),
    /// From rest, by a script.
    Link(LinkKind, Script),
}

/// Why a route does not lead all the way.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[non_exhaustive]
pub enum Short {
    /// There is no way there: all that can be reached was looked at.
    NoWay,
    /// As many places were looked at as the survey allows.
    TooFar,
}

impl Short {
    /// What a person would say.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            Short::NoWay => "no way leads there",
            Short::TooFar => "too far to look",
        }
    }
}

impl Route {
    /// Where it leads to.
    #[must_use]
    pub fn end(&self) -> DVec3 {
        self.legs.last().map_or(self.from, |leg| leg.to)
    }

    /// The places between its legs, first and last included: for drawing.
    #[must_use]
    pub fn places(&self) -> Vec<DVec3> {
        core::iter::once(self.from).chain(self.legs.iter().map(|leg| leg.to)).collect()
    }
}

/// Ways out of the place where it stands, or into the one where it is to stand: at most so many, out of so many tried.
const ENDS: usize = 4;
const ENDS_TRIED: usize = 16;
/// And this many columns off.
const ENDS_WITHIN: i32 = 2;
/// A straight way is tried at once where it is no longer, metres.
const STRAIGHT: f64 = 40.0;
/// How far corners are tried to be cut, metres.
const CUTS: [f64; 4] = [1.6, 0.8, 0.4, 0.2];
/// And where it slides round something.
const SLIDES_ROUND: f64 = 0.4;
/// Costs are whole numbers: so many to the second.
const UNITS: f64 = 1e5;

/// From somebody to somewhere; `there` is who stands at its end.
pub(crate) fn plan(look: &mut Look<'_>, start: &Character, there: &Character) -> Route {
    let (from, to) = (start.position, there.position);
    if let Some(route) = straight(look, start, there) {
        return route;
    }
    let ins = ways_in(look, there);
    let found = search(look, start, to, &ins);
    let mut stretches = stretches(look, from, &found.path);
    if found.short.is_none() {
        let stance = stretches.last().map_or(start.stance, |s| s.stance).max(there.stance);
        join(&mut stretches, to, stance);
    }
    pulled_straight(look, start, stretches, found.short)
}

/// The whole way at once, where nothing is in it.
fn straight(look: &mut Look<'_>, start: &Character, there: &Character) -> Option<Route> {
    let frame = look.frame();
    let avoided = look.is_avoided(start.position, there.position);
    let same = !avoided && start.stance == there.stance && frame.across(start.position, there.position) <= STRAIGHT;
    let pace = look.legs.pace(start).min(look.legs.pace(there));
    let walked = look.legs.walk(start, there.position, pace).filter(|_| same)?;
    let leg = Leg { to: there.position, by: By::Walking(walked.0.stance), rounds: 0.0 };
    let mut route = Route { from: start.position, legs: vec![leg], length: walked.1, seconds: 0.0, short: None };
    route.seconds = seconds(look, &[(walked.1, f64::from(pace))], &route.legs);
    Some(route)
}

/// The spots from which the end can be walked to, and how long that takes.
fn ways_in(look: &mut Look<'_>, there: &Character) -> HashMap<Spot, f64> {
    let mut ins = HashMap::new();
    for (_, spot, at) in near(look, there.position).into_iter().take(ENDS_TRIED) {
        let Some((_, node)) = look.place(spot) else { continue };
        let stance = node.stance.max(there.stance);
        let who = look.legs.stand_as(at, 1e-3, &[stance]);
        if who.and_then(|who| look.legs.walk(&who, there.position, 0.0)).is_some() {
            ins.insert(spot, (at - there.position).length() / look.top_speed());
        }
        if ins.len() == ENDS {
            break;
        }
    }
    ins
}

/// The spots around a place, on its floor.
fn near(look: &mut Look<'_>, place: DVec3) -> Vec<(f64, Spot, DVec3)> {
    let (frame, reach) = (look.frame(), look.legs.step() + 2.0 * look.cell());
    let far = |at: DVec3| {
        let rise = (frame.height(at) - frame.height(place)).abs();
        (rise <= reach).then(|| frame.across(place, at) + rise)
    };
    look.around(place, ENDS_WITHIN, far)
}

fn ways_out(look: &mut Look<'_>, start: &Character) -> Vec<(Spot, f64)> {
    let mut outs = Vec::new();
    for (_, spot, at) in near(look, start.position).into_iter().take(ENDS_TRIED) {
        let Some((_, node)) = look.place(spot) else { continue };
        let stance = node.stance.max(start.stance);
        let who =
            if stance == start.stance { Some(*start) } else { look.legs.stand_as(start.position, 1e-3, &[stance]) };
        if who.and_then(|who| look.legs.walk(&who, at, 0.0)).is_some() {
            outs.push((spot, (at - start.position).length() / look.top_speed()));
        }
        if outs.len() == ENDS {
            break;
        }
    }
    outs
}

struct Found {
    path: Vec<Spot>,
    short: Option<Short>,
}

/// A step of the search.
#[derive(Clone, Copy, PartialEq, Eq, Hash)]
enum Step {
    Begins,
    At(Spot),
    Ends,
}

fn search(look: &mut Look<'_>, start: &Character, to: DVec3, ins: &HashMap<Spot, f64>) -> Found {
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

/// Places walked one after another in one stance at one pace, or the way to one by a link.
struct Stretch {
    stance: Stance,
    pace: f64,
    places: Vec<DVec3>,
    link: Option<(LinkKind, Script, f64)>,
}

/// The path from `from`, taken apart where what it takes changes.
fn stretches(look: &mut Look<'_>, from: DVec3, path: &[Spot]) -> Vec<Stretch> {
    let mut stretches: Vec<Stretch> = Vec::new();
    let mut before: Option<Spot> = None;
    let mut at = from;
    for &spot in path {
        let Some((place, node)) = look.place(spot) else { break };
        let link = before.and_then(|before| link_between(look, before, spot));
        let came = before.and_then(|before| look.place(before)).map_or(node, |(_, node)| node);
        let (stance, pace) = (came.stance.max(node.stance), f64::from(came.pace.min(node.pace)) / 100.0);
        match link {
            Some((kind, script, seconds, lands)) => {
                let link = Some((kind, script, seconds));
                stretches.push(Stretch { stance, pace, places: vec![at, lands], link });
                stretches.push(Stretch { stance: node.stance, pace, places: vec![lands, place], link: None });
            }
            None => match stretches.last_mut() {
                Some(last) if last.link.is_none() && last.stance == stance && last.pace == pace => {
                    last.places.push(place)
                }
                _ => stretches.push(Stretch { stance, pace, places: vec![at, place], link: None }),
            },
        }
        (before, at) = (Some(spot), place);
    }
    stretches
}

/// The quickest link from one spot to another that cannot be walked to.
fn link_between(look: &mut Look<'_>, from: Spot, to: Spot) -> Option<(LinkKind, Script, f64, DVec3)> {
    let (tile, index) = look.node(from)?;
    let next = tile.nodes[index].next;
    if (0..8).any(|way| next[way] != crate::tile::NO_WAY && from.next(way, next[way]) == to) {
        return None;
    }
    let leads = |look: &mut Look<'_>, lands| look.spot_at(lands).is_some_and(|(spot, _)| spot == to);
    let links = tile.links_of(index).iter().filter(|link| leads(look, link.lands));
    let quickest = links.reduce(|a, b| if b.seconds < a.seconds { b } else { a })?;
    Some((quickest.kind, quickest.script, f64::from(quickest.seconds), quickest.lands))
}

/// Adds the last place.
fn join(stretches: &mut Vec<Stretch>, to: DVec3, stance: Stance) {
    let last = stretches.last_mut().filter(|s| s.link.is_none() && s.stance == stance);
    match last {
        Some(last) => last.places.push(to),
        None => {
            let from = stretches.last().and_then(|s| s.places.last().copied()).unwrap_or(to);
            stretches.push(Stretch { stance, pace: 1.0, places: vec![from, to], link: None });
        }
    }
}

/// The route: of each stretch as few straight ways as can be walked.
fn pulled_straight(look: &mut Look<'_>, start: &Character, stretches: Vec<Stretch>, short: Option<Short>) -> Route {
    let mut route = Route { from: start.position, legs: Vec::new(), length: 0.0, seconds: 0.0, short };
    let (mut walked, mut linked) = (Vec::new(), 0.0);
    for stretch in &stretches {
        let by = By::Walking(stretch.stance);
        if let Some((kind, script, seconds)) = stretch.link {
            let to = stretch.places[1];
            route.length += (to - stretch.places[0]).length();
            route.legs.push(Leg { to, by: By::Link(kind, script), rounds: 0.0 });
            linked += seconds;
            continue;
        }
        let low = look.legs.real.low(stretch.stance).map_or(1.0, |low| f64::from(low.speed));
        let mut at = 0;
        while at + 1 < stretch.places.len() {
            let (next, far) = farthest(look, stretch, at);
            route.legs.push(Leg { to: stretch.places[next], by, rounds: 0.0 });
            route.length += far;
            walked.push((far, stretch.pace * low));
            at = next;
        }
    }
    route.seconds = linked + seconds(look, &walked, &route.legs);
    round_corners(look, &mut route);
    route
}

/// How far each corner can be cut: as far as the straight way from before it to behind it can be walked.
fn round_corners(look: &mut Look<'_>, route: &mut Route) {
    let frame = look.frame();
    for n in 1..route.legs.len() {
        let before = if n == 1 { route.from } else { route.legs[n - 2].to };
        let [leg, next] = [route.legs[n - 1], route.legs[n]];
        let (By::Walking(one), By::Walking(two)) = (leg.by, next.by) else { continue };
        let ways = [before - leg.to, next.to - leg.to];
        let shorter = ways.map(|way| 0.5 * frame.across(way, DVec3::ZERO)).into_iter().fold(f64::INFINITY, f64::min);
        let cut_at = |cut: f64| ways.map(|way| leg.to + way * (cut / frame.across(way, DVec3::ZERO)));
        let mut can_be_cut = |cut: &f64| {
            let [from, to] = cut_at(*cut);
            let who = look.legs.stand_as(from, 0.05, &[one.max(two)]);
            let there = who.and_then(|who| look.legs.walk_on(&who, to));
            there.is_some_and(|there| look.legs.walk(&there, next.to, 0.0).is_some())
        };
        let cut = CUTS.into_iter().filter(|cut| *cut <= shorter).find(&mut can_be_cut);
        route.legs[n - 1].rounds = cut.unwrap_or(0.0);
        if cut.is_none() && SLIDES_ROUND <= shorter && slides_round(look, cut_at(SLIDES_ROUND), one.max(two), next.to) {
            route.legs[n - 1].rounds = SLIDES_ROUND;
        }
    }
}

/// True where it comes past a corner that it cuts though something is in the way: along that, and on from there.
fn slides_round(look: &mut Look<'_>, [from, to]: [DVec3; 2], stance: Stance, next: DVec3) -> bool {
    let Some(mut who) = look.legs.stand_as(from, 0.05, &[stance]) else { return false };
    look.legs.go(&mut who, to - from) && look.legs.walk(&who, next, 0.0).is_some()
}

/// The farthest place of a stretch that a straight way leads to from the one at `at`, and how long that way is.
fn farthest(look: &mut Look<'_>, stretch: &Stretch, at: usize) -> (usize, f64) {
    let places = &stretch.places;
    let plain = (at + 1, (places[at + 1] - places[at]).length());
    let Some(who) = look.legs.stand_as(places[at], 1e-3, &[stretch.stance]) else { return plain };
    let pace = stretch.pace as f32 - 0.005;
    let mut walks = |to: usize| {
        let open = !look.is_avoided(places[at], places[to]);
        look.legs.walk(&who, places[to], pace).filter(|_| open).map(|(_, far)| (to, far))
    };
    // In strides twice as long each, as long as they lead there; then by halves.
    let (mut best, mut stride) = (plain, 2);
    let mut beyond = places.len();
    while best.0 + 1 < places.len() {
        let to = (at + stride).min(places.len() - 1);
        match walks(to) {
            Some(found) => best = found,
            None => {
                beyond = to;
                break;
            }
        }
        if to == places.len() - 1 {
            return best;
        }
        stride *= 2;
    }
    while best.0 + 1 < beyond {
        let to = best.0.midpoint(beyond);
        match walks(to) {
            Some(found) => best = found,
            None => beyond = to,
        }
    }
    best
}

/// What walking takes: so far at such a part of the top speed each, and getting going and stopping before and after each link.
fn seconds(look: &Look<'_>, walked: &[(f64, f64)], legs: &[Leg]) -> f64 {
    let ground = look.legs.real.values().ground;
    let speed = look.top_speed();
    let walking: f64 = walked.iter().map(|(far, part)| far / (speed * part.max(0.01))).sum();
    let rates = 1.0 / f64::from(ground.acceleration) + 1.0 / f64::from(ground.deceleration);
    let is_link = |leg: &Leg| matches!(leg.by, By::Link(..));
    let stops = legs.split(is_link).filter(|walked| !walked.is_empty()).count();
    walking + stops as f64 * 0.5 * speed * rates
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
