//! Volumes with an effect.

use glam::{DVec3, Vec3};

use super::hold::Hold;
use super::water::Water;
use super::wind::Wind;
use crate::launch::Launch;

/// An upright box, in the world or in the axes of a body that moves, in which something holds.
///
/// ```
/// use newel::glam::{DVec3, Vec3};
/// use newel::{Effect, Pull, Zone};
/// // Down is sideways between two walls, from half a metre inside on fully.
/// let sideways = Effect::Pull(Pull::Along(Vec3::X));
/// let shaft = Zone::new(7, DVec3::ZERO, DVec3::new(4.0, 9.0, 4.0), sideways).before(2).blended(0.5);
/// assert_eq!(shaft.part(DVec3::new(2.0, 0.25, 2.0)), 0.5);
/// ```
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Zone {
    /// The game's own name for it.
    pub id: u64,
    /// Least corner, metres.
    pub min: DVec3,
    /// Greatest corner, metres.
    pub max: DVec3,
    /// Effect on a character whose middle is inside.
    pub effect: Effect,
    /// Where zones overlap, one of a higher priority has the last word; of equal ones that with the higher `id`.
    pub priority: i32,
    /// How deep inside its effect is whole, metres; from there to its border it fades. 0 for a sharp border.
    pub blend: f64,
    /// For water: the patch's index of the body it moves with, as a facet has it; then all of it is in that body's own axes. 0, as for
    /// every other effect, is the world. A [`Scene`](crate::Scene) sets this by itself.
    pub body: u16,
}

/// Effect of a [`Zone`].
#[derive(Clone, Copy, Debug, PartialEq)]
#[non_exhaustive]
pub enum Effect {
    /// Gravity times this factor, 0 to 10. Where zones overlap their factors multiply.
    Gravity(f32),
    /// Gravity pulls another way, instead of the character's own.
    Pull(Pull),
    /// Throws a character that enters, once: a jump pad. Out of range it does nothing.
    Launch(Launch),
    /// The air moves, and what the tuning gives a hold takes with it.
    Wind(Wind),
    /// There is water in it, to wade and to swim in. Where zones with water meet, it goes on from one into the other.
    Water(Water),
    /// There is something to hold on to: for whoever has its hands inside.
    Hold {
        /// What it is.
        hold: Hold,
        /// Which way is out, away from the wall: then it holds by itself, with nothing to touch, and across that way nobody moves.
        /// Zero for what is touched inside.
        out: Vec3,
    },
}

/// Which way gravity pulls, and how strongly: 1 is what the tuning's jump and fall make of it, at most 100.
#[derive(Clone, Copy, Debug, PartialEq)]
#[non_exhaustive]
pub enum Pull {
    /// The same way everywhere in the world; as strongly as it is long. Zero floats.
    Along(Vec3),
    /// Toward a point: a planet. With a negative strength away from it: the inside of a hollow one.
    Point {
        /// The middle of the planet, metres.
        middle: DVec3,
        /// How strongly, -100 to 100.
        strength: f32,
    },
    /// Toward the nearest point of a segment: a tube walked on from outside, or with a negative strength from inside.
    Segment {
        /// One end, metres.
        from: DVec3,
        /// The other.
        to: DVec3,
        /// How strongly, -100 to 100.
        strength: f32,
    },
    /// Toward the nearest point of a circle: a ring, from outside or inside.
    Circle {
        /// Its middle, metres.
        middle: DVec3,
        /// Unit vector square to it.
        axis: Vec3,
        /// Its radius, metres.
        radius: f64,
        /// How strongly, -100 to 100.
        strength: f32,
    },
    /// Toward whatever it stands on, up walls and over rounded edges, this strongly.
    Ground(f32),
}

impl Zone {
    /// A zone between two opposite corners, in either order, of priority 0 with a sharp border.
    #[must_use]
    pub fn new(id: u64, one: DVec3, other: DVec3, effect: Effect) -> Zone {
        // A value that is not a number stays, and is reported.
        let turned = other.cmplt(one);
        let (min, max) = (DVec3::select(turned, other, one), DVec3::select(turned, one, other));
        Zone { id, min, max, effect, priority: 0, blend: 0.0, body: 0 }
    }

