//! The cut test: a tick of length L against a tick of x and one of L - x, from the same state with the same input.
//!
//! A difference is a decision that depends on how far a piece reaches instead of on geometry and state.

use fastrand::Rng;
use newel::{Character, Event, EventKind, Intent, Modifiers, Scene, State, Tick, Tuning, TuningValues, Workspace};
use serde::{Deserialize, Serialize};

use super::land::{Land, LandKind};
use super::time::seconds;
use super::walk::Walk;
use crate::names::event_name;

/// How a tick is cut.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum CutKind {
    /// Into two ticks, and motion is decided anew between them.
    DecidedAnew,
    /// Into two ticks.
    TwoTicks,
}

/// One tick that was cut, and what that changed: with its terrain enough to do it again.
#[derive(Debug, Clone, Serialize, Deserialize)]
pub struct Cut {
    /// The kind of the land.
    pub land: String,
    /// The seed of the land.
    pub seed: u64,
    /// The numbers of the land's triangles that are needed; all of them where there are none.
    #[serde(default)]
    pub triangles: Vec<usize>,
    /// The preset's name.
    pub preset: String,
    /// The numbers of the tuning.
    pub tuning: TuningValues,
    /// The number of the walk that it comes from.
    pub walk: u64,
    /// When the tick begins, in units.
    pub from: i64,
    /// How long the tick is, in units.
    pub length: i64,
    /// How long its first part is, in units.
    pub part: i64,
    /// How it is cut.
    pub kind: CutKind,
    /// Wishes of the player in the whole tick and in its two parts.
    pub intents: [Intent; 3],
    /// The character before the tick.
    pub state: State,
    /// How far apart the two ends are, in metres.
    pub apart: f64,
    /// The events of the whole tick and those of its parts, where they differ.
    pub events: Option<(Vec<String>, Vec<String>)>,
}

/// Units of time after which the state from which motion goes on is looked at: too few for it to go anywhere.
pub(super) const MOMENT: i64 = 3;

/// The state from which motion goes on, a moment later: the shown one may be read off a plan.
pub(super) fn exact_state(mut hero: Character, terrain: &Scene, tuning: &Tuning, intent: &Intent) -> Option<State> {
    hero.decide_anew();
    let tick = Tick { number: 0, terrain, tuning, modifiers: &Modifiers::default(), dt: seconds(MOMENT) };
    tick.step(&mut Workspace::new(), &mut hero, intent, &[]).ok()?;
    Some(*hero.state())
}

/// Ends further apart than this differ, in metres.
pub const SAME: f64 = 1e-5;

impl Cut {
    /// Cuts a tick of a walk, of a length in units, before which the character was in `state`.
    pub fn of(walk: &Walk, land: &mut Land, (from, length): (i64, i64), state: State, rng: &mut Rng) -> Option<Cut> {
        let part = rng.i64(1..length);
        let kind = if rng.u8(..) < 230 { CutKind::DecidedAnew } else { CutKind::TwoTicks };
        let intent = |a: i64, b: i64| walk.player.wanted(from + a, from + b).0;
        let mut cut = Cut {
            land: land.kind.name().to_owned(),
            seed: land.seed,
            triangles: Vec::new(),
            preset: walk.preset.to_owned(),
            tuning: *walk.tuning.values(),
            walk: walk.number,
            from,
            length,
            part,
            kind,
            intents: [intent(0, length), intent(0, part), intent(part, length)],
            state,
            apart: 0.0,
            events: None,
        };
        cut.try_on(land, &walk.tuning)?;
        Some(cut)
    }

    /// Makes the tick whole and in parts, and notes the difference. `None` where a tick is refused.
    fn try_on(&mut self, land: &mut Land, tuning: &Tuning) -> Option<()> {
        let [whole, first, second] = self.intents;
        let uncut = self.made(land, tuning, &[(0, self.length, whole)])?;
        let cut = self.made(land, tuning, &[(0, self.part, first), (self.part, self.length, second)])?;
        self.apart = (uncut.0.position - cut.0.position).length();
        self.events = (uncut.1 != cut.1).then_some((uncut.1, cut.1));
        Some(())
    }

    /// The state from which motion goes on after ticks between given times of this one, and the names of their events.
    fn made(&self, land: &mut Land, tuning: &Tuning, ticks: &[(i64, i64, Intent)]) -> Option<(State, Vec<String>)> {
        let (mut hero, mut work) = (Character::from(self.state), Workspace::new());
        let (mut names, modifiers) = (Vec::new(), Modifiers::default());
        for (from, to, intent) in ticks {
            land.scene.time = seconds(self.from + from);
            let tick = Tick { number: 0, terrain: &land.scene, tuning, modifiers: &modifiers, dt: seconds(to - from) };
            let outcome = tick.step(&mut work, &mut hero, intent, &[]).ok()?;
            let told = |e: &&Event| !matches!(e.kind, EventKind::Footstep { .. });
            names.extend(outcome.events.iter().filter(told).map(|e| event_name(&e.kind).to_owned()));
            if self.kind == CutKind::DecidedAnew {
                hero.decide_anew();
            }
        }
        land.scene.time = seconds(self.from + self.length);
        Some((exact_state(hero, &land.scene, tuning, &Intent::default())?, names))
    }

    /// Does it again on land made anew. Returns how far apart the ends are, in metres, and whether the events differ; `None` where
    /// the land or the preset is unknown, or a tick is refused.
    #[must_use]
    pub fn again(&self) -> Option<(f64, bool)> {
        let mut land = Land::generate(LandKind::named(&self.land)?, self.seed);
        if !self.triangles.is_empty() {
            land = land.with_only(&self.triangles);
        }
        self.differs_on(&mut land)
    }

    fn differs_on(&self, land: &mut Land) -> Option<(f64, bool)> {
        let mut cut = self.clone();
        cut.try_on(land, &Tuning::new(self.tuning).ok()?)?;
        Some((cut.apart, cut.events.is_some()))
    }

    /// The same with as few triangles as still show at least half of the difference.
    #[must_use]
    pub fn smallest(&self, land: &Land) -> Cut {
        let place = self.state.position;
        let near = |i: &usize| {
            let [a, b, c] = land.triangles[*i];
            let (low, high) = (a.min(b).min(c) - 3.0, a.max(b).max(c) + 3.0);
            place.cmpge(low).all() && place.cmple(high).all()
        };
        let mut cut = Cut { triangles: (0..land.triangles.len()).filter(near).collect(), ..self.clone() };
        let shows = |triangles: &[usize]| {
            let told = self.apart <= SAME;
            let differs = self.differs_on(&mut land.with_only(triangles));
            differs.is_some_and(|(apart, events)| if told { events } else { apart >= 0.5 * self.apart })
        };
        if !shows(&cut.triangles) {
            return self.clone();
        }
        // Larger parts first (Zeller and Hildebrandt, Simplifying and Isolating Failure-Inducing Input, 2002).
        let mut size = cut.triangles.len() / 2;
        while size > 0 {
            let mut at = 0;
            while at < cut.triangles.len() {
                let mut without = cut.triangles.clone();
                without.drain(at..(at + size).min(without.len()));
                if !without.is_empty() && shows(&without) { cut.triangles = without } else { at += size }
            }
            size /= 2;
        }
        cut
    }

    /// True where the ends or the events differ.
    #[must_use]
    pub fn differs(&self) -> bool {
        self.apart > SAME || self.events.is_some()
    }
}
