//! What pulls in the air: gravity by the part of the jump, and the fastest fall.

use super::wall;
use crate::character::Phase;
use crate::motion::Leap;
use crate::run::Run;

/// Falls this near to the fastest, as a part of it, have reached it.
const REACHED: f64 = 1e-9;

/// Acceleration along up, and how long it stays so.
#[derive(Clone, Copy, Debug)]
pub(super) struct Pull {
    /// m/s², negative downward.
    pub rate: f64,
    /// Seconds until gravity is another.
    pub until: f64,
    /// The fall that is neither exceeded nor left, m/s.
    pub limit: f64,
    /// True while sliding down a wall.
    pub slides: bool,
}

/// What pulls at this speed along up.
pub(super) fn pull(run: &Run<'_>, rise: f64) -> Pull {
    let weight = f64::from(run.modifiers.gravity) * f64::from(run.me.gravity_factor);
    let slides = wall::slides(run);
    if run.me.phase == Phase::Dash {
        return Pull { rate: 0.0, until: f64::INFINITY, limit: f64::INFINITY, slides };
    }
    let (gravity, until) = gravity(run, rise, weight);
    let values = run.tuning.values();
    let terminal = values.air.terminal.map_or(f64::INFINITY, f64::from);
    let (limit, braking) = match values.wall_slide.filter(|_| slides) {
        Some(tuned) => (terminal.min(f64::from(tuned.speed)), f64::from(tuned.braking)),
        None => (terminal, gravity),
    };
    let over = -rise - limit;
    if limit.is_infinite() {
        return Pull { rate: -gravity, until, limit, slides };
    }
    if over > REACHED * limit {
        return Pull { rate: braking, until: f64::INFINITY, limit, slides };
    }
    if over >= -REACHED * limit {
        return Pull { rate: 0.0, until: f64::INFINITY, limit, slides };
    }
    Pull { rate: -gravity, until, limit, slides }
}

impl Pull {
    /// Seconds until the fastest fall is reached, from either side, at this speed and rate along up: what walls leave of it.
    pub fn time_to_limit(&self, rise: f64, rate: f64) -> f64 {
        let over = -rise - self.limit;
        let time = over / rate;
        if self.limit.is_finite() && over.abs() > REACHED * self.limit && time > 0.0 { time } else { f64::INFINITY }
    }
}

/// Gravity now, and for how long.
fn gravity(run: &Run<'_>, rise: f64, weight: f64) -> (f64, f64) {
    let (up, down) = (run.tuning.rise(), run.tuning.fall());
    let plain = |gravity: f64| Leap { gravity, hang_speed: 0.0, hang_gravity: 1.0 };
    let leap = match run.me.phase {
        Phase::Rising => up,
        Phase::Released => Leap { gravity: run.tuning.released_gravity(), ..up },
        Phase::Over => down,
        _ => plain(down.gravity),
    };
    let leap = Leap { gravity: leap.gravity * weight, ..leap };
    if leap.gravity > 0.0 { leap.at(rise) } else { (0.0, f64::INFINITY) }
}
