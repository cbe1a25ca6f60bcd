//! How a character comes into the world.

use glam::{DVec3, Vec3};

use crate::activity::Activity;
use crate::character::Character;
use crate::command::MOST_PULL;
use crate::error::SpawnError;
use crate::figure::Figure;
use crate::marks::Marks;
use crate::math::{any_square_to, direction, flatten};
use crate::phase::Mode;
use crate::plane::Plane;
use crate::shape::Form;
use crate::stance::{Asked, Stance};
use crate::state::State;
use crate::support::Underfoot;
use crate::terrain::{Terrain, When};
use crate::tuning::Tuning;
use crate::workspace::Workspace;

/// A clear place is looked for within so many times the character's height.
const CLEAR_REACH: f32 = 4.0;

/// Where a character starts.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Spawn {
    /// Where the feet go, metres.
    pub position: DVec3,
    /// Up, against gravity; made unit length.
    pub up: Vec3,
    /// Where it looks; only the part square to up counts.
    pub facing: Vec3,
    /// Normal of the plane through `position` that it keeps to, square to up (a side view) or along it (a top view);
    /// zero to move freely.
    pub plane: Vec3,
    /// Present stance.
    pub stance: Stance,
    /// Where its own gravity pulls, and how strongly, 0 to 100: 1 long is what the tuning makes of it. Straight down if `None`.
    pub gravity: Option<Vec3>,
    /// Whether it is pulled toward whatever it stands on instead, as strongly: see [`Command::Cling`](crate::Command::Cling).
    pub clings: bool,
}

impl Spawn {
    /// Feet at `position`, +Y up, looking along -Z.
    #[must_use]
    pub fn at(position: impl Into<DVec3>) -> Spawn {
        Spawn {
            position: position.into(),
            up: Vec3::Y,
            facing: Vec3::NEG_Z,
            plane: Vec3::ZERO,
            stance: Stance::Stand,
            gravity: None,
            clings: false,
        }
    }

    /// The same with another up, such as `Vec3::Z`.
    #[must_use]
    pub fn up(self, up: Vec3) -> Spawn {
        Spawn { up, ..self }
    }

    /// The same keeping to the plane through its position that is square to `normal`: across a side view, or up for a
    /// top view.
    #[must_use]
    pub fn in_plane(self, normal: Vec3) -> Spawn {
        Spawn { plane: normal, ..self }
    }

    /// The same in a low stance, as under something low; it stays so as long as its intents say so.
    #[must_use]
    pub fn in_stance(self, stance: Stance) -> Spawn {
        Spawn { stance, ..self }
    }

    /// The same with its own gravity along `pull`, 1 long for what the tuning makes of it. It turns to it in its first ticks where
    /// that is not straight down.
    #[must_use]
    pub fn pulled(self, pull: Vec3) -> Spawn {
        Spawn { gravity: Some(pull), ..self }
    }

    /// The same pulled toward whatever it stands on: it walks round edges, and up walls that its heading leads into.
    #[must_use]
    pub fn clinging(self) -> Spawn {
        Spawn { clings: true, ..self }
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
        Spawn::at(position)
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
        if !start.gravity.is_none_or(|g| g.is_finite() && g.length() <= MOST_PULL) {
            return Err(SpawnError::NotFinite { field: "gravity (at most 100 long)" });
        }
        let up =
            Some(start.up).filter(|u| u.is_finite()).and_then(direction).ok_or(SpawnError::NoUp { up: start.up })?;
        let facing = direction(flatten(start.facing, up)).unwrap_or_else(|| any_square_to(up));
        let keeps = keeps_to(start.plane, up, tuning.shape().form)?;
        // A stance that the tuning does not have is none to be in.
        let stance = if tuning.low(start.stance).is_some() { start.stance } else { Stance::Stand };
        let mut work = Workspace::new();
        let when = When::tick(0, 0.0);
        let (mut near, _) =
            work.lend(terrain, when, Figure { shape: tuning.shape_in(stance), up, axis: up, keeps }, start.position);
        near.require_clear()?;
        let decision = near.ground_within(&tuning.limits_in(stance), 0.5 * near.shape.skin());
        let mode = if decision.is_firm() { Mode::Ground } else { Mode::Air };
        let mut marks = Marks::default();
        marks.set_clings(start.clings);
        let mut state = State {
            position: near.place,
            up,
            axis: up,
            weight: start.gravity.unwrap_or(-up),
            facing,
            ground: Underfoot::of(&decision.ground, near.place),
            mode,
            stance,
            asked: Asked::always(stance),
            marks,
            activity: Activity::begin(mode, 0.0),
            keeps,
            eyes: tuning.eyes_in(stance),
            ..State::default()
        };
        if let Some(body) = near.body_named(state.ground.body()).filter(|b| b.id != 0) {
            state.foot = body.to_local(near.place + (up * near.shape.rounding()).as_dvec3()).as_vec3();
        }
        Ok(Character::with(state, custom))
    }
}

impl State {
    /// The place nearest to this one where the character is clear of everything, within four times its height, in metres: to put a character
    /// there that was crushed. `None` where there is none. The place may be on the other side of whatever presses.
    ///
    /// `when` says where bodies are: they are asked for where the tick begins. Costs up to some milliseconds among many triangles, so a
    /// game calls it once, when it moves the character.
    ///
    /// ```
    /// # use newel::{Character, Mesh, State, Tuning, When, glam::DVec3};
    /// let (low, high) = (DVec3::new(-1.0, 0.0, -1.0), DVec3::new(1.0, 3.0, 1.0));
    /// let (pillar, tuning) = (Mesh::cuboid(low, high)?, Tuning::walker());
    /// let beside = Character::spawn(&pillar, &tuning, [2.0, 0.0, 0.0])?;
    /// let inside = State { position: DVec3::new(0.9, 0.0, 0.0), ..*beside.state() };
    /// let clear = inside.nearest_clear(&pillar, When::tick(0, 0.0), &tuning);
    /// assert!(clear.is_some_and(|place| place.x > 1.2));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn nearest_clear(&self, terrain: &dyn Terrain, when: When, tuning: &Tuning) -> Option<DVec3> {
        let mut work = Workspace::new();
        let (mut near, _) = work.lend(terrain, when, Figure::of(self, tuning), self.position);
        near.nearest_clear(CLEAR_REACH * near.shape.height)
    }
}

/// The plane square to `normal`, or none for zero, for a character with this up and form.
pub(crate) fn keeps_to(normal: Vec3, up: Vec3, form: Form) -> Result<Plane, SpawnError> {
    if normal == Vec3::ZERO {
        return if form == Form::Box { Err(SpawnError::NoPlane) } else { Ok(Plane::default()) };
    }
    let askew = SpawnError::PlaneAskew { normal, up };
    let normal = Some(normal).filter(|n| n.is_finite()).and_then(direction).ok_or(askew.clone())?;
    // As good as square or as along: exactly so from now on.
    let normal = match normal.dot(up).abs() {
        along if along < 1e-3 => direction(flatten(normal, up)).ok_or(askew)?,
        along if along > 1.0 - 1e-6 => up,
        _ => return Err(askew),
    };
    Ok(Plane::new(normal))
}
