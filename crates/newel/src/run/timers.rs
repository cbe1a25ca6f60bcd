//! Timers: coyote time, jump buffer, dash, pause in steering.

use crate::outcome::{Ability, EventKind, Refusal};
use crate::phase::Phase;
use crate::run::Run;

/// Less than this is over, seconds: what single precision leaves of a timer.
const OVER: f64 = 1e-7;

impl Run<'_> {
    /// Seconds until the next timer runs out that something happens at.
    pub fn next_timer(&self) -> f64 {
        let running = [self.me.phase_left, self.me.buffer].into_iter().filter(|t| *t > 0.0);
        running.map(f64::from).fold(f64::INFINITY, f64::min)
    }

    /// `used` seconds have passed.
    pub fn count_down(&mut self, used: f64) {
        let down = |timer: &mut f32| {
            let was = *timer;
            let left = f64::from(was) - used;
            *timer = if left > OVER { left as f32 } else { 0.0 };
            was > 0.0 && *timer == 0.0
        };
        // A timer that began at the end of this piece keeps all its time.
        if self.me.coyote <= self.piece.coyote && !self.piece.on_ground {
            self.me.coyote -= used as f32;
        }
        if self.me.marks.under_water() {
            self.me.time_under += used as f32;
        }
        down(&mut self.me.cooldown);
        if self.me.slide_cooldown <= self.piece.slide_cooldown {
            down(&mut self.me.slide_cooldown);
        }
        if down(&mut self.me.buffer) {
            self.report(EventKind::Refused { ability: Ability::Jump, why: Refusal::InTheAir });
        }
        if self.me.phase_left <= self.piece.phase_left && down(&mut self.me.phase_left) {
            match self.me.phase {
                Phase::Dash => self.end_dash(),
                Phase::Shaken | Phase::Thrown | Phase::ThrownAtWall | Phase::LetGo | Phase::DropsThrough => {
                    self.in_control();
                }
                _ => {}
            }
        }
    }

    /// Its input is its own again.
    pub fn in_control(&mut self) {
        (self.me.phase, self.me.phase_left, self.me.control) = (Phase::Plain, 0.0, 1.0);
    }

    /// True while what threw it has weakened its steering, but not locked it: so it stays on the ground too, for its time.
    pub fn staggers(&self) -> bool {
        self.me.phase.is_thrown() && self.me.control > 0.0
    }

    /// True while its input is locked: shaken, or thrown.
    pub fn is_locked(&self) -> bool {
        (self.me.phase == Phase::Shaken || self.me.phase.is_thrown()) && self.me.control == 0.0
    }

    /// The dash's time is over: most of its speed is lost.
    fn end_dash(&mut self) {
        let dash = self.tuning.values().dash;
        self.me.velocity *= dash.map_or(1.0, |d| f64::from(d.keeps));
        self.me.phase = Phase::Plain;
        self.me.cooldown = dash.map_or(0.0, |d| d.cooldown);
        self.report(EventKind::DashEnded);
    }
}
