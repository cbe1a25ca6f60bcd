//! Whether what is stood on now is a step from what was stood on before.
//!
//! The round of a foot rolls over rims, in as many pieces as there are, and a slope turns under it: neither how far the feet moved at once
//! nor how high they are tells a step from a bend at every tick rate. The two places touched do: over a step either is beyond the plane of
//! the other, on different sides; over a crest, or through a hollow, both are on the same.

use glam::DVec3;

use super::Run;
use crate::outcome::EventKind;
use crate::support::{Ground, Support};

/// Less than this part of the step height is no step.
const LEAST: f64 = 0.1;

impl Run<'_> {
    /// Tells of a step from what is stood on to what is taken for it, and that it was where and when it was met.
    pub(super) fn tell_step(&mut self, to: &Ground) {
        let Some(height) = self.steps_to(to) else { return };
        let now = (self.near.place, self.near.time());
        self.go_to(self.step_met.unwrap_or(now));
        self.report(EventKind::Stepped { height });
        self.go_to(now);
        // In the order of their times, whatever was told on the way since.
        let last = self.events.len() - 1;
        let after = self.events[..last].iter().rev().take_while(|event| event.time > self.events[last].time).count();
        self.events[last - after..].rotate_right(1);
    }

    fn go_to(&mut self, (place, time): (DVec3, f64)) {
        self.near.place = place;
        self.near.set_time(time);
    }

    /// How high a step it is from what is stood on to this, metres, negative for down; `None` where it is none.
    pub fn steps_to(&self, to: &Ground) -> Option<f32> {
        if !(carries(&self.ground) && carries(to) && self.me.mode.is_on_ground()) {
            return None;
        }
        let (apart, up) = (to.point - self.carried_point(), self.up());
        let least = LEAST * f64::from(self.limits.step);
        let falls = over_plane(plane_of(to, up), up, -apart);
        let steps = |normal: DVec3| {
            let rises = over_plane(normal, up, apart);
            let height = rises.abs().min(falls.abs());
            (rises * falls < 0.0 && height > least).then(|| height.copysign(rises))
        };
        // In a hollow it may be touched on one side and walk along the other: then the two planes are not of one surface.
        let height = steps(plane_of(&self.ground, up))?;
        steps(up).filter(|level| level * height > 0.0).map(|_| height as f32)
    }

    /// Where what it stands on is touched moves along with that.
    pub fn carry_ground(&mut self) {
        self.ground.point = self.carried_point();
        self.ground_since = self.near.time();
    }

    /// The place where what it stood on was touched, where that is now.
    fn carried_point(&self) -> DVec3 {
        let point = self.ground.point;
        match self.ride {
            Some(ride) if ride.body.id == self.ground.body && !ride.body.is_still() => {
                let (then, now) = (ride.body.pose(self.ground_since), ride.body.pose(self.near.time()));
                now.carry(then.trace_back(point))
            }
            _ => point,
        }
    }
}

/// The normal of the plane of what is stood on. A rim is as good as level.
fn plane_of(ground: &Ground, up: DVec3) -> DVec3 {
    if ground.support == Support::Edge { up } else { ground.normal.as_dvec3() }
}

/// How high a place is over a plane, metres along up, that is as far `apart` from a place on it.
fn over_plane(normal: DVec3, up: DVec3, apart: DVec3) -> f64 {
    apart.dot(normal) / normal.dot(up)
}

fn carries(ground: &Ground) -> bool {
    matches!(ground.support, Support::Firm | Support::Edge)
}
