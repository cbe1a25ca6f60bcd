//! Motion round a corner: the part of the wish along the corner grows with the way round it.
//!
//! Begun all but head-on to a post, the way round it grows as an exponential does, and with it whatever is off at its beginning. So the
//! motion is integrated (Runge and Kutta's fourth order, 1901), and the moment at which it has caught up with what pulls it is found, not
//! stepped over: the way round is the same however the ticks cut it.

use glam::DVec3;

use super::corner::Corner;
use crate::motion::{Ramp, Rates};

/// No step of it turns by more than this, radians.
const STEP: f64 = 0.1;
/// As fast as what pulls it to within this part of the whole wish, it keeps up with that.
const HAIR: f64 = 1e-6;
/// Halvings that find the moment at which it has caught up, or is as far round as it is led at once.
const HALVINGS: usize = 40;
/// Steps are never more; it goes on with the next piece of way.
const MOST_STEPS: usize = 64;

impl Corner {
    /// The ramp of the velocity along it, now `flat`, toward what is left of `wish`: the more, the further round it is.
    pub fn ramp(&self, flat: DVec3, wish: DVec3, rates: &Rates, span: f64) -> Ramp {
        let speed = flat.dot(self.along);
        let round = Pull { corner: self, wish, rates }.round(speed, span);
        if round.time <= 0.0 {
            return Ramp::hold(self.along * round.speed);
        }
        let mean = round.gone / round.time;
        Ramp::through(self.along * speed, self.along * round.speed, self.along * mean, round.time)
    }
}

/// A wish that presses a corner, and how fast it is followed.
struct Pull<'c> {
    pub corner: &'c Corner,
    pub wish: DVec3,
    pub rates: &'c Rates,
}

/// How far round it is.
#[derive(Clone, Copy, Debug)]
struct Round {
    /// Seconds.
    pub time: f64,
    /// Metres along the ground.
    pub gone: f64,
    /// Along the corner, m/s.
    pub speed: f64,
}

impl Pull<'_> {
    /// From `speed` along the corner for `span` seconds, or until it is to be led on from elsewhere.
    pub fn round(&self, speed: f64, span: f64) -> Round {
        let corner = self.corner;
        let fastest = speed.abs().max(self.wish.length());
        let most = corner.most / corner.shorter;
        let longest = STEP / (corner.curvature * fastest);
        let mut at = Round { time: 0.0, gone: 0.0, speed };
        for _ in 0..MOST_STEPS {
            let left = span - at.time;
            let turns_back = at.speed <= 0.0 && self.left(at.gone) <= 0.0;
            if left <= 0.0 || turns_back {
                break;
            }
            let next = self.step(at, left.min(longest));
            if next.gone >= most {
                return self.gone_to(most, at, next.time - at.time);
            }
            at = next;
        }
        at
    }

    /// On from `at` to where it has gone `most`, which takes less than `late` seconds.
    fn gone_to(&self, most: f64, at: Round, mut late: f64) -> Round {
        let mut early = 0.0;
        for _ in 0..HALVINGS {
            let middle = 0.5 * (early + late);
            if self.step(at, middle).gone < most { early = middle } else { late = middle }
        }
        self.step(at, late)
    }

    /// The part of the wish along the corner after `gone` metres.
    fn left(&self, gone: f64) -> f64 {
        let (angle, _) = self.angle(gone);
        self.wish.dot(self.corner.along) * libm::cos(angle) + self.wish.dot(self.corner.inward) * libm::sin(angle)
    }

    /// The angle turned by after `gone` metres, and by how much it grows with a metre.
    fn angle(&self, gone: f64) -> (f64, f64) {
        let turning = self.corner.curvature * self.corner.shorter;
        (turning * gone, turning)
    }

    /// At most `span` seconds further.
    fn step(&self, at: Round, span: f64) -> Round {
        if let Some(ease) = self.rates.ease {
            return integrated(at, span, |gone, speed| (speed, (self.left(gone) - speed) / ease));
        }
        let left = self.left(at.gone);
        let hair = HAIR * self.wish.length();
        if (at.speed - left).abs() <= hair && self.keeps_up(at.gone, left) {
            let kept = integrated(at, span, |gone, _| (self.left(gone), 0.0));
            return Round { speed: self.left(kept.gone), ..kept };
        }
        let rate = match left {
            left if left < -hair => -self.rates.reversal,
            left if at.speed > left => -self.rates.loss,
            _ => self.rates.gain,
        };
        if rate.is_infinite() {
            return Round { speed: left.max(0.0), ..at };
        }
        self.until_caught_up(at, rate, span)
    }

    /// True where what pulls grows no faster than it may gain, and falls no faster than it may lose.
    fn keeps_up(&self, gone: f64, left: f64) -> bool {
        let (angle, turning) = self.angle(gone);
        let (along, inward) = (self.wish.dot(self.corner.along), self.wish.dot(self.corner.inward));
        let grows = (inward * libm::cos(angle) - along * libm::sin(angle)) * turning;
        (-self.rates.loss..=self.rates.gain).contains(&(grows * left))
    }

    /// At a constant rate until it is as fast as what pulls it, or stands.
    fn until_caught_up(&self, at: Round, rate: f64, span: f64) -> Round {
        let after = |t: f64| Round {
            time: at.time + t,
            gone: at.gone + (at.speed + 0.5 * rate * t) * t,
            speed: at.speed + rate * t,
        };
        let is_slower = |round: &Round| round.speed <= self.left(round.gone).max(0.0);
        let (slower, whole) = (rate > 0.0, after(span));
        if is_slower(&whole) == slower {
            return whole;
        }
        let (mut early, mut late) = (0.0, span);
        for _ in 0..HALVINGS {
            let middle = 0.5 * (early + late);
            if is_slower(&after(middle)) == slower { early = middle } else { late = middle }
        }
        let met = after(late);
        Round { speed: self.left(met.gone).max(0.0), ..met }
    }
}

/// One step of the fourth order, where way and speed change as `rates` says.
fn integrated(at: Round, span: f64, rates: impl Fn(f64, f64) -> (f64, f64)) -> Round {
    let after =
        |part: f64, (way, speed): (f64, f64)| rates(at.gone + way * (span * part), at.speed + speed * (span * part));
    let first = rates(at.gone, at.speed);
    let second = after(0.5, first);
    let third = after(0.5, second);
    let fourth = after(1.0, third);
    let mean = |a: f64, b: f64, c: f64, d: f64| (a + 2.0 * (b + c) + d) / 6.0 * span;
    Round {
        time: at.time + span,
        gone: at.gone + mean(first.0, second.0, third.0, fourth.0),
        speed: at.speed + mean(first.1, second.1, third.1, fourth.1),
    }
}
