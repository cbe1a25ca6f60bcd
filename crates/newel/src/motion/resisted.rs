//! Steering through air or water that resists.
//!
//! Steering has a strength, and part of it goes into holding the velocity against the air. What is left changes the velocity on a
//! straight way to what is wanted; aside of that way the air's hold is constant, and is held off. So the way in velocity is a line
//! and the speed along it an exponential: closed in time, and the same in any pieces.

use glam::DVec3;

use super::{Drift, Ramp};

/// Velocities closer than this, m/s, are the same, as they are to a ramp.
const THERE: f64 = 2e-5;

/// How it is steered for a while.
#[derive(Clone, Copy)]
pub(crate) struct Steered {
    pub drift: Drift,
    /// After so many seconds that has ended; 0 where it has, infinite where it never does.
    pub duration: f64,
    /// The velocity then, m/s.
    pub end: DVec3,
}

/// As `ramp` says, in air that resists nothing.
pub(crate) fn freely(ramp: &Ramp) -> Steered {
    let duration = ramp.duration();
    let end = if duration.is_finite() { ramp.at(duration) } else { ramp.start() };
    Steered { drift: Drift::at_rate(ramp.start(), ramp.acceleration()), duration, end }
}

/// As `ramp` says, or holding its velocity with `strength` m/s² where that has ended, against the `wind`.
pub(crate) fn against(wind: DVec3, drag: f64, ramp: &Ramp, strength: f64) -> Steered {
    let from = ramp.start();
    let (wanted, strength) = match ramp.duration() > 0.0 {
        true => {
            (if ramp.duration().is_finite() { ramp.at(ramp.duration()) } else { from }, ramp.acceleration().length())
        }
        false => (from, strength),
    };
    // The velocity that the steering can hold.
    let (against, most) = (wanted - wind, strength / drag);
    let to = if against.length() > most { wind + against * (most / against.length()) } else { wanted };
    let length = (to - from).length();
    if length <= THERE {
        return Steered { drift: Drift::at_rate(to, DVec3::ZERO), duration: 0.0, end: to };
    }
    let (way, against) = ((to - from) / length, to - wind);
    let along = against.dot(way);
    let aside = (against - way * along).length() * drag;
    let left = (strength * strength - aside * aside).max(0.0).sqrt();
    // How far beyond its end the way would lead.
    let beyond = (left / drag - along).max(0.0);
    let duration = if beyond > THERE * 1e-3 { libm::log((length + beyond) / beyond) / drag } else { f64::INFINITY };
    Steered { drift: Drift::toward(from, to + way * beyond, drag), duration, end: to }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// The same by a hundred thousand small steps a second, without the formulas.
    fn stepped(from: DVec3, to: DVec3, wind: DVec3, drag: f64, strength: f64, time: f64) -> DVec3 {
        let (step, mut v) = (1e-5, from);
        for _ in 0..(time / step).round() as u32 {
            let way = to - v;
            let held = (v - wind) * drag;
            // All of its strength, so that what is left of it after the hold leads straight there.
            let unit = way / way.length().max(1e-12);
            let aside = held - unit * held.dot(unit);
            let left = (strength * strength - aside.length_squared()).max(0.0).sqrt();
            let change = unit * (left - held.dot(unit));
            v = if way.length() < change.length() * step { to } else { v + change * step };
        }
        v
    }

    #[test]
    fn it_gets_there_on_time_and_holds_what_it_is_strong_enough_for() {
        let (from, to) = (DVec3::new(-2.0, 0.0, 1.0), DVec3::new(4.0, 0.0, -3.0));
        for (wind, drag, strength) in
            [(DVec3::ZERO, 0.5, 10.0), (DVec3::new(3.0, 0.0, 9.0), 0.8, 12.0), (DVec3::X * -20.0, 0.2, 6.0)]
        {
            let steered = against(wind, drag, &Ramp::new(from, to, strength), strength);
            assert!((steered.end - to).length() < 1e-12, "{wind}: strong enough");
            assert!((steered.drift.at(steered.duration) - to).length() < 1e-9, "{wind}");
            for part in [0.2, 0.7] {
                let time = part * steered.duration;
                let off = (steered.drift.at(time) - stepped(from, to, wind, drag, strength, time)).length();
                assert!(off < 1e-3, "{wind} after {time} s: {off}");
            }
        }
        // Too weak for what it wants: as much of it as it can hold.
        let weak = against(DVec3::X * 10.0, 1.0, &Ramp::new(DVec3::ZERO, DVec3::X * -5.0, 3.0), 3.0);
        assert!((weak.end - DVec3::X * 7.0).length() < 1e-12 && weak.duration > 0.0);
        // Nothing of its own: the wind has it, for ever more nearly.
        let thrown = against(DVec3::X * 10.0, 1.0, &Ramp::hold(DVec3::Z), 0.0);
        assert!(thrown.duration.is_infinite());
        assert!(
            (thrown.drift.at(1.0) - (DVec3::X * 10.0 + (DVec3::Z - DVec3::X * 10.0) / 1f64.exp())).length() < 1e-12
        );
    }
}
