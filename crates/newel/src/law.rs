//! What a character does as a closed law of time, piece by piece: what a tick reads that ends where nothing is decided.

use glam::{DVec3, Vec3};

use crate::character::State;
use crate::contact::arcs::Path;
use crate::math::turned_left;
use crate::moment::Moment;

/// What settles the feet at the end of a piece, metres, at most: more is no closed law.
const SETTLES: f64 = 1e-5;
/// The velocity at a piece's end may differ from that of its way by so much, in parts: else something was met there.
const ALONG: f64 = 0.02;
/// A way begins where its piece does, within this, metres.
const HAIR: f64 = 2e-4;
/// A piece is as long as was swept, to so many seconds.
const ROUNDING: f64 = 1e-9;

/// One piece: a parabola, from a place on.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Law {
    /// When it begins and ends, seconds after the mark.
    from: f64,
    to: f64,
    place: DVec3,
    way: Path,
    /// How far the velocity at the end is off that of the way.
    more: DVec3,
}

/// The way that was swept in a piece.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Swept {
    pub place: DVec3,
    pub way: Path,
    pub used: f64,
    /// True where it was not the only one.
    pub again: bool,
}

/// The laws from one mark to the next, in order.
#[derive(Clone, Debug, Default, PartialEq)]
pub(crate) struct Laws {
    list: Vec<Law>,
    /// True where some piece was none.
    broken: bool,
    /// True where its body does not turn at one rate all along.
    uneven: bool,
}

impl Law {
    /// The law of a piece that lasted from one time to another and ended at `end`: as it was swept, or standing still at `start`.
    pub fn of(
        (from, to): (f64, f64),
        swept: Option<&Swept>,
        (start, end): (DVec3, DVec3),
        velocity: DVec3,
    ) -> Option<Law> {
        let span = to - from;
        let (place, way) = match swept {
            Some(swept) if swept.again || span > swept.used + ROUNDING => return None,
            // Where the way is looked at from higher up it is none that the feet go.
            Some(swept) if (swept.place - start).length() > HAIR => return None,
            Some(swept) => (swept.place, swept.way),
            None => (start, Path { velocity: DVec3::ZERO, rate: DVec3::ZERO, span }),
        };
        if (end - (place + way.at(span))).length() > SETTLES {
            return None;
        }
        let more = velocity - way.velocity_at(span);
        let more = if more.length() <= ALONG * velocity.length() { more } else { DVec3::ZERO };
        Some(Law { from, to, place, way, more })
    }

    fn place_at(&self, t: f64) -> DVec3 {
        self.place + self.way.at(t - self.from)
    }

    fn velocity_at(&self, t: f64) -> DVec3 {
        let (t, part) = (t - self.from, (t - self.from) / (self.to - self.from));
        // As much at the end, nothing at the start, and nothing in the mean: what an eased speed is off a straight line.
        self.way.velocity_at(t) + self.more * (part * (3.0 * part - 2.0))
    }
}

impl Laws {
    pub fn clear(&mut self) {
        self.list.clear();
        (self.broken, self.uneven) = (false, false);
    }

    /// The body turns at another rate in this piece than in the others.
    pub fn turn_unevenly(&mut self) {
        self.uneven = true;
    }

    /// The next piece.
    pub fn add(&mut self, law: Option<Law>) {
        match law {
            Some(law) => self.list.push(law),
            None => self.broken = true,
        }
    }

    /// Nothing but standing for `span` seconds.
    pub fn stand(&mut self, state: &State, span: f64) {
        self.clear();
        self.add(Law::of((0.0, span), None, (state.position, state.position), DVec3::ZERO));
    }

    /// As these, in storage that is kept.
    pub fn copy(&mut self, other: &Laws) {
        self.list.clone_from(&other.list);
        (self.broken, self.uneven) = (other.broken, other.uneven);
    }

    /// True where what is between two states can be read off.
    pub fn lead_from(&self, mark: &State, end: &State) -> bool {
        let what = |s: &State| (s.mode, s.phase, s.stance, s.asked, s.marks, s.held, s.extra_jumps, s.air_dashes);
        let how = |s: &State| (s.up, s.axis, s.keeps, s.carried == Vec3::ZERO);
        let turns_evenly = mark.facing == end.facing || !self.uneven;
        // A straight piece of a walk may lead over a dent by a millimetre or two, and only its end is settled.
        let walks = mark.mode.is_on_ground() && (mark.velocity != DVec3::ZERO || end.velocity != DVec3::ZERO);
        !self.broken
            && !walks
            && turns_evenly
            && !self.list.is_empty()
            && what(mark) == what(end)
            && how(mark) == how(end)
    }

    /// The state `t` seconds after a mark, on the way to the end of the laws; its body turns by `turned` on that way.
    pub fn read(&self, mark: &State, end: &State, turned: f32, t: f64) -> State {
        let whole = Moment::at(end.clock).since(Moment::at(mark.clock));
        let part = (t / whole) as f32;
        let last = self.list.len() - 1;
        let number = self.list.iter().position(|law| t < law.to).unwrap_or(last);
        let law = &self.list[number];
        let between = |a: f32, b: f32| a + (b - a) * part;
        let round = |a: f32, b: f32| (a + (b - a + if b < a { 1.0 } else { 0.0 }) * part).fract();
        let facing =
            if mark.facing == end.facing { mark.facing } else { turned_left(mark.facing, mark.up, turned * part) };
        State {
            position: law.place_at(t),
            velocity: law.velocity_at(t),
            facing,
            ground: if number == last { end.ground } else { mark.ground },
            carried: mark.carried + (end.carried - mark.carried) * part,
            flight: [between(mark.flight[0], end.flight[0]), between(mark.flight[1], end.flight[1])],
            stride: between(mark.stride, end.stride),
            coyote: between(mark.coyote, end.coyote),
            buffer: between(mark.buffer, end.buffer),
            phase_left: between(mark.phase_left, end.phase_left),
            cooldown: between(mark.cooldown, end.cooldown),
            slide_cooldown: between(mark.slide_cooldown, end.slide_cooldown),
            slid: between(mark.slid, end.slid),
            eyes: between(mark.eyes, end.eyes),
            gait: round(mark.gait, end.gait),
            ..*end
        }
    }

    /// The parts of the way between two times after the mark: when each begins and ends, where, and how fast.
    pub fn between(&self, from: f64, to: f64) -> impl Iterator<Item = [(f64, DVec3, DVec3); 2]> + '_ {
        let at = |law: &Law, t: f64| (t, law.place_at(t), law.velocity_at(t));
        let parts = self.list.iter().map(move |law| (law, law.from.max(from), law.to.min(to)));
        parts.filter(|(_, a, b)| a < b).map(move |(law, a, b)| [at(law, a), at(law, b)])
    }
}
