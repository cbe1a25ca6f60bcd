//! The search over surveyed ground, and what becomes of the path it finds: a route of straight ways that were walked to try them.

use std::collections::HashMap;

use newel::glam::DVec3;
use newel::{Character, Stance};

use crate::ground::{Look, Spot};
use crate::link::{LinkKind, Script};
use crate::search::search;
use crate::straighten::{join, pulled_straight, seconds, stretches};

/// A way from one place to another: what a character is to do, leg by leg.
#[derive(Clone, Debug, PartialEq)]
pub struct Route {
    /// Where it begins, metres.
    pub from: DVec3,
    /// Its legs, in order.
    pub legs: Vec<Leg>,
    /// How long it is, metres along the ground; links count straight.
    pub length: f64,
    /// How long it should take from rest to rest, seconds: at full speed, with what stopping at links and turning at corners takes.
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
    let far = look.frame().across(start.position, there.position);
    if start.stance != there.stance || far > STRAIGHT || look.is_avoided(start.position, there.position) {
        return None;
    }
    let pace = look.legs.pace(start).min(look.legs.pace(there));
    let walked = look.legs.walk(start, there.position, pace)?;
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

/// The spots that can be walked to from where it stands, and how long that takes.
pub(crate) fn ways_out(look: &mut Look<'_>, start: &Character) -> Vec<(Spot, f64)> {
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
