//! Factors on top speeds and accelerations, each under its own name.

use glam::Vec3;

use crate::drive::buttons::Button;
use crate::drive::heading::Face;
use crate::math::turned_left;
use crate::state::State;
use crate::tuning::{Sprint, Toward, Tuning};

/// Factors on a top speed or an acceleration: 1 where nothing applied.
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
    /// By a low stance.
    pub stance: f32,
    /// By being shaken or thrown.
    pub control: f32,
    /// By wading.
    pub water: f32,
}

impl Default for Factors {
    fn default() -> Factors {
        Factors {
            modifiers: 1.0,
            sprint: 1.0,
            way: 1.0,
            surface: 1.0,
            slope: 1.0,
            air: 1.0,
            stance: 1.0,
            control: 1.0,
            water: 1.0,
        }
    }
}

impl Factors {
    /// All of them multiplied.
    #[must_use]
    pub fn product(&self) -> f32 {
        self.named().iter().fold(1.0, |product, (_, factor)| product * factor)
    }

    /// All but the sprint's multiplied: what a sprint's own numbers are multiplied by.
    pub(crate) fn but_sprint(&self) -> f32 {
        Factors { sprint: 1.0, ..*self }.product()
    }

    /// Each with its name.
    #[must_use]
    pub fn named(&self) -> [(&'static str, f32); 9] {
        [
            ("modifiers", self.modifiers),
            ("sprint", self.sprint),
            ("way", self.way),
            ("surface", self.surface),
            ("slope", self.slope),
            ("air", self.air),
            ("stance", self.stance),
            ("control", self.control),
            ("water", self.water),
        ]
    }
}

/// Queries of the facing use the facing last sampled, which is the same at every tick rate.
pub(crate) fn sampled_facing(state: &State) -> Vec3 {
    if state.turned == 0.0 { state.facing } else { turned_left(state.facing, state.up, -state.turned) }
}

/// Whether a sprint can lead this way: within the tuned cone about the facing.
pub(crate) fn in_cone(state: &State, wish: Vec3, cone: f32) -> bool {
    let along = wish.dot(sampled_facing(state)) / wish.length();
    // A hair wider: straight ahead is inside a cone of no width.
    cone >= 180.0 || along >= libm::cosf(cone.to_radians()) - 1e-4
}

/// The parts of the top speed that there are sideways and backward, as it goes now.
fn aside(state: &State, tuning: &Tuning) -> (f32, f32) {
    let values = tuning.values();
    let (sideways, backward) = (values.ground.sideways, values.ground.backward);
    let sprint = values.sprint.filter(|_| state.marks.sprinting());
    sprint.map_or((sideways, backward), |s| (s.sideways.unwrap_or(sideways), s.backward.unwrap_or(backward)))
}

/// The part of the top speed that there is along `wish`, by the facing.
pub(crate) fn way_factor(state: &State, wish: Vec3, tuning: &Tuning) -> f32 {
    let (sideways, backward) = aside(state, tuning);
    let along = (wish.dot(sampled_facing(state)) / wish.length()).clamp(-1.0, 1.0);
    let straight = if along > 0.0 { 1.0 } else { backward };
    // On an ellipse between straight and sideways: no jump anywhere.
    straight * along * along + sideways * (1.0 - along * along)
}

/// True where the speed depends on how the heading lies to the facing.
pub(crate) fn depends_on_facing(state: &State, tuning: &Tuning, face: Face) -> bool {
    let values = tuning.values();
    let sprints = state.marks.sprinting() || state.held.has(Button::Sprint);
    let cone = |s: &Sprint| s.cone < 180.0 || s.keeps.is_some_and(|cone| cone < 180.0);
    depends_on_way(tuning, face) || sprints && values.sprint.as_ref().is_some_and(cone)
}

/// True where sideways and backward are ways of their own: not where the body turns along.
pub(crate) fn depends_on_way(tuning: &Tuning, face: Face) -> bool {
    let values = tuning.values();
    let turns_along = matches!((face, values.turn.toward), (Face::Movement, _) | (Face::Tuned, Toward::Movement));
    let sprint = values.sprint.map_or([None; 2], |s| [s.sideways, s.backward]);
    let parts = [Some(values.ground.sideways), Some(values.ground.backward)].into_iter().chain(sprint);
    parts.flatten().any(|part| part != 1.0) && !turns_along
}
