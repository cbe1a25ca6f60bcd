//! Carrying by moving ground. A character that leaves it keeps the velocity.
//!
//! On the ground the velocity of a tick under way is the character's own, against what carries it; only in the state,
//! in events and in the air is it the world's.

use glam::{DVec3, Vec3};

use crate::activity::StepOver;
use crate::contact::arcs::Path;
use crate::math::{direction, flatten, flatten64};
use crate::phase::Mode;
use crate::run::{Ride, Run};
use crate::support::Ground;

/// Where a foot stands is kept in single precision: what has moved it by less than this part of how far out it is is rounding, and
/// no motion.
const ROUNDED: f64 = 2.5e-7;

impl Run<'_> {
    /// Onto what it stood on when the last tick ended, where that is now; its velocity becomes its own.
    pub fn mount(&mut self) {
        self.piece.place = self.near.place;
        let id = self.ground.body;
        let rides = self.me.is_on_ground() || self.me.mode.holds_on() || self.me.mode == Mode::Swim;
        if !rides || id == 0 {
            return;
        }
        // The carrier may be gone or elsewhere. The character then keeps its velocity and finds no ground.
        let Some(body) = self.near.body_named(id) else { return };
        let (kept, here) = (self.me.foot.as_dvec3(), body.to_local(self.middle_of_foot()));
        if (here - kept).length() > f64::from(self.near.shape.skin()) {
            return;
        }
        self.me.velocity -= self.me.carried.as_dvec3();
        let rounded = (here - kept).abs().max_element() <= ROUNDED * kept.abs().max_element();
        if !rounded {
            let moved = self.me.keeps.flat64(body.to_world(kept) - self.middle_of_foot());
            self.near.place += moved;
            self.ground.point += moved;
            self.piece.place = self.near.place;
        }
        self.near.ridden = id;
        self.ride = Some(Ride { body, foot: Some(if rounded { here } else { kept }), kept: true });
        self.refresh_ride();
    }

    /// Takes `ground` as what is stood on. Where that is another body than before, returns what its being so adds to the
    /// character's own flat velocity.
    pub fn take_ground(&mut self, ground: Ground) -> DVec3 {
        let before = self.ground.body;
        self.tell_step(&ground);
        self.up_was_other = false;
        if ground.body != before {
            // A turning body has carried it another way since the piece began.
            self.refresh_ride();
        }
        self.ground = ground;
        self.me.activity.set_step(StepOver::default());
        self.ground_since = self.near.time();
        if ground.body == before {
            return DVec3::ZERO;
        }
        let carried = self.carried;
        self.board();
        flatten64(carried - self.carried, self.up())
    }

    /// The body underfoot carries the character from now on.
    pub fn board(&mut self) {
        let id = self.ground.body;
        let body = if id == 0 { None } else { self.near.body_named(id) };
        self.near.ridden = id;
        self.ride = body.map(|body| Ride { body, foot: None, kept: false });
        self.carried = DVec3::ZERO;
        // From now on: what it lands on inside a tick has not carried it since the tick began.
        self.ground_since = self.near.time();
        self.refresh_ride();
    }

    /// Nothing carries it any more: its velocity is the world's, with as much of the body's as is kept.
    pub fn alight(&mut self) {
        let kept = f64::from(self.tuning.values().air.carried);
        self.me.velocity += self.carried * kept;
        self.carried = DVec3::ZERO;
        self.near.ridden = 0;
        self.ride = None;
    }

    /// Brings up to date how fast it is carried where it is now.
    pub fn refresh_ride(&mut self) {
        if let Some(ride) = &self.ride {
            let time = self.near.time();
            self.carried = self.me.keeps.flat64(ride.body.velocity_at(self.middle_of_foot(), time)) + self.belt();
        }
    }

    /// True where what it stands on moves in this tick, or runs like a belt.
    pub fn is_carried(&self) -> bool {
        self.ride.is_some_and(|r| r.body.carries())
    }

    /// How what it stands on runs under it though it stays where it is, m/s: a belt, on which standing still gets one along.
    pub fn belt(&self) -> DVec3 {
        let Some(Ride { body, .. }) = self.ride.filter(|r| r.body.belt != DVec3::ZERO) else { return DVec3::ZERO };
        let (belt, normal) = (body.belt_at(self.near.time()), self.ground.normal.as_dvec3());
        // It runs along what is stood on.
        self.me.keeps.flat64(belt - normal * belt.dot(normal))
    }

    /// The way in the world of a path against what carries it.
    pub fn carried_along(&self, own: Path) -> Path {
        let Some(Ride { body, .. }) = self.ride.filter(|_| self.is_carried()) else { return own };
        let turning = body.spin.cross(own.velocity + self.carried - body.velocity);
        let rate = own.rate + self.me.keeps.flat64(turning);
        Path { velocity: own.velocity + self.carried, rate, span: own.span }
    }

    /// As much of a span as can be ridden on what turns before looking again.
    pub fn smooth(&self, path: &Path, span: f64) -> f64 {
        if self.is_carried() { span.min(self.near.smooth_span(path).max(self.dt() / 64.0)) } else { span }
    }

    /// Carries it along standing still, `span` seconds from now: from its foothold, so that nothing adds up.
    pub fn carry_standing(&mut self, start: DVec3, span: f64) {
        let radius = (self.me.up * self.near.shape.rounding()).as_dvec3();
        let time = self.near.time();
        let Some(ride) = &mut self.ride else { return };
        let body = ride.body;
        let foot = *ride.foot.get_or_insert_with(|| body.to_local(body.pose(time - span).trace_back(start + radius)));
        let middle = body.pose(time).carry(body.to_world(foot));
        let by = self.me.keeps.flat64(middle - radius - self.near.place);
        self.near.place += by;
    }

    /// It moved by itself: its foothold is another now.
    pub fn leave_foothold(&mut self) {
        if let Some(ride) = &mut self.ride {
            (ride.foot, ride.kept) = (None, false);
        }
    }

    /// Turns the character with the body that it stands on.
    pub fn turn_with_ride(&mut self, span: f64) {
        let Some(ride) = &self.ride else { return };
        let angle = ride.body.spin.dot(self.up()) * span;
        if angle != 0.0 {
            let left = self.me.up.cross(self.me.facing);
            let turned = self.me.facing * libm::cos(angle) as f32 + left * libm::sin(angle) as f32;
            self.me.facing = direction(flatten(turned, self.me.up)).unwrap_or(self.me.facing);
        }
    }

    /// Puts the ride into the state that the tick ends with: velocity of the world, foothold of the body.
    pub fn note_ride(&mut self) {
        self.me.foot = match &self.ride {
            // A kept foothold is not rounded again, or rounding would add up.
            Some(Ride { kept: true, .. }) => self.me.foot,
            Some(Ride { foot: Some(foot), .. }) => foot.as_vec3(),
            Some(Ride { body, foot: None, .. }) => {
                body.to_local(body.pose(self.near.time()).trace_back(self.middle_of_foot())).as_vec3()
            }
            None => Vec3::ZERO,
        };
        // As the state keeps it, so that what was added is what is taken off again.
        self.me.carried = self.carried.as_vec3();
        self.me.velocity += self.me.carried.as_dvec3();
    }

    fn middle_of_foot(&self) -> DVec3 {
        self.near.place + (self.me.up * self.near.shape.rounding()).as_dvec3()
    }
}
