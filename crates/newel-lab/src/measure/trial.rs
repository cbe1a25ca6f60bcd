//! A character on a built-in ground, doing what a script says.

use newel::glam::{DVec3, Vec3};
use newel::{
    Button, Character, Event, EventKind, Face, Form, Heading, Readout, Scene, Spawn, Tick, Tuning, Workspace, Zone,
};

use super::grounds::{AHEAD, Ground};
use crate::course::{Moment, Player, Script, Step};

/// Ticks a second of a trial, unless it says otherwise; any other would say the same.
pub(crate) const RATE: f64 = 240.0;

/// How it was at one moment.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Sample {
    pub time: f64,
    pub position: DVec3,
    pub velocity: DVec3,
}

/// A run of a trial.
pub(crate) struct Trial {
    scene: Scene,
    tuning: Tuning,
    pub hero: Character,
    work: Workspace,
    number: u64,
    rate: f64,
    pub samples: Vec<Sample>,
    pub events: Vec<Event>,
    pub readout: Option<Readout>,
}

impl Trial {
    /// On this ground with the feet at a place, looking east.
    ///
    /// Trials are short: whatever a preset is for, it is measured as a capsule or a box in the plane of its way.
    pub fn new(ground: &Ground, tuning: &Tuning, at: [f64; 3]) -> Option<Trial> {
        Trial::in_scene(Scene::new().with(ground.mesh()), tuning, at)
    }

    /// The same in any scene.
    pub fn in_scene(scene: Scene, tuning: &Tuning, at: [f64; 3]) -> Option<Trial> {
        let mut start = Spawn::at(at).facing(AHEAD.as_vec3());
        if tuning.shape().form == Form::Box {
            start = start.in_plane(Vec3::Z);
        }
        Trial::spawned(scene, tuning, start)
    }

    /// The same spawned in any way.
    pub fn spawned(scene: Scene, tuning: &Tuning, start: Spawn) -> Option<Trial> {
        let hero = Character::spawn(&scene, tuning, start).ok()?;
        let sample = Sample { time: 0.0, position: hero.position, velocity: DVec3::ZERO };
        Some(Trial {
            scene,
            tuning: *tuning,
            hero,
            work: Workspace::new(),
            number: 0,
            rate: RATE,
            samples: vec![sample],
            events: Vec::new(),
            readout: None,
        })
    }

    /// The same where a zone holds.
    pub fn in_zone(self, zone: Zone) -> Trial {
        Trial { scene: self.scene.with_zone(zone), ..self }
    }

    /// The same at another tick rate.
    pub fn at_rate(self, rate: f64) -> Trial {
        Trial { rate, ..self }
    }

    /// Plays a script until `end` seconds; false where a tick was refused.
    pub fn play(&mut self, script: &Script, end: f64) -> bool {
        self.play_until(script, end, |_| false)
    }

    /// The same, or until something has happened.
    pub fn play_until(&mut self, script: &Script, end: f64, done: impl Fn(&Trial) -> bool) -> bool {
        let mut player = Player::new(script);
        while (self.number as f64) < end * self.rate - 1e-6 && !done(self) {
            let dt = 1.0 / self.rate;
            let (intent, commands) = player.take(self.number as f64 * dt, dt);
            let (terrain, tuning, modifiers) = (&self.scene, &self.tuning, player.modifiers);
            let tick = Tick { number: self.number, terrain, tuning, modifiers: &modifiers, dt };
            let Ok(outcome) = tick.step(&mut self.work, &mut self.hero, &intent, &commands) else { return false };
            self.events.extend_from_slice(outcome.events);
            self.readout = Some(outcome.readout);
            self.number += 1;
            let state = self.hero.state();
            self.samples.push(Sample { time: state.clock, position: state.position, velocity: state.velocity });
        }
        true
    }

    /// True where it has come nowhere for half a second: it will not any more.
    pub fn is_stuck(&self) -> bool {
        let ticks = (0.5 * self.rate) as usize;
        let [.., now] = self.samples.as_slice() else { return false };
        let before = self.samples.len().checked_sub(ticks + 1).map(|n| self.samples[n]);
        now.time > 1.0 && before.is_some_and(|before| (now.position - before.position).length() < 1e-3)
    }

    /// Its radius standing, metres.
    pub fn radius(&self) -> f32 {
        self.tuning.values().size.radius
    }

    /// The same character at the same moment on another ground.
    pub fn moved_to(&self, ground: &Ground) -> Trial {
        Trial {
            scene: Scene::new().with(ground.mesh()),
            tuning: self.tuning,
            hero: self.hero.clone(),
            work: Workspace::new(),
            number: self.number,
            rate: self.rate,
            samples: self.samples.last().copied().into_iter().collect(),
            events: Vec::new(),
            readout: self.readout,
        }
    }

    /// The first event of which `is` is true.
    pub fn first(&self, is: impl Fn(&EventKind) -> bool) -> Option<&Event> {
        self.events.iter().find(|e| is(&e.kind))
    }
}

/// A script being written, in order of time.
#[derive(Default, Clone)]
pub(crate) struct Writing(Vec<Moment>);

impl Writing {
    pub fn at(mut self, at: f64, step: Step) -> Writing {
        self.0.push(Moment { at, step });
        self
    }

    /// Heads along x with this much of the stick.
    pub fn head(self, at: f64, part: f64) -> Writing {
        self.at(at, Step::Heading(Heading::World((AHEAD * part).as_vec3())))
    }

    pub fn press(self, at: f64, button: Button, held: f64) -> Writing {
        self.at(at, Step::Button(button, true)).at(at + held, Step::Button(button, false))
    }

    pub fn face(self, face: Face) -> Writing {
        self.at(0.0, Step::Face(face))
    }

    pub fn script(mut self) -> Script {
        self.0.sort_by(|a, b| a.at.total_cmp(&b.at));
        Script { moments: self.0 }
    }
}

/// The largest value between `low` and `high` for which `works`, found by halving; `None` where even `low` does not.
pub(crate) fn largest(low: f64, high: f64, works: impl Fn(f64) -> bool) -> Option<f64> {
    largest_within(0.0, low, high, works)
}

/// The same found to within so much, or the hundred-thousandth part.
pub(crate) fn largest_within(near: f64, mut low: f64, mut high: f64, works: impl Fn(f64) -> bool) -> Option<f64> {
    if !works(low) {
        return None;
    }
    if works(high) {
        return Some(high);
    }
    while high - low > near.max(1e-5 * high.abs().max(0.1)) {
        let middle = 0.5 * (low + high);
        (low, high) = if works(middle) { (middle, high) } else { (low, middle) };
    }
    Some(low)
}
