//! Closed laws of time, piece by piece. A tick that ends between two marks reads them.

use glam::{DVec3, Vec3};

use crate::contact::arcs::Path;
use crate::math::{angle_left, turned_left};
use crate::moment::Moment;
use crate::motion::Bend;
use crate::slice_start::SliceStart;
use crate::state::State;
use crate::support::{Support, Underfoot};

/// Largest settling distance at the end of a piece that still is a closed law, metres.
const SETTLES: f64 = 1e-5;
/// Largest distance by which a way over a bend may be off its law, metres.
const EXACT: f64 = 5e-5;
/// The same by the velocity at its end times its duration, metres: the law is off by an eighth of that at most.
const MOST_OFF: f64 = 8.0 * EXACT;
/// Largest relative difference between the velocity at the end and that of the way; a contact changes it by more.
const ALONG: f64 = 0.02;
/// Largest distance between the start of a piece and the start of its sweep, metres.
const HAIR: f64 = 2e-4;
/// Largest difference between the duration of a piece and of its sweep, seconds.
const ROUNDING: f64 = 1e-9;

/// One piece: a parabola, from a place on.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Law {
    /// When it begins and ends, seconds after the mark.
    from: f64,
    to: f64,
    place: DVec3,
    way: Path,
    /// The ground underfoot.
    ground: Underfoot,
    /// Velocity at the end less that of the way, m/s.
    more: DVec3,
}

/// The way that was swept in a piece.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Swept {
    pub place: DVec3,
    pub way: Path,
    pub used: f64,
    /// True for a piece with more than one sweep.
    pub again: bool,
}

/// Both ends of a piece of motion.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Ends {
    /// Seconds after the mark.
    pub times: [f64; 2],
    pub places: [DVec3; 2],
    pub grounds: [Underfoot; 2],
    /// Velocities in the world.
    pub velocities: [DVec3; 2],
    pub up: DVec3,
    /// Radius of the foot, metres.
    pub radius: f64,
    /// True for a piece of a walk on ground that stands still.
    pub walks: bool,
}

/// The laws from one mark to the next, in order.
#[derive(Clone, Debug, Default, PartialEq)]
pub(crate) struct Laws {
    list: Vec<Law>,
    /// True if some piece has no law, or a field without one changes on the way.
    broken: bool,
    start: Option<SliceStart>,
    turn: Turn,
}

/// How the body turns from one mark to the next.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
enum Turn {
    /// At one rate all along.
    #[default]
    Even,
    /// At this rate, radians per second, until it faces its target.
    Stops(f32),
    /// Otherwise.
    Uneven,
}

impl Law {
    /// Adds the law of a piece to `list`: the swept parabola, or standing still. Over a bend a walk is a line and an arc. False if the piece
    /// has no closed law.
    fn of(list: &mut Vec<Law>, swept: Option<&Swept>, ends: &Ends) -> bool {
        let ([from, to], [start, end], [ground, last_ground]) = (ends.times, ends.places, ends.grounds);
        let span = to - from;
        let (place, way) = match swept {
            Some(swept) if swept.again || span > swept.used + ROUNDING => return false,
            // A sweep from a raised pose is not the way of the feet.
            Some(swept) if (swept.place - start).length() > HAIR => return false,
            Some(swept) => (swept.place, swept.way),
            None => (start, Path { velocity: DVec3::ZERO, rate: DVec3::ZERO, span }),
        };
        let [velocity, last_velocity] = ends.velocities;
        // A way round a corner has a mean speed.
        if ends.walks && (way.velocity - velocity).length() > ALONG * velocity.length() {
            return false;
        }
        let law = Law { from, to, place, way, ground, more: DVec3::ZERO };
        if (end - (place + way.at(span))).length() > SETTLES {
            return ends.walks && law.over_a_bend(list, ends);
        }
        // Two edges may touch at the ends of a way over the dent between them.
        let turn = last_ground.touch - ground.touch;
        let dent = f64::from(turn.length_squared()) / (8.0 * ends.radius);
        if ends.walks && ground.support != Support::Firm && dent > EXACT {
            return false;
        }
        let more = last_velocity - way.velocity_at(span);
        let more = if more.length() <= ALONG * last_velocity.length() { more } else { DVec3::ZERO };
        list.push(Law { more, ..law });
        true
    }

    /// Adds the two parts of a way over a bend: the way of a foot from a face over an edge, or back onto a face. One part follows the swept
    /// way or leaves it straight, the other leaves it with the square of time, as an arc does. False if the foot went another way.
    fn over_a_bend(self, list: &mut Vec<Law>, ends: &Ends) -> bool {
        let (way, [start, end], span) = (self.way, ends.places, self.to - self.from);
        let Some(bend) = Bend::between(end - start, [way.velocity, ends.velocities[1]], ends.up) else {
            return false;
        };
        let settled = end - (self.place + way.at(span));
        let line = (bend.before - bend.after).abs() / bend.length();
        let middle = span * if bend.before > bend.after { line } else { 1.0 - line };
        // The law of the part from `t` on, with this velocity and acceleration off the swept way.
        let part = |[t, until]: [f64; 2], off: DVec3, [velocity, rate]: [DVec3; 2]| {
            let bent = Path { velocity: way.velocity_at(t) + velocity, rate: way.rate + rate, span: until - t };
            let (from, to) = (self.from + t, self.from + until);
            Law { from, to, place: self.place + way.at(t) + off, way: bent, ..self }
        };
        let zero = DVec3::ZERO;
        let parts = if bend.before > bend.after {
            let rate = settled * (2.0 / ((span - middle) * (span - middle)));
            [part([0.0, middle], zero, [zero, zero]), part([middle, span], zero, [zero, rate])]
        } else {
            let rate = settled * (2.0 / (middle * (2.0 * span - middle)));
            let (off, velocity) = (rate * (0.5 * middle * middle), rate * middle);
            [part([0.0, middle], zero, [zero, rate]), part([middle, span], off, [velocity, zero])]
        };
        let left = ends.velocities[1] - parts[1].way.velocity_at(parts[1].way.span);
        // Not a number where one part takes no time.
        let is_exact = left.length() * span <= MOST_OFF;
        if is_exact {
            list.extend(parts.into_iter().filter(|law| law.to > law.from));
        }
        is_exact
    }

