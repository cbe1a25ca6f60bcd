//! Effects of the place, at the moments of the grid: gravity, and what throws whoever comes in.

use glam::DVec3;

use super::commands::throw;
use super::{gravity, righting, swim};
use crate::coarse::CoarseVelocity;
use crate::run::Run;
use crate::terrain::{Effect, MOST_WIND};

/// Samples what acts where it is now.
pub(crate) fn sample(run: &mut Run<'_>) {
    let clock = run.clock();
    let anew = run.on_grid && run.place_sampled != Some(clock);
    gravity::sample(run, anew);
    if !anew {
        return;
    }
    run.place_sampled = Some(clock);
    feel_the_wind(run);
    swim::sample(run);
    righting::turn_upright(run);
    throw_who_comes_in(run);
}

/// The wind here: the last word is the highest zone's, and what is not a number does not blow.
fn feel_the_wind(run: &mut Run<'_>) {
    let (middle, now) = (run.near.middle(), run.now());
    let mut wind = DVec3::ZERO;
    for zone in run.near.patch.zones() {
        let Effect::Wind(blows) = zone.effect else { continue };
        let (part, there) = (zone.part(middle), blows.at(now));
        if part > 0.0 && there.is_finite() {
            wind += (there.clamp_length_max(MOST_WIND).as_dvec3() - wind) * part;
        }
    }
    run.me.flow = CoarseVelocity::from(wind);
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
