//! Every number a designer sets, and what follows from it.

mod field;
mod presets;

pub use field::{FIELDS, Field};

use crate::contact::ground::Limits;
use crate::fingerprint::Fingerprint;
use crate::shape::{Form, Shape};

/// The raw numbers of a [`Tuning`]: metres, seconds, degrees. Change what you like, then [`Tuning::new`] checks it all.
///
/// Ranges stand in [`FIELDS`], with what each number means.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct TuningValues {
    /// How large the character is.
    pub size: Size,
    /// Moving on the ground.
    pub ground: OnGround,
    /// Moving in the air.
    pub air: InAir,
    /// Jumping; without it there is no jump.
    pub jump: Option<Jump>,
    /// Turning the body.
    pub turn: Turn,
}

/// How large the character is.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct Size {
    /// Capsule, or box for a character that keeps to a plane.
    pub form: Form,
    /// Height from the feet to the top of the head, metres.
    pub height: f32,
    /// Radius of the capsule, or half the width of the box, metres.
    pub radius: f32,
}

/// Moving on the ground.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct OnGround {
    /// Top speed along the ground, metres per second.
    pub speed: f32,
    /// How fast speed is gained, metres per second squared.
    pub acceleration: f32,
    /// How fast speed is lost without input, metres per second squared.
    pub deceleration: f32,
    /// The steepest slope that can be walked on, degrees.
    pub steepest: f32,
    /// The highest step that is taken in stride, up or down, metres.
    pub step: f32,
    /// How much of the radius the foot's middle may be beyond an edge before it slips off, 0 to 1.
    pub overhang: f32,
    /// How much of the top speed there is straight up the steepest slope that can be walked on, as a factor; on gentler
    /// slopes, and on a slant, in proportion to the rise.
    pub uphill: f32,
    /// The same straight down it.
    pub downhill: f32,
    /// How much of the speed a step of the full step height costs, 0 to 1; lower ones cost in proportion.
    pub step_loss: f32,
    /// How high over the ground a crest may throw it, metres, before it flies off; it always holds on if left out.
    pub fly_off: Option<f32>,
}

/// Moving in the air.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct InAir {
    /// How fast falling gains speed, metres per second squared.
    pub gravity: f32,
    /// How fast speed across is gained toward the heading, metres per second squared.
    pub acceleration: f32,
    /// How fast speed across is lost without input, metres per second squared.
    pub deceleration: f32,
    /// How much of a moving body's velocity is kept on leaving it, 0 to 1.
    pub carried: f32,
}

/// Jumping.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields))]
pub struct Jump {
    /// How high the feet rise, metres.
    pub height: f32,
    /// How long it takes to get there, seconds; if left out, as long as the air's gravity makes it take.
    #[cfg_attr(feature = "serde", serde(default))]
    pub time_to_top: Option<f32>,
}

/// Turning the body.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct Turn {
    /// How fast the body turns toward where it is heading, degrees per second.
    pub rate: f32,
}

impl Default for TuningValues {
    fn default() -> TuningValues {
        presets::walker()
    }
}
impl Default for Size {
    fn default() -> Size {
        presets::walker().size
    }
}
impl Default for OnGround {
    fn default() -> OnGround {
        presets::walker().ground
    }
}
impl Default for InAir {
    fn default() -> InAir {
        presets::walker().air
    }
}
impl Default for Turn {
    fn default() -> Turn {
        presets::walker().turn
    }
}

/// A checked set of numbers, ready for use and immutable.
///
/// ```
/// use newel::{Tuning, TuningValues};
/// let mut values = TuningValues::default();
/// values.ground.speed = 5.5;
/// let tuning = Tuning::new(values)?;
/// assert_eq!(tuning.values().ground.speed, 5.5);
///
/// values.ground.speed = -1.0;
/// let why = Tuning::new(values).unwrap_err();
/// assert_eq!(why.to_string(), "ground.speed is -1 m/s: 0 to 1000 is allowed (top speed along the ground)");
/// # Ok::<(), newel::TuningError>(())
/// ```
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Tuning {
    values: TuningValues,
    take_off: f64,
    rising_gravity: f64,
    limits: Limits,
    /// A hash of the values.
    stamp: u64,
}

/// Why a tuning was refused.
#[derive(Clone, Debug, PartialEq)]
#[non_exhaustive]
pub enum TuningError {
    /// A number is out of its range, or not a number.
    OutOfRange {
        /// Which field it is, and what it allows.
        field: &'static Field,
        /// The value it was given.
        value: f32,
    },
    /// Two numbers contradict each other.
    Contradiction {
        /// The field to change.
        field: &'static str,
        /// The value it was given.
        value: f32,
        /// What is wrong and what would be right, as a sentence.
        reason: &'static str,
        /// The bound that the value breaks.
        bound: f32,
    },
}

impl core::fmt::Display for TuningError {
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        match self {
            TuningError::OutOfRange { field, value } => write!(
                f,
                "{} is {value}{}: {} to {} is allowed ({})",
                field.path,
                if field.unit.is_empty() { String::new() } else { format!(" {}", field.unit) },
                field.least,
                field.most,
                field.meaning
            ),
            TuningError::Contradiction { field, value, reason, bound } => {
                write!(f, "{field} is {value}: {reason} ({bound})")
            }
        }
    }
}

impl core::error::Error for TuningError {}

impl TuningError {
    /// The field to change, as in [`Field::path`].
    #[must_use]
    pub fn field(&self) -> &'static str {
        match self {
            TuningError::OutOfRange { field, .. } => field.path,
            TuningError::Contradiction { field, .. } => field,
        }
    }
}

