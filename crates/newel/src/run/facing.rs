//! Turning the body: the short way, at a rate or eased, never past where it is to look.

use crate::drive::heading::{Bearings, Face};
use crate::math::{angle_left, direction, flatten, turned_left};
use crate::phase::Mode;
use crate::run::Run;

/// An eased turn with less than this to go, radians, is done.
const DONE: f32 = 1e-4;

impl Run<'_> {
    /// Turns the body for `span` seconds.
    pub fn turn(&mut self, span: f64) {
        let values = self.tuning.values();
        let most = values.turn.rate.to_radians() * span as f32;
        if self.me.mode.holds_on() {
            return self.turn_toward_hold(most);
        }
        if self.me.mode == Mode::Slide && values.slide.is_some_and(|slide| slide.steer == 0.0) {
            return;
        }
        if let Some(right) = self.heading.turning(&values.stick) {
            return self.turn_left(-right * most);
        }
        let bearings = Bearings::of(&self.me, self.view, self.tuning);
        let Some((to, at_once)) = bearings.face(self.face, values.turn.toward, self.heading_flat(), self.near.place)
        else {
            return;
        };
        if to == self.me.facing {
            return;
        }
        let angle = angle_left(self.me.facing, to, self.me.up);
        let step = match values.turn.ease {
            _ if at_once => angle,
            Some(ease) => eased(angle, f64::from(ease), span),
            None => most.min(angle.abs()).copysign(angle),
        };
        let starts_late = self.now() > 0.0 && self.told.turned == 0.0;
        // Seen from a moving character a place turns.
        let follows = matches!(self.face, Face::Point(_)) || self.leads_to_a_place();
        if at_once || starts_late || follows || values.turn.ease.is_some() || self.laws.has_turned() {
            self.laws.turn_unevenly();
        } else if step.abs() < most {
            self.laws.stop_turning(values.turn.rate.to_radians());
        }
        if step.abs() >= angle.abs() {
            self.me.facing = to;
            self.note_turned(angle);
        } else {
            self.turn_left(step);
        }
    }

    /// Toward what it holds on to.
    fn turn_toward_hold(&mut self, most: f32) {
        let Some(to) = direction(flatten(-self.ground.normal, self.me.up)) else { return };
        if to == self.me.facing {
            return;
        }
        let angle = angle_left(self.me.facing, to, self.me.up);
        if angle.abs() <= most {
            self.laws.turn_unevenly();
            self.me.facing = to;
            self.note_turned(angle);
        } else {
            self.turn_left(most.copysign(angle));
        }
    }

    fn turn_left(&mut self, angle: f32) {
        if angle != 0.0 {
            self.me.facing = turned_left(self.me.facing, self.me.up, angle);
            self.note_turned(angle);
        }
    }

    fn note_turned(&mut self, angle: f32) {
        self.told.turned += angle;
        self.me.turned += angle;
    }
}

/// As much of `angle` as an eased turn gets through in `span` seconds.
fn eased(angle: f32, ease: f64, span: f64) -> f32 {
    let left = angle * libm::exp(-span / ease) as f32;
    if left.abs() < DONE { angle } else { angle - left }
}
