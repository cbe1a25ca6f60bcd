//! The table of swimming.

/// Vertical control of a swimmer.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(rename_all = "lowercase"))]
pub enum Steers {
    /// The buttons alone: jump held rises, and a crouch asked for dives.
    Buttons,
    /// The buttons, and a heading as the view looks, up and down with it.
    #[default]
    View,
}

/// Stance of a swimmer with the head under water.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(rename_all = "lowercase"))]
pub enum Submerged {
    /// As standing.
    #[default]
    Stand,
    /// As in a crouch: it fits where that does.
    Crouch,
}

/// Swimming: floating at a line, strokes in all directions, diving, and leaping out.
///
/// Depths are parts of the height of the shape it stands in, whatever its stance.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct Swim {
    /// Top speed of its strokes, metres per second.
    pub speed: f32,
    /// The same with the sprint button held; as `speed` if left out.
    pub sprint: Option<f32>,
    /// How fast it rises with the jump button held, metres per second.
    pub rise: f32,
    /// How fast it dives with a crouch asked for, metres per second.
    pub dive: f32,
    /// How strong its strokes are, metres per second squared: part of that holds the speed it has against the water's drag.
    pub acceleration: f32,
    /// How strongly it stops without input, metres per second squared, on top of the water's drag; 0 glides until that has ended it.
    pub deceleration: f32,
    /// How strongly water holds what moves in it, per second: what is left of a speed falls by `1/e` in each `1/drag` seconds.
    pub drag: f32,
    /// How deep it floats: the part of its height that is under water. At 1 it does not float; `idle` says what becomes of it then.
    pub float: f32,
    /// How fast it rises by itself with its head under water, metres per second; negative sinks, and 0 stays where it is.
    pub idle: f32,
    /// From this depth on it swims, as a part of its height; at least `float`.
    pub begins: f32,
    /// It walks again where it touches the ground no deeper than this, as a part of its height; less than `float`.
    pub ends: f32,
    /// Vertical control.
    pub steers: Steers,
    /// How far down a heading that leads it with the view has to look to dive from the surface, degrees.
    pub dive_angle: f32,
    /// Stance with the head under water.
    pub under: Submerged,
    /// How high it leaps out of the water on a press of the jump button with its head out, metres; 0 for not at all.
    pub jump: f32,
}

impl Default for Swim {
    fn default() -> Swim {
        Swim {
            speed: 2.2,
            sprint: None,
            rise: 1.6,
            dive: 1.6,
            acceleration: 8.0,
            deceleration: 1.0,
            drag: 1.8,
            float: 0.85,
            idle: 0.3,
            begins: 0.87,
            ends: 0.72,
            steers: Steers::View,
            dive_angle: 25.0,
            under: Submerged::Stand,
            jump: 0.5,
        }
    }
}