    fn place_at(&self, t: f64) -> DVec3 {
        let (t, span) = (t - self.from, self.to - self.from);
        let part = t / span;
        self.place + self.way.at(t) + self.more * (span * part * part * (part - 1.0))
    }

    /// An eased speed is no parabola. A cubic has its velocity at both ends and its mean, so the places at the ends stay.
    fn velocity_at(&self, t: f64) -> DVec3 {
        let (t, part) = (t - self.from, (t - self.from) / (self.to - self.from));
        self.way.velocity_at(t) + self.more * (part * (3.0 * part - 2.0))
    }
}

impl Laws {
    pub fn clear(&mut self) {
        self.list.clear();
        (self.broken, self.start, self.turn) = (false, None, Turn::Even);
    }

    /// Notes the state at the start or the end of a piece; the first one is the start of the slice.
    pub fn note(&mut self, state: &State) {
        let start = self.start.get_or_insert_with(|| SliceStart::of(state));
        self.broken |= !start.is_steady_in(state);
    }

    /// The body turns in this piece at `rate` radians per second until it faces its target.
    pub fn stop_turning(&mut self, rate: f32) {
        self.turn = if self.turn == Turn::Even { Turn::Stops(rate) } else { Turn::Uneven };
    }

    /// The body turns in this piece in another way.
    pub fn turn_unevenly(&mut self) {
        self.turn = Turn::Uneven;
    }

    /// True if the body has come to face its target.
    pub fn has_turned(&self) -> bool {
        self.turn != Turn::Even
    }

    /// Adds the next piece.
    pub fn add(&mut self, swept: Option<&Swept>, ends: &Ends) {
        self.broken |= !Law::of(&mut self.list, swept, ends);
    }

    /// Nothing but standing for `span` seconds.
    pub fn stand(&mut self, state: &State, span: f64) {
        self.clear();
        self.note(state);
        let places = [state.position; 2];
        let (grounds, up) = ([state.ground; 2], state.up.as_dvec3());
        let ends =
            Ends { times: [0.0, span], places, grounds, velocities: [DVec3::ZERO; 2], up, radius: 1.0, walks: false };
        self.add(None, &ends);
    }

    /// As these, in storage that is kept.
    pub fn copy(&mut self, other: &Laws) {
        self.list.clone_from(&other.list);
        (self.broken, self.start, self.turn) = (other.broken, other.start, other.turn);
    }

    /// True where what is between two states can be read off.
    pub fn lead_from(&self, mark: &State, end: &State) -> bool {
        let Some(start) = &self.start else { return false };
        let how = |s: &State| (s.up, s.axis, s.keeps, s.carried == Vec3::ZERO);
        let turns = start.facing == end.facing || self.turn != Turn::Uneven;
        let strides = mark.activity.step().remaining > 0.0 || end.activity.step().remaining > 0.0;
        !self.broken && !strides && turns && !self.list.is_empty() && start.is_steady_in(end) && how(mark) == how(end)
    }

    /// The part of a turn by `turned` radians that is done `t` seconds after the mark, of `whole` seconds to the next.
    pub fn turned_after(&self, turned: f32, t: f64, whole: f64) -> f32 {
        match self.turn {
            Turn::Stops(rate) => (rate * t as f32).min(turned.abs()).copysign(turned),
            Turn::Even | Turn::Uneven => turned * (t / whole) as f32,
        }
    }

    /// The facing `t` seconds after the mark, between its values at both ends. A carrier that turns adds to the turn of the body.
    fn facing_after(&self, turned: f32, t: f64, whole: f64, [from, to]: [Vec3; 2], up: Vec3) -> Vec3 {
        if from == to {
            return from;
        }
        let carried = angle_left(turned_left(from, up, turned), to, up) * (t / whole) as f32;
        turned_left(from, up, self.turned_after(turned, t, whole) + carried)
    }

    /// The state `t` seconds after a mark, on the way to the end of the laws; its body turns by `turned` on that way.
    pub fn read(&self, mark: &State, end: &State, turned: f32, t: f64) -> State {
        let whole = Moment::at(end.clock).since(Moment::at(mark.clock));
        let last = self.list.len() - 1;
        let law = &self.list[self.list.iter().position(|law| t < law.to).unwrap_or(last)];
        let start = self.start.unwrap_or_else(|| SliceStart::of(mark));
        State {
            position: law.place_at(t),
            velocity: law.velocity_at(t),
            facing: self.facing_after(turned, t, whole, [start.facing, end.facing], mark.up),
            ground: law.ground,
            ..start.toward(end, t as f32, (t / whole) as f32)
        }
    }

    /// The parts of the way between two times after the mark: when each begins and ends, where, and how fast.
    pub fn between(&self, from: f64, to: f64) -> impl Iterator<Item = [(f64, DVec3, DVec3); 2]> + '_ {
        let at = |law: &Law, t: f64| (t, law.place_at(t), law.velocity_at(t));
        let parts = self.list.iter().map(move |law| (law, law.from.max(from), law.to.min(to)));
        parts.filter(|(_, a, b)| a < b).map(move |(law, a, b)| [at(law, a), at(law, b)])
    }
}
