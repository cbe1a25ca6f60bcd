//! To a place and no further: braking begins where the way that is left is the way that it takes to stop, inside a piece of way and at
//! the same point at every tick rate; and what is left is always gone exactly.

use glam::DVec3;

use super::footwork::flat_velocity;
use super::walking::rates;
use crate::motion::{Ramp, Rates};
use crate::run::Run;

/// Nearer than this, metres, nothing is left.
const NEAR: f64 = 1e-9;
/// A velocity aside of the place by less than this part of the speed counts as straight.
const ASIDE: f64 = 1e-4;
/// And so does what leads aside more slowly than this, m/s: else it would go round the place for ever.
const SLOW: f64 = 5e-3;
/// A way that passes the place within this distance, metres, counts as straight.
const NO_MISS: f64 = 2e-4;
/// Braking is due where the way left is longer than the way it takes by no more than this part, or metres.
const DUE: f64 = 1e-7;
/// It brakes at most by this much harder than it stops without input: to come to stand exactly there, also where the slope it comes down
/// ends before the place does.
const HARDER: f64 = 2.5;
/// A character that does not go straight there turns there if it could stop within this part of the way left; else it stops first.
const TURNS: f64 = 0.25;
/// No ramp is looked at for longer than this, seconds: a piece of way is much shorter.
const LONGEST: f64 = 10.0;
/// Halvings that find the moment at which an eased speed is to be slowed.
const HALVINGS: usize = 40;

/// The remaining way to the place.
struct Left {
    /// Unit, over the map.
    way: DVec3,
    /// Along the ground, metres, were it to go on as it is here.
    far: f64,
}

impl Left {
    fn of(run: &Run<'_>) -> Option<Left> {
        run.way_left().and_then(|flat| Left::along(run, flat))
    }

    /// As far as what it touches lets it go: pressed to a wall, the way along that.
    fn past_walls(run: &Run<'_>) -> Option<Left> {
        let flat = run.way_left()?;
        let walls = run.walls.on_ground(run.ground.normal, run.me.up, run.carried);
        Left::along(run, walls.admissible(flat))
    }

    fn along(run: &Run<'_>, flat: DVec3) -> Option<Left> {
        let up = run.up();
        let far = flat.length();
        if far < NEAR {
            return None;
        }
        let way = flat / far;
        let (normal, rises) = (run.ground.normal.as_dvec3(), run.ground.normal.as_dvec3().dot(up));
        let rise = if rises > 0.1 { -way.dot(normal) / rises } else { 0.0 };
        Some(Left { way, far: far * (1.0 + rise * rise).sqrt() })
    }

    /// The speed toward it, where it goes straight there.
    fn speed(&self, flat: DVec3) -> Option<f64> {
        let speed = flat.dot(self.way);
        (speed >= 0.0 && !self.is_aside(flat)).then_some(speed)
    }

    /// True where it goes neither straight there nor straight away from there.
    fn is_aside(&self, flat: DVec3) -> bool {
        let speed = flat.dot(self.way);
        let aside = (flat - self.way * speed).length();
        let misses = self.far * aside > NO_MISS * speed.abs();
        aside > (ASIDE * speed.abs()).max(SLOW) && misses
    }

    /// How much harder than it stops without input it has to slow to be there and no further; as much as it may.
    fn harder(&self, rates: &Rates, flat: DVec3) -> f64 {
        (to_stop(rates, flat.dot(self.way).max(0.0)) / self.far).clamp(1.0, HARDER)
    }
}

/// The way it takes to stop from a speed.
fn to_stop(rates: &Rates, speed: f64) -> f64 {
    match rates.ease {
        Some(ease) => speed * ease,
        None if rates.loss > 0.0 => speed * speed / (2.0 * rates.loss),
        None => f64::INFINITY,
    }
}

/// Slowing to a stop just there, if that is due at this flat velocity.
pub(super) fn braking(run: &mut Run<'_>, flat: DVec3) -> Option<Ramp> {
    let left = Left::past_walls(run)?;
    let rates = rates(run, false);
    let most = if left.is_aside(flat) { TURNS } else { HARDER };
    let away = flat.dot(left.way) <= 0.0 && !left.is_aside(flat);
    if !away && to_stop(&rates, flat.length()) > left.far * most {
        // Too near to stop there, or to turn there in time: as soon as it can, and from there.
        let harder = left.harder(&rates, flat);
        return Some(match rates.ease {
            Some(ease) => Ramp::eased(flat, DVec3::ZERO, ease / harder),
            None => Ramp::new(flat, DVec3::ZERO, rates.loss * harder),
        });
    }
    let speed = left.speed(flat).filter(|speed| *speed > 0.0)?;
    if to_stop(&rates, speed) < left.far * (1.0 - DUE) - DUE {
        return None;
    }
    let straight = left.way * speed;
    Some(match rates.ease {
        Some(_) => Ramp::eased(straight, DVec3::ZERO, left.far / speed),
        None => Ramp::new(straight, DVec3::ZERO, speed * speed / (2.0 * left.far)),
    })
}

/// As much of what it wants as it can stop from where it is to: on a way that does not lead straight there yet.
pub(super) fn limited(run: &mut Run<'_>, wish: DVec3) -> DVec3 {
    let Some(left) = Left::of(run) else { return wish };
    let rates = rates(run, false);
    let most = rates.ease.map_or((2.0 * rates.loss * left.far).sqrt(), |ease| left.far / ease);
    let speed = wish.length();
    if speed > most { wish * (most / speed) } else { wish }
}

/// The rates of walking, for one that cannot brake straight toward the place: it slows as much harder as it takes, and at most as much as
/// straight there.
pub(super) fn walking_rates(run: &mut Run<'_>, flat: DVec3, wanted: bool) -> Rates {
    let rates = rates(run, wanted);
    let Some(left) = Left::past_walls(run).filter(|_| rates.loss > 0.0) else { return rates };
    Rates { loss: rates.loss * left.harder(&rates, flat), ..rates }
}

/// Seconds of a ramp that does not yet slow for it until that is due; infinite where it is not, or not yet heading straight there.
pub(super) fn until_braking(run: &mut Run<'_>, ramp: &Ramp) -> f64 {
    let Some(left) = Left::past_walls(run) else { return f64::INFINITY };
    let flat = flat_velocity(run.me.velocity, run.up());
    let start = if ramp.duration() > 0.0 { ramp.start() } else { flat };
    let Some(speed) = left.speed(start) else { return f64::INFINITY };
    let rates = rates(run, false);
    // How much of the way is left to spare after so many seconds of it.
    let spare = |t: f64| {
        let gone = if t > 0.0 { ramp.mean(t).dot(left.way) * t } else { 0.0 };
        left.far - gone - to_stop(&rates, ramp.at(t).dot(left.way).max(0.0))
    };
    if spare(0.0) <= left.far * DUE + DUE {
        return f64::INFINITY;
    }
    // To the end of the ramp; or, at the speed that it keeps, to the place.
    let (mut early, mut late) = (0.0, ramp.duration().min(LONGEST));
    if ramp.duration() == 0.0 {
        late = left.far / speed.max(1e-6);
    }
    if spare(late) > 0.0 {
        return f64::INFINITY;
    }
    for _ in 0..HALVINGS {
        let middle = 0.5 * (early + late);
        if spare(middle) > 0.0 { early = middle } else { late = middle }
    }
    early
}
