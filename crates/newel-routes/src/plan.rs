//! The search over surveyed ground, and what becomes of the path it finds: a route of straight ways that were walked to try them.

use newel::Character;

use crate::ends::ways_in;
use crate::ground::Look;
use crate::route::{By, Leg, Route};
use crate::search::search;
use crate::straighten::{join, pulled_straight, seconds, stretches};

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
