//! The shape in a slice, and its abilities; and where its eyes are drawn.

use super::{MOST_TOUCHED, Run};
use crate::limits::Limits;
use crate::outcome::EventKind;
use crate::phase::{Mode, Phase};
use crate::stance::Stance;
use crate::tuning::{Allows, LowStance};
use crate::walls::Walls;

/// Eyes this near to where they are to be, metres, are there: rest is rest.
const THERE: f32 = 1e-5;

impl Run<'_> {
    /// The intent asks for this stance from now on; asking for the same again is nothing new.
    pub fn ask_for(&mut self, stance: Stance) {
        if stance != self.me.asked.last() {
            self.me.asked.ask(stance);
            self.asked_now = true;
        }
    }

    /// True while it slides, or flies on from a slide that goes on where it lands.
    pub fn is_sliding(&self) -> bool {
        self.me.mode == Mode::Slide || self.me.phase == Phase::Slide
    }

    /// The numbers of the stance it is in; `None` standing.
    pub fn low(&self) -> Option<&LowStance> {
        self.tuning.low(self.me.stance)
    }

    /// A button, as the present stance allows it.
    pub fn allows(&self, button: fn(&LowStance) -> Allows) -> Allows {
        self.low().map_or(Allows::Yes, button)
    }

    /// Has the shape of `stance` from now on: everything that follows from a stance follows from here.
    pub fn wear(&mut self, stance: Stance) {
        let from = core::mem::replace(&mut self.me.stance, stance);
        self.leave_foothold();
        self.near.wear(self.tuning.shape_in(stance));
        (self.limits, self.staying) = limits(self, stance);
        // Contacts differ for another shape: met at this moment, not when the next tick happens to begin.
        (self.walls, self.unmet) = (Walls::default(), MOST_TOUCHED);
        self.report(EventKind::StanceChanged { from, to: stance });
    }

    /// The limits of ground change with the stance.
    pub fn look_for_ground_anew(&mut self) {
        (self.limits, self.staying) = limits(self, self.me.stance);
    }

    /// The eyes are drawn on toward where the stance has them, for `span` seconds.
    pub fn ease_eyes(&mut self, span: f64) {
        let to = self.tuning.eyes_in(self.me.stance);
        if self.me.eyes == to {
            return;
        }
        let left = libm::exp(-span / f64::from(self.tuning.values().stance.ease)) as f32;
        let off = (self.me.eyes - to) * left;
        self.me.eyes = if off.abs() < THERE { to } else { to + off };
    }
}

/// Limits of ground to land on and to stay on, in a stance.
pub(crate) fn limits(run: &Run<'_>, stance: Stance) -> (Limits, Limits) {
    let limits = run.tuning.limits_in(stance);
    // Seen from above there is nothing to step onto.
    let step = if run.me.keeps.is_top_view(run.me.up) { 0.0 } else { limits.step };
    let limits = Limits { step, rolls: run.me.marks.adheres(), ..limits };
    (limits, limits.to_stay())
}
