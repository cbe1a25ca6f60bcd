//! Time in whole units that common tick rates divide, and the ends of ticks.

use fastrand::Rng;

/// Units a second. Whole multiples of it are 24, 30, 60, 144, 240 and 1000 Hz.
pub const UNITS: i64 = 705_600_000;

/// How ticks follow each other.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Ticks {
    /// So many a second, 4 to 10,000.
    Rate(f64),
    /// Lengths of 1 to 50 ms by a seed, each second ending with a tick.
    Random(u64),
}

impl Ticks {
    /// The rates that walks are compared at, with random lengths last. The first is the one that the others are compared with.
    pub const COMPARED: [Ticks; 8] = [
        Ticks::Rate(1000.0),
        Ticks::Rate(15.0),
        Ticks::Rate(37.0),
        Ticks::Rate(60.0),
        Ticks::Rate(101.0),
        Ticks::Rate(144.0),
        Ticks::Rate(333.0),
        Ticks::Random(7),
    ];

    /// The end of each tick in units, up to `seconds`.
    pub fn ends(self, seconds: u32) -> impl Iterator<Item = i64> {
        let last = i64::from(seconds) * UNITS;
        let mut rng = Rng::with_seed(if let Ticks::Random(seed) = self { seed } else { 0 });
        let (mut number, mut end) = (0u64, 0i64);
        std::iter::from_fn(move || {
            if end >= last {
                return None;
            }
            number += 1;
            end = match self {
                Ticks::Rate(rate) => (number as f64 / rate * UNITS as f64).round() as i64,
                Ticks::Random(_) => {
                    let next_second = (end / UNITS + 1) * UNITS;
                    (end + UNITS / 1000 * rng.i64(1..=50)).min(next_second)
                }
            };
            end = end.min(last);
            Some(end)
        })
    }
}

impl std::fmt::Display for Ticks {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match self {
            Ticks::Rate(rate) => write!(f, "{rate} Hz"),
            Ticks::Random(_) => write!(f, "random ticks"),
        }
    }
}

/// Seconds of a number of units.
#[must_use]
pub fn seconds(units: i64) -> f64 {
    units as f64 / UNITS as f64
}
