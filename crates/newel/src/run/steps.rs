//! Whether what is stood on now is a step from what was stood on before.
//!
//! The round of a foot rolls over rims, in as many pieces as there are, and a slope turns under it: neither how far the feet moved at once
//! nor how high they are tells a step from a bend at every tick rate. The two places touched do: over a step each is beyond every walkable
//! face that meets at the other, on different sides. Along an edge, a slope or a crest one is on what is walked at the other.

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
    ///
    /// Neither place is on what is walked at the other: it is beyond every walkable face that meets there, this one above and that one below.
    pub fn steps_to(&self, to: &Ground) -> Option<f32> {
        if self.up_was_other || !(carries(&self.ground) && carries(to) && self.me.is_on_ground()) {
            return None;
        }
        let (from, up) = (self.carried_point(), self.up());
        let apart = to.point - from;
        let least = LEAST * f64::from(self.limits.step);
        let height = apart.dot(up);
        if height.abs() <= least {
            return None;
        }
        // Faces where it is left, and where it is come to: how far each place is over what is walked at the other.
        let faces = |place: DVec3| self.near.walked_at(place, &self.staying).map(|n| n.as_dvec3());
        // Where no face is walked at either, over a round or along the top of a fence, it is what is touched.
        let touch = |ground: &Ground| ground.normal.as_dvec3();
        let over_touch = || [over_plane(touch(&self.ground), up, apart), -over_plane(touch(to), up, -apart)];
        let none = faces(from).chain(faces(to.point)).next().is_none();
        let touched = Some(()).filter(|()| none).into_iter().flat_map(|()| over_touch());
        let left = faces(from).map(|n| over_plane(n, up, apart));
        let come = faces(to.point).map(|n| -over_plane(n, up, -apart));
        let least_of = left.chain(come).chain(touched);
        let least_of = least_of.fold(height.abs(), |least, rise| least.min(rise * height.signum()));
        (least_of > least).then(|| least_of.copysign(height) as f32)
    }

    /// Moves the contact underfoot along with its body.
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

/// How high a place is over a plane, metres along up, that is as far `apart` from a place on it.
fn over_plane(normal: DVec3, up: DVec3, apart: DVec3) -> f64 {
    apart.dot(normal) / normal.dot(up)
}

fn carries(ground: &Ground) -> bool {
    matches!(ground.support, Support::Firm | Support::Edge)
}
