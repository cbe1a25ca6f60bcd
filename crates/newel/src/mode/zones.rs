//! What the place it is in does to it, at the moments of the grid: gravity, and what throws whoever comes in.

use super::commands::throw;
use super::{gravity, righting};
use crate::run::Run;
use crate::terrain::Effect;

/// Samples what acts where it is now.
pub(crate) fn sample(run: &mut Run<'_>) {
    let clock = run.clock();
    let anew = run.on_grid && run.place_sampled != Some(clock);
    gravity::sample(run, anew);
    if !anew {
        return;
    }
    run.place_sampled = Some(clock);
    righting::turn_upright(run);
    throw_who_comes_in(run);
}

/// A zone that throws does so once, to whoever comes in.
fn throw_who_comes_in(run: &mut Run<'_>) {
    let middle = run.near.middle();
    let here = run.near.patch.zones().iter().rev().filter(|zone| zone.holds(middle));
    let launch =
        here.filter_map(|zone| if let Effect::Launch(launch) = zone.effect { Some(launch) } else { None }).next();
    let was_in = run.me.marks.on_pad();
    run.me.marks.set_on_pad(launch.is_some());
    if let Some(launch) = launch.filter(|launch| !was_in && launch.check().is_ok()) {
        throw(run, &launch);
    }
}
