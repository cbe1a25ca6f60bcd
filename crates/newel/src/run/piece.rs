//! A piece of a tick: between two moments at which something changes.

use glam::DVec3;

use super::Run;
use crate::law::Ends;
use crate::shape::Form;
use crate::support::{Ground, Underfoot};

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
    /// The ground underfoot.
    pub ground: Ground,
    /// Seconds in which lost ground could still be jumped from.
    pub coyote: f32,
    /// Seconds that what it was about had left.
    pub phase_left: f32,
    /// Seconds until the next slide.
    pub slide_cooldown: f32,
}

impl Run<'_> {
    /// Notes the law of the piece, which took `used` seconds.
    pub(super) fn note_law(&mut self, used: f64) {
        let swept = self.near.swept.take();
        if used > 0.0 {
            let (from, place) = (self.piece.from, self.near.place);
            let grounds = [Underfoot::of(&self.piece.ground, from), Underfoot::of(&self.ground, place)];
            let is_round = self.near.shape.form == Form::Capsule;
            let is_walk = is_round && self.piece.on_ground && self.me.is_on_ground();
            self.laws.add(
                swept.as_ref(),
                &Ends {
                    times: [self.now, self.now + used],
                    places: [from, place],
                    grounds,
                    velocities: [self.piece.velocity, self.me.velocity + self.carried],
                    up: self.up,
                    radius: f64::from(self.near.shape.radius),
                    walks: is_walk && !self.is_carried(),
                },
            );
        }
    }
}
