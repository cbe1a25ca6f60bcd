//! From a path over the grid to a route: as few straight ways as can be walked, with corners that can be cut.

use newel::glam::DVec3;
use newel::{Character, Mode, Stance};

use crate::budget::OutOfBudget;
use crate::corner::Rounding;
use crate::ground::{Look, Spot};
use crate::link::Link;
use crate::route::{By, Leg, Route, Short};
use crate::tile::{NO_WAY, Node};
use crate::walk::Walk;

/// Places gone one after another in one way at one pace, or the way to one by a link.
#[derive(Clone)]
pub(crate) struct Stretch {
    pub by: By,
    pace: f64,
    pub places: Vec<DVec3>,
    /// The seconds of a link.
    seconds: f64,
    /// Into water or out of it: gone as it was found.
    wades: bool,
}

/// The path from whoever starts, taken apart where what it takes changes.
pub(crate) fn stretches(look: &mut Look<'_>, start: &Character, path: &[Spot]) -> Result<Vec<Stretch>, OutOfBudget> {
    let mut stretches: Vec<Stretch> = Vec::new();
    let mut before: Option<(Spot, Node)> = None;
    let mut at = start.position;
    for &spot in path {
        let Some((place, node)) = look.place(spot)? else { break };
        let link = match before {
            Some((before, _)) => link_between(look, before, spot)?,
            None => None,
        };
        let (came_stance, came_pace) = before.map_or((node.stance, node.pace), |(_, came)| (came.stance, came.pace));
        let swam = before.map_or(start.mode == Mode::Swim, |(_, came)| came.swims);
        let pace = f64::from(came_pace.min(node.pace)) / 100.0;
        let by = if swam || node.swims { By::Swimming } else { By::Walking(came_stance.max(node.stance)) };
        let stretch = |by: By, places: Vec<DVec3>| Stretch { by, pace, places, seconds: 0.0, wades: false };
        if let Some(link) = link {
            let script = stretch(By::Link(link.kind, link.script), vec![at, link.lands]);
            stretches.push(Stretch { seconds: f64::from(link.seconds), ..script });
            stretches.push(stretch(By::Walking(node.stance), vec![link.lands, place]));
        } else if swam != node.swims {
            stretches.push(Stretch { wades: true, ..stretch(by, vec![at, place]) });
        } else {
            match stretches.last_mut() {
                Some(last) if last.by == by && !last.wades && last.pace == pace => last.places.push(place),
                _ => stretches.push(stretch(by, vec![at, place])),
            }
        }
        (before, at) = (Some((spot, node)), place);
    }
    Ok(stretches)
}

/// The quickest link from one spot to another that cannot be walked to.
fn link_between(look: &mut Look<'_>, from: Spot, to: Spot) -> Result<Option<Link>, OutOfBudget> {
    let Some((tile, index)) = look.node(from)? else { return Ok(None) };
    let next = tile.nodes[index].next;
    if (0..8).any(|way| next[way] != NO_WAY && from.next(way, next[way]) == to) {
        return Ok(None);
    }
    let mut quickest: Option<Link> = None;
    for link in tile.links_of(index) {
        let leads = look.spot_at(link.lands)?.is_some_and(|(spot, _)| spot == to);
        if leads && quickest.is_none_or(|best| link.seconds < best.seconds) {
            quickest = Some(*link);
        }
    }
    Ok(quickest)
}

/// Adds the last place.
pub(crate) fn join(stretches: &mut Vec<Stretch>, start: &Character, there: &Character) {
    let to = there.position;
    let last = stretches.last().map(|last| last.by);
    let by = match (there.mode == Mode::Swim, last) {
        (true, _) | (_, Some(By::Swimming)) => By::Swimming,
        (_, Some(By::Walking(stance))) => By::Walking(stance.max(there.stance)),
        _ => By::Walking(start.stance.max(there.stance)),
    };
    let wades = by == By::Swimming && !(there.mode == Mode::Swim && last == Some(By::Swimming));
    match stretches.last_mut().filter(|last| last.by == by && !last.wades && !wades) {
        Some(last) => last.places.push(to),
        None => {
            let from = stretches.last().and_then(|s| s.places.last().copied()).unwrap_or(start.position);
            stretches.push(Stretch { by, pace: 1.0, places: vec![from, to], seconds: 0.0, wades });
        }
    }
}

/// A path being pulled straight: of each stretch as few straight ways as can be walked, and then the corners cut.
#[derive(Clone)]
pub(crate) struct Pulling {
    stretches: Vec<Stretch>,
    route: Route,
    /// How far each walked leg is, and its part of the top speed.
    walked: Vec<(f64, f64)>,
    linked: f64,
    /// The stretch it is at, and the place there.
    at: (usize, usize),
    farthest: Option<Farthest>,
    /// Legs whose corner before them was looked at.
    rounded: usize,
    rounding: Option<Rounding>,
}

impl Pulling {
    pub fn new(start: &Character, stretches: Vec<Stretch>, short: Option<Short>) -> Pulling {
        let route = Route { from: start.position, legs: Vec::new(), length: 0.0, seconds: 0.0, short };
        Pulling {
            stretches,
            route,
            walked: Vec::new(),
            linked: 0.0,
            at: (0, 0),
            farthest: None,
            rounded: 1,
            rounding: None,
        }
    }

    /// Goes on, as far as the budget reaches.
    pub fn work(&mut self, look: &mut Look<'_>, start: &Character) -> Result<Route, OutOfBudget> {
        while self.at.0 < self.stretches.len() {
            self.next_leg(look, start)?;
        }
        while self.rounded < self.route.legs.len() {
            let rounding = self.rounding.get_or_insert_with(Rounding::default);
            let rounds = rounding.work(look, &self.route, self.rounded)?;
            self.route.legs[self.rounded - 1].rounds = rounds;
            self.rounding = None;
            self.rounded += 1;
        }
        let mut route = self.route.clone();
        route.seconds = self.linked + seconds(look, &self.walked, &route.legs);
        route.seconds += turning(look, &route);
        Ok(route)
    }

