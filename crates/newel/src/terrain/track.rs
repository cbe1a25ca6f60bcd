//! Key-framed paths: where a body is at which time.

use glam::{DQuat, DVec3};

use super::body::turning;
use crate::fingerprint::{Fingerprint, Fingerprinted};

/// Where a body is at one time.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Key {
    /// When, seconds.
    pub time: f64,
    /// Where its origin is, metres.
    pub place: DVec3,
    /// How it is turned, a unit quaternion.
    pub orientation: DQuat,
}

impl Key {
    /// A key at a time and place, the body's axes those of the world.
    #[must_use]
    pub fn at(time: f64, place: impl Into<DVec3>) -> Key {
        Key { time, place: place.into(), orientation: DQuat::IDENTITY }
    }

    /// The same, turned.
    #[must_use]
    pub fn turned(self, orientation: DQuat) -> Key {
        Key { orientation, ..self }
    }
}

/// Behaviour of a [`Track`] after its last key.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Ending {
    /// It stays there.
    #[default]
    Stay,
    /// It begins again; the last key should be the same pose as the first, or the body jumps.
    Again,
    /// It goes back the way it came, and so on.
    Back,
}

/// A key-framed path: waiting at its first key until then, steady glides and turns (by the shorter way) from key to key. In a tick
/// what follows it moves steadily from where it is at the tick's start to where it is at its end: a key passed in between is cut short.
///
/// ```
/// use newel::{Ending, Key, Track};
/// use newel::glam::DVec3;
/// let lift = Track::new(vec![Key::at(0.0, DVec3::ZERO), Key::at(4.0, DVec3::Y * 3.0)], Ending::Back)?;
/// assert_eq!(lift.pose(6.0).0, DVec3::Y * 1.5);
/// # Ok::<(), newel::TrackError>(())
/// ```
#[derive(Clone, Debug, PartialEq)]
pub struct Track {
    keys: Vec<Key>,
    ending: Ending,
}

/// Why a track was refused.
#[derive(Clone, Debug, PartialEq)]
#[non_exhaustive]
pub enum TrackError {
    /// It has no keys.
    NoKeys,
    /// A number of a key is NaN or infinite, or its orientation is not a unit quaternion.
    NotAPose {
        /// Which key, from 0.
        key: usize,
    },
    /// A key is not later than the one before.
    OutOfOrder {
        /// Which key, from 0.
        key: usize,
        /// Its time, seconds.
        time: f64,
        /// The time of the key before.
        after: f64,
    },
}

impl core::fmt::Display for TrackError {
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        match self {
            TrackError::NoKeys => write!(f, "a track needs at least one key"),
            TrackError::NotAPose { key } => {
                write!(f, "key {key} is no pose: finite numbers and a unit quaternion are needed")
            }
            TrackError::OutOfOrder { key, time, after } => {
                write!(f, "key {key} is at {time} s: later than the key before, at {after} s, is needed")
            }
        }
    }
}

impl core::error::Error for TrackError {}

impl Fingerprinted for Track {
    fn feed(&self, print: &mut Fingerprint) {
        print.u64(self.ending as u64);
        for key in &self.keys {
            print.f64(key.time);
            key.place.to_array().iter().chain(&key.orientation.to_array()).for_each(|x| print.f64(*x));
        }
    }
}

impl Track {
    /// A track through `keys`, which come in order of time.
    ///
    /// # Errors
    /// [`TrackError`] names the first key that makes no sense.
    pub fn new(keys: Vec<Key>, ending: Ending) -> Result<Track, TrackError> {
        if keys.is_empty() {
            return Err(TrackError::NoKeys);
        }
        for (number, key) in keys.iter().enumerate() {
            let unit = (key.orientation.length_squared() - 1.0).abs() < 1e-6;
            if !(unit && key.time.is_finite() && key.place.is_finite()) {
                return Err(TrackError::NotAPose { key: number });
            }
        }
        match keys.windows(2).position(|w| w[1].time <= w[0].time) {
            Some(i) => Err(TrackError::OutOfOrder { key: i + 1, time: keys[i + 1].time, after: keys[i].time }),
            None => Ok(Track { keys, ending }),
        }
    }

