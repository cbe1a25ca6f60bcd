//! The easy front: a character, its previous pose, a fixed-tick clock and a workspace.

use glam::{DVec3, Vec3};

use crate::character::Character;
use crate::clock::Clock;
use crate::command::Command;
use crate::drive::intent::Intent;
use crate::error::{SpawnError, TickError};
use crate::math::{angle_left, carried_over, direction, turned_left};
use crate::mode::CustomMode;
use crate::modifiers::Modifiers;
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
    /// Modifiers in effect.
    pub modifiers: Modifiers,
    /// Makes ticks of frames; its `scale` slows time down or stops it.
    pub clock: Clock,
    previous: DrawPose,
    /// How high over its feet is what stays as up changes, by the last tick's tuning.
    pivot: f32,
    number: u64,
    commands: Vec<Command>,
    last: Option<Readout>,
    work: Workspace,
}

/// The moment for which a [`Runner`] requests an intent: reads like the character as it is before the tick.
#[derive(Clone, Copy, Debug)]
pub struct Before<'a, M = ()> {
    /// The tick's number, from 0.
    pub number: u64,
    /// The tick's length, seconds.
    pub dt: f64,
    /// The character before it.
    pub character: &'a Character<M>,
    /// How things stood after the last tick; nothing before the first.
    pub last: Option<&'a Readout>,
}

impl<M> core::ops::Deref for Before<'_, M> {
    type Target = Character<M>;
    fn deref(&self) -> &Character<M> {
        self.character
    }
}

/// Where to draw the character.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct DrawPose {
    /// The feet, metres.
    pub position: DVec3,
    /// Unit vector: where the body looks.
    pub facing: Vec3,
    /// Unit vector from its feet to its head: against gravity, but for a while after that has changed.
    pub up: Vec3,
    /// How high over the feet the eyes are, metres: eased where a stance changes, and the world's height of them never jumps.
    pub eyes: f32,
}

/// Results of one tick of a [`Runner`].
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
    /// Events of the tick in order of time.
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

impl Runner {
    /// A character at `start`, ticking 60 times a second.
    ///
    /// # Errors
    /// As [`Character::spawn`].
    pub fn spawn(terrain: &dyn Terrain, tuning: &Tuning, start: impl Into<Spawn>) -> Result<Runner, SpawnError> {
        Ok(Runner::new(Character::spawn(terrain, tuning, start)?))
    }
}

impl<M: CustomMode + Clone> Runner<M> {
    /// Runs a character that is there already, 60 ticks a second.
    #[must_use]
    pub fn new(character: Character<M>) -> Runner<M> {
        let previous = pose_of(&character, 0.0);
        Runner {
            character,
            modifiers: Modifiers::default(),
            clock: Clock::new(60.0).expect("a rate in range"),
            previous,
            pivot: 0.0,
            number: 0,
            commands: Vec::new(),
            last: None,
            work: Workspace::new(),
        }
    }

    /// The same with `rate` ticks a second, 4 to 10,000.
    ///
    /// # Errors
    /// [`TickError::OutOfRange`] for any other rate.
    pub fn with_rate(mut self, rate: f64) -> Result<Runner<M>, TickError> {
        self.clock = Clock::new(rate)?;
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
        mut intent: impl FnMut(&Before<'_, M>) -> Intent,
        mut on_tick: impl FnMut(&Ticked<'_, M>),
    ) -> Result<(), TickError> {
        self.clock.pass(frame)?;
        while self.clock.tick() {
            self.tick(terrain, tuning, &mut intent, &mut on_tick)?;
        }
        Ok(())
    }

    fn tick(
        &mut self,
        terrain: &dyn Terrain,
        tuning: &Tuning,
        intent: &mut impl FnMut(&Before<'_, M>) -> Intent,
        on_tick: &mut impl FnMut(&Ticked<'_, M>),
    ) -> Result<(), TickError> {
        let (number, dt) = (self.number, self.clock.step());
        let wanted = intent(&Before { number, dt, character: &self.character, last: self.last.as_ref() });
        let before = pose_of(&self.character, self.pivot);
        let tick = Tick { number, terrain, tuning, modifiers: &self.modifiers, dt };
        let made = tick.step(&mut self.work, &mut self.character, &wanted, &self.commands);
        self.commands.clear();
        let outcome = made?;
        self.last = Some(outcome.readout);
        self.pivot = tuning.shape_in(self.character.stance).pivot();
        self.previous = if outcome.readout.cut { pose_of(&self.character, self.pivot) } else { before };
        on_tick(&Ticked { number: self.number, character: &self.character, outcome });
        self.number += 1;
        Ok(())
    }

    /// Where to draw the character now: between the last two ticks, as far as the time owed has come.
    #[must_use]
    pub fn pose(&self) -> DrawPose {
        let part = self.clock.part();
        let (from, to) = (self.previous, pose_of(&self.character, self.pivot));
        // Turned the short way at a steady rate: between opposite facings a straight line would have no direction.
        let before = carried_over(from.facing, from.up, to.up, from.facing);
        let angle = angle_left(before, to.facing, to.up);
        let facing =
            if before == to.facing { to.facing } else { turned_left(to.facing, to.up, angle * (part as f32 - 1.0)) };
        let up = direction(from.up.lerp(to.up, part as f32)).unwrap_or(to.up);
        let facing = carried_over(facing, to.up, up, facing);
        let eyes = from.eyes + (to.eyes - from.eyes) * part as f32;
        DrawPose { position: from.position.lerp(to.position, part), facing, up, eyes }
    }

    /// How many ticks have been made.
    #[must_use]
    pub fn ticks(&self) -> u64 {
        self.number
    }
}

fn pose_of<M>(character: &Character<M>, pivot: f32) -> DrawPose {
    let me = &character.state;
    let facing = carried_over(me.facing, me.up, me.axis, me.facing);
    DrawPose { position: me.drawn_at(pivot), facing, up: me.axis, eyes: me.eyes }
}
