//! How fast it walks: the ramp of the flat velocity toward the wish, past walls and round corners.

use glam::DVec3;

use super::corner::Corner;
use super::footwork::flat_velocity;
use crate::motion::{Ramp, Rates};
use crate::run::Run;

/// Pressed against a wall, a ramp closer than this to its end, seconds, has ended.
const ARRIVED: f64 = 1e-3;

/// The ramp of the flat velocity toward the wish, no part of which runs into a wall.
pub(super) fn walking(run: &mut Run<'_>) -> Ramp {
    walking_round(run, 0.0).0
}

/// The same for a piece of at most `span` seconds, and the corner that it leads round, if it does.
pub(super) fn walking_round(run: &mut Run<'_>, span: f64) -> (Ramp, Option<Corner>) {
    let planes = run.walls.on_ground(run.me.ground.normal, run.me.up, run.carried);
    let flat = planes.admissible(flat_velocity(run.me.velocity, run.up()));
    if run.is_on_rails() {
        return (Ramp::hold(flat), None);
    }
    let wish = run.wish();
    let corner = if planes.normals().is_empty() { None } else { Corner::pressed(run, flat, wish) };
    let target = planes.admissible(wish);
    run.tell_pressed(&planes, wish, target);
    let rates = rates(run, wish != DVec3::ZERO);
    if let Some(corner) = corner {
        return (corner.ramp(flat, wish, &rates, span), Some(corner));
    }
    // Along a wall the target turns a little with every piece of way: chasing its last millisecond gets nowhere.
    let arrived = !planes.normals().is_empty() && (flat - target).length() < rates.gain.min(rates.loss) * ARRIVED;
    let ramp = if arrived { Ramp::hold(target) } else { rates.stage(flat, target, wish != DVec3::ZERO) };
    (ramp, None)
}

/// The rates of walking here and now.
fn rates(run: &mut Run<'_>, wanted: bool) -> Rates {
    let ground = run.tuning.values().ground;
    let factors = run.acceleration_factors();
    run.told.acceleration_factors = factors;
    let own = f64::from(factors.but_sprint());
    let sprint = run.tuning.values().sprint.filter(|_| run.me.sprinting);
    let ease = ground.ease.filter(|_| wanted).or(ground.ease_stop.or(ground.ease).filter(|_| !wanted));
    Rates {
        gain: f64::from(sprint.map_or(ground.acceleration, |s| s.acceleration)) * own,
        loss: f64::from(ground.deceleration) * own,
        reversal: f64::from(ground.reversal) * own,
        // Less grip takes longer.
        ease: ease.map(|ease| f64::from(ease) / own.max(1e-6)),
    }
}
