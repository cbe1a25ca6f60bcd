//! Floating where it is, or over what is below, or anywhere.

/// What hovering holds.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(rename_all = "lowercase"))]
pub enum Holds {
    /// The height along gravity at which it began.
    #[default]
    Height,
    /// Its height over the ground, `hover.over` metres.
    Ground,
    /// Nothing: jump held rises, and a crouch asked for sinks.
    Nothing,
}

/// Floating: gravity does not pull, and it glides and drifts to a stop.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct Hover {
    /// What it holds.
    pub holds: Holds,
    /// How high over the ground its feet are kept, metres.
    pub over: f32,
    /// Top speed across, metres per second.
    pub speed: f32,
    /// How fast it rises and sinks, at most, metres per second.
    pub climb: f32,
    /// How fast speed is gained, metres per second squared.
    pub acceleration: f32,
    /// How fast it is lost without input, metres per second squared.
    pub deceleration: f32,
    /// How much of the wind's speed across is added to what it wants, as a factor.
    pub windage: f32,
}

impl Default for Hover {
    fn default() -> Hover {
        Hover {
            holds: Holds::Height,
            over: 1.0,
            speed: 5.0,
            climb: 3.0,
            acceleration: 8.0,
            deceleration: 3.0,
            windage: 0.0,
        }
    }
}
