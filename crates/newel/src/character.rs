//! The state of one character: plain data.

use core::ops::{Deref, DerefMut};

use glam::{DVec3, Vec3};

use crate::contact::Ground;
use crate::fingerprint::{Fingerprint, Fingerprinted};
use crate::intent::Buttons;
use crate::plane::Keeps;

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

/// What a tick remembers of standing still: a help to the next tick and no part of what a character is. Always equal to
/// any other, left out of hashes, and nothing is lost where a game saves states without it.
#[derive(Clone, Copy, Debug, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Rest(pub(crate) u64);

impl PartialEq for Rest {
    fn eq(&self, _other: &Rest) -> bool {
        true
    }
}

/// The part of a [`Character`] that is the same for every game. Plain data: copy it, compare it, save it.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct State {
    /// Where the feet are: the lowest point of the shape, in the world, metres.
    pub position: DVec3,
    /// Metres per second in the world. Exactly zero at rest on what stands still.
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
    /// The velocity of the moving body it stands on, as part of `velocity`; zero off it.
    pub carried: DVec3,
    /// Where the middle of its foot's round stands in the axes of the body it stands on; zero off it.
    pub foot: DVec3,
    /// What a crest would have made of it, had it not held on: its height over the ground in metres and its speed away
    /// from it along up in m/s. Zero without `ground.fly_off`.
    pub thrown: [f32; 2],
    /// The plane it keeps to, if any.
    pub keeps: Keeps,
    /// Where what crushes it pressed from, as a unit vector toward the character; zero while nothing does.
    pub pressed: Vec3,
    /// What the last tick remembers of standing still; of no meaning to a game.
    #[cfg_attr(feature = "serde", serde(default))]
    pub rest: Rest,
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

impl State {
    /// The first field that is not finite, if one is: a game may have written into it.
    pub(crate) fn not_finite(&self) -> Option<&'static str> {
        let fields = [
            ("character.position", self.position.is_finite()),
            ("character.velocity", self.velocity.is_finite()),
            ("character.clock", self.clock.is_finite()),
            ("character.ground", self.ground.point.is_finite() && self.ground.normal.is_finite()),
            ("character.carried", self.carried.is_finite()),
            ("character.foot", self.foot.is_finite()),
            ("character.keeps", self.keeps.normal.is_finite() && self.keeps.offset.is_finite()),
            ("character.pressed", self.pressed.is_finite()),
            ("character.thrown", self.thrown.iter().all(|v| v.is_finite())),
            ("character.gravity_factor", self.gravity_factor.is_finite()),
        ];
        fields.into_iter().find(|(_, finite)| !finite).map(|(field, _)| field)
    }
}

impl Fingerprinted for State {
    fn feed(&self, print: &mut Fingerprint) {
        for v in [self.position, self.velocity, self.ground.point, self.carried, self.foot] {
            v.to_array().iter().for_each(|x| print.f64(*x));
        }
        print.f64(self.clock);
        for v in [self.up, self.facing, self.ground.normal, self.pressed, self.keeps.normal] {
            v.to_array().iter().for_each(|x| print.f32(*x));
        }
        print.f64(self.keeps.offset);
        print.f32(self.thrown[0]);
        print.f32(self.thrown[1]);
        print.f32(self.gravity_factor);
        print.u64(self.ground.body);
        print.u64(u64::from(self.ground.surface));
        print.u64(self.ground.support as u64);
        print.u64(self.mode as u64);
        print.u64(u64::from(self.rising));
        print.u64(u64::from(self.held.bits()));
    }
}