impl Tuning {
    /// Checks `values` and works out what follows from them.
    ///
    /// # Errors
    /// [`TuningError`] names the first field that is out of range or contradicts another.
    pub fn new(values: TuningValues) -> Result<Tuning, TuningError> {
        for field in FIELDS {
            if let Some(value) = (field.get)(&values) {
                if !(value >= field.least && value <= field.most) {
                    return Err(TuningError::OutOfRange { field, value });
                }
            }
        }
        check_contradictions(&values)?;
        let gravity = f64::from(values.air.gravity);
        let (take_off, rising_gravity) = match values.jump {
            Some(Jump { height, time_to_top: Some(time) }) => {
                let (height, time) = (f64::from(height), f64::from(time));
                (2.0 * height / time, 2.0 * height / (time * time))
            }
            Some(Jump { height, time_to_top: None }) => ((2.0 * gravity * f64::from(height)).sqrt(), gravity),
            None => (0.0, gravity),
        };
        let limits = Limits {
            least_up: libm::cosf(values.ground.steepest.to_radians()),
            overhang: values.ground.overhang * values.size.radius,
            step: values.ground.step,
        };
        let mut print = Fingerprint::new();
        FIELDS.iter().for_each(|field| print.u64((field.get)(&values).map_or(u64::MAX, |v| u64::from(v.to_bits()))));
        print.u64(values.size.form as u64);
        Ok(Tuning { values, take_off, rising_gravity, limits, stamp: print.value() })
    }

    /// The numbers it was made from.
    #[must_use]
    pub fn values(&self) -> &TuningValues {
        &self.values
    }

    /// The speed at take-off that the jump height and its time ask for, m/s; 0 without a jump.
    #[must_use]
    pub fn take_off_speed(&self) -> f64 {
        self.take_off
    }

    /// Gravity while a jump rises, m/s².
    #[must_use]
    pub fn rising_gravity(&self) -> f64 {
        self.rising_gravity
    }

    /// The shape of the character.
    #[must_use]
    pub fn shape(&self) -> Shape {
        let Size { form, radius, height } = self.values.size;
        Shape { form, radius, height }
    }

    pub(crate) fn stamp(&self) -> u64 {
        self.stamp
    }

    pub(crate) fn limits(&self) -> Limits {
        self.limits
    }
}

fn check_contradictions(values: &TuningValues) -> Result<(), TuningError> {
    let Size { height, radius, .. } = values.size;
    if radius * 2.0 > height {
        let reason = "a character is at least as high as it is wide, so at most half of size.height is allowed";
        return Err(TuningError::Contradiction { field: "size.radius", value: radius, reason, bound: height / 2.0 });
    }
    if values.ground.step > height / 2.0 {
        let reason = "a step is at most half as high as the character, so at most half of size.height is allowed";
        return Err(TuningError::Contradiction {
            field: "ground.step",
            value: values.ground.step,
            reason,
            bound: height / 2.0,
        });
    }
    if let Some(Jump { height, time_to_top: None }) = values.jump {
        if values.air.gravity == 0.0 && height > 0.0 {
            let reason = "a jump never tops out without gravity: give jump.time_to_top, or more air.gravity than";
            return Err(TuningError::Contradiction { field: "jump.height", value: height, reason, bound: 0.0 });
        }
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_field_is_checked_at_its_ends_and_just_beyond() {
        for field in FIELDS {
            let with = |value: f32| {
                let mut values =
                    TuningValues { jump: Some(Jump { height: 1.0, time_to_top: Some(0.4) }), ..presets::walker() };
                // Room for every other field's range, so that no contradiction hides the range under test.
                values.size = Size { form: Form::Capsule, height: 200.0, radius: 0.01 };
                (field.set)(&mut values, value);
                Tuning::new(values)
            };
            for bad in [f32::NAN, f32::INFINITY, field.least - 1.0, field.most * 1.001 + 0.001, -f32::INFINITY] {
                match with(bad) {
                    Err(TuningError::OutOfRange { field: named, .. }) => assert_eq!(named.path, field.path),
                    other => panic!("{} = {bad}: {other:?}", field.path),
                }
            }
            for good in [field.least, field.most] {
                let range = with(good);
                assert!(!matches!(range, Err(TuningError::OutOfRange { .. })), "{} = {good}: {range:?}", field.path);
            }
        }
    }

    #[test]
    fn contradictions_name_the_field_to_change() {
        let refused = |change: fn(&mut TuningValues)| {
            let mut values = presets::walker();
            change(&mut values);
            Tuning::new(values).unwrap_err().field()
        };
        assert_eq!(refused(|v| v.size.radius = 1.0), "size.radius");
        assert_eq!(refused(|v| v.ground.step = 1.0), "ground.step");
        let weightless =
            |v: &mut TuningValues| (v.air.gravity, v.jump) = (0.0, Some(Jump { height: 1.0, time_to_top: None }));
        assert_eq!(refused(weightless), "jump.height");
    }

    #[test]
    fn a_jump_is_given_by_what_it_achieves() {
        let mut values = presets::walker();
        values.jump = Some(Jump { height: 1.25, time_to_top: Some(0.5) });
        let tuning = Tuning::new(values).unwrap();
        assert!((tuning.take_off_speed() - 5.0).abs() < 1e-12 && (tuning.rising_gravity() - 10.0).abs() < 1e-12);
    }
}
