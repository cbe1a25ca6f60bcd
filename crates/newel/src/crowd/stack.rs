//! Characters on each other's heads: whoever is over another moves after it, and meets it where it then is.
//!
//! Side by side two share the gap as it was when the tick began, and either may move first. One over another cannot do with that: what is
//! under it would be held by a wall that leans as the head does. So of these the lower moves first, as if nobody stood on it; then the
//! upper, on a body that moves as the lower did, like on a lift. Only where whoever stands on it could not follow is the lower moved once
//! more, and held by the wall.

use glam::{DQuat, DVec3};

use super::pair::Seen;
use super::snapshot::{Near, ON_IT, Snapshot, seen};
use crate::shape::Shape;
use crate::state::State;
use crate::terrain::Body;

/// Stacks are no higher than this; whoever would be further up is met like one beside.
const HIGHEST: u32 = 64;
/// Cosine from which on a character stands on the head of another and not on its shoulder.
const ON_TOP: f64 = 0.7;
/// A body that is not the one that was stood on before has another name.
const ANOTHER: u64 = 1 << 62;

/// All pairs of one over another, and when each moves.
#[derive(Debug, Default)]
pub(super) struct Stacks {
    /// The upper and the lower, in order.
    pairs: Vec<(usize, usize)>,
    /// Those of them of whom the upper stands on the lower, in order.
    standing: Vec<(usize, usize)>,
    /// The same, from the lowest up.
    pub(super) carried: Vec<(usize, usize)>,
    /// How many are under each, one over the other; the lower move first.
    pub(super) ranks: Vec<u32>,
    /// Characters that are held back by their riders.
    pub(super) held: Vec<bool>,
    /// Where each ended, once it has moved.
    pub(super) ended: Vec<Option<Ended>>,
}

/// One that has moved in this tick.
#[derive(Clone, Copy, Debug)]
pub(super) struct Ended {
    pub(super) state: State,
    pub(super) shape: Shape,
    /// How much taller it is than it was, metres.
    pub(super) grown: f64,
}

impl Stacks {
    /// Finds them anew; true if somebody stands on somebody.
    pub fn find(&mut self, all: &Snapshot) -> bool {
        self.pairs.clear();
        self.standing.clear();
        self.carried.clear();
        for me in 0..all.count() {
            for &Near { other, gap } in all.near(me) {
                if all.seen(me).may_be_over(all.seen(other)) && all.are_solid(me, other) && gap.is_over(all.seen(me).up)
                {
                    self.pairs.push((me, other));
                }
            }
        }
        if self.pairs.is_empty() {
            return false;
        }
        self.pairs.sort_unstable();
        self.ranks.clear();
        self.ranks.resize(all.count(), 0);
        for _ in 0..HIGHEST {
            let changed = self.pairs.iter().fold(false, |changed, (upper, lower)| {
                let least = self.ranks[*lower] + 1;
                let rises = self.ranks[*upper] < least;
                self.ranks[*upper] = self.ranks[*upper].max(least);
                changed | rises
            });
            if !changed {
                break;
            }
        }
        self.pairs.retain(|(upper, lower)| self.ranks[*upper] > self.ranks[*lower]);
        let stands = |(me, other): &&(usize, usize)| {
            let gap = all.one(*me).gap(all.one(*other));
            all.one(*me).stands_on == all.one(*other).id && gap.wide <= ON_IT && gap.away.dot(all.seen(*me).up) > ON_TOP
        };
        self.standing.extend(self.pairs.iter().filter(stands));
        self.carried.extend_from_slice(&self.standing);
        self.carried.sort_by_key(|(upper, _)| self.ranks[*upper]);
        self.ended.clear();
        self.ended.resize(all.count(), None);
        self.held.clear();
        self.held.resize(all.count(), false);
        !self.carried.is_empty()
    }

    /// This one, and all who stand on it and on those.
    pub(super) fn on_top_of(&self, one: usize) -> Vec<usize> {
        let mut all = vec![one];
        for (upper, lower) in &self.carried {
            if all.contains(lower) && !all.contains(upper) {
                all.push(*upper);
            }
        }
        all
    }

    /// True where one of them stands on the other, or on somebody who does.
    pub fn are_together(&self, a: usize, b: usize) -> bool {
        !self.carried.is_empty() && (self.on_top_of(a).contains(&b) || self.on_top_of(b).contains(&a))
    }

    /// The last to move.
    pub fn highest(&self) -> u32 {
        if self.pairs.is_empty() { 0 } else { self.ranks.iter().copied().max().unwrap_or(0) }
    }

    /// How many move before this one, one over the other.
    pub fn rank(&self, one: usize) -> u32 {
        if self.pairs.is_empty() { 0 } else { self.ranks[one] }
    }

    /// True where the first is over the second.
    pub fn is_over(&self, upper: usize, lower: usize) -> bool {
        !self.pairs.is_empty() && self.pairs.binary_search(&(upper, lower)).is_ok()
    }

    /// True where the first stands on the second.
    pub fn stands_on(&self, upper: usize, lower: usize) -> bool {
        self.standing.binary_search(&(upper, lower)).is_ok()
    }

    /// True where the first stands on the second and there is no wall between them.
    pub fn is_carried(&self, upper: usize, lower: usize) -> bool {
        self.stands_on(upper, lower) && !self.held[lower]
    }

    /// True where this one has to move once more.
    pub fn is_held(&self, one: usize) -> bool {
        self.held[one]
    }

    /// Notes where one ended.
    pub fn note(&mut self, one: usize, state: &State, shape: Shape, grown: f64) {
        self.ended[one] = Some(Ended { state: *state, shape, grown });
    }

    /// The lower of a pair as the one who stands on it meets it: how it moved, and its size where the tick began.
    pub fn met(&self, all: &Snapshot, (upper, lower): (usize, usize), dt: f64) -> Option<(Body, Seen)> {
        let (it, ended) = (all.one(lower), self.ended[lower]?);
        let to = ended.state.position;
        let jumped = (to - it.feet).length() > it.seen.reach;
        let from = if jumped { to } else { it.feet };
        let id = if jumped || all.has_lost_foothold(upper, lower) { it.id ^ ANOTHER } else { it.id };
        let body = Body::between(id, (from, DQuat::IDENTITY), (to, DQuat::IDENTITY), dt);
        Some((body, seen(&State { position: from, ..ended.state }, &ended.shape)))
    }

    /// The name and the place of the wall that one is to another: a foothold on it is one on whom it is of, where that will be.
    pub fn wall_of(&self, all: &Snapshot, (me, other): (usize, usize)) -> (u64, DVec3) {
        let it = all.one(other);
        let ended = if self.is_over(me, other) { self.ended[other] } else { None };
        let feet = ended.map_or(it.feet, |ended| ended.state.position);
        (if all.one(me).stands_on == it.id { it.id ^ ANOTHER } else { it.id }, feet)
    }
}
