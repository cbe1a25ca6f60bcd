//! One character: its state, a game's own data, and the motion in progress.

use core::ops::{Deref, DerefMut};

use crate::fingerprint::{Fingerprint, Fingerprinted};
use crate::moment::Remainder;
use crate::state::State;
use crate::under_way::UnderWay;

/// One character: its [`State`], whatever typed state a game's own modes keep in it, and since when its motion has been under way.
///
/// It reads like its state: `hero.position`, `hero.mode`. A value that a game writes into it counts from the end of the last tick on.
#[derive(Clone, Debug)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Character<M = ()> {
    pub(crate) state: State,
    pub(crate) custom: M,
    /// Its motion between two moments at which it is decided.
    #[cfg_attr(feature = "serde", serde(default = "nothing"))]
    pub(crate) under_way: Option<Box<UnderWay<M>>>,
    /// Rounding remainder of the clock.
    #[cfg_attr(feature = "serde", serde(default))]
    pub(crate) remainder: Remainder,
}

#[cfg(feature = "serde")]
fn nothing<M>() -> Option<Box<UnderWay<M>>> {
    None
}

impl<M> Character<M> {
    /// A character in `state`, with the state of a game's own modes.
    #[must_use]
    pub fn with(state: State, custom: M) -> Character<M> {
        Character { state, custom, under_way: None, remainder: Remainder::default() }
    }

    /// State at the end of the last tick.
    #[must_use]
    pub fn state(&self) -> &State {
        &self.state
    }

    /// The game's own data at the end of the last tick.
    #[must_use]
    pub fn custom(&self) -> &M {
        &self.custom
    }

    /// The same, to be written into.
    pub fn custom_mut(&mut self) -> &mut M {
        self.decide_anew();
        &mut self.custom
    }

    /// Its motion under way, if it is.
    fn motion(&self) -> Option<&UnderWay<M>> {
        self.under_way.as_deref().filter(|motion| motion.goes_on)
    }

    /// Plans its motion anew from the end of the last tick. A write into a character does the same.
    ///
    /// Fields that the game does not write keep their exact values, which may differ from the shown ones in the last bits. A tick rate
    /// stays out of the motion as long as nobody writes.
    pub fn decide_anew(&mut self) {
        if let Some(motion) = self.under_way.as_deref_mut().filter(|motion| motion.goes_on) {
            (motion.goes_on, motion.is_written) = (false, true);
        }
    }

    /// The last tick ended where its motion was planned to: nothing is in progress.
    pub(crate) fn end_motion(&mut self) {
        if let Some(motion) = &mut self.under_way {
            (motion.goes_on, motion.is_written) = (false, false);
        }
    }
}

impl<M: PartialEq> PartialEq for Character<M> {
    fn eq(&self, other: &Character<M>) -> bool {
        (&self.state, &self.custom, self.motion()) == (&other.state, &other.custom, other.motion())
    }
}

impl From<State> for Character {
    fn from(state: State) -> Character {
        Character::with(state, ())
    }
}

impl<M> Deref for Character<M> {
    type Target = State;
    fn deref(&self) -> &State {
        &self.state
    }
}

impl<M> DerefMut for Character<M> {
    fn deref_mut(&mut self) -> &mut State {
        self.decide_anew();
        &mut self.state
    }
}

impl<M: Fingerprinted> Character<M> {
    /// A 64-bit hash of every bit of the state: equal states have equal hashes, on every machine.
    #[must_use]
    pub fn hash(&self) -> u64 {
        let mut print = Fingerprint::new();
        self.state.feed(&mut print);
        self.custom.feed(&mut print);
        if let Some(motion) = self.motion() {
            motion.feed(&mut print);
        }
        print.value()
    }
}
