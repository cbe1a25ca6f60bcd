//! Commands of the game to a character.

use glam::{DVec3, Vec3};

use crate::drive::intent::Timed;
use crate::error::TickError;
use crate::fingerprint::{Fingerprint, Fingerprinted};
use crate::launch::Launch;

/// A command of the game, executed at the start of a tick.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum Command {
    /// Puts the feet somewhere else, at rest. A place that is not clear is an error that names the nearest that is.
    Teleport {
        /// Where the feet go, metres.
        to: DVec3,
        /// Where it then looks; as before if `None`.
        facing: Option<Vec3>,
    },
    /// Moves the feet by a vector at once, swept: along what is in the way, over steps and down slopes on the ground,
    /// with its own velocity as it was. For moves that an animation drives.
    Displace {
        /// How far, metres in the world; at most 100.
        by: DVec3,
    },
    /// Moves the feet by exactly this at once, swept, if all of the way is free, or else not at all; which, is told by
    /// [`EventKind::GridStep`](crate::EventKind::GridStep). For games that move from cell to cell with each press.
    GridStep {
        /// How far, metres in the world; at most 100.
        by: DVec3,
    },
    /// Moves all of it by a vector at once, not swept, with its velocity and what it is doing as they are: for a world that goes on at its
    /// other side, or whose origin is moved.
    Shift {
        /// How far, metres in the world.
        by: DVec3,
    },
    /// Sets its own gravity, which pulls wherever no zone does.
    Gravity {
        /// Along which way in the world, and how strongly, 0 to 100: 1 long is what the tuning makes of it; zero floats.
        pull: Vec3,
    },
    /// Turns its own gravity round.
    FlipGravity,
    /// From now on it is pulled toward whatever it stands on: it walks round edges, and up walls that its heading leads into; in the
    /// air as on the ground it left. Or no longer.
    Cling(bool),
    /// Keeps it to the plane through where it is and square to this normal from now on, as [`Spawn::in_plane`](crate::Spawn::in_plane); or
    /// to none, where that is zero. The velocity out of the plane is lost. A box needs one.
    Plane {
        /// Square to up for a side view, along it for a top view.
        normal: Vec3,
    },
    /// Throws the character into the air.
    Launch(Launch),
    /// A change of intent inside the tick: as one of the intent's own changes, for those beyond the eight that it carries. Where both change
    /// something at one moment, the intent's own come first.
    Change(Timed),
}

impl Command {
    pub(crate) fn check(&self) -> Result<(), TickError> {
        let (field, size, most) = match self {
            Command::Teleport { to, facing } => {
                let facing = facing.map_or(0.0, |f| f64::from(f.length()));
                ("command.teleport", to.length() + facing, f64::MAX)
            }
            Command::Displace { by } => ("command.displace (its length)", by.length(), FARTHEST),
            Command::GridStep { by } => ("command.grid_step (its length)", by.length(), FARTHEST),
            Command::Shift { by } => ("command.shift", by.length(), f64::MAX),
            Command::Gravity { pull } => {
                ("command.gravity (its strength)", f64::from(pull.length()), f64::from(MOST_PULL))
            }
            // A change is checked among those of the intent.
            Command::FlipGravity | Command::Cling(_) | Command::Plane { .. } | Command::Change(_) => return Ok(()),
            Command::Launch(launch) => return launch.check(),
        };
        if !size.is_finite() {
            return Err(TickError::NotFinite { field });
        }
        if size > most { Err(TickError::OutOfRange { field, value: size, least: 0.0, most }) } else { Ok(()) }
    }
}

/// The strongest gravity, as a factor on what the tuning makes of it.
pub(crate) const MOST_PULL: f32 = 100.0;

/// The farthest that a command displaces, metres.
const FARTHEST: f64 = 100.0;

impl Fingerprinted for Command {
    fn feed(&self, print: &mut Fingerprint) {
        let (kind, vector) = match *self {
            Command::Teleport { to, .. } => (0, to),
            Command::Displace { by } => (1, by),
            Command::Shift { by } => (8, by),
            Command::GridStep { by } => (10, by),
            Command::Launch(launch) => {
                launch.feed(print);
                (2, launch.velocity)
            }
            Command::Gravity { pull } => (4, pull.as_dvec3()),
            Command::FlipGravity => (5, DVec3::ZERO),
            Command::Cling(on) => (6 + u64::from(on), DVec3::ZERO),
            Command::Plane { normal } => (9, normal.as_dvec3()),
            Command::Change(timed) => {
                timed.feed(print);
                (11, DVec3::ZERO)
            }
        };
        print.u64(kind);
        vector.to_array().iter().for_each(|x| print.f64(*x));
        if let Command::Teleport { facing: Some(facing), .. } = self {
            facing.to_array().iter().for_each(|x| print.f32(*x));
        }
    }
}

impl From<Launch> for Command {
    fn from(launch: Launch) -> Command {
        Command::Launch(launch)
    }
}
