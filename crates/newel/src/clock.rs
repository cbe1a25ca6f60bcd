//! The fixed-tick clock: frames of any length in, whole ticks out.

use crate::error::TickError;

/// Owes ticks for the time that passes, and tells how far between two of them it is.
///
/// ```
/// use newel::Clock;
/// let mut clock = Clock::new(60.0)?;
/// let mut ticks = 0;
/// for _frame in 0..144 {
///     clock.pass(1.0 / 144.0)?;
///     while clock.tick() {
///         ticks += 1;
///     }
/// }
/// assert_eq!(ticks, 60, "a second's");
/// # Ok::<(), newel::TickError>(())
/// ```
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Clock {
    /// Factor on passing time, 0 to 100: 0 is a pause, less than 1 slow motion. Ticks keep their
    /// length, so motion is the same.
    pub scale: f64,
    /// At most so many ticks are made up for after a stall, 1 to 1,000; what is owed beyond is forgotten.
    pub most: u32,
    step: f64,
    owed: f64,
}

/// Ticks made up for after a stall, unless a game says otherwise.
const MOST: u32 = 8;

impl Clock {
    /// One of `rate` ticks a second, 4 to 10,000.
    ///
    /// # Errors
    /// [`TickError::OutOfRange`] for any other rate.
    pub fn new(rate: f64) -> Result<Clock, TickError> {
        if !(4.0..=10_000.0).contains(&rate) {
            return Err(TickError::OutOfRange { field: "clock rate", value: rate, least: 4.0, most: 10_000.0 });
        }
        Ok(Clock { scale: 1.0, most: MOST, step: 1.0 / rate, owed: 0.0 })
    }

    /// `frame` seconds have passed, by the player's clock.
    ///
    /// # Errors
    /// [`TickError::OutOfRange`] where the frame, the scale or the most is out of range; nothing has passed then.
    pub fn pass(&mut self, frame: f64) -> Result<(), TickError> {
        let checks = [("frame", frame, 0.0, 1e6), ("clock scale", self.scale, 0.0, 100.0)];
        for (field, value, least, most) in checks {
            if !(least..=most).contains(&value) {
                return Err(TickError::OutOfRange { field, value, least, most });
            }
        }
        let most = self.most.clamp(1, 1000);
        self.owed = (self.owed + frame * self.scale).min(f64::from(most) * self.step);
        Ok(())
    }

    /// True where a tick is due; it is then no longer owed.
    pub fn tick(&mut self) -> bool {
        // Frames that should add up to a tick do, though their sum falls short by a rounding.
        let due = self.owed >= self.step * (1.0 - 1e-9);
        if due {
            self.owed = (self.owed - self.step).max(0.0);
        }
        due
    }

    /// How far the time has come from the last tick to the next, 0 to 1: for drawing between the last two.
    #[must_use]
    pub fn part(&self) -> f64 {
        (self.owed / self.step).clamp(0.0, 1.0)
    }

    /// A tick's length, seconds.
    #[must_use]
    pub fn step(&self) -> f64 {
        self.step
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn due(clock: &mut Clock) -> u32 {
        core::iter::from_fn(|| clock.tick().then_some(1)).sum()
    }

    #[test]
    fn every_frame_rate_makes_every_tick_and_a_stall_is_bounded() {
        for frames in [7u32, 24, 60, 144, 977] {
            let mut clock = Clock::new(50.0).unwrap();
            let mut ticks = 0;
            for _ in 0..frames * 3 {
                clock.pass(1.0 / f64::from(frames)).unwrap();
                ticks += due(&mut clock);
                assert!((0.0..=1.0).contains(&clock.part()));
            }
            assert_eq!(ticks, 150, "{frames} frames a second");
        }
        let mut clock = Clock::new(50.0).unwrap();
        clock.pass(20.0).unwrap();
        assert_eq!((due(&mut clock), clock.part()), (8, 0.0), "a stall");
    }

    #[test]
    fn time_is_slowed_stopped_and_never_turned_back() {
        let mut clock = Clock::new(100.0).unwrap();
        clock.scale = 0.25;
        clock.pass(0.04).unwrap();
        assert_eq!(due(&mut clock), 1);
        clock.scale = 0.0;
        clock.pass(1000.0).unwrap();
        assert_eq!(due(&mut clock), 0);
        let before = clock;
        assert!(clock.pass(-0.1).is_err() && clock.pass(f64::NAN).is_err());
        clock.scale = -1.0;
        assert!(clock.pass(0.1).is_err());
        assert_eq!(Clock { scale: 0.0, ..clock }, before, "what is refused changes nothing");
        assert!(Clock::new(3.0).is_err() && Clock::new(f64::INFINITY).is_err());
    }
}
