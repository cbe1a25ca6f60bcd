//! Where a throw leads: what pulls at whoever is thrown, and the velocities that lead where they are to.
//!
//! Textbook ballistics, with drag linear in the speed against the wind, so that all of it is closed in time; what has no closed form,
//! the time of the least speed or of a top, is searched to the last bits.

use glam::DVec3;

use crate::math::flatten64;
use crate::modifiers::{MOST_SPEED, Modifiers};
use crate::motion::Drift;
use crate::state::State;
use crate::tuning::Tuning;

/// How a launch is to reach its place.
#[derive(Clone, Copy, Debug, PartialEq)]
#[non_exhaustive]
pub enum Aim {
    /// With as little speed as it takes.
    Least,
    /// In so many seconds.
    Time(f64),
    /// Over a top so many metres above where it starts.
    Top(f64),
}

/// Acceleration of a thrown character.
pub(crate) struct Flight {
    up: DVec3,
    /// m/s²; not negative.
    gravity: f64,
    /// The fastest fall, m/s.
    limit: f64,
    /// Per second.
    drag: f64,
    /// m/s in the world.
    wind: DVec3,
    /// The greatest speed it may be thrown at, m/s.
    fastest: f64,
}

/// Halvings of what is searched: to the last bits of a double.
const HALVINGS: usize = 60;
/// Times looked at, each so many times the one before, before the best is narrowed down.
const LOOKS: i32 = 40;
const APART: f64 = 1.25;
/// The longest flight looked for, seconds.
const LONGEST: f64 = 3600.0;

impl Flight {
    pub fn of(me: &State, tuning: &Tuning, modifiers: &Modifiers, fastest: f64) -> Flight {
        let weight = f64::from(modifiers.gravity) * f64::from(me.gravity_factor);
        let air = tuning.values().air;
        Flight {
            up: me.up.as_dvec3().normalize(),
            gravity: tuning.falling_gravity() * weight,
            limit: air.terminal.map_or(f64::INFINITY, f64::from),
            drag: f64::from(air.drag),
            wind: if air.drag > 0.0 { me.keeps.flat64(me.wind()) } else { DVec3::ZERO },
            fastest,
        }
    }

    /// The velocity that goes `way` as aimed, and the seconds that takes.
    pub fn throw(&self, way: DVec3, aim: Aim) -> Option<(DVec3, f64)> {
        let time = match aim {
            _ if !way.is_finite() => return None,
            Aim::Time(time) => time,
            Aim::Top(top) => self.time_over(top, way.dot(self.up))?,
            Aim::Least => self.least_time(way),
        };
        let known = time > 0.0 && time <= LONGEST;
        known.then(|| (self.velocity_in(way, time), time))
    }

    /// The largest part of `way` that can be reached.
    pub fn furthest(&self, way: DVec3, aim: Aim) -> f64 {
        let fast_enough = |(velocity, _): (DVec3, f64)| velocity.length() <= self.fastest;
        let reaches = |part: f64| self.throw(way * part, aim).is_some_and(fast_enough);
        if way.is_finite() { halved(0.0, 1.0, reaches) } else { 0.0 }
    }

    /// The velocity that goes `way` in so many seconds.
    fn velocity_in(&self, way: DVec3, time: f64) -> DVec3 {
        let height = way.dot(self.up);
        let across = flatten64(way, self.up);
        let across = if self.drag > 0.0 {
            // Parts of the horizontal way: the wind's, and what is left of its own.
            let wind = flatten64(self.wind, self.up);
            wind + (across - wind * time) * self.drag / -libm::expm1(-self.drag * time)
        } else {
            across / time
        };
        across + self.up * self.rise_to(height, time)
    }

    /// The speed along up that leads to a height in so many seconds.
    fn rise_to(&self, height: f64, time: f64) -> f64 {
        let free = if self.drag > 0.0 {
            let tends = self.tends();
            tends + (height - tends * time) * self.drag / -libm::expm1(-self.drag * time)
        } else {
            height / time + 0.5 * self.gravity * time
        };
        let end = self.falling(free).at(time).dot(self.up);
        if free.min(end) >= -self.limit {
            return free;
        }
        // It falls at the fastest from some moment on.
        let most = free.abs() + self.limit + height.abs() / time + self.gravity * time;
        halved(-most, most, |rise| self.height_after(rise, time) <= height)
    }

    /// Where its speed along up tends, with drag, m/s.
    fn tends(&self) -> f64 {
        self.wind.dot(self.up) - self.gravity / self.drag
    }

    /// The fall from a speed along up, while the fastest is not reached.
    fn falling(&self, rise: f64) -> Drift {
        match self.drag > 0.0 {
            true => Drift::toward(self.up * rise, self.up * self.tends(), self.drag),
            false => Drift::at_rate(self.up * rise, self.up * -self.gravity),
        }
    }

