//! Values that a tuning implies, by the formulas that a designer would use.

use newel::Tuning;

/// The last of an eased speed, m/s, is gained at once.
const LAST: f64 = 2e-5;

/// A speed that is gained or lost: how long it takes, and how far that goes.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Change {
    pub time: f64,
    pub way: f64,
}

/// From rest to `part` of `top`, at a constant rate or with a time constant.
pub(super) fn gain(top: f64, part: f64, rate: f64, ease: Option<f64>) -> Change {
    match ease {
        None => Change { time: part * top / rate, way: 0.5 * (part * top) * (part * top) / rate },
        Some(ease) => {
            let left = (1.0 - part).max(LAST / top);
            let time = -ease * left.ln();
            Change { time, way: top * (time - ease * (1.0 - left)) }
        }
    }
}

/// From `top` to rest.
pub(super) fn stop(top: f64, rate: f64, ease: Option<f64>) -> Change {
    match ease {
        None => Change { time: top / rate, way: 0.5 * top * top / rate },
        Some(ease) => Change { time: ease * (top / LAST).ln(), way: ease * (top - LAST) },
    }
}

/// From `top` one way to `top` the other; the way is how far it runs on before it turns.
pub(super) fn turn_about(top: f64, gain_rate: f64, reversal: f64, ease: Option<f64>) -> Change {
    match ease {
        None => Change { time: top / reversal + top / gain_rate, way: 0.5 * top * top / reversal },
        Some(ease) => {
            let to_rest = ease * 2f64.ln();
            Change { time: ease * (2.0 * top / LAST).ln(), way: top * (2.0 * ease * 0.5 - to_rest) }
        }
    }
}

/// Gravity about the top of a jump.
#[derive(Debug, Clone, Copy)]
pub(super) struct Fall {
    gravity: f64,
    hang_speed: f64,
    hang_gravity: f64,
    terminal: f64,
    /// Per second.
    drag: f64,
}

impl Fall {
    /// After the top of a jump.
    pub fn of(tuning: &Tuning) -> Fall {
        let values = tuning.values();
        let hang = values.jump.map_or((0.0, 1.0), |j| (f64::from(j.hang_speed), f64::from(j.hang_gravity)));
        let terminal = values.air.terminal.map_or(f64::INFINITY, f64::from);
        let drag = f64::from(values.air.drag);
        Fall { gravity: tuning.falling_gravity(), hang_speed: hang.0, hang_gravity: hang.1, terminal, drag }
    }

    /// The same without a jump before it.
    pub fn plain(self) -> Fall {
        Fall { hang_speed: 0.0, hang_gravity: 1.0, ..self }
    }

    /// From rest over `height`: seconds, and the speed at the end.
    pub fn over(&self, height: f64) -> (f64, f64) {
        if height == 0.0 {
            return (0.0, 0.0);
        }
        if self.drag > 0.0 {
            return self.stepped(height);
        }
        let (mut speed, mut time, mut left) = (0.0f64, 0.0, height);
        let stretches =
            [(self.hang_speed.min(self.terminal), self.gravity * self.hang_gravity), (self.terminal, self.gravity)];
        for (until, gravity) in stretches {
            let way = (until * until - speed * speed) / (2.0 * gravity);
            if way >= left {
                let end = (speed * speed + 2.0 * gravity * left).sqrt();
                return (time + (end - speed) / gravity, end);
            }
            (time, left, speed) = (time + (until - speed) / gravity, left - way, until);
        }
        (time + left / speed, speed)
    }

    /// The same through air that resists, in small steps: hang time and drag together have no short formula.
    fn stepped(&self, height: f64) -> (f64, f64) {
        let (step, mut speed, mut time, mut left) = (1e-5, 0.0f64, 0.0, height);
        while left > 0.0 && time < 600.0 {
            let gravity = self.gravity * if speed < self.hang_speed { self.hang_gravity } else { 1.0 };
            let middle = speed + 0.5 * step * (gravity - self.drag * speed);
            let next = (speed + step * (gravity - self.drag * middle)).min(self.terminal);
            left -= 0.5 * (speed + next) * step;
            (speed, time) = (next, time + step);
        }
        (time, speed)
    }

    /// The height from which a plain fall ends with this speed; `None` where none does.
    pub fn height_at(&self, speed: f64) -> Option<f64> {
        if speed > self.terminal || (self.drag > 0.0 && speed * self.drag >= self.gravity) {
            return None;
        }
        let tends = self.gravity / self.drag;
        Some(match self.drag > 0.0 {
            true => -(speed + tends * (1.0 - speed / tends).ln()) / self.drag,
            false => speed * speed / (2.0 * self.gravity),
        })
    }

    /// A height from which a fall takes at least `time`.
    pub fn height_for(&self, time: f64) -> f64 {
        let heights = std::iter::successors(Some(1.0), |height| Some(height * 1.5));
        heights.take(40).find(|height| self.over(*height).0 >= time).unwrap_or(1e6)
    }

    /// From rest for `time`: the speed at the end.
    pub fn after(&self, time: f64) -> f64 {
        let free = match self.drag > 0.0 {
            true => self.gravity / self.drag * (1.0 - (-self.drag * time).exp()),
            false => self.gravity * time,
        };
        free.min(self.terminal)
    }
}

/// The way across in `time` seconds of air, headed on from `speed`; `None` through air that resists.
pub(super) fn flown(tuning: &Tuning, speed: f64, time: f64) -> Option<f64> {
    if tuning.values().air.drag > 0.0 {
        return None;
    }
    let (air, top) = (tuning.values().air, f64::from(tuning.values().ground.speed * tuning.values().air.speed));
    let rate = f64::from(if speed > top { air.excess_loss } else { air.acceleration });
    let ramp = if rate > 0.0 { ((top - speed).abs() / rate).min(time) } else { time };
    let change = rate * (top - speed).signum();
    let end = if rate > 0.0 { speed + change * ramp } else { speed };
    Some(0.5 * (speed + end) * ramp + end * (time - ramp))
}

/// How long a jump of this height takes up.
pub(super) fn time_up(tuning: &Tuning, height: f64) -> f64 {
    let jump = tuning.values().jump.map_or((0.0, 1.0), |j| (f64::from(j.hang_speed), f64::from(j.hang_gravity)));
    let rising = Fall {
        gravity: tuning.rising_gravity(),
        hang_speed: jump.0,
        hang_gravity: jump.1,
        terminal: f64::INFINITY,
        drag: 0.0,
    };
    rising.over(height).0
}
