//! One walk over generated land: played at any tick rate, watched by the audits.

use fastrand::Rng;
use newel::glam::{DQuat, DVec3};
use newel::{Character, Event, Intent, Modifiers, Spawn, Tick, Tuning, When, Workspace};

use super::land::{Land, LandKind};
use super::player::{Player, PlayerKind};
use super::time::{Ticks, UNITS, seconds};
use crate::audit::{Finding, Moment, Surface, Watch};

/// The presets that walks are made with.
pub const PRESETS: [&str; 5] = ["walker", "heavy_explorer", "brisk_hero", "first_person", "featherweight"];

/// Name in place of a preset's for another tuning.
pub const OWN_TUNING: &str = "own tuning";

/// Walks on one piece of land before the next is made.
pub const WALKS_PER_LAND: u64 = 5;

/// A walk, ready to be played: where, by whom, and what is pressed when. The same number gives the same walk on every machine.
#[derive(Clone)]
pub struct Walk {
    /// The walk's number.
    pub number: u64,
    /// The preset's name, or [`OWN_TUNING`].
    pub preset: &'static str,
    /// Its tuning.
    pub tuning: Tuning,
    /// How the player moves the stick.
    pub kind: PlayerKind,
    /// Buttons over time.
    pub player: Player,
    /// Where the walk begins.
    pub spawn: Spawn,
    /// How long it takes, in seconds.
    pub length: u32,
}

/// How a walk went.
#[derive(Debug, Clone, Default)]
pub struct Walked {
    /// Where the feet were at every whole second, from second 1.
    pub places: Vec<DVec3>,
    /// All events.
    pub events: Vec<Event>,
    /// Findings of the audits.
    pub findings: Vec<Finding>,
    /// Where the feet are at the end; none where nothing was played.
    pub end: Option<DVec3>,
    /// The ticks of the walk.
    pub ticks: u64,
    /// Closest-point queries of all ticks.
    pub queries: u64,
}

/// One tick of a walk, before it is made.
#[derive(Clone, Copy)]
pub struct Step<'a> {
    /// The terrain.
    pub terrain: &'a newel::Scene,
    /// When the tick begins and ends, in units.
    pub span: (i64, i64),
    /// Wishes of the player.
    pub intent: Intent,
    /// The character before the tick.
    pub hero: &'a Character,
}

/// The land of the walk with a number.
#[must_use]
pub fn land_of(number: u64) -> Land {
    let land = number / WALKS_PER_LAND;
    Land::generate(LandKind::ALL[(land % LandKind::ALL.len() as u64) as usize], land)
}

impl Walk {
    /// The walk with a number on its land, with a tuning in place of its preset's if one is given. `None` where no place to spawn
    /// at was found in a hundred tries.
    #[must_use]
    pub fn new(land: &Land, number: u64, length: u32, tuning: Option<&Tuning>) -> Option<Walk> {
        let mut rng = Rng::with_seed(number ^ 0x5EED_0F3A_1234_ABCD);
        let preset = tuning.map_or(PRESETS[(number % PRESETS.len() as u64) as usize], |_| OWN_TUNING);
        let kind = PlayerKind::ALL[((number + number / WALKS_PER_LAND) % PlayerKind::ALL.len() as u64) as usize];
        let tuning = tuning.copied().or_else(|| Tuning::preset(preset))?;
        let spawn = (0..100).find_map(|_| {
            let spawn = land.spawn(&mut rng)?;
            Character::spawn(&land.scene, &tuning, spawn).ok().map(|_| spawn)
        })?;
        let player = Player::new(kind, land, &tuning, length, &mut rng);
        Some(Walk { number, preset, tuning, kind, player, spawn, length })
    }

    /// The same walk on the same land turned about the middle of the world.
    #[must_use]
    pub fn turned(&self, turn: DQuat) -> Walk {
        let (spawn, single) = (self.spawn, turn.as_quat());
        let spawn =
            Spawn { position: turn * spawn.position, up: single * spawn.up, facing: single * spawn.facing, ..spawn };
        Walk { spawn, player: self.player.turned(turn), ..self.clone() }
    }

    /// Plays the walk with ticks of a kind, shown each tick before it is made.
    pub fn play(&self, land: &mut Land, ticks: Ticks, surface: Option<&Surface>, see: impl FnMut(Step<'_>)) -> Walked {
        self.play_with(land, ticks.ends(self.length), surface, see)
    }

    /// Plays the walk with ticks that end at given times in units.
    pub fn play_with(
        &self,
        land: &mut Land,
        ends: impl Iterator<Item = i64>,
        surface: Option<&Surface>,
        mut see: impl FnMut(Step<'_>),
    ) -> Walked {
        let (mut work, modifiers, mut watch) = (Workspace::new(), Modifiers::default(), Watch::new());
        let mut walked = Walked::default();
        let Ok(mut hero) = Character::spawn(&land.scene, &self.tuning, self.spawn) else { return walked };
        let mut from = 0;
        for to in ends {
            let (intent, more) = self.player.wanted(from, to);
            land.scene.time = seconds(from);
            let scene = &land.scene;
            see(Step { terrain: scene, span: (from, to), intent, hero: &hero });
            let before = *hero.state();
            let dt = seconds(to - from);
            let tick = Tick { number: 0, terrain: scene, tuning: &self.tuning, modifiers: &modifiers, dt };
            let Ok(outcome) = tick.step(&mut work, &mut hero, &intent, &more) else { return walked };
            walked.events.extend_from_slice(outcome.events);
            walked.ticks += 1;
            if let Some(surface) = surface {
                watch.look(&Moment {
                    terrain: scene,
                    surface,
                    tuning: &self.tuning,
                    when: When::tick(1, dt),
                    dt,
                    wish: intent.wish(&before, &self.tuning),
                    before: &before,
                    after: hero.state(),
                    events: outcome.events,
                });
            }
            if to % UNITS == 0 {
                walked.places.push(hero.position);
            }
            walked.queries += u64::from(work.take_queries());
            from = to;
        }
        walked.end = Some(hero.position);
        walked.findings = watch.finish();
        walked
    }
}
