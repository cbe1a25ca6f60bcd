//! One tick, on one page: check, gather, then repeat decide, move, settle; report.

use glam::Vec3;

use crate::character::Character;
use crate::command::Command;
use crate::drive::intent::{Intent, Timed};
use crate::error::{SpawnError, TickError};
use crate::explain::Listener;
#[cfg(feature = "explain")]
use crate::explain::Sink;
use crate::figure::Figure;
use crate::mode::{self, CustomMode, obey};
use crate::modifiers::Modifiers;
use crate::moment::Moment;
use crate::outcome::{Event, EventKind, Outcome, Readout, Telling};
use crate::run::Run;
use crate::shape::Form;
use crate::state::State;
use crate::terrain::{Terrain, When};
use crate::tuning::Tuning;
use crate::walls::Walls;
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
    /// The terrain.
    pub terrain: &'a dyn Terrain,
    /// The numbers a designer set.
    pub tuning: &'a Tuning,
    /// Modifiers in effect.
    pub modifiers: &'a Modifiers,
    /// The tick's length, seconds: over 0 and at most [`Tick::LONGEST`].
    pub dt: f64,
}

/// A slice of one character's time: all of a tick, or as much as is decided at once.
pub(crate) struct Slice<'w> {
    pub work: &'w mut Workspace,
    pub listener: Listener<'w>,
    /// Intent at its start.
    pub intent: &'w Intent,
    /// How that changes, told from its start.
    pub changes: &'w [Timed],
    /// Commands, executed first.
    pub commands: &'w [Command],
    /// Its length, seconds.
    pub dt: f64,
    /// When in the tick it begins, seconds; below 0 where that was before the tick.
    pub begins: f64,
    /// True where nothing is decided at its end: it is only looked at there, or what is wanted changes.
    pub is_cut: bool,
}

/// Pieces that one slice can be split into before the rest of its time is dropped: a body 1 cm high that runs along an edge at 9.5 m/s took
/// 1,000 of them in 15.4 ms.
const MOST_SPLITS: u32 = 2000;

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
        listener: Listener<'_>,
    ) -> Result<Outcome<'w>, TickError> {
        work.take_changes(intent, commands);
        self.check(&character.state, intent, (&work.changes, commands))?;
        if !listener.is_on()
            && character.custom.lets_rest()
            && self.is_rest_as_before(&character.state, intent, commands, Some(work))
        {
            return Ok(self.rest(work, character));
        }
        let before = character.state;
        let Some(mut told) = self.make(work, character, (intent, commands), listener)? else {
            // Only a terrain that answers nonsense leads here: its mistake must not become the state's.
            character.state = State { clock: before.clock + self.dt, ..before };
            character.end_motion();
            let lost = Event::of(&character.state, EventKind::TimeDropped { seconds: self.dt as f32 });
            return Ok(work.only(Some(lost), Readout::of(&character.state, &Telling::default(), self.tuning, self.dt)));
        };
        let state = character.state;
        told.cut = work.events.iter().any(|event| event.kind == EventKind::Teleported);
        told.axis_before = Some(before.axis).filter(|axis| *axis != state.axis);
        work.sensing.sense(self.terrain, self.when(), (before.clock, before.clock == 0.0), &mut work.events);
        let readout = Readout::of(&state, &told, self.tuning, self.dt);
        Ok(Outcome { events: &work.events, readout, inside: &work.sensing.inside })
    }

    /// Computes a slice of time: gather, then repeat decide, move, settle. `None` where the terrain answers nonsense.
    pub(crate) fn go<'r, M: CustomMode + Clone>(
        &'r self,
        slice: Slice<'r>,
        state: &State,
        custom: &M,
    ) -> Result<Option<(State, M, Telling)>, TickError> {
        let mut custom = custom.clone();
        let commands = slice.commands;
        let mut run = self.begin(slice, *state);
        run.gather();
        // Where motion is decided in any case, walls are met anew: what stood against a step or a ledge may stand no longer.
        if !Moment::at(state.clock).is_stride() {
            run.walls = Walls::recalled(&state.walls, &run.near);
        }
        run.mount();
        obey(&mut run, commands)?;
        // A crushed character waits for a grid moment.
        if !run.is_caught() {
            run.clear_of_terrain();
        }
        if run.changes_at_once() {
            // Changes at the start come first.
            mode::decide(&mut run, &mut custom);
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
        Ok(state.is_finite().then_some((state, custom, told)))
    }

    /// Nothing changes but the clock; only what moves past may see it.
    fn rest<'w, M>(&self, work: &'w mut Workspace, character: &mut Character<M>) -> Outcome<'w> {
        let start = character.state.clock;
        let (end, remainder) = Moment::at(start).end_of_tick(self.dt, character.remainder);
        (character.state.clock, character.remainder) = (end.clock(), remainder);
        character.end_motion();
        let state = &character.state;
        let readout = Readout::of(state, &Telling::default(), self.tuning, self.dt);
        work.only(None, readout);
        work.stand(self.figure(state), state.position, self.dt);
        work.sensing.sense(self.terrain, self.when(), (start, false), &mut work.events);
        Outcome { events: &work.events, readout, inside: &work.sensing.inside }
    }

    pub(crate) fn when(&self) -> When {
        When { who: self.modifiers.who, ..When::tick(self.number, self.dt) }
    }

    fn check(
        &self,
        state: &State,
        intent: &Intent,
        (changes, commands): (&[Timed], &[Command]),
    ) -> Result<(), TickError> {
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
        intent.check(changes, self.dt)?;
        commands.iter().try_for_each(Command::check)
    }

    pub(crate) fn figure(&self, state: &State) -> Figure {
        Figure::of(state, self.tuning)
    }

    #[inline]
    fn begin<'r>(&'r self, slice: Slice<'r>, state: State) -> Run<'r> {
        let Slice { work, listener, intent, changes, dt, begins, is_cut, .. } = slice;
        let (mut near, lists) =
            work.lend(self.terrain, self.when().about(begins, dt), self.figure(&state), state.position);
        (near.listener, near.begins) = (listener, begins);
        let mut run = Run::new(near, lists, state, self.tuning, self.modifiers, (intent, changes), dt);
        run.is_cut = is_cut;
        run
    }
}
