//! A route: the legs of a way, and what each takes.

use newel::glam::DVec3;
use newel::{Character, Mode, Stance};

use crate::link::{LinkKind, Script};

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
    /// Straight over the map on the water, into it, or out of it.
    Swimming,
    /// From rest, by a script.
    Link(LinkKind, Script),
}

impl By {
    /// As whoever stands or swims there goes on.
    pub(crate) fn of(who: &Character) -> By {
        if who.mode == Mode::Swim { By::Swimming } else { By::Walking(who.stance) }
    }

    /// Whether its legs are walked or swum, not played.
    pub(crate) fn is_straight(self) -> bool {
        !matches!(self, By::Link(..))
    }
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
    /// Readable text.
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
