//! Acceleration in the air: gravity by the part of the jump, and the fastest fall.

use super::wall;
use crate::motion::Leap;
use crate::phase::Phase;
use crate::run::Run;

/// Falls this near to the fastest, as a part of it, have reached it.
const REACHED: f64 = 1e-9;

/// Acceleration along up, and how long it stays so.
#[derive(Clone, Copy, Debug)]
pub(super) struct Pull {
    /// m/s², negative downward.
    pub rate: f64,
    /// The speed along up at which gravity is another, m/s.
    pub until: Option<f64>,
    /// The fall that is neither exceeded nor left, m/s.
    pub limit: f64,
    /// True while sliding down a wall.
    pub slides: bool,
}

/// Acceleration at this vertical speed, with air of `drag` and a vertical wind of `updraft`.
pub(super) fn pull(run: &Run<'_>, rise: f64, drag: f64, updraft: f64) -> Pull {
    let weight = f64::from(run.modifiers.gravity) * f64::from(run.me.gravity_factor);
    let slides = wall::slides(run);
    if run.me.phase == Phase::Dash {
        return Pull { rate: 0.0, until: None, limit: f64::INFINITY, slides };
    }
    let (gravity, until) = gravity(run, rise, weight);
    let values = run.tuning.values();
    let terminal = values.air.terminal.map_or(f64::INFINITY, f64::from);
    let (limit, braking) = match values.wall_slide.filter(|_| slides) {
        Some(tuned) => (terminal.min(f64::from(tuned.speed)), f64::from(tuned.braking)),
        None => (terminal, gravity),
    };
    let over = -rise - limit;
    if limit.is_finite() && over > REACHED * limit {
        return Pull { rate: braking, until: None, limit, slides };
    }
    // At the fastest it stays, unless the air takes more from it than gravity gives.
    if limit.is_finite() && over >= -REACHED * limit && drag * (updraft - rise) <= gravity {
        return Pull { rate: 0.0, until: None, limit, slides };
    }
    Pull { rate: -gravity, until, limit, slides }
}

impl Pull {
    /// True where it falls as fast as it may, and stays so.
    pub fn holds(&self, rise: f64) -> bool {
        self.rate == 0.0 && self.limit.is_finite() && -rise >= self.limit * (1.0 - REACHED)
    }

    /// The speed along up at which the fastest fall is reached, from either side; none where it has been.
    pub fn speed_at_limit(&self, rise: f64) -> Option<f64> {
        let over = -rise - self.limit;
        (self.limit.is_finite() && over.abs() > REACHED * self.limit).then_some(-self.limit)
    }
}

/// Gravity now, and up to which speed along up.
fn gravity(run: &Run<'_>, rise: f64, weight: f64) -> (f64, Option<f64>) {
    let (up, down) = (run.tuning.rise(), run.tuning.fall());
    let plain = |gravity: f64| Leap { gravity, hang_speed: 0.0, hang_gravity: 1.0 };
    let leap = match run.me.phase {
        Phase::Rising => up,
        Phase::Released => Leap { gravity: run.tuning.released_gravity(), ..up },
        Phase::Over => down,
        _ => plain(down.gravity),
    };
    let leap = Leap { gravity: leap.gravity * weight, ..leap };
    if leap.gravity > 0.0 { leap.at(rise) } else { (0.0, None) }
}
