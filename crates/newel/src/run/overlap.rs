//! Terrain that has come to overlap the character: out of it, the nearest way, or crushed.

use glam::DVec3;

use super::{MOST_TOUCHED, Run};
use crate::coarse::CoarseDirection;
use crate::contact::point::Contact;
use crate::outcome::EventKind;
use crate::phase::Mode;
use crate::walls::Walls;

/// Least cosine between a crushing contact and the opposite one.
const AGAINST: f32 = 0.3;

impl Run<'_> {
    /// True while it is caught between what closes in: time passes, and it stays where it is.
    pub fn is_caught(&self) -> bool {
        self.me.pressed != CoarseDirection::default()
    }

    /// Caught, it stays where it is in the world, whatever it stood on carries away under it.
    pub fn stay_caught(&mut self, span: f64) -> f64 {
        self.leave_foothold();
        span
    }

    /// A crushed character tries to come free once at each grid moment: so it does at the same moments at every tick rate.
    pub fn try_to_come_free(&mut self) {
        if self.is_caught() && self.on_grid && self.caught_at != Some(self.now()) {
            (self.walls, self.unmet) = (Walls::default(), MOST_TOUCHED);
            self.clear_of_terrain();
        }
    }

    /// If terrain has come to overlap the character since the last tick: out of it, the nearest way.
    pub fn clear_of_terrain(&mut self) {
        let half_skin = 0.5 * self.near.shape.skin();
        // A standing character queries within half a skin next; one query serves both.
        let standing = self.me.mode == Mode::Ground && self.me.velocity == DVec3::ZERO;
        if standing {
            self.near.touch(half_skin);
        } else if self.near.is_beside_steep(&self.staying) {
            // And who moves is to meet what it touches: one answer again.
            self.near.touch(self.near.shape.touching());
        } else {
            self.unmet = 0;
            self.near.touch(-half_skin);
        }
        if self.near.contacts.iter().all(|c| c.gap >= -half_skin) {
            self.me.pressed = CoarseDirection::default();
            return;
        }
        // A body that caught the character still does after it has stopped.
        let (from, mover) = (self.near.place, self.near.mover_touched(self.is_caught()));
        let free = self.near.push_out(half_skin, 2.0 * self.near.shape.height);
        let way = (self.near.place - from).as_vec3();
        // Never back through what pressed it, nor through anything else: the side it was on before counts.
        let same_side = way.dot(self.me.pressed.direction()) >= -2.0 * half_skin && self.near.is_open_from(from);
        if free && same_side {
            self.me.pressed = CoarseDirection::default();
            self.report(EventKind::PushedOut { distance: way.length() });
            return;
        }
        self.near.place = from;
        match mover {
            Some(mover) => self.crush(&mover),
            None => {
                self.caught_at = Some(self.now());
                self.report(EventKind::Stuck);
            }
        }
    }

    /// Between surfaces that close in from all sides, for `span` seconds: it stays where it is, and where one of them moves it is caught.
    /// Returns the seconds used.
    pub fn closed_in(&mut self, span: f64) -> f64 {
        self.me.velocity = DVec3::ZERO;
        let Some(mover) = self.walls.mover() else { return span };
        self.crush(&mover);
        0.0
    }

    /// Caught between `mover` and something else: it stays where it is, and the game hears of it, once a moment.
    pub fn crush(&mut self, mover: &Contact) {
        if self.caught_at.replace(self.now()) == Some(self.now()) {
            return;
        }
        self.me.velocity = DVec3::ZERO;
        if self.me.pressed == CoarseDirection::default() {
            self.me.pressed = CoarseDirection::from(mover.normal);
        }
        let room = self.room_along(mover);
        self.report(EventKind::Crushed { body: self.near.patch.body(mover.body).id, room });
    }

    /// The room between `mover` and the opposite contact: its own size that way, less how deep it is in either.
    fn room_along(&mut self, mover: &Contact) -> f32 {
        self.near.touch(0.0);
        let against = self.near.contacts.iter().filter(|c| c.normal.dot(mover.normal) < -AGAINST);
        let deep = against.map(|c| -c.gap).fold(0.0, f32::max);
        let (shape, axis) = (&self.near.shape, self.me.axis);
        let size = 2.0 * shape.radius + axis.dot(mover.normal).abs() * shape.core_length();
        (size - deep - (-mover.gap).max(0.0)).max(0.0)
    }
}