    fn next_leg(&mut self, look: &mut Look<'_>, start: &Character) -> Result<(), OutOfBudget> {
        let (number, at) = self.at;
        let stretch = &self.stretches[number];
        let (next, far) = if stretch.places.len() == 2 || stretch.wades || !stretch.by.is_straight() {
            (1, (stretch.places[1] - stretch.places[0]).length())
        } else {
            let farthest = self.farthest.get_or_insert_with(|| Farthest::new(look, stretch, at, start));
            farthest.work(look, stretch)?
        };
        self.farthest = None;
        self.route.length += far;
        self.route.legs.push(Leg { to: stretch.places[next], by: stretch.by, rounds: 0.0 });
        match stretch.by {
            By::Link(..) => self.linked += stretch.seconds,
            by => self.walked.push((far, stretch.pace * slowness(look, by))),
        }
        self.at = if next + 1 < stretch.places.len() { (number, next) } else { (number + 1, 0) };
        Ok(())
    }
}

/// Factor of a stance on the top speed. For swimming the pace has that.
fn slowness(look: &Look<'_>, by: By) -> f64 {
    let By::Walking(stance) = by else { return 1.0 };
    look.legs.real.low(stance).map_or(1.0, |low| f64::from(low.speed))
}

/// The farthest place of a stretch that a straight way leads to from one of them, being looked for: in strides twice as long each, as long
/// as they lead there; then by halves.
#[derive(Clone)]
struct Farthest {
    from: usize,
    who: Option<Character>,
    best: (usize, f64),
    stride: usize,
    /// The first place known to be too far.
    beyond: Option<usize>,
    trial: Option<(usize, Walk)>,
}

impl Farthest {
    fn new(look: &mut Look<'_>, stretch: &Stretch, from: usize, start: &Character) -> Farthest {
        let places = &stretch.places;
        let stance = if let By::Walking(stance) = stretch.by { stance } else { Stance::Stand };
        let who = look.legs.stand_as(places[from], 1e-3, &[stance]);
        let who = who.or_else(|| Some(start).filter(|it| it.position == places[from] && it.stance == stance).cloned());
        let best = (from + 1, (places[from + 1] - places[from]).length());
        Farthest { from, who, best, stride: 2, beyond: None, trial: None }
    }

    fn work(&mut self, look: &mut Look<'_>, stretch: &Stretch) -> Result<(usize, f64), OutOfBudget> {
        let last = stretch.places.len() - 1;
        while let Some(to) = self.next(last) {
            match self.walks(look, stretch, to)? {
                Some(far) => self.best = (to, far),
                None => self.beyond = Some(to),
            }
            self.stride *= 2;
        }
        Ok(self.best)
    }

    /// Which place to try next.
    fn next(&self, last: usize) -> Option<usize> {
        self.who.as_ref()?;
        match self.beyond {
            None => (self.best.0 < last).then(|| (self.from + self.stride).min(last)),
            Some(beyond) => (self.best.0 + 1 < beyond).then(|| self.best.0.midpoint(beyond)),
        }
    }

    fn walks(&mut self, look: &mut Look<'_>, stretch: &Stretch, to: usize) -> Result<Option<f64>, OutOfBudget> {
        let places = &stretch.places;
        let is_free = !look.is_avoided(places[self.from], places[to]);
        let Some(who) = self.who.as_ref().filter(|_| is_free) else { return Ok(None) };
        let (_, trial) =
            self.trial.get_or_insert_with(|| (to, Walk::new(look, who, places[to], stretch.pace as f32 - 0.005)));
        let found = trial.work(look)?;
        self.trial = None;
        Ok(found.map(|(_, far)| far))
    }
}

/// Time for turning at corners: none where they can be cut as far as a turn at full speed wants, else up to half of the
/// time that its velocity takes from one way to the other.
fn turning(look: &Look<'_>, route: &Route) -> f64 {
    let (frame, speed) = (look.frame(), look.top_speed());
    let rate = f64::from(look.legs.real.values().ground.acceleration).max(0.1);
    let places = route.places();
    let corners = route.legs.windows(2).zip(places.windows(3));
    let walked = corners.filter(|(legs, _)| legs.iter().all(|leg| matches!(leg.by, By::Walking(_))));
    walked
        .map(|(legs, at)| {
            let ways = [at[1] - at[0], at[2] - at[1]].map(|way| frame.direction(way).unwrap_or_default());
            let half = ((1.0 - ways[0].dot(ways[1]).clamp(-1.0, 1.0)) * 0.5).sqrt();
            let wants = speed * speed * half / rate;
            if wants <= legs[0].rounds { 0.0 } else { (1.0 - legs[0].rounds / wants) * speed * half / rate }
        })
        .sum()
}

/// What walking takes: so far at such a part of the top speed each, and getting going and stopping before and after each link.
pub(crate) fn seconds(look: &Look<'_>, walked: &[(f64, f64)], legs: &[Leg]) -> f64 {
    let ground = look.legs.real.values().ground;
    let speed = look.top_speed();
    let walking: f64 = walked.iter().map(|(far, part)| far / (speed * part.max(0.01))).sum();
    let rates = 1.0 / f64::from(ground.acceleration) + 1.0 / f64::from(ground.deceleration);
    let is_link = |leg: &Leg| matches!(leg.by, By::Link(..));
    let stops = legs.split(is_link).filter(|walked| !walked.is_empty()).count();
    walking + stops as f64 * 0.5 * speed * rates
}
