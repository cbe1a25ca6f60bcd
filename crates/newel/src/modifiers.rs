//! Modifiers of the game, and the highest speed.

use glam::DVec3;

use crate::error::TickError;
use crate::fingerprint::{Fingerprint, Fingerprinted};
use crate::terrain::Who;

/// The greatest speed a character can have, m/s.
pub(crate) const MOST_SPEED: f64 = 10_000.0;

/// The velocity, or one along it at the greatest speed.
pub(crate) fn within_most_speed(velocity: DVec3) -> DVec3 {
    let speed = velocity.length();
    if speed > MOST_SPEED { velocity * (MOST_SPEED / speed) } else { velocity }
}

/// Modifiers of the game, in effect while they are passed: factors on the tuning, and abilities switched off. The default changes nothing.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Modifiers {
    /// Identity of the character to the terrain, and the layers that it touches.
    #[cfg_attr(feature = "serde", serde(default))]
    pub who: Who,
    /// On the top speed, 0 to 100.
    pub speed: f32,
    /// On every acceleration and deceleration of one's own, 0 to 100.
    pub acceleration: f32,
    /// On the height of a jump, 0 to 100.
    pub jump_height: f32,
    /// On gravity, 0 to 100; a jump then takes off at the same speed and rises accordingly.
    pub gravity: f32,
    /// Whether it can jump, in any way.
    pub can_jump: bool,
    /// Whether it can sprint.
    pub can_sprint: bool,
    /// Whether it can slide down walls and jump off them.
    pub can_use_walls: bool,
    /// Whether it can dash.
    pub can_dash: bool,
    /// Whether it can crouch and lie flat; what is low when this is switched off stands up.
    pub can_crouch: bool,
    /// Whether it can slide.
    pub can_slide: bool,
    /// Whether it can hover; what hovers when this is switched off falls.
    pub can_hover: bool,
    /// Whether it can climb; what climbs when this is switched off falls.
    pub can_climb: bool,
    /// Whether it can get up onto ledges and over what is low; what hangs when this is switched off falls.
    pub can_use_ledges: bool,
    /// Whether it can swim; what swims when this is switched off sinks.
    pub can_swim: bool,
}

impl Default for Modifiers {
    fn default() -> Modifiers {
        Modifiers {
            who: Who::default(),
            speed: 1.0,
            acceleration: 1.0,
            jump_height: 1.0,
            gravity: 1.0,
            can_jump: true,
            can_sprint: true,
            can_use_walls: true,
            can_dash: true,
            can_crouch: true,
            can_slide: true,
            can_hover: true,
            can_climb: true,
            can_use_ledges: true,
            can_swim: true,
        }
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

impl Fingerprinted for Modifiers {
    fn feed(&self, print: &mut Fingerprint) {
        [self.speed, self.acceleration, self.jump_height, self.gravity].iter().for_each(|x| print.f32(*x));
        let abilities = [
            self.can_jump,
            self.can_sprint,
            self.can_use_walls,
            self.can_dash,
            self.can_crouch,
            self.can_slide,
            self.can_hover,
            self.can_climb,
            self.can_use_ledges,
            self.can_swim,
        ];
        abilities.iter().for_each(|can| print.u64(u64::from(*can)));
    }
}
