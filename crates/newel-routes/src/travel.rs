//! How a trip travels, where it stops, and how it ends.

use newel::glam::DVec3;
use newel::{Barred, Going};

use crate::pick::NoPlace;
use crate::planning::Planning;
use crate::route::Short;

/// How a [`Trip`](crate::Trip) travels.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Travel {
    /// How it goes: its speed, its patience, what it makes of what is in its way and of the player's own heading, and how near counts as
    /// arrived.
    pub going: Going,
    /// How much before a corner it may begin to turn, metres, where there is room: 0 goes to each corner.
    pub rounds: f64,
    /// Whether it never walks off an edge where the route does not.
    pub guard: bool,
    /// Whether it goes as near as it can where no way leads there; else it stays.
    pub as_near_as_can: bool,
    /// How often it plans anew for a place that moves, seconds from one plan to the next.
    pub plans_every: f64,
    /// How much it plans in a sixtieth of a second of the game's time, in places: see [`Routes::plan`](crate::Routes::plan). It stands while it has no route
    /// yet, and goes on along the one it has while it plans another.
    pub places: usize,
    /// How many times it looks for another way where something bars it that the survey did not know of.
    pub other_ways: u32,
}

impl Default for Travel {
    /// Full speed, corners rounded within 1.6 m, as near as it can, and two other ways tried.
    fn default() -> Travel {
        let going = Going { patience: 1.0, ..Going::default() };
        Travel {
            going,
            rounds: 1.6,
            guard: true,
            as_near_as_can: true,
            plans_every: 0.25,
            places: Planning::PLACES,
            other_ways: 2,
        }
    }
}

/// A place on a trip with several.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Stop {
    /// Where, metres.
    pub place: DVec3,
    /// How long it stays there, seconds.
    pub waits: f64,
}

/// Behaviour after the last stop.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum AfterLast {
    /// The trip ends.
    #[default]
    Ends,
    /// Back the way it came, to and fro.
    Back,
    /// The first again, round and round.
    Again,
}

/// How a [`Trip`](crate::Trip) ended.
#[derive(Clone, Debug, PartialEq)]
#[non_exhaustive]
pub enum TripEnd {
    /// It stands there.
    Arrived {
        /// How far from the place itself, metres over the map: more than the radius only where nobody can stand nearer.
        off: f64,
    },
    /// No way leads all the way there.
    Short {
        /// Why.
        why: Short,
        /// How far it is yet, metres straight.
        left: f64,
    },
    /// The place is none to stand at.
    NoPlace(NoPlace),
    /// Something is in its way, and there is no other.
    Blocked {
        /// What.
        by: Barred,
        /// How far it is yet, metres straight.
        left: f64,
    },
    /// It came no nearer, and touches nothing that would be why: carried away, thrown about, too slow, or locked.
    NoNearer {
        /// How far it is yet, metres straight.
        left: f64,
    },
    /// The player took over.
    Overruled,
    /// The game called it off.
    Cancelled,
}

impl core::fmt::Display for TripEnd {
    /// How it ended, how far it is yet, and what would change that.
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        let words = self.words();
        match self {
            TripEnd::Arrived { off } => write!(f, "{words}, {off:.2} m off"),
            TripEnd::Short { why: Short::NoWay, left } => write!(
                f,
                "{words}, {left:.1} m short: with these steps, slopes, jumps and drops (`Survey::drop`, `jumps`, `climbs`, `swims`) nothing \
                 leads there; ways narrower than the character and `Survey::cell` together may be overlooked"
            ),
            TripEnd::Short { why: Short::TooFar, left } => write!(
                f,
                "{words}, {left:.1} m short: `Routes::prepare` the ground in between, or raise `Survey::most_places`"
            ),
            TripEnd::NoPlace(why) => write!(f, "{words}: {why}"),
            TripEnd::Blocked { by, left } if by.edge => write!(
                f,
                "{words} at {:.2}, {left:.1} m short: `Travel::guard` holds it there; tell `Routes::changed` where ground has gone",
                by.point
            ),
            TripEnd::Blocked { by, left } => write!(
                f,
                "{words} at {:.2}, {left:.1} m short: tell `Routes::changed` where the terrain has changed, or let `Travel::other_ways` be more",
                by.point
            ),
            TripEnd::NoNearer { left } => write!(
                f,
                "{words}, {left:.1} m short: something carries it, slows it, or keeps it in the air; `Going::patience` is how long it tries"
            ),
            TripEnd::Overruled | TripEnd::Cancelled => f.write_str(words),
        }
    }
}

impl TripEnd {
    /// Readable text.
    #[must_use]
    pub fn words(&self) -> &'static str {
        match self {
            TripEnd::Arrived { .. } => "arrived",
            TripEnd::Short { why, .. } => why.words(),
            TripEnd::NoPlace(why) => why.words(),
            TripEnd::Blocked { by, .. } if by.edge => "at an edge",
            TripEnd::Blocked { .. } => "something is in the way",
            TripEnd::NoNearer { .. } => "came no nearer",
            TripEnd::Overruled => "the player took over",
            TripEnd::Cancelled => "called off",
        }
    }
}
