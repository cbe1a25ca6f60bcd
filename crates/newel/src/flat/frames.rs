//! Jumps and speeds given per frame in pixels, as simple games state them.
//!
//! Such a game adds to a velocity and then to a position, once a frame. After `n` frames the feet are `n v + g n (n ± 1) / 2` pixels
//! higher, `g` being negative: plus where the velocity changes first, minus where the position does. That is a parabola, so a tuning with
//! its speed and its gravity is at the same heights at the end of every frame, and between them at any tick rate.

use super::Scale;
use crate::error::TickError;
use crate::tuning::TuningValues;

/// The change that comes first in a frame.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum FrameOrder {
    /// Gravity changes the velocity, and the new velocity the position.
    #[default]
    VelocityFirst,
    /// The velocity changes the position, and then gravity the velocity.
    PositionFirst,
}

/// A scale and a frame rate in which a game states its numbers.
///
/// ```
/// use newel::flat::{FrameOrder, Frames, Scale};
/// use newel::{Tuning, TuningValues};
/// let frames = Frames::new(Scale::new(16.0)?, 60.0, FrameOrder::VelocityFirst)?;
/// let mut values = TuningValues::default();
/// values.ground.speed = frames.speed(1.5);
/// frames.set_jump(&mut values, 4.0, 0.25)?;
/// let tuning = Tuning::new(values)?;
/// assert_eq!(tuning.values().ground.speed, 5.625);
/// // 4 - 0.25 + 3.75 - 0.25 ... = 30 pixels; the parabola through those heights tops out between two frames.
/// assert!((tuning.values().jump.unwrap().height * 16.0 - 30.03).abs() < 0.01);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Frames {
    scale: Scale,
    rate: f64,
    order: FrameOrder,
}

/// The most frames a second.
const MOST: f64 = 10_000.0;

impl Frames {
    /// So many frames a second, over 0 and at most 10,000.
    ///
    /// # Errors
    /// [`TickError::NotOverZero`] for any other number.
    pub fn new(scale: Scale, rate: f64, order: FrameOrder) -> Result<Frames, TickError> {
        if rate > 0.0 && rate <= MOST {
            return Ok(Frames { scale, rate, order });
        }
        Err(TickError::NotOverZero { field: "frames.rate", value: rate, most: MOST })
    }

    /// Pixels a frame, in m/s.
    #[must_use]
    pub fn speed(&self, pixels: f64) -> f32 {
        (self.scale.metres(pixels) * self.rate) as f32
    }

    /// Pixels a frame more in every frame, in m/s²: for accelerations and gravity.
    #[must_use]
    pub fn acceleration(&self, pixels: f64) -> f32 {
        (self.scale.metres(pixels) * self.rate * self.rate) as f32
    }

    /// Has a tuning jump and fall as a game whose jumps take off at `speed` pixels a frame and whose gravity takes `gravity` of that in every
    /// frame, both over 0. From a press at the start of a tick, its heights at the ends of frames are the game's to a hundredth of a pixel.
    /// The rest of the jump's tuning stays.
    ///
    /// # Errors
    /// [`TickError::OutOfRange`] where the feet would not rise.
    pub fn set_jump(&self, values: &mut TuningValues, speed: f64, gravity: f64) -> Result<(), TickError> {
        let half = match self.order {
            FrameOrder::VelocityFirst => -0.5 * gravity,
            FrameOrder::PositionFirst => 0.5 * gravity,
        };
        // The speed of the parabola at the moment of take-off, and not that of the first frame.
        let take_off = speed + half;
        if !(gravity > 0.0 && take_off > 0.0 && take_off.is_finite()) {
            let least = gravity.max(0.0) - half.max(0.0);
            return Err(TickError::OutOfRange {
                field: "frames.jump (its speed)",
                value: speed,
                least,
                most: f64::MAX,
            });
        }
        let mut jump = values.jump.unwrap_or_default();
        jump.height = self.scale.metres(take_off * take_off / (2.0 * gravity)) as f32;
        (jump.time_to_top, jump.time_down) = (None, None);
        values.jump = Some(jump);
        values.air.gravity = self.acceleration(gravity);
        Ok(())
    }
}
