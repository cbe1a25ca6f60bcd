//! The same walk at different tick rates: how far apart, and which events differ.

use newel::{Event, EventKind};

use super::land::Land;
use super::time::Ticks;
use super::walk::{Walk, Walked};
use crate::names::event_name;

/// A walk played with ticks of a kind beside the same walk at 1000 Hz.
#[derive(Debug, Clone)]
pub struct RateResult {
    /// The ticks.
    pub ticks: Ticks,
    /// The largest distance at any whole second, in metres.
    pub apart: f64,
    /// The distance at the end, in metres.
    pub apart_at_end: f64,
    /// True where both walks are the same to the last bit at every whole second.
    pub same_bits: bool,
    /// The first whole second at which they are more than 5 mm apart.
    pub parts_at: Option<u32>,
    /// The first event that one of them has and the other has not, in words.
    pub events: Option<String>,
    /// How the walk went.
    pub walked: Walked,
}

/// Walks further apart than this part, in metres.
pub const APART: f64 = 5e-3;
/// The ticks at which walks are audited.
pub const AUDITED: [Ticks; 3] = [Ticks::Rate(15.0), Ticks::Rate(60.0), Ticks::Rate(333.0)];

/// Plays a walk with all kinds of ticks, and compares each with the first. With a surface, the walks at some rates are audited.
pub fn compare_rates(walk: &Walk, land: &mut Land, surface: Option<&crate::audit::Surface>) -> Vec<RateResult> {
    let [first, others @ ..] = Ticks::COMPARED;
    let base = walk.play(land, first, None, |_| ());
    let mut results: Vec<RateResult> = others
        .iter()
        .map(|ticks| {
            let audited = surface.filter(|_| AUDITED.contains(ticks));
            let walked = walk.play(land, *ticks, audited, |_| ());
            compare(*ticks, walked, &base)
        })
        .collect();
    let itself = RateResult {
        ticks: first,
        apart: 0.0,
        apart_at_end: 0.0,
        same_bits: true,
        parts_at: None,
        events: None,
        walked: base,
    };
    results.insert(0, itself);
    results
}

fn compare(ticks: Ticks, walked: Walked, base: &Walked) -> RateResult {
    let apart: Vec<f64> = walked.places.iter().zip(&base.places).map(|(a, b)| (*a - *b).length()).collect();
    RateResult {
        ticks,
        apart: apart.iter().copied().fold(0.0, f64::max),
        apart_at_end: apart.last().copied().unwrap_or(0.0),
        same_bits: walked.places == base.places,
        parts_at: apart.iter().position(|d| *d > APART).map(|second| second as u32 + 1),
        events: first_difference(&walked.events, &base.events),
        walked,
    }
}

/// Events this near to each other in time may come in either order, in seconds.
const AT_ONCE: f64 = 2e-3;

/// An event by its kind and how many of that kind came before it.
struct Counted<'a> {
    name: &'static str,
    count: usize,
    event: &'a Event,
}

/// All events but footsteps, which follow from the way. An event that is repeated as long as something lasts counts once.
fn counted(events: &[Event]) -> Vec<Counted<'_>> {
    let mut counts = std::collections::BTreeMap::new();
    let lasts =
        |kind: &EventKind| matches!(kind, EventKind::Crushed { .. } | EventKind::Stuck | EventKind::PushedOut { .. });
    let mut last = None;
    let mut all = Vec::new();
    for event in events.iter().filter(|e| !matches!(e.kind, EventKind::Footstep { .. })) {
        let name = event_name(&event.kind);
        if last.replace(name) == Some(name) && lasts(&event.kind) {
            continue;
        }
        let count = counts.entry(name).and_modify(|n| *n += 1).or_insert(0usize);
        all.push(Counted { name, count: *count, event });
    }
    all
}

/// Where the events of two runs first differ, in words. Events at all but the same time may come in either order.
#[must_use]
pub fn first_difference(one: &[Event], other: &[Event]) -> Option<String> {
    let (a, b) = (counted(one), counted(other));
    let place =
        |of: &Counted<'_>, all: &[Counted<'_>]| all.iter().position(|e| (e.name, e.count) == (of.name, of.count));
    let places: Vec<Option<usize>> = a.iter().map(|event| place(event, &b)).collect();
    let lone = places.iter().position(Option::is_none);
    let late = |all: &[Counted<'_>], first: usize, then: usize| all[then].event.time - all[first].event.time >= AT_ONCE;
    let swapped = (0..a.len()).find(|&n| {
        let after = (n + 1..a.len()).filter_map(|m| Some((m, places[n]?, places[m]?)));
        let mut swaps = after.filter(|(_, first, then)| then < first);
        swaps.any(|(m, first, then)| late(&a, n, m) || late(&b, then, first))
    });
    let more = b.iter().position(|event| place(event, &a).is_none());
    let say = |event: Option<&Counted<'_>>| {
        event.map_or("nothing".to_owned(), |e| format!("{} at {:.4} s, ({:.2})", e.name, e.event.time, e.event.place))
    };
    let at = [lone, swapped, more].into_iter().flatten().min()?;
    Some(format!("{} against {}", say(a.get(at)), say(b.get(at))))
}
