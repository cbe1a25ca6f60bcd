//! Steps of the feet, by the way gone along the ground; and what counts as moving.

use glam::{DVec3, Vec3};

use crate::math::flatten64;
use crate::outcome::{Event, EventKind};
use crate::phase::Mode;
use crate::run::Run;
use crate::run::piece::PieceStart;

/// Feet that come down in one piece of way, at most; a piece is half a radius long, so no walk has as many.
const MOST_FEET: f64 = 4.0;

impl Run<'_> {
    /// A piece of the tick begins: from here its way is measured.
    pub fn note_piece_start(&mut self) {
        self.piece = PieceStart {
            from: self.near.place,
            velocity: self.me.velocity + self.carried,
            place: self.near.place,
            speed: self.me.velocity.length(),
            on_ground: self.me.mode == Mode::Ground,
            carried: self.carried,
            ground: self.ground,
            coyote: self.me.coyote,
            phase_left: self.me.phase_left,
            slide_cooldown: self.me.slide_cooldown,
        };
        let against = self.piece.on_ground && self.heading_flat().as_dvec3().dot(self.me.velocity) < 0.0;
        if against && !self.me.marks.reversing() && self.tuning.values().gait.restart {
            self.me.gait = 0.0;
        }
        self.me.marks.set_reversing(against);
    }

    /// The piece took `used` seconds: feet come down, and it moves or has stopped.
    pub fn walk_gait(&mut self, used: f64) {
        let gait = self.tuning.values().gait;
        let own = if self.me.is_on_ground() { self.me.velocity } else { flatten64(self.me.velocity, self.up()) };
        let least = if self.me.marks.moving() { gait.still } else { gait.moving };
        self.me.marks.set_moving(own.length() >= f64::from(least) && own != DVec3::ZERO);
        if self.piece.on_ground && gait.stride > 0.0 && used > 0.0 {
            self.come_down(f64::from(gait.stride), used);
        }
        if self.me.mode == Mode::Ground && own == DVec3::ZERO && self.heading_flat() == Vec3::ZERO {
            self.me.gait = 0.0;
        }
    }

    /// Reports every foot that comes down on the way of a piece, when and where it does.
    fn come_down(&mut self, stride: f64, used: f64) {
        let PieceStart { place, speed, carried, .. } = self.piece;
        let way = self.near.place - place - carried * used;
        let length = way.length();
        let (from, to) = (f64::from(self.me.gait), f64::from(self.me.gait) + length / stride);
        // However short the stride, no more than these are told of one piece of way.
        let mut next = ((2.0 * from).floor() + 1.0).max((2.0 * to).floor() - MOST_FEET);
        while next <= 2.0 * to && next - 1.0 < next {
            let gone = (0.5 * next - from) * stride;
            let after = when(gone, length, speed, used);
            self.footstep(after, place + (self.near.place - place) * (gone / length), next % 2.0 == 0.0);
            next += 1.0;
        }
        self.me.gait = short_of_the_next(to - to.floor());
    }

    fn footstep(&mut self, after: f64, place: DVec3, first: bool) {
        let time = self.start_clock + self.now() + after;
        let kind = EventKind::Footstep { first, surface: self.ground.surface };
        let event = Event { time, place, velocity: self.me.velocity + self.carried, kind };
        // The event that ended the piece came first: in order of time all the same.
        let before = self.events.iter().rposition(|e| e.time <= time).map_or(0, |i| i + 1);
        self.events.insert(before, event);
    }
}

/// In single precision, but never rounded onto the next step: that would be one that nobody heard.
fn short_of_the_next(gait: f64) -> f32 {
    let rounded = gait as f32;
    let early = (2.0 * rounded).floor() > (2.0 * gait).floor() as f32;
    if early { f32::from_bits(rounded.to_bits() - 1) } else { rounded }
}

/// When of `used` seconds a part of a way of this length was gone, at a speed that changes evenly from `speed` on.
fn when(gone: f64, length: f64, speed: f64, used: f64) -> f64 {
    // The rate for which the whole takes as long as it took.
    let rate = 2.0 * (length - speed * used) / (used * used);
    let root = (speed * speed + 2.0 * rate * gone).max(0.0).sqrt();
    let time = if speed + root > 0.0 { 2.0 * gone / (speed + root) } else { used };
    time.clamp(0.0, used)
}
