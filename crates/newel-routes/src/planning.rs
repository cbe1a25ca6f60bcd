//! Planning a route, a little in each call: place both ends, try the straight way, see whether a way leads there at all, search, and pull
//! straight what is found.

use newel::Character;
use newel::glam::DVec3;
use rustc_hash::FxHashSet;

use crate::budget::OutOfBudget;
use crate::ends::{ways_in, ways_out};
use crate::flood::{Flood, Reach};
use crate::ground::{Look, Place, Spot};
use crate::pick::{self, NoPlace};
use crate::route::{By, Leg, Route, Short};
use crate::search::{Found, Search};
use crate::straighten::{Pulling, join, seconds, stretches};
use crate::walk::Walk;

/// A straight way is tried at once where it is no longer, metres.
const STRAIGHT: f64 = 500.0;

/// A route being planned by [`Routes::plan`](crate::Routes::plan): it keeps what has been found out so far between calls.
///
/// ```
/// use newel::{Mesh, Tuning, glam::DVec3};
/// use newel_routes::{Planning, Routes, Survey};
/// let level = Mesh::new(&[[-9.0, 0.0, -9.0], [9.0, 0.0, -9.0], [0.0, 0.0, 9.0f32]], &[0, 1, 2])?;
/// let tuning = Tuning::walker();
/// let routes = Routes::new(Survey::of(&tuning), &tuning)?;
/// let mut planning = Planning::new(DVec3::ZERO, DVec3::new(3.0, 0.0, 1.0));
/// // Once in each frame, until there is one.
/// let route = loop {
///     if let Some(route) = routes.plan(&level, &mut planning, Planning::PLACES) {
///         break route?;
///     }
/// };
/// assert!(route.short.is_none());
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug)]
pub struct Planning {
    from: Start,
    to: DVec3,
    avoids: Vec<DVec3>,
    /// How often the routes had been told of changes when it began.
    changes: Option<u64>,
    looked: u64,
    ends: Option<Box<Ends>>,
    stage: Stage,
}

/// Where it begins.
#[derive(Clone, Debug)]
enum Start {
    Place(DVec3),
    Character(Box<Character>),
}

/// Present stage.
#[derive(Clone)]
enum Stage {
    Begins,
    Straight(Box<Walk>),
    LooksForEnds,
    Floods(Box<Flood>),
    Searches(Box<Search>, Aim),
    Pulls(Box<Pulling>),
    Ended(Box<Result<Route, NoPlace>>),
}

impl core::fmt::Debug for Stage {
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        f.write_str(match self {
            Stage::Begins => "Begins",
            Stage::Straight(..) => "Straight",
            Stage::LooksForEnds => "LooksForEnds",
            Stage::Floods(..) => "Floods",
            Stage::Searches(..) => "Searches",
            Stage::Pulls(..) => "Pulls",
            Stage::Ended(..) => "Ended",
        })
    }
}

/// The places at both ends, and the ways between them and the survey.
#[derive(Clone, Debug)]
struct Ends {
    start: Character,
    there: Character,
    /// The start is the nearest place to stand well, not the one asked for.
    moved: bool,
    outs: Vec<(Spot, f64)>,
    ins: Vec<(Spot, f64)>,
}

/// Purpose of a search.
#[derive(Clone, Copy)]
enum Aim {
    /// A way there, within the corridor of the flood or anywhere.
    There { narrow: bool },
    /// A way to the nearest place that can be reached.
    Near(Short),
}

impl Planning {
    /// One call in a game: about two milliseconds of work.
    pub const PLACES: usize = 1000;

    /// From one place to another.
    #[must_use]
    pub fn new(from: DVec3, to: DVec3) -> Planning {
        Planning::beginning(Start::Place(from), to, Vec::new())
    }

    /// From where a character is now, standing or swimming; past what is to be avoided.
    pub(crate) fn of(me: &Character, to: DVec3, avoids: Vec<DVec3>) -> Planning {
        Planning::beginning(Start::Character(Box::new(me.clone())), to, avoids)
    }

    fn beginning(from: Start, to: DVec3, avoids: Vec<DVec3>) -> Planning {
        Planning { from, to, avoids, changes: None, looked: 0, ends: None, stage: Stage::Begins }
    }