    /// Its problem, if any: a corner that is not a number, or no volume. Such a zone has no effect.
    #[must_use]
    pub fn fault(&self) -> Option<&'static str> {
        if self.min.is_nan() || self.max.is_nan() || self.blend.is_nan() {
            return Some("a corner or its border is not a number");
        }
        (self.max - self.min).min_element().le(&0.0).then_some("it has no volume")
    }

    /// The same with another priority.
    #[must_use]
    pub fn before(self, priority: i32) -> Zone {
        Zone { priority, ..self }
    }

    /// The same with an effect that fades over `metres` toward its border.
    #[must_use]
    pub fn blended(self, metres: f64) -> Zone {
        Zone { blend: metres, ..self }
    }

    /// True where `point` is inside or on the border.
    #[must_use]
    pub fn holds(&self, point: DVec3) -> bool {
        point.cmpge(self.min).all() && point.cmple(self.max).all()
    }

    /// How much of its effect there is at `point`, 0 to 1.
    #[must_use]
    pub fn part(&self, point: DVec3) -> f64 {
        if !self.holds(point) {
            return 0.0;
        }
        let depth = (point - self.min).min(self.max - point).min_element();
        if self.blend > 0.0 { (depth / self.blend).min(1.0) } else { 1.0 }
    }
}

impl Pull {
    /// Where it pulls at `place`, and how strongly; on a point's or a line's very middle nowhere. `ground` is what it would be
    /// toward the ground, one long.
    pub(crate) fn at(&self, place: DVec3, ground: DVec3) -> DVec3 {
        let toward = |to: DVec3, strength: f32| {
            let way = to - place;
            let length = way.length();
            if length > 1e-9 { way * (f64::from(strength) / length) } else { DVec3::ZERO }
        };
        match *self {
            Pull::Along(pull) => pull.as_dvec3(),
            Pull::Point { middle, strength } => toward(middle, strength),
            Pull::Segment { from, to, strength } => {
                let along = to - from;
                let square = along.length_squared();
                let part = if square > 0.0 { ((place - from).dot(along) / square).clamp(0.0, 1.0) } else { 0.0 };
                toward(from + along * part, strength)
            }
            Pull::Circle { middle, axis, radius, strength } => {
                let out = place - middle;
                let axis = axis.as_dvec3();
                let flat = out - axis * out.dot(axis);
                let length = flat.length();
                if length > 1e-9 { toward(middle + flat * (radius / length), strength) } else { DVec3::ZERO }
            }
            Pull::Ground(strength) => ground * f64::from(strength),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_pull_is_as_strong_as_it_says_and_the_right_way() {
        let place = DVec3::new(3.0, 4.0, 0.0);
        let close = |pull: Pull, way: DVec3| {
            let found = pull.at(place, DVec3::NEG_Y);
            assert!((found - way).length() < 1e-12, "{pull:?}: {found}");
        };
        close(Pull::Point { middle: DVec3::ZERO, strength: 2.0 }, DVec3::new(-1.2, -1.6, 0.0));
        close(Pull::Point { middle: DVec3::ZERO, strength: -1.0 }, DVec3::new(0.6, 0.8, 0.0));
        close(Pull::Segment { from: DVec3::X * -9.0, to: DVec3::X * 9.0, strength: 1.0 }, DVec3::NEG_Y);
        close(Pull::Segment { from: DVec3::X * -9.0, to: DVec3::ZERO, strength: 1.0 }, DVec3::new(-0.6, -0.8, 0.0));
        let ring = |radius| Pull::Circle { middle: DVec3::ZERO, axis: Vec3::Y, radius, strength: 1.0 };
        close(ring(3.0), DVec3::NEG_Y);
        close(ring(7.0), DVec3::new(4.0, -4.0, 0.0) / 32f64.sqrt());
        close(Pull::Ground(0.5), DVec3::new(0.0, -0.5, 0.0));
        close(Pull::Point { middle: place, strength: 1.0 }, DVec3::ZERO);
    }
}
