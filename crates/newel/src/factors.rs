//! All that multiplies a top speed or an acceleration, in one place.

use glam::{DVec3, Vec3};

use crate::character::{Mode, State};
use crate::heading::Face;
use crate::math::turned_left;
use crate::run::Run;
use crate::terrain::Footing;
use crate::tuning::{Toward, Tuning};

/// What a top speed or an acceleration was multiplied by: 1 where nothing applied.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Factors {
    /// By the game's [`Modifiers`](crate::Modifiers).
    pub modifiers: f32,
    /// By sprinting: the sprint's number over the ground's.
    pub sprint: f32,
    /// By going sideways or backward.
    pub way: f32,
    /// By what the ground is made of.
    pub surface: f32,
    /// By going up or down a slope.
    pub slope: f32,
    /// By being in the air.
    pub air: f32,
}

impl Default for Factors {
    fn default() -> Factors {
        Factors { modifiers: 1.0, sprint: 1.0, way: 1.0, surface: 1.0, slope: 1.0, air: 1.0 }
    }
}

impl Factors {
    /// All of them multiplied.
    #[must_use]
    pub fn product(&self) -> f32 {
        self.named().iter().fold(1.0, |product, (_, factor)| product * factor)
    }

    /// Each with its name.
    #[must_use]
    pub fn named(&self) -> [(&'static str, f32); 6] {
        [
            ("modifiers", self.modifiers),
            ("sprint", self.sprint),
            ("way", self.way),
            ("surface", self.surface),
            ("slope", self.slope),
            ("air", self.air),
        ]
    }
}

/// What varies with the facing is asked of the facing last sampled, so that every tick rate asks the same.
pub(crate) fn sampled_facing(state: &State) -> Vec3 {
    if state.turned == 0.0 { state.facing } else { turned_left(state.facing, state.up, -state.turned) }
}

/// Whether a sprint can lead this way: within the tuned cone about the facing.
pub(crate) fn in_cone(state: &State, wish: Vec3, cone: f32) -> bool {
    let along = wish.dot(sampled_facing(state)) / wish.length();
    // A hair wider: straight ahead is inside a cone of no width.
    cone >= 180.0 || along >= libm::cosf(cone.to_radians()) - 1e-4
}

/// The part of the top speed that there is along `wish`, by the facing.
fn way_factor(state: &State, wish: Vec3, tuning: &Tuning) -> f32 {
    let ground = tuning.values().ground;
    let along = (wish.dot(sampled_facing(state)) / wish.length()).clamp(-1.0, 1.0);
    let straight = if along > 0.0 { 1.0 } else { ground.backward };
    // On an ellipse between straight and sideways: no jump anywhere.
    straight * along * along + ground.sideways * (1.0 - along * along)
}

/// True where the speed depends on how the heading lies to the facing.
pub(crate) fn depends_on_facing(run: &Run<'_>) -> bool {
    let values = run.tuning.values();
    let cone = run.me.sprinting || run.me.held.has(crate::intent::Button::Sprint);
    (values.ground.sideways != 1.0 || values.ground.backward != 1.0)
        && !turns_with_movement(run.face, values.turn.toward)
        || cone && values.sprint.is_some_and(|s| s.cone < 180.0)
}

fn turns_with_movement(face: Face, toward: Toward) -> bool {
    matches!((face, toward), (Face::Movement, _) | (Face::Tuned, Toward::Movement))
}

/// What the slope leaves of the top speed that way.
fn slope_factor(run: &Run<'_>, wish: DVec3) -> f32 {
    let ground = run.tuning.values().ground;
    let (normal, up) = (run.me.ground.normal.as_dvec3(), run.up());
    let steepest = f64::from(1.0 - run.limits.least_up * run.limits.least_up).sqrt();
    if (ground.uphill == 1.0 && ground.downhill == 1.0) || steepest == 0.0 {
        return 1.0;
    }
    let rise = -wish.dot(normal) / normal.dot(up);
    let sine = rise / (rise * rise + wish.length_squared()).sqrt();
    let full = f64::from(if sine > 0.0 { ground.uphill } else { ground.downhill });
    (1.0 + (full - 1.0) * (sine.abs() / steepest).min(1.0)) as f32
}

impl Run<'_> {
    /// What multiplies the top speed along `wish` now.
    pub fn speed_factors(&self, wish: Vec3) -> Factors {
        let (values, on_ground) = (self.tuning.values(), self.me.mode == Mode::Ground);
        let sprint = values.sprint.filter(|_| self.me.sprinting);
        let by_way = depends_on_facing(self) && !turns_with_movement(self.face, values.turn.toward);
        Factors {
            modifiers: self.modifiers.speed,
            sprint: sprint.map_or(1.0, |s| ratio(s.speed, values.ground.speed)),
            way: if by_way && on_ground { way_factor(&self.me, wish, self.tuning) } else { 1.0 },
            surface: if on_ground { self.footing().speed } else { 1.0 },
            slope: if on_ground { slope_factor(self, wish.as_dvec3()) } else { 1.0 },
            air: if on_ground { 1.0 } else { values.air.speed },
        }
    }

    /// What multiplies every acceleration and deceleration of its own now.
    pub fn acceleration_factors(&self) -> Factors {
        let (values, on_ground) = (self.tuning.values(), self.me.mode == Mode::Ground);
        let sprint = values.sprint.filter(|_| self.me.sprinting && on_ground);
        Factors {
            modifiers: self.modifiers.acceleration,
            sprint: sprint.map_or(1.0, |s| ratio(s.acceleration, values.ground.acceleration)),
            surface: if on_ground { self.footing().grip } else { 1.0 },
            ..Factors::default()
        }
    }

    /// What the ground stood on makes of walking.
    fn footing(&self) -> Footing {
        self.near.footing(self.me.ground.surface)
    }
}

/// `of` in parts of `base`; where there is no base a factor says nothing.
fn ratio(of: f32, base: f32) -> f32 {
    if base > 0.0 { of / base } else { 1.0 }
}
