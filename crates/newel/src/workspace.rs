//! Storage that ticks reuse.

use glam::{DVec3, Vec3};

use crate::contact::point::Contact;
use crate::contact::surroundings::{Figure, Surroundings};
use crate::outcome::{Event, Outcome, Readout};
use crate::run::sensing::{Sensing, Stretch};
use crate::terrain::{Patch, Terrain, When};

/// Storage that ticks reuse: one for each thread is enough, however many characters. Holds nothing between ticks.
#[derive(Default)]
pub struct Workspace {
    patch: Patch,
    contacts: Vec<Contact>,
    pub(crate) events: Vec<Event>,
    pub(crate) sensing: Sensing,
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

    /// Closest-point queries since the last call, of all ticks made with this storage: a measure of work that is the same on every
    /// machine. A walking tick takes about 5 to 20.
    pub fn take_queries(&mut self) -> u32 {
        self.patch.take_queries()
    }

    /// The outcome of a tick in which nothing happened, or nothing else than this.
    pub(crate) fn only(&mut self, event: Option<Event>, readout: Readout) -> Outcome<'_> {
        self.events.clear();
        self.events.extend(event);
        self.forget(DVec3::ZERO);
        self.sensing.inside.clear();
        Outcome { events: &self.events, readout, inside: &self.sensing.inside }
    }

    /// Nothing is known of what was gathered for another: `place` is where it begins.
    pub(crate) fn forget(&mut self, place: DVec3) {
        self.patch.reset(place, Vec3::ZERO, Vec3::ZERO);
    }

    /// The way of one that stands still through a tick.
    pub(crate) fn stand(&mut self, terrain: &dyn Terrain, when: When, figure: Figure, place: DVec3) {
        let near = Surroundings::new(terrain, when, &mut self.patch, &mut self.contacts, figure, place);
        let (middle, half) = near.bounding_box();
        let (start, end, velocity) = (middle, middle, DVec3::ZERO);
        let feet = place - middle;
        self.sensing.stretches.clear();
        self.sensing.stretches.push(Stretch {
            from: 0.0,
            to: when.dt,
            start,
            end,
            velocity,
            last_velocity: velocity,
            half,
            feet,
        });
    }

    /// Lends the storage for a tick: the surroundings of a shape at a place, and an empty list of events.
    pub(crate) fn lend<'a>(
        &'a mut self,
        terrain: &'a dyn Terrain,
        when: When,
        figure: Figure,
        place: DVec3,
    ) -> (Surroundings<'a>, (&'a mut Vec<Event>, &'a mut Vec<Stretch>)) {
        self.events.clear();
        self.sensing.stretches.clear();
        let near = Surroundings::new(terrain, when, &mut self.patch, &mut self.contacts, figure, place);
        (near, (&mut self.events, &mut self.sensing.stretches))
    }
}

impl core::fmt::Debug for Workspace {
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        write!(f, "Workspace({} facets)", self.patch.facets().len())
    }
}
