//! How far a slice can reach: the box that is gathered for it.

use glam::Vec3;

use super::Run;
use crate::drive::buttons::Button;
use crate::phase::{Mode, Phase};
use crate::shape::Shape;

/// So much further than it can get it looks, in parts of its height: standing still, and else.
const IDLE: f32 = 0.02;
const BUSY: f32 = 0.05;

impl Run<'_> {
    /// One query for the box of what this tick can reach; longer motion gathers again by itself.
    pub fn gather(&mut self) {
        let shape = self.near.shape;
        let up = self.me.up;
        let values = self.tuning.values();
        let sprint = values.sprint.filter(|_| self.me.held.has(Button::Sprint)).map_or(0.0, |s| s.speed);
        let wish = values.ground.speed.max(sprint) * self.modifiers.speed * self.heading_flat().length();
        let swims = values.swim.filter(|_| self.me.mode == Mode::Swim);
        let strokes = swims.map_or(0.0, |s| s.speed.max(s.rise).max(s.dive) * self.modifiers.speed);
        let speed = (self.me.velocity.length() as f32).max(wish).max(strokes);
        let idle = speed == 0.0 && self.me.mode == Mode::Ground;
        let reach = (speed * self.dt as f32 * 1.1).min(2.0) + if idle { IDLE } else { BUSY } * shape.height;
        // The hands reach further than the shape: as far as grips and lips are looked for.
        let hands = match self.me.mode {
            Mode::Climb => 0.6,
            Mode::Ledge => 2.5,
            Mode::Swim if values.ledge.is_some() || values.climb.is_some() => 0.6,
            _ => 0.0,
        };
        let reach = reach + hands * shape.radius;
        let climb = if idle { 0.0 } else { self.limits.step };
        // A pending rise tests for room.
        let rises = self.me.asked.wanted() < self.me.stance;
        let height = if rises { self.tuning.shape().height } else { shape.height };
        // A tilted character may point any way.
        let reach = if self.me.axis == up { reach } else { reach + height };
        self.near.pass_one_way(self.me.phase == Phase::DropsThrough, false);
        let (low, high) = box_about(shape.radius, up, (self.limits.step, height + climb), reach);
        self.near.gather(low, high);
    }
}

/// The box that is gathered for an upright character of this shape that stands still, from its feet.
pub(crate) fn box_at_rest(shape: &Shape, up: Vec3, step: f32) -> (Vec3, Vec3) {
    box_about(shape.radius, up, (step, shape.height), IDLE * shape.height)
}

/// The box about a column from so far `below` the feet to so far `above` them, and `reach` more on all sides.
fn box_about(radius: f32, up: Vec3, (below, above): (f32, f32), reach: f32) -> (Vec3, Vec3) {
    let (low, high) = (up * -below, up * above);
    let across = (Vec3::splat(radius) - (up * radius).abs()).max(Vec3::ZERO);
    (low.min(high) - reach - across, low.max(high) + reach + across)
}
