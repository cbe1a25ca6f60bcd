//! Closed-form movement: how a velocity gets to where it is wanted.

mod bend;
mod bob;
mod drift;
mod leap;
mod ramp;
pub(crate) mod resisted;
mod stage;
pub(crate) mod swing;

pub(crate) use bend::Bend;
pub(crate) use bob::Bob;
pub(crate) use drift::Drift;
pub(crate) use leap::Leap;
pub(crate) use ramp::Ramp;
pub(crate) use stage::{Rates, with_excess};
