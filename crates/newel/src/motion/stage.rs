//! Which rate a velocity changes at: gaining, losing, turning back. Each stage is a ramp that ends where the next begins.

use glam::DVec3;

use super::Ramp;

/// The rates of walking, m/s².
#[derive(Clone, Copy, Debug)]
pub(crate) struct Rates {
    pub gain: f64,
    pub loss: f64,
    pub reversal: f64,
    /// Instead of them: the time constant, seconds.
    pub ease: Option<f64>,
}

/// A speed above the wish by this part is too fast; less is rounding.
const HAIR: f64 = 1e-6;

impl Rates {
    /// The next stage on the straight way from one flat velocity to another; `wanted` is false without input.
    pub fn stage(&self, from: DVec3, to: DVec3, wanted: bool) -> Ramp {
        if let Some(ease) = self.ease {
            return Ramp::eased(from, to, ease);
        }
        let top = to.length();
        if !wanted {
            return Ramp::new(from, to, self.loss);
        }
        if top == 0.0 {
            return Ramp::new(from, to, self.gain);
        }
        let (way, along) = (to - from, from.dot(to) / top);
        if along < -HAIR * top {
            let turns = Ramp::new(from, from + way * (along / (along - top)), self.reversal);
            // A stage too short to be one is none: what comes next begins at once.
            if turns.duration() > 0.0 {
                return turns;
            }
        }
        let excess = from.length_squared() - top * top;
        if excess > HAIR * top * top {
            // The speed is a parabola of the way gone: equal to the top at its end, and here where that is sooner.
            let slows = Ramp::new(from, from + way * (excess / way.length_squared()).min(1.0), self.loss);
            if slows.duration() > 0.0 {
                return slows;
            }
        }
        Ramp::new(from, to, self.gain)
    }
}

/// The next stage in the air, where speed above `top` along the unit vector `way` is lost at a rate of its own while the
/// rest is steered at `rate` as ever.
pub(crate) fn with_excess(from: DVec3, to: DVec3, way: DVec3, top: f64, rate: f64, loss: f64) -> Ramp {
    let along = from.dot(way);
    if along <= top * (1.0 + HAIR) + 1e-9 {
        return Ramp::new(from, to, rate);
    }
    let aside = from - way * along;
    let side = aside.length();
    // Up is a unit vector of single precision: what that leaves of a fast flight is rounding, and never steered away.
    let hair = HAIR * from.length();
    let until = |amount: f64, rate: f64| if amount > hair && rate > 0.0 { amount / rate } else { f64::INFINITY };
    let span = until(side, rate).min(until(along - top, loss));
    if span.is_infinite() {
        return Ramp::hold(from);
    }
    let sideways = if side > hair { aside * (rate * span / side) } else { DVec3::ZERO };
    let stage = from - sideways - way * (loss * span);
    Ramp::new(from, stage, (stage - from).length() / span)
}

#[cfg(test)]
mod tests {
    use super::*;

    const RATES: Rates = Rates { gain: 10.0, loss: 20.0, reversal: 40.0, ease: None };

    /// Stage by stage to the end: what each took, seconds.
    fn played(mut from: DVec3, to: DVec3, next: impl Fn(DVec3) -> Ramp) -> Vec<f64> {
        let mut spans = Vec::new();
        while from != to {
            let ramp = next(from);
            assert!(ramp.duration() > 0.0 && spans.len() < 5, "{from} {to} {spans:?}");
            spans.push(ramp.duration());
            from = ramp.at(ramp.duration());
        }
        spans
    }

    fn close(found: &[f64], expected: &[f64]) {
        let same = found.len() == expected.len() && found.iter().zip(expected).all(|(a, b)| (a - b).abs() < 1e-9);
        assert!(same, "{found:?} {expected:?}");
    }

    #[test]
    fn each_stage_has_its_own_rate() {
        let x = |v: f64| DVec3::X * v;
        let walk = |from: f64, to: f64| played(x(from), x(to), |v| RATES.stage(v, x(to), true));
        close(&walk(0.0, 5.0), &[0.5]);
        close(&walk(5.0, 2.0), &[0.15]);
        close(&walk(-4.0, 2.0), &[0.1, 0.2]);
        close(&walk(-4.0, 1e-3), &[0.1, 1e-4]);
        close(&played(x(5.0), DVec3::ZERO, |v| RATES.stage(v, DVec3::ZERO, false)), &[0.25]);
        // From too fast to the same speed square to it: at first slower, then at the rate of gaining.
        let (from, to) = (x(5.0), DVec3::Z * 3.0);
        close(
            &played(from, to, |v| RATES.stage(v, to, true)),
            &[16.0 / 34f64.sqrt() / 20.0, 18.0 / 34f64.sqrt() / 10.0],
        );
    }

    #[test]
    fn excess_in_the_air_is_lost_at_its_own_rate_or_kept() {
        let to = DVec3::X * 4.0;
        let fast = DVec3::new(7.0, 0.0, 1.0);
        close(&played(fast, to, |v| with_excess(v, to, DVec3::X, 4.0, 10.0, 2.0)), &[0.1, 1.4]);
        let kept = with_excess(fast, to, DVec3::X, 4.0, 10.0, 0.0);
        assert_eq!(kept.at(kept.duration()), DVec3::X * 7.0);
        assert_eq!(with_excess(DVec3::X * 7.0, to, DVec3::X, 4.0, 10.0, 0.0).at(100.0), DVec3::X * 7.0);
        let rounding = DVec3::new(300.0, 2e-5, 0.0);
        assert_eq!(with_excess(rounding, to, DVec3::X, 4.0, 10.0, 0.0).at(1.0), rounding);
        close(&played(DVec3::ZERO, to, |v| with_excess(v, to, DVec3::X, 4.0, 10.0, 0.0)), &[0.4]);
    }
}