    /// The places of its keys, metres.
    pub fn places(&self) -> impl Iterator<Item = DVec3> + '_ {
        self.keys.iter().map(|key| key.place)
    }

    /// Place and orientation at `time`.
    #[must_use]
    pub fn pose(&self, time: f64) -> (DVec3, DQuat) {
        let time = self.folded(time);
        let next = self.keys.partition_point(|k| k.time <= time);
        if next == 0 || next == self.keys.len() {
            let key = &self.keys[next.saturating_sub(1).min(self.keys.len() - 1)];
            return (key.place, key.orientation);
        }
        let (from, to) = (&self.keys[next - 1], &self.keys[next]);
        let part = (time - from.time) / (to.time - from.time);
        let turn = turning::between(from.orientation, to.orientation) * part;
        (from.place + (to.place - from.place) * part, turning::onward(from.orientation, turn))
    }

    /// The time between the first key and the last that this one amounts to.
    fn folded(&self, time: f64) -> f64 {
        let (first, last) = (self.keys[0].time, self.keys[self.keys.len() - 1].time);
        let (span, into) = (last - first, time - first);
        // Before its first key it waits there.
        if span == 0.0 || into <= span {
            return time;
        }
        match self.ending {
            Ending::Stay => time,
            Ending::Again => first + into.rem_euclid(span),
            Ending::Back => last - (into.rem_euclid(2.0 * span) - span).abs(),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn endings_stay_begin_again_or_go_back() {
        let keys = || vec![Key::at(1.0, DVec3::ZERO), Key::at(2.0, DVec3::X), Key::at(5.0, DVec3::X * 4.0)];
        let at = |ending, time| Track::new(keys(), ending).unwrap().pose(time).0.x;
        for ending in [Ending::Stay, Ending::Again, Ending::Back] {
            assert_eq!((at(ending, 1.0), at(ending, 1.5), at(ending, 3.0), at(ending, 5.0)), (0.0, 0.5, 2.0, 4.0));
        }
        assert_eq!((at(Ending::Stay, 9.0), at(Ending::Stay, -3.0)), (4.0, 0.0));
        assert_eq!((at(Ending::Again, 5.5), at(Ending::Again, 0.0)), (0.5, 0.0));
        assert_eq!((at(Ending::Back, 6.0), at(Ending::Back, 9.5), at(Ending::Back, 0.0)), (3.0, 0.5, 0.0));
        let none = Track::new(vec![], Ending::Stay);
        assert_eq!(none, Err(TrackError::NoKeys));
        let late = Track::new(vec![Key::at(1.0, DVec3::ZERO); 2], Ending::Stay);
        assert_eq!(late, Err(TrackError::OutOfOrder { key: 1, time: 1.0, after: 1.0 }));
        let bent = Key::at(0.0, DVec3::ZERO).turned(DQuat::from_xyzw(1.0, 1.0, 0.0, 0.0));
        assert_eq!(Track::new(vec![bent], Ending::Stay), Err(TrackError::NotAPose { key: 0 }));
    }

    #[test]
    fn half_the_time_is_half_the_turn() {
        let (from, to) = (DQuat::from_rotation_z(0.4), DQuat::from_rotation_z(2.4));
        let keys = vec![Key::at(0.0, DVec3::ZERO).turned(from), Key::at(2.0, DVec3::ZERO).turned(to)];
        let half = Track::new(keys, Ending::Stay).unwrap().pose(1.0).1;
        assert!((half * DVec3::X - DQuat::from_rotation_z(1.4) * DVec3::X).length() < 1e-12, "{half}");
    }
}