    /// The height it has after so many seconds.
    fn height_after(&self, rise: f64, time: f64) -> f64 {
        if rise < -self.limit {
            // Faster than it may fall, it is braked by as much as it is pulled.
            let braked = match self.drag > 0.0 {
                true => {
                    let to = self.wind.dot(self.up) + self.gravity / self.drag;
                    Drift::toward(self.up * rise, self.up * to, self.drag)
                }
                false => Drift::at_rate(self.up * rise, self.up * self.gravity),
            };
            let slow = braked.time_to(-self.limit, self.up).min(time);
            let so_far = braked.mean(slow).dot(self.up) * slow;
            return if slow < time { so_far + self.height_after(-self.limit, time - slow) } else { so_far };
        }
        let fall = self.falling(rise);
        let fast = if rise > -self.limit { fall.time_to(-self.limit, self.up) } else { self.held(rise) };
        let speeding = fast.min(time);
        let so_far = if speeding > 0.0 { fall.mean(speeding).dot(self.up) * speeding } else { 0.0 };
        so_far - if fast < time { self.limit * (time - fast) } else { 0.0 }
    }

    /// At the fastest fall: at once, unless the air takes more from it than gravity gives.
    fn held(&self, rise: f64) -> f64 {
        if self.drag * (self.wind.dot(self.up) - rise) <= self.gravity { 0.0 } else { f64::INFINITY }
    }

    /// The seconds to a height by way of a top.
    fn time_over(&self, top: f64, height: f64) -> Option<f64> {
        let falls = self.gravity > 0.0 && (self.drag == 0.0 || self.tends() < 0.0);
        if !falls || top < height.max(0.0) || !top.is_finite() {
            return None;
        }
        let topped = |rise: f64| self.falling(rise).time_to(0.0, self.up);
        let (rise, up_time) = match self.drag > 0.0 {
            false => ((2.0 * self.gravity * top).sqrt(), (2.0 * top / self.gravity).sqrt()),
            true => {
                let reached =
                    |rise: f64| rise == 0.0 || self.falling(rise).mean(topped(rise)).dot(self.up) * topped(rise) <= top;
                let rise = halved(0.0, MOST_SPEED, reached);
                (rise, if rise > 0.0 { topped(rise) } else { 0.0 })
            }
        };
        // Down again: ever lower from the top on.
        let above = |time: f64| self.height_after(rise, time) >= height;
        let late = (0..20).map(|i| up_time + f64::from(1 << i) * 0.01).find(|time| !above(*time))?;
        Some(halved(up_time, late, above))
    }

    /// The time of the least speed; where nothing pulls, and the longer it takes the less would do, that of the greatest allowed.
    fn least_time(&self, way: DVec3) -> f64 {
        if self.gravity <= 0.0 {
            let slow = |time: f64| self.velocity_in(way, time).length() <= self.fastest;
            let shortest = way.length() / (2.0 * MOST_SPEED);
            return (0..50)
                .map(|i| shortest * f64::from(1u32 << i.min(30)))
                .find(|time| slow(*time))
                .map_or(way.length() / self.fastest, |late| halved(late, shortest.min(late * 0.5), slow));
        }
        let free = (2.0 * way.length() / self.gravity).sqrt();
        let speed = |time: f64| self.velocity_in(way, time).length();
        // Where the two parts of the velocity, toward the place and against the fall, are square to each other.
        let ends = self.velocity_in(way, free).dot(self.up) - self.gravity * free;
        if free == 0.0 || (self.drag == 0.0 && ends >= -self.limit) {
            return free;
        }
        let times = (-LOOKS / 2..=LOOKS / 2).map(|i| free * APART.powi(i));
        let best = times.reduce(|a, b| if speed(b) < speed(a) { b } else { a }).unwrap_or(free);
        let golden = 0.5 * (5f64.sqrt() - 1.0);
        let (mut low, mut high) = (best / APART, best * APART);
        for _ in 0..HALVINGS {
            let (a, b) = (high - golden * (high - low), low + golden * (high - low));
            (low, high) = if speed(a) < speed(b) { (low, b) } else { (a, high) };
        }
        0.5 * (low + high)
    }
}

/// The last value on the way from `some`, where something holds, to `none` at which it does.
fn halved(mut some: f64, mut none: f64, holds: impl Fn(f64) -> bool) -> f64 {
    for _ in 0..HALVINGS {
        let middle = 0.5 * (some + none);
        (some, none) = if holds(middle) { (middle, none) } else { (some, middle) };
    }
    some
}
