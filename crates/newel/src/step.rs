//! One tick, on one page: check, gather, then repeat decide, move, settle; report.

use glam::Vec3;

use crate::character::{Character, State};
use crate::command::{Command, Modifiers};
use crate::contact::surroundings::{Contact, Surroundings};
use crate::error::TickError;
use crate::intent::Intent;
use crate::outcome::{Event, EventKind, Outcome, Readout};
use crate::run::Run;
use crate::shape::Capsule;
use crate::terrain::{Patch, Terrain, When};
use crate::tuning::Tuning;

/// One tick for any number of characters: what they share. Make one a tick and step each character with it.
///
/// ```
/// # use newel::{Character, Intent, Mesh, Modifiers, Tick, Tuning, Workspace};
/// # let level = Mesh::new(&[[-9., 0., -9.], [9., 0., -9.], [0., 0., 9.0f32]], &[0, 1, 2]).unwrap();
/// # let tuning = Tuning::walker();
/// let mut hero = Character::spawn(&level, &tuning, [0.0, 0.0, 0.0])?;
/// let mut work = Workspace::new();
/// let tick = Tick { number: 0, terrain: &level, tuning: &tuning, modifiers: &Modifiers::default(), dt: 1.0 / 60.0 };
/// let outcome = tick.step(&mut work, &mut hero, &Intent::toward(glam::Vec3::X), &[])?;
/// assert!(outcome.readout.grounded && hero.position.x > 0.0);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Copy)]
pub struct Tick<'a> {
    /// The tick's number, as the game counts them; handed on to the terrain.
    pub number: u64,
    /// What can be touched.
    pub terrain: &'a dyn Terrain,
    /// The numbers a designer set.
    pub tuning: &'a Tuning,
    /// What the game changes for now.
    pub modifiers: &'a Modifiers,
    /// The tick's length, seconds: over 0 and at most [`Tick::LONGEST`].
    pub dt: f64,
}

/// Pieces that one tick can be split into before the rest of its time is dropped.
const MOST_SPLITS: u32 = 200;

impl Tick<'_> {
    /// The longest tick allowed, seconds.
    pub const LONGEST: f64 = 0.25;

    /// Moves one character through the tick.
    ///
    /// # Errors
    /// [`TickError`] where anything given is out of range; the character is then as it was.
    pub fn step<'w, M>(
        &self,
        work: &'w mut Workspace,
        character: &mut Character<M>,
        intent: &Intent,
        commands: &[Command],
    ) -> Result<Outcome<'w>, TickError> {
        self.check(&character.state, intent, commands)?;
        let mut run = Run::new(self, work, character.state, intent);

        run.gather();
        run.obey(commands)?;
        run.clear_of_terrain();
        let mut splits = 0;
        while run.time_left() > 0.0 {
            if splits == MOST_SPLITS {
                run.drop_rest();
                break;
            }
            splits += 1;
            run.decide();
            run.advance();
        }
        let (state, stepped, cut) = run.finish();
        character.state = state;
        Ok(Outcome { events: &work.events, readout: Readout::of(&state, stepped, cut) })
    }

    fn check(&self, state: &State, intent: &Intent, commands: &[Command]) -> Result<(), TickError> {
        if !(self.dt > 0.0 && self.dt <= Tick::LONGEST) {
            return Err(TickError::Length { dt: self.dt, longest: Tick::LONGEST });
        }
        if !(state.position.is_finite() && state.velocity.is_finite() && state.clock.is_finite()) {
            return Err(TickError::NotFinite { field: "character.position, velocity or clock" });
        }
        let unit = |v: Vec3| (v.length_squared() - 1.0).abs() < 1e-3;
        if !(unit(state.up) && unit(state.facing)) {
            return Err(TickError::NotFinite { field: "character.up or facing (unit vectors)" });
        }
        self.modifiers.check()?;
        intent.check(self.dt)?;
        commands.iter().try_for_each(Command::check)
    }

    pub(crate) fn when(&self) -> When {
        When { number: self.number, dt: self.dt }
    }
}

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

    /// What the last tick gathered, for looking at.
    #[must_use]
    pub fn patch(&self) -> &Patch {
        &self.patch
    }

    pub(crate) fn surroundings<'a>(
        &'a mut self,
        terrain: &'a dyn Terrain,
        when: When,
        shape: Capsule,
        up: Vec3,
        place: glam::DVec3,
    ) -> Surroundings<'a> {
        Surroundings::new(terrain, when, &mut self.patch, &mut self.contacts, shape, up, place)
    }

    pub(crate) fn split<'a>(&'a mut self, tick: &Tick<'a>, state: &State) -> (Surroundings<'a>, &'a mut Vec<Event>) {
        self.events.clear();
        let (when, shape) = (tick.when(), tick.tuning.shape());
        let (patch, contacts) = (&mut self.patch, &mut self.contacts);
        let near = Surroundings::new(tick.terrain, when, patch, contacts, shape, state.up, state.position);
        (near, &mut self.events)
    }
}

impl core::fmt::Debug for Workspace {
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        write!(f, "Workspace({} facets)", self.patch.facets().len())
    }
}

impl Run<'_> {
    fn drop_rest(&mut self) {
        let seconds = self.time_left() as f32;
        self.report(EventKind::TimeDropped { seconds });
    }
}