    /// Where it leads.
    #[must_use]
    pub fn to(&self) -> DVec3 {
        self.to
    }

    /// How much it has worked so far, in places.
    #[must_use]
    pub fn looked(&self) -> u64 {
        self.looked
    }

    /// Goes on until it is done or out of budget. `changes` is how often the ground has changed: after a change it begins anew.
    pub(crate) fn work(&mut self, look: &mut Look<'_>, changes: u64) -> Option<Result<Route, NoPlace>> {
        let is_over = matches!(self.stage, Stage::Ended(..));
        if self.changes.replace(changes).is_some_and(|before| before != changes) && !is_over {
            self.stage = Stage::Begins;
        }
        look.avoids.clone_from(&self.avoids);
        let before = look.legs.budget.spent;
        let mut is_out = false;
        while !is_out && !matches!(self.stage, Stage::Ended(..)) {
            match look.legs.budget.check().and_then(|()| self.next_stage(look)) {
                Ok(stage) => self.stage = stage,
                Err(OutOfBudget) => is_out = true,
            }
        }
        self.looked += look.legs.budget.spent - before;
        if let Stage::Ended(route) = &self.stage { Some((**route).clone()) } else { None }
    }

    /// Works at a stage until it is done, and returns the one that follows.
    fn next_stage(&mut self, look: &mut Look<'_>) -> Result<Stage, OutOfBudget> {
        let Some(ends) = self.ends.as_deref_mut().filter(|_| !matches!(self.stage, Stage::Begins)) else {
            return Ok(self.place_ends(look));
        };
        match &mut self.stage {
            Stage::Begins => Ok(Stage::Begins),
            Stage::Straight(walk) => Ok(match walk.work(look)? {
                Some((there, far)) => ended(Ok(straight_route(look, ends, &there, far))),
                None => Stage::LooksForEnds,
            }),
            Stage::LooksForEnds => ends.look_for_ways(look),
            Stage::Floods(flood) => {
                let reach = flood.work(look)?;
                // Places to avoid are on no map of pieces.
                match if self.avoids.is_empty() { reach } else { Reach::Unknown } {
                    Reach::Through(tiles) => ends.search(look, Some(tiles)),
                    Reach::Not(Some(nearest)) => ends.toward(look, nearest, Short::NoWay),
                    Reach::Not(None) | Reach::Unknown => ends.search(look, None),
                }
            }
            Stage::Searches(search, aim) => {
                let (most, looked) = (look.legs.survey.most_places as u64, self.looked);
                let found = search.work(look, |look| looked + look.legs.budget.spent < most)?;
                let short = match (&found, *aim) {
                    (Found::Path(_), Aim::There { .. }) => None,
                    (Found::NoPath, Aim::There { narrow: true }) => return ends.search(look, None),
                    (Found::NoPath, Aim::There { narrow: false }) => Some(Short::NoWay),
                    (Found::TooFar, Aim::There { .. }) => Some(Short::TooFar),
                    (_, Aim::Near(short)) => Some(short),
                };
                let path = if let Found::Path(path) = found { path } else { search.path_to_nearest(look)? };
                pulls(look, ends, &path, short)
            }
            Stage::Pulls(pulling) => Ok(ended(Ok(pulling.work(look, &ends.start)?))),
            Stage::Ended(route) => Ok(Stage::Ended(route.clone())),
        }
    }

    /// Finds who stands at both ends, and tries the straight way where that is worth it.
    fn place_ends(&mut self, look: &mut Look<'_>) -> Stage {
        let start = match &self.from {
            Start::Place(from) => pick::near(&mut look.legs, *from),
            Start::Character(me) => Ok((**me).clone()),
        };
        let start = start.map_err(|why| NoPlace::Start(Box::new(why)));
        match start.and_then(|start| Ok((start, pick::near(&mut look.legs, self.to)?))) {
            Err(why) => ended(Err(why)),
            Ok((start, there)) => {
                let ends = Ends { start, there, moved: false, outs: Vec::new(), ins: Vec::new() };
                let walk = straight(look, &ends);
                self.ends = Some(Box::new(ends));
                walk.map_or(Stage::LooksForEnds, |walk| Stage::Straight(Box::new(walk)))
            }
        }
    }
}

