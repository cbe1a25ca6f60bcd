//! One tick, on one page: check, gather, then repeat decide, move, settle; report.

use glam::Vec3;

use crate::character::{Character, State};
use crate::command::Command;
use crate::contact::surroundings::Figure;
use crate::drive::intent::Intent;
use crate::error::{SpawnError, TickError};
use crate::explain::Listener;
#[cfg(feature = "explain")]
use crate::explain::Sink;
use crate::mode::{self, CustomMode, obey};
use crate::modifiers::Modifiers;
use crate::outcome::{Event, EventKind, Outcome, Readout, Telling};
use crate::run::Run;
use crate::shape::Form;
use crate::terrain::{Terrain, When};
use crate::tuning::Tuning;
use crate::workspace::Workspace;

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
const MOST_SPLITS: u32 = 1000;

impl<'a> Tick<'a> {
    /// The longest tick allowed, seconds.
    pub const LONGEST: f64 = 0.25;

    /// Moves one character through the tick.
    ///
    /// # Errors
    /// [`TickError`] where anything given is out of range; the character is then as it was.
    pub fn step<'w, M: CustomMode + Clone>(
        &self,
        work: &'w mut Workspace,
        character: &mut Character<M>,
        intent: &Intent,
        commands: &[Command],
    ) -> Result<Outcome<'w>, TickError> {
        self.play(work, character, intent, commands, Listener::default())
    }

    /// The same, telling `sink` what it sees and why it does what it does.
    ///
    /// # Errors
    /// As [`Tick::step`].
    #[cfg(feature = "explain")]
    pub fn explain<'w, M: CustomMode + Clone>(
        &self,
        work: &'w mut Workspace,
        character: &mut Character<M>,
        intent: &Intent,
        commands: &[Command],
        sink: &mut dyn Sink,
    ) -> Result<Outcome<'w>, TickError> {
        self.play(work, character, intent, commands, Listener::to(sink))
    }

    fn play<'w, M: CustomMode + Clone>(
        &self,
        work: &'w mut Workspace,
        character: &mut Character<M>,
        intent: &Intent,
        commands: &[Command],
        mut listener: Listener<'_>,
    ) -> Result<Outcome<'w>, TickError> {
        self.check(&character.state, intent, commands)?;
        if !listener.is_on()
            && character.custom.lets_rest()
            && self.is_rest_as_before(&character.state, intent, commands)
        {
            return Ok(self.rest(work, &mut character.state));
        }
        let mut custom = character.custom.clone();
        let mut run = self.begin(work, character.state, intent, listener.lend());

        run.gather();
        run.mount();
        obey(&mut run, commands)?;
        // What is caught waits for a moment of the grid.
        if !run.is_caught() {
            run.clear_of_terrain();
        }
        let mut splits = 0;
        while run.time_left() > 0.0 {
            if splits == MOST_SPLITS {
                run.drop_rest();
                break;
            }
            splits += 1;
            // One change at a time: two presses in the same instant are two presses.
            while run.take_change() {
                mode::decide(&mut run, &mut custom);
            }
            run.sample();
            run.try_to_come_free();
            mode::sample(&mut run);
            mode::decide(&mut run, &mut custom);
            let span = run.time_to_change();
            run.begin_piece(span);
            let used = if run.is_caught() { run.stay_caught(span) } else { mode::advance(&mut run, &mut custom, span) };
            run.pass(used, span);
        }
        let (state, told) = run.finish();
        if !state.is_finite() {
            // Only a terrain that answers nonsense leads here: its mistake must not become the state's.
            character.state.clock += self.dt;
            let lost = Event::of(&character.state, EventKind::TimeDropped { seconds: self.dt as f32 });
            return Ok(work.only(Some(lost), Readout::of(&character.state, &Telling::default(), self.tuning, self.dt)));
        }
        let (clock, is_new) = (character.state.clock, character.state.clock == 0.0);
        work.sensing.sense(self.terrain, self.when(), (clock, is_new), &mut work.events);
        character.custom = custom;
        character.state = State { rest: self.remember(&character.state, &state), ..state };
        let readout = Readout::of(&state, &told, self.tuning, self.dt);
        Ok(Outcome { events: &work.events, readout, inside: &work.sensing.inside })
    }

    /// Nothing changes but the clock; only what moves past may see it.
    fn rest<'w>(&self, work: &'w mut Workspace, state: &mut State) -> Outcome<'w> {
        let start = state.clock;
        state.clock += self.dt;
        let readout = Readout::of(state, &Telling::default(), self.tuning, self.dt);
        work.only(None, readout);
        work.stand(self.terrain, self.when(), self.figure(state), state.position);
        work.sensing.sense(self.terrain, self.when(), (start, false), &mut work.events);
        Outcome { events: &work.events, readout, inside: &work.sensing.inside }
    }

    pub(crate) fn when(&self) -> When {
        When { who: self.modifiers.who, ..When::tick(self.number, self.dt) }
    }

    fn check(&self, state: &State, intent: &Intent, commands: &[Command]) -> Result<(), TickError> {
        if !(self.dt > 0.0 && self.dt <= Tick::LONGEST) {
            return Err(TickError::Length { dt: self.dt, longest: Tick::LONGEST });
        }
        if let Some(field) = state.not_finite() {
            return Err(TickError::NotFinite { field });
        }
        let unit = |v: Vec3| (v.length_squared() - 1.0).abs() < 1e-3;
        let ways = [("character.up", state.up), ("character.axis", state.axis), ("character.facing", state.facing)];
        if let Some((field, value)) = ways.into_iter().find(|(_, way)| !unit(*way)) {
            return Err(TickError::NotUnit { field, value });
        }
        if self.tuning.shape().form == Form::Box && !state.keeps.is_plane() {
            return Err(SpawnError::NoPlane.into());
        }
        self.modifiers.check()?;
        intent.check(self.dt)?;
        commands.iter().try_for_each(Command::check)
    }

    pub(crate) fn figure(&self, state: &State) -> Figure {
        Figure::of(state, self.tuning)
    }

    fn begin<'r>(&self, work: &'r mut Workspace, state: State, intent: &Intent, listener: Listener<'r>) -> Run<'r>
    where
        'a: 'r,
    {
        let figure = self.figure(&state);
        let (mut near, lists) = work.lend(self.terrain, self.when(), figure, state.position);
        near.listener = listener;
        Run::new(near, lists, state, self.tuning, self.modifiers, intent, self.dt)
    }
}
