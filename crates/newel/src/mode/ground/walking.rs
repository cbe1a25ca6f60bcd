//! How fast it walks: the ramp of the flat velocity toward the wish, past walls and round corners.

use glam::DVec3;

use super::arriving;
use super::corner::Corner;
use super::footwork::{flat_velocity, is_rolling};
use crate::mode::slide;
use crate::motion::{Ramp, Rates};
use crate::phase::Mode;
use crate::run::Run;

/// Pressed against a wall, a ramp closer than this to its end, seconds, has ended.
const ARRIVED: f64 = 1e-3;

/// The ramp of the flat velocity toward the wish, no part of which runs into a wall.
pub(super) fn walking(run: &mut Run<'_>) -> Ramp {
    walking_round(run, 0.0).0
}

/// The same for a piece of at most `span` seconds, and the corner that it leads round, if it does; with none of them it leads round nothing.
pub(super) fn walking_round(run: &mut Run<'_>, span: f64) -> (Ramp, Option<Corner>) {
    let planes = run.walls.on_ground(run.ground.normal, run.me.up, run.carried);
    let flat = planes.admissible(flat_velocity(run.me.velocity, run.up()));
    if run.is_on_rails() {
        return (Ramp::hold(flat), None);
    }
    if run.me.mode == Mode::Slide {
        return (slide::ramp(run, flat, span), None);
    }
    let wish = run.wish();
    let wish = arriving::limited(run, wish);
    let corner = if planes.normals().is_empty() || span == 0.0 { None } else { Corner::pressed(run, flat, wish) };
    let target = planes.admissible(wish);
    run.tell_pressed(&planes, wish, target);
    if let Some(corner) = corner {
        let rates = rates(run, wish != DVec3::ZERO);
        return (corner.ramp(flat, wish, &rates, span), Some(corner));
    }
    if let Some(brakes) = arriving::braking(run, flat) {
        return (brakes, None);
    }
    if planes.normals().is_empty() && !top_speed_turns(run) {
        let rates = arriving::walking_rates(run, flat, wish != DVec3::ZERO);
        return (rates.stage(flat, target, wish != DVec3::ZERO), None);
    }
    (toward(run, flat, target, wish), None)
}

/// True where the top speed depends on the slope, and that turns under the foot with every piece of way.
fn top_speed_turns(run: &Run<'_>) -> bool {
    let ground = run.tuning.values().ground;
    (ground.uphill != 1.0 || ground.downhill != 1.0) && is_rolling(run)
}

/// The ramp along what keeps it off its wish, from what that leaves of the velocity to what it leaves of the wish.
pub(super) fn toward(run: &mut Run<'_>, flat: DVec3, target: DVec3, wish: DVec3) -> Ramp {
    let rates = arriving::walking_rates(run, flat, wish != DVec3::ZERO);
    // Along a wall the target turns a little with every piece of way: chasing its last millisecond gets nowhere.
    let arrived = (flat - target).length() < rates.gain.min(rates.loss) * ARRIVED;
    if arrived { Ramp::hold(target) } else { rates.stage(flat, target, wish != DVec3::ZERO) }
}

/// The rates of walking here and now.
pub(super) fn rates(run: &mut Run<'_>, wanted: bool) -> Rates {
    if let Some(led) = run.led {
        return Rates { gain: led.rate, loss: led.rate, reversal: led.rate, ease: None };
    }
    let ground = run.tuning.values().ground;
    let factors = run.acceleration_factors();
    run.told.acceleration_factors = factors;
    let own = f64::from(factors.but_sprint());
    let sprint = run.tuning.values().sprint.filter(|_| run.me.marks.sprinting());
    let ease = ground.ease.filter(|_| wanted).or(ground.ease_stop.or(ground.ease).filter(|_| !wanted));
    Rates {
        gain: f64::from(sprint.map_or(ground.acceleration, |s| s.acceleration)) * own,
        loss: f64::from(ground.deceleration) * own,
        reversal: f64::from(ground.reversal) * own,
        // Less grip takes longer.
        ease: ease.map(|ease| f64::from(ease) / own.max(1e-6)),
    }
}
