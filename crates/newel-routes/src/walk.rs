//! A straight way being walked or swum to try it, piece by piece: the work can stop after each and go on later.

use newel::glam::{DVec2, DVec3};
use newel::{Character, Mode};

use crate::budget::OutOfBudget;
use crate::ground::Look;
use crate::legs::Legs;

/// A way is tried in pieces of at most this many metres, so that one that ends is soon given up.
const PIECE: f64 = 0.8;
/// It is there where it is this near in height, metres.
const SAME_FLOOR: f64 = 0.05;

/// Straight over the map to where `to` is on it.
#[derive(Clone)]
pub(crate) struct Walk {
    it: Character,
    from: DVec2,
    way: DVec2,
    /// Where it is to be, and its height there.
    to: DVec3,
    /// Given up where what is walked on is slower than this factor on the top speed.
    pace: f32,
    pieces: u32,
    done: u32,
    /// How far it was so far along the ground, metres.
    far: f64,
}

impl Walk {
    pub fn new(look: &Look<'_>, who: &Character, to: DVec3, pace: f32) -> Walk {
        Walk::by(&look.legs, who, to, pace)
    }

    pub fn by(legs: &Legs<'_>, who: &Character, to: DVec3, pace: f32) -> Walk {
        let mut it = who.clone();
        it.velocity = DVec3::ZERO;
        let from = legs.frame.map(it.position);
        let way = legs.frame.map(to) - from;
        let pieces = (way.length() / PIECE).ceil().max(1.0) as u32;
        Walk { it, from, way, to, pace, pieces, done: 0, far: 0.0 }
    }

    /// Goes on, as far as the budget reaches: whoever stands there then, on the same floor, and how far that was along the ground; `None`
    /// where something is in the way, the ground ends, or it is too slow.
    pub fn work(&mut self, look: &mut Look<'_>) -> Result<Option<(Character, f64)>, OutOfBudget> {
        while self.done < self.pieces {
            look.legs.budget.check()?;
            if !self.goes_on(&mut look.legs) {
                return Ok(None);
            }
        }
        Ok(self.on_same_floor(&look.legs))
    }

    /// All of it at once, to the same floor.
    pub fn whole(mut self, legs: &mut Legs<'_>) -> Option<(Character, f64)> {
        self.goes_all_the_way(legs)?;
        self.on_same_floor(legs)
    }

    /// All of it at once, to whatever floor it leads to.
    pub fn whole_to_any_floor(mut self, legs: &mut Legs<'_>) -> Option<Character> {
        self.goes_all_the_way(legs)?;
        Some(self.it)
    }

    fn goes_all_the_way(&mut self, legs: &mut Legs<'_>) -> Option<()> {
        while self.done < self.pieces {
            self.goes_on(legs).then_some(())?;
        }
        Some(())
    }

    fn on_same_floor(&self, legs: &Legs<'_>) -> Option<(Character, f64)> {
        let off = legs.frame.height(self.it.position) - legs.frame.height(self.to);
        Some((self.it.clone(), self.far)).filter(|_| off.abs() <= SAME_FLOOR)
    }

    /// One piece more; false where it does not come there.
    fn goes_on(&mut self, legs: &mut Legs<'_>) -> bool {
        self.done += 1;
        let goal = self.from + self.way * (f64::from(self.done) / f64::from(self.pieces));
        let before = self.it.position;
        let goal = legs.frame.place(goal, legs.frame.height(before));
        let there = match self.it.mode {
            Mode::Swim => legs.swim_to(&mut self.it, goal),
            _ => legs.go_to(&mut self.it, goal),
        };
        self.far += (self.it.position - before).length();
        there && (self.pace <= 0.0 || legs.pace(&self.it) >= self.pace)
    }
}
