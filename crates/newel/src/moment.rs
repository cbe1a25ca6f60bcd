//! Time in whole units, so that a moment is the same whatever ticks led to it.

/// A second has this many units: a whole number of them is a tick of 24, 25, 30, 50, 60, 100, 120, 144, 240 or 1000 Hz.
const UNITS: f64 = 705_600_000.0;

/// A moment of a character's clock, in units.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) struct Moment(i64);

/// Rounding remainder of a clock, in units: at most half of one.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub(crate) struct Remainder(f64);

impl Moment {
    /// One unit, seconds.
    pub const UNIT: f64 = 1.0 / UNITS;

    /// Motion is decided anew at moments this far apart, 1/60 s: a whole multiple of what is sampled.
    const STRIDE: i64 = 11_760_000;

    /// The moment at which a clock shows so many seconds.
    pub fn at(clock: f64) -> Moment {
        Moment((clock * UNITS).round() as i64)
    }

    /// The clock at this moment, seconds.
    pub fn clock(self) -> f64 {
        self.0 as f64 / UNITS
    }

    /// The moment `seconds` later, to the nearest unit.
    pub fn after(self, seconds: f64) -> Moment {
        Moment(self.0.saturating_add((seconds * UNITS).round() as i64))
    }

    /// The end of a tick of `dt` seconds that begins now, with what the ticks before have left over: however many ticks make up an
    /// hour, it is an hour.
    pub fn end_of_tick(self, dt: f64, left: Remainder) -> (Moment, Remainder) {
        let units = dt * UNITS + left.0;
        let whole = units.round();
        (Moment(self.0.saturating_add(whole as i64)), Remainder(units - whole))
    }

    /// Seconds since an earlier moment.
    pub fn since(self, earlier: Moment) -> f64 {
        (self.0 - earlier.0) as f64 / UNITS
    }

    /// True where motion is decided anew.
    pub fn is_stride(self) -> bool {
        self.0.rem_euclid(Moment::STRIDE) == 0
    }

    /// The next moment at which motion is decided anew.
    pub fn next_stride(self) -> Moment {
        Moment(self.0.div_euclid(Moment::STRIDE).saturating_add(1).saturating_mul(Moment::STRIDE))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_day_of_ticks_is_a_day_at_any_rate() {
        for rate in [15.0, 24.0, 37.0, 59.94, 60.0, 144.0, 333.0, 1000.0] {
            let (mut now, mut left) = (Moment(0), Remainder::default());
            let ticks = (rate * 8640.0) as u64;
            for _ in 0..ticks {
                // A clock is kept in seconds between ticks.
                (now, left) = Moment::at(now.clock()).end_of_tick(1.0 / rate, left);
            }
            assert_eq!(now, Moment::at(ticks as f64 / rate), "{rate} Hz");
        }
    }

    #[test]
    fn strides_are_ahead_and_a_sixtieth_apart() {
        for at in [-3, 0, 1, Moment::STRIDE - 1, Moment::STRIDE, 12_345_678_901] {
            let next = Moment(at).next_stride();
            assert!(next.0 > at && next.0 - at <= Moment::STRIDE && next.0 % Moment::STRIDE == 0, "{at}");
        }
        assert_eq!(Moment(0).next_stride().clock(), 1.0 / 60.0);
    }
}
