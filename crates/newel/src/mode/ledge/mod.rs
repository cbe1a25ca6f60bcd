//! Ledges: got up onto from the ground, caught in the air and hung from; and what is low and thin, gone over.

mod catch;
mod down;
mod hang;
mod meets;
mod moves;
mod onto;

pub(super) use catch::seek;
pub(super) use down::let_down;
pub(super) use hang::{decide, press_jump};
pub(super) use meets::{meets, meets_again, out_of_water};
pub(super) use onto::over_the_top;

use crate::run::Run;

/// Hangs, or goes on along its way, for at most `span` seconds; returns the seconds used.
pub(super) fn advance(run: &mut Run<'_>, span: f64) -> f64 {
    if run.me.phase.is_ledge_move() { moves::advance(run, span) } else { hang::advance(run, span) }
}
