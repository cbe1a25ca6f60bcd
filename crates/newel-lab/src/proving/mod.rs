//! Proving grounds: land, players and moving worlds that are generated from seeds and tuned to nothing, and what is measured on them.
//!
//! `newel prove` runs it all; the tests run a fixed sample.

mod cuts;
mod heights;
mod land;
mod moving;
mod parts;
mod player;
mod proof;
mod rates;
mod shapes;
mod time;
mod walk;

pub use cuts::{Cut, CutKind, SAME};
pub use land::{Land, LandKind};
pub use moving::{MovingResult, MovingWorld, WALKING_QUERIES};
pub use parts::Triangle;
pub use player::{Player, PlayerKind};
pub use proof::{CutFigures, MovingFigures, Proof, ProofSize, RateFigures, TwiceFigures, prove};
pub use rates::{APART, AUDITED, RateResult, compare_rates, first_difference};
pub use time::{Ticks, UNITS, seconds};
pub use walk::{OWN_TUNING, PRESETS, Step, WALKS_PER_LAND, Walk, Walked, land_of};
