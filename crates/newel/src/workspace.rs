//! Storage that ticks reuse.

use glam::{DVec3, Vec3};

use crate::command::Command;
use crate::contact::point::Contact;
use crate::contact::surroundings::Surroundings;
use crate::drive::intent::{Intent, Timed};
use crate::figure::Figure;
use crate::law::Laws;
use crate::outcome::{Event, Outcome, Readout};
use crate::region::Region;
use crate::run::sensing::{Sensing, Stretch};
use crate::terrain::{Patch, Terrain, When};

/// Storage that ticks reuse: one for each thread is enough, however many characters. Holds nothing between ticks.
#[derive(Default)]
pub struct Workspace {
    patch: Patch,
    contacts: Vec<Contact>,
    pub(crate) events: Vec<Event>,
    pub(crate) sensing: Sensing,
    /// The events of the slice worked out last.
    pub(crate) made: Vec<Event>,
    /// The closed laws of the slice worked out last.
    pub(crate) laws: Laws,
    /// How what is wanted changes in the tick.
    pub(crate) changes: Vec<Timed>,
    /// The commands of the slice to be worked out.
    pub(crate) orders: Vec<Command>,
    /// Further changes at one moment.
    pub(crate) others: Vec<Timed>,
}

/// The lists that a slice of a tick writes into.
pub(crate) struct Lists<'a> {
    pub events: &'a mut Vec<Event>,
    pub stretches: &'a mut Vec<Stretch>,
    pub laws: &'a mut Laws,
}

impl Workspace {
    /// An empty one; it grows in the first ticks and allocates nothing after.
    #[must_use]
    pub fn new() -> Workspace {
        Workspace::default()
    }

    /// The geometry gathered by the last tick, for debug drawing; empty if it gathered nothing.
    #[must_use]
    pub fn patch(&self) -> &Patch {
        &self.patch
    }

    /// Closest-point queries since the last call, of all ticks made with this storage: a measure of work that is the same on every
    /// machine. A walking tick takes about 5 to 20.
    pub fn take_queries(&mut self) -> u32 {
        self.patch.take_queries()
    }

    /// The union of all terrain queries since the last call.
    pub(crate) fn take_asked(&self) -> Region {
        self.patch.take_asked()
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

    /// Lists how what is wanted changes in a tick, in order of time.
    pub(crate) fn take_changes(&mut self, intent: &Intent, commands: &[Command]) {
        self.changes.clear();
        self.changes.extend(intent.changes());
        for command in commands {
            if let Command::Change(timed) = command {
                let place = self.changes.partition_point(|known| known.at <= timed.at);
                self.changes.insert(place, *timed);
            }
        }
    }

    /// Nothing has happened yet in this tick.
    pub(crate) fn begin(&mut self) {
        self.events.clear();
        self.sensing.stretches.clear();
    }

    /// The way of one that stands still for the first `span` seconds of a tick, and that is all so far.
    pub(crate) fn stand(&mut self, figure: Figure, place: DVec3, span: f64) {
        self.sensing.stretches.clear();
        self.sensing.stretches.push(Stretch::still(figure, place, span));
    }

    /// Lends the storage for a slice of a tick: the surroundings of a shape at a place, and the lists of what happened so far.
    pub(crate) fn lend<'a>(
        &'a mut self,
        terrain: &'a dyn Terrain,
        when: When,
        figure: Figure,
        place: DVec3,
    ) -> (Surroundings<'a>, Lists<'a>) {
        let near = Surroundings::new(terrain, when, &mut self.patch, &mut self.contacts, figure, place);
        self.laws.clear();
        (near, Lists { events: &mut self.events, stretches: &mut self.sensing.stretches, laws: &mut self.laws })
    }
}

impl core::fmt::Debug for Workspace {
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        write!(f, "Workspace({} facets)", self.patch.facets().len())
    }
}
