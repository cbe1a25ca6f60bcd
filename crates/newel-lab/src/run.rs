//! Plays a course, tick by tick.

use newel::{
    Character, Command, Fingerprint, Fingerprinted, Intent, Modifiers, Tick, TickError, Tuning, When, Workspace,
};

use crate::audit::{Moment, Surface, Watch, depth};
use crate::course::{Course, Drivers, Player};
use crate::trace::{Row, Trace};

/// A course under way: the character between two ticks.
pub(crate) struct Playing<'a> {
    course: &'a Course,
    player: Player<'a>,
    pub drivers: Drivers<'a>,
    /// A hash of all that was wanted and done so far.
    pub inputs: Fingerprint,
    pub hero: Character,
    /// The number of the next tick, from 0.
    pub number: u64,
}

impl<'a> Playing<'a> {
    pub fn begin(course: &'a Course) -> Result<Playing<'a>, TickError> {
        let hero = Character::spawn(&course.scene, &course.tuning, course.spawn)?;
        Ok(Playing {
            course,
            player: Player::new(&course.script),
            drivers: Drivers::new(course),
            inputs: Fingerprint::new(),
            hero,
            number: 0,
        })
    }

    /// How many ticks the course has.
    pub fn ticks(&self) -> u64 {
        (self.course.duration * self.course.rate).round() as u64
    }

    /// Modifiers in effect.
    pub fn modifiers(&self) -> Modifiers {
        self.player.modifiers
    }

    /// Wishes of the script for the next tick.
    pub fn wanted(&mut self) -> (Intent, Vec<Command>) {
        let dt = 1.0 / self.course.rate;
        // From the count, not by adding up: the script's clock must not drift from the course's.
        let (own, mut commands) = self.player.take(self.number as f64 * dt, dt);
        let (intent, command) = self.drivers.drive(own, &self.player.drives, (self.number, dt), &self.hero);
        commands.extend(command);
        self.player.modifiers.feed(&mut self.inputs);
        intent.feed(&mut self.inputs);
        commands.iter().for_each(|command| command.feed(&mut self.inputs));
        (intent, commands)
    }

    /// The next tick, by itself and apart from the character it moves, which is handed out beside it.
    pub fn tick(&mut self) -> (Tick<'_>, &mut Character) {
        let (number, dt) = (self.number, 1.0 / self.course.rate);
        self.number += 1;
        let (terrain, tuning, modifiers) = (&self.course.scene, &self.course.tuning, &self.player.modifiers);
        (Tick { number, terrain, tuning, modifiers, dt }, &mut self.hero)
    }
}

/// Runs a course from its spawn to its end. `progress` is told now and then which part, 0 to 1, is done.
///
/// # Errors
/// [`TickError`] where a scripted command is refused, such as a teleport into rock.
pub fn run(course: &Course, mut progress: impl FnMut(f64)) -> Result<Trace, TickError> {
    let (mut surface, mut watch) = (Surface::of(&course.scene.solids), Watch::new());
    let mut playing = Playing::begin(course)?;
    let mut work = Workspace::new();
    let tuning = &course.tuning;
    let heights = course.scene.solids.corners(0.0).flat_map(|(corners, _)| corners).map(|corner| corner.y);
    let mut trace = Trace {
        title: course.title.clone(),
        rate: course.rate,
        rows: Vec::with_capacity(playing.ticks() as usize + 1),
        events: Vec::new(),
        hash: 0,
        inputs: 0,
        bottom: heights.fold(f64::INFINITY, f64::min),
        told: Vec::new(),
        planned: Vec::new(),
        sensors: course.scene.sensors.clone(),
        findings: Vec::new(),
    };
    trace.rows.push(Row::first(&playing.hero, tuning, depth_of(&surface, &playing.hero, tuning)));
    let ticks = playing.ticks();
    while playing.number < ticks {
        let (intent, commands) = playing.wanted();
        let before = *playing.hero.state();
        let (tick, hero) = playing.tick();
        let outcome = tick.step(&mut work, hero, &intent, &commands)?;
        playing.drivers.last = Some(outcome.readout);
        trace.events.extend_from_slice(outcome.events);
        surface.set_time(&course.scene.solids, playing.number as f64 / course.rate);
        let dt = 1.0 / course.rate;
        let depth = watch.look(&Moment {
            terrain: &course.scene,
            surface: &surface,
            tuning,
            when: When::tick(playing.number, dt),
            dt,
            wish: intent.wish(&before, tuning),
            before: &before,
            after: playing.hero.state(),
            events: outcome.events,
        });
        let row = Row::after(playing.number, &playing.hero, tuning, &outcome.readout, depth);
        trace.rows.push(Row { modifiers: playing.modifiers(), ..row });
        if playing.number % 256 == 0 {
            progress(playing.number as f64 / ticks as f64);
        }
    }
    (trace.told, trace.planned) =
        (core::mem::take(&mut playing.drivers.told), core::mem::take(&mut playing.drivers.planned));
    trace.findings = watch.finish();
    trace.hash = playing.hero.hash();
    trace.inputs = playing.inputs.value();
    progress(1.0);
    Ok(trace)
}

fn depth_of(surface: &Surface, hero: &Character, tuning: &Tuning) -> f64 {
    let shape = tuning.shape_in(hero.stance);
    depth(surface, hero.feet(tuning), hero.axis.as_dvec3(), hero.keeps.normal.as_dvec3(), &shape)
}
