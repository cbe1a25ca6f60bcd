//! The state of one character: plain data.

use core::ops::{Deref, DerefMut};

use glam::{DVec3, Vec3};

use crate::contact::Ground;
use crate::contact::surroundings::Surroundings;
use crate::error::SpawnError;
use crate::fingerprint::{Fingerprint, Fingerprinted};
use crate::intent::Buttons;
use crate::math::{any_square_to, direction, flatten};
use crate::step::Workspace;
use crate::terrain::{Terrain, When};
use crate::tuning::Tuning;

/// What moves the character now.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum Mode {
    /// On ground that carries it.
    Ground,
    /// Falling, jumping, or sliding down what is too steep.
    #[default]
    Air,
}

/// The part of a [`Character`] that is the same for every game. Plain data: copy it, compare it, save it.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct State {
    /// Where the feet are: the lowest point of the shape, in the world, metres.
    pub position: DVec3,
    /// Metres per second in the world. Exactly zero at rest.
    pub velocity: DVec3,
    /// The character's own time, seconds since it was spawned.
    pub clock: f64,
    /// Unit vector against gravity.
    pub up: Vec3,
    /// Unit vector square to up: where the body looks.
    pub facing: Vec3,
    /// What it stands on, and why that carries or does not.
    pub ground: Ground,
    /// What moves it now.
    pub mode: Mode,
    /// True from the take-off of a jump to its top.
    pub rising: bool,
    /// The buttons held when the last tick ended: a press is a button that is down now and was not then.
    pub held: Buttons,
    /// The factor that zones put on gravity, as last sampled.
    pub gravity_factor: f32,
}

/// One character: its [`State`], and whatever typed state a game's own modes keep in it.
///
/// It reads like its state: `hero.position`, `hero.mode`.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Character<M = ()> {
    /// What every game has.
    pub state: State,
    /// What this game adds.
    pub custom: M,
}

impl<M> Deref for Character<M> {
    type Target = State;
    fn deref(&self) -> &State {
        &self.state
    }
}

impl<M> DerefMut for Character<M> {
    fn deref_mut(&mut self) -> &mut State {
        &mut self.state
    }
}

/// Where a character starts.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Spawn {
    /// Where the feet go, metres.
    pub position: DVec3,
    /// Up, against gravity; made unit length.
    pub up: Vec3,
    /// Where it looks; only the part square to up counts.
    pub facing: Vec3,
}

impl Spawn {
    /// Feet at `position`, +Y up, looking along -Z.
    #[must_use]
    pub fn at(position: DVec3) -> Spawn {
        Spawn { position, up: Vec3::Y, facing: Vec3::NEG_Z }
    }

    /// The same with another up, such as `Vec3::Z`.
    #[must_use]
    pub fn up(self, up: Vec3) -> Spawn {
        Spawn { up, ..self }
    }

    /// The same looking along `facing`.
    #[must_use]
    pub fn facing(self, facing: Vec3) -> Spawn {
        Spawn { facing, ..self }
    }
}

impl From<DVec3> for Spawn {
    fn from(position: DVec3) -> Spawn {
        Spawn::at(position)
    }
}
impl From<[f64; 3]> for Spawn {
    fn from(position: [f64; 3]) -> Spawn {
        Spawn::at(DVec3::from_array(position))
    }
}

impl Character {
    /// A character at `start`, standing if there is ground at its feet and falling if not.
    ///
    /// ```
    /// # use newel::{Character, Mesh, Mode, Tuning};
    /// # let level = Mesh::new(&[[-9., 0., -9.], [9., 0., -9.], [0., 0., 9.0f32]], &[0, 1, 2]).unwrap();
    /// let hero = Character::spawn(&level, &Tuning::walker(), [0.0, 0.0, 0.0])?;
    /// assert_eq!(hero.mode, Mode::Ground);
    /// # Ok::<(), newel::SpawnError>(())
    /// ```
    ///
    /// # Errors
    /// [`SpawnError`] where a number is not finite, up has no direction, or the place is not clear; then it names the
    /// nearest place that is.
    pub fn spawn(terrain: &dyn Terrain, tuning: &Tuning, start: impl Into<Spawn>) -> Result<Character, SpawnError> {
        Character::spawn_with(terrain, tuning, start, ())
    }
}

impl<M> Character<M> {
    /// The same as [`Character::spawn`], with the state of a game's own modes.
    ///
    /// # Errors
    /// As [`Character::spawn`].
    pub fn spawn_with(
        terrain: &dyn Terrain,
        tuning: &Tuning,
        start: impl Into<Spawn>,
        custom: M,
    ) -> Result<Character<M>, SpawnError> {
        let start = start.into();
        if !start.position.is_finite() {
            return Err(SpawnError::NotFinite { field: "position" });
        }
        if !start.facing.is_finite() {
            return Err(SpawnError::NotFinite { field: "facing" });
        }
        let up =
            Some(start.up).filter(|u| u.is_finite()).and_then(direction).ok_or(SpawnError::NoUp { up: start.up })?;
        let facing = direction(flatten(start.facing, up)).unwrap_or_else(|| any_square_to(up));
        let mut work = Workspace::new();
        let when = When { number: 0, dt: 0.0 };
        let mut near = work.surroundings(terrain, when, tuning.shape(), up, start.position);
        near.require_clear()?;
        let decision = near.ground_within(&tuning.limits(), 0.5 * near.shape.skin());
        let mode = if decision.is_firm() { Mode::Ground } else { Mode::Air };
        let state = State {
            position: near.place,
            velocity: DVec3::ZERO,
            clock: 0.0,
            up,
            facing,
            ground: decision.ground,
            mode,
            rising: false,
            held: Buttons::NONE,
            gravity_factor: 1.0,
        };
        Ok(Character { state, custom })
    }
}

impl Surroundings<'_> {
    /// Makes sure that the character is clear where it is, moving it out of its own skin if need be.
    pub(crate) fn require_clear(&mut self) -> Result<(), SpawnError> {
        let skin = self.shape.skin();
        if self.overlap() <= 0.0 && !self.is_buried() {
            // Within the skin is close enough: stand on the surface, not in it.
            self.push_out(0.5 * skin, 2.0 * skin);
            return Ok(());
        }
        let wanted = self.place;
        let nearest = self.nearest_clear(8.0 * self.shape.height);
        Err(SpawnError::NotClear { wanted: wanted.to_array(), nearest: nearest.map(|p| p.to_array()) })
    }
}

impl<M: Fingerprinted> Character<M> {
    /// A 64-bit hash of every bit of the state: equal states have equal hashes, on every machine.
    #[must_use]
    pub fn hash(&self) -> u64 {
        let mut print = Fingerprint::new();
        self.state.feed(&mut print);
        self.custom.feed(&mut print);
        print.value()
    }
}

impl Fingerprinted for State {
    fn feed(&self, print: &mut Fingerprint) {
        for v in [self.position, self.velocity, self.ground.point] {
            v.to_array().iter().for_each(|x| print.f64(*x));
        }
        print.f64(self.clock);
        for v in [self.up, self.facing, self.ground.normal] {
            v.to_array().iter().for_each(|x| print.f32(*x));
        }
        print.f32(self.gravity_factor);
        print.u64(self.ground.body);
        print.u64(u64::from(self.ground.surface));
        print.u64(self.ground.support as u64);
        print.u64(self.mode as u64);
        print.u64(u64::from(self.rising));
        print.u64(u64::from(self.held.bits()));
    }
}
