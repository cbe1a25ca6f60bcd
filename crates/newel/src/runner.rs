//! The easy front: a character, its previous pose, a fixed-tick clock and a workspace.

use glam::{DVec3, Vec3};

use crate::character::Character;
use crate::command::{Command, Modifiers};
use crate::error::{SpawnError, TickError};
use crate::intent::Intent;
use crate::outcome::{Event, Outcome, Readout};
use crate::spawn::Spawn;
use crate::step::Tick;
use crate::terrain::Terrain;
use crate::tuning::Tuning;
use crate::workspace::Workspace;

/// A character that is fed frames of any length and moves in ticks of one length.
#[derive(Debug)]
pub struct Runner<M = ()> {
    /// The character as of the last tick.
    pub character: Character<M>,
    /// What the game changes for now.
    pub modifiers: Modifiers,
    previous: DrawPose,
    number: u64,
    step: f64,
    owed: f64,
    commands: Vec<Command>,
    work: Workspace,
}

/// Where to draw the character.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct DrawPose {
    /// The feet, metres.
    pub position: DVec3,
    /// Unit vector: where the body looks.
    pub facing: Vec3,
    /// Unit vector against gravity.
    pub up: Vec3,
}

/// What a [`Runner`] tells after each tick.
#[derive(Clone, Copy, Debug)]
pub struct Ticked<'a, M = ()> {
    /// The tick's number, from 0.
    pub number: u64,
    /// The character after it.
    pub character: &'a Character<M>,
    /// What it returned.
    pub outcome: Outcome<'a>,
}

impl<M> Ticked<'_, M> {
    /// What happened in the tick, in order.
    #[must_use]
    pub fn events(&self) -> &[Event] {
        self.outcome.events
    }

    /// How things stand after it.
    #[must_use]
    pub fn readout(&self) -> &Readout {
        &self.outcome.readout
    }
}

/// At most this many ticks are made up for after a stall; what is owed beyond is forgotten.
const MOST_CATCH_UP: f64 = 8.0;

impl Runner {
    /// A character at `start`, ticking 60 times a second.
    ///
    /// # Errors
    /// As [`Character::spawn`].
    pub fn spawn(terrain: &dyn Terrain, tuning: &Tuning, start: impl Into<Spawn>) -> Result<Runner, SpawnError> {
        Ok(Runner::new(Character::spawn(terrain, tuning, start)?))
    }
}

impl<M> Runner<M> {
    /// Runs a character that is there already, 60 ticks a second.
    #[must_use]
    pub fn new(character: Character<M>) -> Runner<M> {
        let previous = pose_of(&character);
        Runner {
            character,
            modifiers: Modifiers::default(),
            previous,
            number: 0,
            step: 1.0 / 60.0,
            owed: 0.0,
            commands: Vec::new(),
            work: Workspace::new(),
        }
    }

    /// The same with `rate` ticks a second, 4 to 10,000.
    ///
    /// # Errors
    /// [`TickError::OutOfRange`] for any other rate.
    pub fn with_rate(mut self, rate: f64) -> Result<Runner<M>, TickError> {
        if !(4.0..=10_000.0).contains(&rate) {
            return Err(TickError::OutOfRange { field: "runner rate", value: rate, least: 4.0, most: 10_000.0 });
        }
        self.step = 1.0 / rate;
        Ok(self)
    }

    /// Has the next tick obey `command` first.
    pub fn command(&mut self, command: Command) {
        self.commands.push(command);
    }

    /// Passes `frame` seconds: makes as many whole ticks as are due, none or several.
    ///
    /// `intent` is asked once a tick, never once a frame; `on_tick` hears of each tick as it is made.
    ///
    /// # Errors
    /// [`TickError`] where the frame's length, the intent, a command or a modifier is out of range. Ticks made before
    /// stay made; the commands waiting are dropped.
    pub fn advance(
        &mut self,
        frame: f64,
        terrain: &dyn Terrain,
        tuning: &Tuning,
        mut intent: impl FnMut(&Character<M>) -> Intent,
        mut on_tick: impl FnMut(&Ticked<'_, M>),
    ) -> Result<(), TickError> {
        if !(0.0..=1e6).contains(&frame) {
            return Err(TickError::OutOfRange { field: "frame", value: frame, least: 0.0, most: 1e6 });
        }
        self.owed = (self.owed + frame).min(MOST_CATCH_UP * self.step);
        // Frames that should add up to a tick do, though their sum falls short by a rounding.
        while self.owed >= self.step * (1.0 - 1e-9) {
            self.owed = (self.owed - self.step).max(0.0);
            self.tick(terrain, tuning, &mut intent, &mut on_tick)?;
        }
        Ok(())
    }

    fn tick(
        &mut self,
        terrain: &dyn Terrain,
        tuning: &Tuning,
        intent: &mut impl FnMut(&Character<M>) -> Intent,
        on_tick: &mut impl FnMut(&Ticked<'_, M>),
    ) -> Result<(), TickError> {
        let wanted = intent(&self.character);
        let before = pose_of(&self.character);
        let tick = Tick { number: self.number, terrain, tuning, modifiers: &self.modifiers, dt: self.step };
        let made = tick.step(&mut self.work, &mut self.character, &wanted, &self.commands);
        self.commands.clear();
        let outcome = made?;
        self.previous = if outcome.readout.cut { pose_of(&self.character) } else { before };
        on_tick(&Ticked { number: self.number, character: &self.character, outcome });
        self.number += 1;
        Ok(())
    }

    /// Where to draw the character now: between the last two ticks, as far as the time owed has come.
    #[must_use]
    pub fn pose(&self) -> DrawPose {
        let part = (self.owed / self.step).clamp(0.0, 1.0);
        let (from, to) = (self.previous, pose_of(&self.character));
        let turned = from.facing.lerp(to.facing, part as f32);
        let facing = crate::math::direction(turned).unwrap_or(to.facing);
        DrawPose { position: from.position.lerp(to.position, part), facing, up: to.up }
    }

    /// How many ticks have been made.
    #[must_use]
    pub fn ticks(&self) -> u64 {
        self.number
    }
}

fn pose_of<M>(character: &Character<M>) -> DrawPose {
    DrawPose { position: character.position, facing: character.facing, up: character.up }
}
