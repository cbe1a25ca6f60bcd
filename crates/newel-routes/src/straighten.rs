//! What becomes of a path over the grid: as few straight ways as can be walked, with corners that can be cut.

use newel::glam::DVec3;
use newel::{Character, Stance};

use crate::ground::{Look, Spot};
use crate::link::{LinkKind, Script};
use crate::route::{By, Leg, Route, Short};
use crate::tile::NO_WAY;

/// How far corners are tried to be cut, metres.
const CUTS: [f64; 4] = [1.6, 0.8, 0.4, 0.2];
/// And where it slides round something.
const SLIDES_ROUND: f64 = 0.4;

/// Places walked one after another in one stance at one pace, or the way to one by a link.
pub(crate) struct Stretch {
    pub stance: Stance,
    pace: f64,
    pub places: Vec<DVec3>,
    link: Option<(LinkKind, Script, f64)>,
}

/// The path from `from`, taken apart where what it takes changes.
pub(crate) fn stretches(look: &mut Look<'_>, from: DVec3, path: &[Spot]) -> Vec<Stretch> {
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
    if (0..8).any(|way| next[way] != NO_WAY && from.next(way, next[way]) == to) {
        return None;
    }
    let leads = |look: &mut Look<'_>, lands| look.spot_at(lands).is_some_and(|(spot, _)| spot == to);
    let links = tile.links_of(index).iter().filter(|link| leads(look, link.lands));
    let quickest = links.reduce(|a, b| if b.seconds < a.seconds { b } else { a })?;
    Some((quickest.kind, quickest.script, f64::from(quickest.seconds), quickest.lands))
}

/// Adds the last place.
pub(crate) fn join(stretches: &mut Vec<Stretch>, to: DVec3, stance: Stance) {
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
pub(crate) fn pulled_straight(
    look: &mut Look<'_>,
    start: &Character,
    stretches: Vec<Stretch>,
    short: Option<Short>,
) -> Route {
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
    route.seconds += turning(look, &route);
    route
}

/// What turning at corners takes beside the way: none where they can be cut as far as a turn at full speed wants, else up to half of the
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
pub(crate) fn seconds(look: &Look<'_>, walked: &[(f64, f64)], legs: &[Leg]) -> f64 {
    let ground = look.legs.real.values().ground;
    let speed = look.top_speed();
    let walking: f64 = walked.iter().map(|(far, part)| far / (speed * part.max(0.01))).sum();
    let rates = 1.0 / f64::from(ground.acceleration) + 1.0 / f64::from(ground.deceleration);
    let is_link = |leg: &Leg| matches!(leg.by, By::Link(..));
    let stops = legs.split(is_link).filter(|walked| !walked.is_empty()).count();
    walking + stops as f64 * 0.5 * speed * rates
}
