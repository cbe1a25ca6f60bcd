//! Wishes from a moment on: an intent without its changes to come.

use glam::Vec3;

use super::buttons::Buttons;
use super::heading::{Face, Heading};
use super::intent::{Change, Intent, Timed};
use crate::fingerprint::{Fingerprint, Fingerprinted};
use crate::stance::Stance;

/// Wishes from a moment on.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub(crate) struct Wants {
    heading: Heading,
    view: Vec3,
    face: Face,
    buttons: Buttons,
    stance: Stance,
    guard: bool,
}

impl Wants {
    /// Wishes of an intent as its tick begins.
    pub fn of(intent: &Intent) -> Wants {
        let &Intent { heading, view, face, buttons, stance, guard, .. } = intent;
        Wants { heading, view, face, buttons, stance, guard }
    }

    /// True where a change makes a difference to it.
    pub fn is_news(&self, change: Change) -> bool {
        self.changed(change) != *self
    }

    /// The same, changed.
    pub fn changed(mut self, change: Change) -> Wants {
        match change {
            Change::Heading(heading) => self.heading = heading,
            Change::View(view) => self.view = view,
            Change::Face(face) => self.face = face,
            Change::Guard(on) => self.guard = on,
            Change::Button(button, down) => self.buttons = self.buttons.with(button, down),
            Change::Stance(stance) => self.stance = stance,
        }
        self
    }

    /// The same after all of these changes.
    pub fn after(self, changes: &[Timed]) -> Wants {
        changes.iter().fold(self, |wants, timed| wants.changed(timed.change))
    }

    /// An intent that wants this, from its tick's start to its end.
    pub fn intent(&self) -> Intent {
        let Wants { heading, view, face, buttons, stance, guard } = *self;
        Intent { heading, view, face, buttons, stance, guard, changes: [None; Intent::MOST_CHANGES] }
    }
}

impl Fingerprinted for Wants {
    fn feed(&self, print: &mut Fingerprint) {
        self.intent().feed(print);
    }
}
