//! What is wanted from a moment on: an intent without its changes to come.

use glam::Vec3;

use super::buttons::Buttons;
use super::heading::{Face, Heading};
use super::intent::{Change, Intent, Timed};
use crate::fingerprint::{Fingerprint, Fingerprinted};
use crate::stance::Stance;

/// What is wanted from a moment on. Of several changes in that moment the first is in it; the others follow one by one: two presses are two.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub(crate) struct Wants {
    heading: Heading,
    view: Vec3,
    face: Face,
    buttons: Buttons,
    stance: Stance,
    guard: bool,
    /// True where something has changed in this very moment.
    has_changed: bool,
    /// What changes after that, in the same moment.
    others: [Option<Change>; Intent::MOST_CHANGES],
}

impl Wants {
    /// What an intent wants as its tick begins.
    pub fn of(intent: &Intent) -> Wants {
        let &Intent { heading, view, face, buttons, stance, guard, .. } = intent;
        let (has_changed, others) = (false, [None; Intent::MOST_CHANGES]);
        Wants { heading, view, face, buttons, stance, guard, has_changed, others }
    }

    /// The same, with nothing new in it.
    pub fn settled(self) -> Wants {
        let nothing_new = Wants { has_changed: false, others: [None; Intent::MOST_CHANGES], ..self };
        self.others.iter().map_while(|change| *change).fold(nothing_new, Wants::changed)
    }

    /// True where a change makes a difference to it.
    pub fn is_news(&self, change: Change) -> bool {
        let settled = self.settled();
        settled.changed(change) != settled
    }

    /// Something changes at this moment; nothing where that is no news.
    pub fn change(&mut self, change: Change) {
        if !self.is_news(change) {
            return;
        }
        if !self.has_changed {
            *self = Wants { has_changed: true, ..self.changed(change) };
        } else if let Some(free) = self.others.iter_mut().find(|slot| slot.is_none()) {
            *free = Some(change);
        }
    }

    fn changed(mut self, change: Change) -> Wants {
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

    /// An intent that wants this, from its tick's start to its end, but for what else changes at once.
    pub fn intent(&self) -> Intent {
        let Wants { heading, view, face, buttons, stance, guard, .. } = *self;
        let changes = [None; Intent::MOST_CHANGES];
        Intent { heading, view, face, buttons, stance, guard, changes }
    }

    /// What else changes at once, and how many of these count.
    pub fn others(&self) -> ([Timed; Intent::MOST_CHANGES], usize) {
        let mut others = [Timed { at: 0.0, change: Change::Guard(self.guard) }; Intent::MOST_CHANGES];
        let known = self.others.iter().map_while(|change| *change);
        let count = others.iter_mut().zip(known).map(|(slot, change)| slot.change = change).count();
        (others, count)
    }
}

impl Fingerprinted for Wants {
    fn feed(&self, print: &mut Fingerprint) {
        self.intent().feed(print);
        let (others, count) = self.others();
        others[..count].iter().for_each(|change| change.feed(print));
    }
}
