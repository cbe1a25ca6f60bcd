//! Closed-form movement: how a velocity gets to where it is wanted.

mod ramp;

pub(crate) use ramp::Ramp;
