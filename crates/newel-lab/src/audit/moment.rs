//! One tick, as audits see it.

use newel::glam::Vec3;
use newel::{Event, State, Terrain, Tuning, When};

use super::surface::Surface;

/// One tick as an audit sees it.
#[derive(Clone, Copy)]
pub struct Moment<'a> {
    /// The terrain.
    pub terrain: &'a dyn Terrain,
    /// Its triangles, where they are when the tick ends.
    pub surface: &'a Surface,
    /// The character's numbers.
    pub tuning: &'a Tuning,
    /// When the tick ends, for the terrain: the number of the next tick and its length.
    pub when: When,
    /// The tick's length in seconds.
    pub dt: f64,
    /// Where the player wants to go, flat and at most 1 long.
    pub wish: Vec3,
    /// The character before the tick.
    pub before: &'a State,
    /// The character after the tick.
    pub after: &'a State,
    /// The events of the tick.
    pub events: &'a [Event],
}
