//! Observations and reasons of a tick, for a listener.
//!
//! Without the feature `explain` nobody can listen, and the compiler leaves all of it out.
#![cfg_attr(not(feature = "explain"), allow(dead_code, unreachable_pub))]

use glam::{DVec3, Vec3};

use crate::phase::Mode;
use crate::support::{Ground, Support};

/// Hears what a tick sees, as it happens. A `Vec` of notes keeps them all.
pub trait Sink {
    /// One thing was seen or decided.
    fn hear(&mut self, note: Note);
}

impl Sink for Vec<Note> {
    fn hear(&mut self, note: Note) {
        self.push(note);
    }
}

/// One thing that a tick saw or decided.
#[derive(Clone, Debug, PartialEq)]
pub struct Note {
    /// Seconds into the tick.
    pub time: f64,
    /// Where the feet were then, metres.
    pub place: DVec3,
    /// What it was.
    pub seen: Seen,
}

/// An observation of a tick.
#[derive(Clone, Debug, PartialEq)]
#[non_exhaustive]
pub enum Seen {
    /// The terrain was asked for everything in a box of the world.
    Gathered {
        /// Least corner, metres.
        low: DVec3,
        /// Greatest corner.
        high: DVec3,
        /// Everything it answered with, as the tick sees it now.
        facets: Vec<SeenFacet>,
        /// How many round obstacles.
        rounds: usize,
    },
    /// A piece of the tick begins: the mode may move for so long.
    Piece {
        /// Mode of movement.
        mode: Mode,
        /// Its velocity in the world, m/s.
        velocity: DVec3,
        /// Ground underfoot and its support.
        ground: Ground,
        /// Seconds to the next change that is known of.
        span: f64,
    },
    /// It moved until something was touched, or the time was up.
    Moved {
        /// Where from, metres.
        from: DVec3,
        /// Seconds used of those it was given.
        used: f64,
        /// Seconds it was given.
        of: f64,
        /// What stopped it.
        stopped: Option<SeenContact>,
    },
    /// A way was tried out, at one moment.
    Probed {
        /// The way, metres.
        way: Vec3,
        /// The part of it that was free, 0 to 1.
        part: f32,
        /// What stopped it.
        stopped: Option<SeenContact>,
    },
    /// Support was decided: all that is touched, and what each of it carries.
    Judged {
        /// Each contact, and how it carries: `None` where it is not underfoot, or the rim of a face that is stood on.
        contacts: Vec<(SeenContact, Option<Support>)>,
        /// The result.
        ground: Ground,
    },
    /// Walls constrained a wish.
    Pressed {
        /// The planes: unit normals to the free side, and how fast each comes, m/s.
        planes: Vec<(DVec3, f64)>,
        /// The velocity wanted, m/s.
        wanted: DVec3,
        /// The nearest that enters none of them.
        left: DVec3,
    },
    /// A step was tried.
    Step {
        /// What was met.
        met: SeenContact,
        /// How much higher it is than the feet, metres.
        height: f32,
        /// The result.
        result: StepResult,
    },
}

/// Result of a step that was tried.
#[derive(Clone, Copy, Debug, PartialEq)]
#[non_exhaustive]
pub enum StepResult {
    /// It was taken.
    Taken,
    /// It is higher than the feet may rise.
    TooHigh {
        /// The most they may rise now, metres.
        most: f32,
    },
    /// There is no room overhead to rise.
    NoHeadroom,
    /// There is no room on top to stand.
    NoRoomOnTop,
    /// There is nothing on top that carries, or it is higher than the step height.
    NoFooting,
    /// There was no way left to go onto it.
    NoWay,
}

impl StepResult {
    /// Readable name.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            StepResult::Taken => "taken",
            StepResult::TooHigh { .. } => "refused: too high",
            StepResult::NoHeadroom => "refused: no room overhead",
            StepResult::NoRoomOnTop => "refused: no room on top",
            StepResult::NoFooting => "refused: nothing on top carries",
            StepResult::NoWay => "refused: no way onto it",
        }
    }
}

/// A facet as the tick sees it, in the world.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct SeenFacet {
    /// The game's own name for the body it belongs to; 0 is the world.
    pub body: u64,
    /// Its number within the body.
    pub id: u32,
    /// Its corners, metres.
    pub corners: [DVec3; 3],
    /// Unit normal.
    pub normal: Vec3,
    /// Surface number of the obstacle.
    pub surface: u16,
}

/// A touch, or all but a touch, in the world.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct SeenContact {
    /// The game's own name for the body touched; 0 is the world.
    pub body: u64,
    /// The number of the facet or round within the body.
    pub id: u32,
    /// True for a round obstacle.
    pub round: bool,
    /// Where, metres.
    pub point: DVec3,
    /// Unit, toward the character.
    pub normal: Vec3,
    /// Unit normal of the face, on the character's side.
    pub face: Vec3,
    /// From the tuned surface to the obstacle, metres; negative under the surface.
    pub gap: f32,
    /// True where an edge or a corner is touched, and not the face.
    pub edge: bool,
    /// Surface number of the obstacle.
    pub surface: u16,
}

/// The listener, if any.
#[derive(Default)]
pub(crate) struct Listener<'a> {
    #[cfg(feature = "explain")]
    sink: Option<&'a mut dyn Sink>,
    #[cfg(not(feature = "explain"))]
    sink: core::marker::PhantomData<&'a ()>,
}

impl<'a> Listener<'a> {
    #[cfg(feature = "explain")]
    pub fn to(sink: &'a mut dyn Sink) -> Listener<'a> {
        Listener { sink: Some(sink) }
    }

    /// The same listener for a shorter while.
    pub fn lend(&mut self) -> Listener<'_> {
        #[cfg(feature = "explain")]
        return Listener { sink: self.sink.as_mut().map(|s| &mut **s as &mut dyn Sink) };
        #[cfg(not(feature = "explain"))]
        Listener::default()
    }

    #[cfg(feature = "explain")]
    pub fn is_on(&self) -> bool {
        self.sink.is_some()
    }

    #[cfg(not(feature = "explain"))]
    pub fn is_on(&self) -> bool {
        false
    }

    #[cfg(feature = "explain")]
    pub fn hear(&mut self, note: Note) {
        if let Some(sink) = &mut self.sink {
            sink.hear(note);
        }
    }

    #[cfg(not(feature = "explain"))]
    pub fn hear(&mut self, _note: Note) {}
}
