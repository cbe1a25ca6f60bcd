//! Proving grounds: land, players and moving worlds that are generated from seeds and tuned to nothing, and what is measured on them.
//!
//! `newel prove` runs it all; the tests run a fixed sample.

mod heights;
mod land;
mod player;
mod shapes;
mod time;
mod walk;

pub use land::{Land, LandKind, Triangle};
pub use player::{Player, PlayerKind};
pub use time::{Ticks, UNITS, seconds};
pub use walk::{PRESETS, Step, WALKS_PER_LAND, Walk, Walked, land_of};
