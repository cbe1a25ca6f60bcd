//! Trial moves: a copy of all that a move on the ground can change, and the way back to it.

use glam::DVec3;

use super::{Ride, Run};
use crate::limits::Limits;
use crate::outcome::Telling;
use crate::shape::Shape;
use crate::state::State;
use crate::support::Ground;
use crate::walls::Walls;

/// A copy of all state that a move on the ground can change. It holds the number of events, not the events.
#[derive(Clone, Copy)]
pub(crate) struct Before {
    pub me: State,
    pub events: usize,
    place: DVec3,
    time: f64,
    shape: Shape,
    ridden: u64,
    ground: Ground,
    ground_since: f64,
    up_was_other: bool,
    step_met: Option<(DVec3, f64)>,
    limits: Limits,
    staying: Limits,
    walls: Walls,
    ride: Option<Ride>,
    carried: DVec3,
    unmet: u8,
    told: Telling,
    caught_at: Option<f64>,
    landings: u8,
    leans: u8,
    lost_at: Option<(DVec3, f64)>,
    lip_at: Option<DVec3>,
    held_at: Option<DVec3>,
    flips: u8,
}

impl Run<'_> {
    /// Copies all state that a move can change.
    pub fn before(&self) -> Before {
        Before {
            me: self.me,
            events: self.events.len(),
            place: self.near.place,
            time: self.near.time(),
            shape: self.near.shape,
            ridden: self.near.ridden,
            ground: self.ground,
            ground_since: self.ground_since,
            up_was_other: self.up_was_other,
            step_met: self.step_met,
            limits: self.limits,
            staying: self.staying,
            walls: self.walls,
            ride: self.ride,
            carried: self.carried,
            unmet: self.unmet,
            told: self.told,
            caught_at: self.caught_at,
            landings: self.landings,
            leans: self.leans,
            lost_at: self.lost_at,
            lip_at: self.lip_at,
            held_at: self.held_at,
            flips: self.flips,
        }
    }

    /// Restores a copy, and removes the events reported since.
    pub fn back_to(&mut self, before: &Before) {
        self.events.truncate(before.events);
        self.near.wear(before.shape);
        self.near.set_time(before.time);
        (self.near.place, self.near.ridden) = (before.place, before.ridden);
        self.me = before.me;
        (self.ground, self.ground_since, self.up_was_other) = (before.ground, before.ground_since, before.up_was_other);
        (self.step_met, self.limits, self.staying) = (before.step_met, before.limits, before.staying);
        (self.walls, self.unmet, self.flips) = (before.walls, before.unmet, before.flips);
        (self.ride, self.carried) = (before.ride, before.carried);
        (self.told, self.caught_at) = (before.told, before.caught_at);
        (self.landings, self.leans, self.lost_at) = (before.landings, before.leans, before.lost_at);
        (self.lip_at, self.held_at) = (before.lip_at, before.held_at);
    }

    /// Asks a question at other places: wherever `ask` moves the character, it is put back.
    pub fn elsewhere<T>(&mut self, ask: impl FnOnce(&mut Self) -> T) -> T {
        let place = self.near.place;
        let answer = ask(self);
        self.near.place = place;
        answer
    }

    /// Attempts a move. The character stays where it leads if that succeeds, and is put back if not.
    pub fn attempt<T>(&mut self, attempt: impl FnOnce(&mut Self) -> Option<T>) -> Option<T> {
        let place = self.near.place;
        let done = attempt(self);
        if done.is_none() {
            self.near.place = place;
        }
        done
    }
}
