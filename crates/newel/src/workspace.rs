//! Storage that ticks reuse.

use glam::{DVec3, Vec3};

use crate::contact::point::Contact;
use crate::contact::surroundings::{Figure, Surroundings};
use crate::outcome::{Event, Outcome, Readout};
use crate::terrain::{Patch, Terrain, When};

/// Storage that ticks reuse: one for each thread is enough, however many characters. Holds nothing between ticks.
#[derive(Default)]
pub struct Workspace {
    patch: Patch,
    contacts: Vec<Contact>,
    pub(crate) events: Vec<Event>,
}

impl Workspace {
    /// An empty one; it grows in the first ticks and allocates nothing after.
    #[must_use]
    pub fn new() -> Workspace {
        Workspace::default()
    }

    /// What the last tick gathered, for looking at; nothing where it had no need to ask.
    #[must_use]
    pub fn patch(&self) -> &Patch {
        &self.patch
    }

    /// The outcome of a tick in which nothing happened, or nothing else than this.
    pub(crate) fn only(&mut self, event: Option<Event>, readout: Readout) -> Outcome<'_> {
        self.events.clear();
        self.events.extend(event);
        self.patch.reset(DVec3::ZERO, Vec3::ZERO, Vec3::ZERO);
        Outcome { events: &self.events, readout }
    }

    /// Lends the storage for a tick: the surroundings of a shape at a place, and an empty list of events.
    pub(crate) fn lend<'a>(
        &'a mut self,
        terrain: &'a dyn Terrain,
        when: When,
        figure: Figure,
        place: DVec3,
    ) -> (Surroundings<'a>, &'a mut Vec<Event>) {
        self.events.clear();
        let near = Surroundings::new(terrain, when, &mut self.patch, &mut self.contacts, figure, place);
        (near, &mut self.events)
    }
}

impl core::fmt::Debug for Workspace {
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        write!(f, "Workspace({} facets)", self.patch.facets().len())
    }
}