fn ended(route: Result<Route, NoPlace>) -> Stage {
    Stage::Ended(Box::new(route))
}

impl Ends {
    /// Finds the ways between the ends and the survey, and begins to flood.
    fn look_for_ways(&mut self, look: &mut Look<'_>) -> Result<Stage, OutOfBudget> {
        if self.ins.is_empty() {
            self.ins = ways_in(look, &self.there)?;
        }
        self.outs = ways_out(look, &self.start)?;
        if self.outs.is_empty() && !self.moved {
            // It stands where it only just can: from the nearest place that is better.
            return Ok(match pick::near_but_not_at(&mut look.legs, self.start.position) {
                Err(why) => ended(Err(NoPlace::Start(Box::new(why)))),
                Ok(start) => {
                    (self.start, self.moved) = (start, true);
                    Stage::LooksForEnds
                }
            });
        }
        let (outs, ins) = (self.outs.iter().map(|out| out.0), self.ins.iter().map(|end| end.0));
        Ok(Stage::Floods(Box::new(Flood::new(look, outs, ins, self.there.position)?)))
    }

    /// The search for the way there: within some tiles, or anywhere.
    fn search(&self, look: &mut Look<'_>, within: Option<FxHashSet<[i32; 2]>>) -> Result<Stage, OutOfBudget> {
        let (outs, ins) = (places(look, &self.outs)?, places(look, &self.ins)?);
        let (to, aim) = (self.there.position, Aim::There { narrow: within.is_some() });
        Ok(Stage::Searches(Box::new(Search::new(look, &outs, ins, [to, to], within)?), aim))
    }

    /// The search for the way to a place short of the end.
    fn toward(&self, look: &mut Look<'_>, nearest: Spot, short: Short) -> Result<Stage, OutOfBudget> {
        let (outs, ins) = (places(look, &self.outs)?, places(look, &[(nearest, 0.0)])?);
        let goal = look.place(nearest)?.map_or(self.there.position, |(at, _)| at);
        let search = Search::new(look, &outs, ins, [goal, self.there.position], None)?;
        Ok(Stage::Searches(Box::new(search), Aim::Near(short)))
    }
}

fn places(look: &mut Look<'_>, spots: &[(Spot, f64)]) -> Result<Vec<(Place, f64)>, OutOfBudget> {
    let mut places = Vec::with_capacity(spots.len());
    for (spot, seconds) in spots {
        places.extend(look.node_of(*spot)?.map(|place| (place, *seconds)));
    }
    Ok(places)
}

/// The path it found, to be pulled straight.
fn pulls(look: &mut Look<'_>, ends: &Ends, path: &[Spot], short: Option<Short>) -> Result<Stage, OutOfBudget> {
    let mut stretches = stretches(look, &ends.start, path)?;
    if short.is_none() {
        join(&mut stretches, &ends.start, &ends.there);
    }
    Ok(Stage::Pulls(Box::new(Pulling::new(&ends.start, stretches, short))))
}

/// The trial of the whole way at once, where that is worth it.
fn straight(look: &mut Look<'_>, ends: &Ends) -> Option<Walk> {
    let (start, there) = (&ends.start, &ends.there);
    let far = look.frame().across(start.position, there.position);
    let alike = start.stance == there.stance && start.mode == there.mode;
    if !alike || far > STRAIGHT || look.is_avoided(start.position, there.position) {
        return None;
    }
    let pace = look.legs.pace(start).min(look.legs.pace(there));
    Some(Walk::new(look, start, there.position, pace))
}

fn straight_route(look: &mut Look<'_>, ends: &Ends, there: &Character, far: f64) -> Route {
    let pace = look.legs.pace(&ends.start).min(look.legs.pace(there));
    let leg = Leg { to: ends.there.position, by: By::of(there), rounds: 0.0 };
    let mut route = Route { from: ends.start.position, legs: vec![leg], length: far, seconds: 0.0, short: None };
    route.seconds = seconds(look, &[(far, f64::from(pace))], &route.legs);
    route
}
