//! What the game does to a character, and what it changes about it for now.

use glam::{DVec3, Vec3};

use crate::error::TickError;

/// What the game does to the character at the start of a tick.
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
    /// Throws the character into the air.
    Launch {
        /// Metres per second in the world.
        velocity: DVec3,
        /// Added to what it has, rather than instead of it.
        add: bool,
    },
}

impl Command {
    pub(crate) fn check(&self) -> Result<(), TickError> {
        let (finite, field) = match self {
            Command::Teleport { to, facing } => {
                (to.is_finite() && facing.is_none_or(|f| f.is_finite()), "command.teleport")
            }
            Command::Launch { velocity, .. } => {
                (velocity.is_finite() && velocity.length() <= MOST_SPEED, "command.launch")
            }
        };
        if finite { Ok(()) } else { Err(TickError::NotFinite { field }) }
    }
}

/// The greatest speed a character can have, m/s.
pub(crate) const MOST_SPEED: f64 = 10_000.0;

/// What the game changes for now: factors on the tuning, and abilities switched off. The default changes nothing.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Modifiers {
    /// On the top speed, 0 to 100.
    pub speed: f32,
    /// On every acceleration and deceleration of one's own, 0 to 100.
    pub acceleration: f32,
    /// On the height of a jump, 0 to 100.
    pub jump_height: f32,
    /// On gravity, 0 to 100; a jump then takes off at the same speed and rises accordingly.
    pub gravity: f32,
    /// Whether it can jump.
    pub can_jump: bool,
}

impl Default for Modifiers {
    fn default() -> Modifiers {
        Modifiers { speed: 1.0, acceleration: 1.0, jump_height: 1.0, gravity: 1.0, can_jump: true }
    }
}

impl Modifiers {
    pub(crate) fn check(&self) -> Result<(), TickError> {
        let factors = [
            ("modifiers.speed", self.speed),
            ("modifiers.acceleration", self.acceleration),
            ("modifiers.jump_height", self.jump_height),
            ("modifiers.gravity", self.gravity),
        ];
        match factors.into_iter().find(|(_, value)| !(0.0..=100.0).contains(value)) {
            Some((field, value)) => {
                Err(TickError::OutOfRange { field, value: f64::from(value), least: 0.0, most: 100.0 })
            }
            None => Ok(()),
        }
    }
}
