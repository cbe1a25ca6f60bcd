//! Stances: what shape a character has, and what it was asked to have.

use crate::fingerprint::{Fingerprint, Fingerprinted};

/// Stance of a character: one value, changed by one gate that asks for room.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(rename_all = "lowercase"))]
#[repr(u8)]
pub enum Stance {
    /// Upright.
    #[default]
    Stand = 0,
    /// Ducked.
    Crouch = 1,
    /// Lying flat.
    Prone = 2,
}

impl Stance {
    /// Every stance, from the highest down.
    pub const ALL: [Stance; 3] = [Stance::Stand, Stance::Crouch, Stance::Prone];

    /// True for all but standing.
    #[must_use]
    pub fn is_low(self) -> bool {
        self != Stance::Stand
    }

    /// Readable name, also used in scripts.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            Stance::Stand => "stand",
            Stance::Crouch => "crouch",
            Stance::Prone => "prone",
        }
    }
}

/// Requested stance of a character, in one byte: as the last intent had it, as it is to be now (what stands up to jump is to
/// stand, though the button for crouching is still held), and whether that was found to have no room yet.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Asked(u8);

const WAITS: u8 = 16;
const TOLD: u8 = 32;

impl Asked {
    /// As if asked for all along.
    pub(crate) fn always(stance: Stance) -> Asked {
        Asked(stance as u8 | (stance as u8) << 2)
    }

    /// Stance requested by the last intent.
    #[must_use]
    pub fn last(self) -> Stance {
        Stance::ALL[usize::from(self.0 & 3).min(2)]
    }

    /// Stance to take as soon as there is room.
    #[must_use]
    pub fn wanted(self) -> Stance {
        Stance::ALL[usize::from(self.0 >> 2 & 3).min(2)]
    }

    /// True where it was tried, and there was no room.
    #[must_use]
    pub fn waits(self) -> bool {
        self.0 & WAITS != 0
    }

    /// The intent asks for something else from now on.
    pub(crate) fn ask(&mut self, stance: Stance) {
        *self = Asked::always(stance);
    }

    /// It is to be this, whatever the intent last asked for.
    pub(crate) fn want(&mut self, stance: Stance) {
        self.0 = self.last() as u8 | (stance as u8) << 2;
    }

    /// There is no room yet: true where this is news.
    pub(crate) fn wait(&mut self) -> bool {
        let news = self.0 & TOLD == 0;
        self.0 |= WAITS | TOLD;
        news
    }

    /// Something else has changed: it is to be tried again at once.
    pub(crate) fn try_again(&mut self) {
        self.0 &= !WAITS;
    }

    /// It has been done.
    pub(crate) fn done(&mut self) {
        self.0 &= !(WAITS | TOLD);
    }
}

impl Fingerprinted for Asked {
    fn feed(&self, print: &mut Fingerprint) {
        print.u64(u64::from(self.0));
    }
}
