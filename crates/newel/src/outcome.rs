//! What one tick returned: what happened, and how things stand.

use glam::{DVec3, Vec3};

use crate::character::{Mode, State};
use crate::contact::{Ground, Support};

/// Something that happened inside a tick.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Event {
    /// When, by the character's own clock, seconds: exact inside the tick.
    pub time: f64,
    /// Where the feet were then, metres.
    pub place: DVec3,
    /// The velocity then, m/s: before a landing or a bump, after a jump or a launch.
    pub velocity: DVec3,
    /// What.
    pub kind: EventKind,
}

/// What can happen inside a tick.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum EventKind {
    /// It jumped.
    Jumped,
    /// A jump reached its top.
    Topped,
    /// It came down on ground that carries it.
    Landed {
        /// The speed along down at touch-down, m/s.
        speed: f32,
    },
    /// The ground ended, or no longer carries.
    LeftGround {
        /// What is underfoot now.
        support: Support,
    },
    /// It took a step up or down in stride.
    Stepped {
        /// How much higher it stands at once, metres; negative for down.
        height: f32,
    },
    /// The head or a shoulder met something above while rising.
    Bumped,
    /// A command threw it.
    Launched,
    /// A command put it somewhere else.
    Teleported,
    /// It was pushed out of something that it overlapped.
    PushedOut {
        /// How far, metres.
        distance: f32,
    },
    /// It is caught between what closes in: it stays where it is, and overlaps while this goes on. Told every tick until
    /// it is free; what becomes of it is the game's to say.
    Crushed {
        /// The body that presses.
        body: u64,
    },
    /// It overlaps something and there is no way out near by.
    Stuck,
    /// Too much happened in one tick; the rest of it was dropped in place.
    TimeDropped {
        /// How much, seconds.
        seconds: f32,
    },
}

/// How things stand at the end of a tick: for animation, camera and sound.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Readout {
    /// What moves it.
    pub mode: Mode,
    /// True on ground that carries it.
    pub grounded: bool,
    /// What is underfoot, and why it carries or does not.
    pub ground: Ground,
    /// Speed along the ground, against what carries it, or across in the air, m/s.
    pub speed: f32,
    /// Speed along up in the world, m/s; negative when falling.
    pub rise: f32,
    /// Unit vector: where the body looks.
    pub facing: Vec3,
    /// How much the feet were moved at once by steps in this tick, metres along up: what a camera should ease out.
    pub stepped: f32,
    /// True where this tick put the character somewhere else, so that drawing must not interpolate.
    pub cut: bool,
}

/// What one tick returned.
#[derive(Clone, Copy, Debug)]
pub struct Outcome<'w> {
    /// What happened, in order.
    pub events: &'w [Event],
    /// How things stand.
    pub readout: Readout,
}

impl Readout {
    pub(crate) fn of(state: &State, stepped: f32, cut: bool) -> Readout {
        let up = state.up.as_dvec3();
        let own = state.velocity - state.carried;
        let rise = state.velocity.dot(up);
        let grounded = state.mode == Mode::Ground;
        let speed = if grounded { own.length() } else { (own - up * own.dot(up)).length() };
        Readout {
            mode: state.mode,
            grounded,
            ground: state.ground,
            speed: speed as f32,
            rise: rise as f32,
            facing: state.facing,
            stepped,
            cut,
        }
    }
}
