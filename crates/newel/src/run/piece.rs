//! A piece of a tick: between two moments at which something changes.

use glam::DVec3;

/// How a piece of the tick began.
#[derive(Clone, Copy, Debug, Default)]
pub(crate) struct PieceStart {
    pub place: DVec3,
    /// Where it was and how fast, in the world, as time began to pass.
    pub from: DVec3,
    pub velocity: DVec3,
    pub speed: f64,
    pub on_ground: bool,
    pub carried: DVec3,
    /// Seconds in which lost ground could still be jumped from.
    pub coyote: f32,
    /// Seconds that what it was about had left.
    pub phase_left: f32,
    /// Seconds until the next slide.
    pub slide_cooldown: f32,
}
