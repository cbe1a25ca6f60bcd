//! Every number a designer sets, and what follows from it.

mod choice;
mod climb;
mod contradictions;
mod error;
mod field;
mod hover;
mod impact;
mod presets;
mod stances;
mod swim;
mod tables;
mod values;

pub use choice::{CHOICES, Choice};
pub use climb::{Climb, Ledge, Takes, Vault};
pub use error::TuningError;
pub use field::{FIELDS, Field};
pub use hover::{Holds, Hover};
pub use impact::Impact;
pub use stances::{Allows, Aloft, Along, Anchor, LowStance, Rise, Slide, Stances};
pub use swim::{Steers, Submerged, Swim};
pub use values::{
    Dash, Gait, InAir, Jump, OnGround, Size, Sprint, Stick, Toward, TuningValues, Turn, WallJump, WallSlide, Ways,
};

use crate::fingerprint::Fingerprint;
use crate::limits::Limits;
use crate::motion::Leap;
use crate::shape::{Form, Shape};
use crate::stance::Stance;

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
    /// Gravity of a jump on its way up, and on its way down.
    rise: Leap,
    fall: Leap,
    /// The part of the rising gravity's height that is left when the button is let go at take-off.
    tapped: f64,
    limits: Limits,
    /// By stance.
    shapes: [Shape; 3],
    /// A hash of the values.
    stamp: u64,
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
                if field.whole && value.fract() != 0.0 {
                    return Err(TuningError::NotWhole { field, value });
                }
            }
        }
        contradictions::check(&values)?;
        let limits = Limits {
            least_up: libm::cosf(values.ground.steepest.to_radians()),
            least_up_to_stay: libm::cosf((values.ground.steepest + MORE_TO_STAY).to_radians()),
            overhang: values.ground.overhang * values.size.radius,
            step: values.ground.step,
            evenly: false,
            rolls: false,
        };
        let shapes = Stance::ALL.map(|stance| shape_in(&values, stance));
        let (rise, fall) = leaps(&values);
        let tapped = values.jump.and_then(|j| Some(f64::from(j.tap_height?) / f64::from(j.height)));
        let stamp = stamp(&values);
        Ok(Tuning { values, rise, fall, tapped: tapped.unwrap_or(1.0), limits, shapes, stamp })
    }

    /// The numbers it was made from.
    #[must_use]
    pub fn values(&self) -> &TuningValues {
        &self.values
    }

    /// The speed at take-off that the jump height and its time ask for, m/s; 0 without a jump.
    #[must_use]
    pub fn take_off_speed(&self) -> f64 {
        self.values.jump.map_or(0.0, |jump| self.take_off_to(f64::from(jump.height)))
    }

    /// The speed at take-off of a jump of another height, m/s, that rises with the same gravity.
    #[must_use]
    pub fn take_off_to(&self, height: f64) -> f64 {
        self.rise.speed_over(height)
    }

    /// Gravity while a jump rises, m/s².
    #[must_use]
    pub fn rising_gravity(&self) -> f64 {
        self.rise.gravity
    }

    /// Gravity while a jump rises on after its button was let go, m/s².
    #[must_use]
    pub fn released_gravity(&self) -> f64 {
        self.rise.gravity / self.tapped
    }

    /// Gravity of every fall, m/s².
    #[must_use]
    pub fn falling_gravity(&self) -> f64 {
        self.fall.gravity
    }

    /// The shape of the character standing.
    #[must_use]
    pub fn shape(&self) -> Shape {
        self.shape_in(Stance::Stand)
    }

    /// The shape of the character in a stance; standing, where the tuning has no such stance.
    #[must_use]
    pub fn shape_in(&self, stance: Stance) -> Shape {
        self.shapes[stance as usize]
    }

    /// How high over the feet the eyes are in a stance, metres.
    #[must_use]
    pub fn eyes_in(&self, stance: Stance) -> f32 {
        self.low(stance).map_or(self.values.size.eyes, |low| low.eyes) * self.shape_in(stance).height
    }

    /// The shape that goes with eyes at this height over the feet: between two stances, as much of each as the eyes are between theirs.
    pub(crate) fn shape_seen_from(&self, eyes: f32) -> Shape {
        let mut above = Stance::Stand;
        for stance in [Stance::Crouch, Stance::Prone].into_iter().filter(|s| self.low(*s).is_some()) {
            let (high, low) = (self.eyes_in(above), self.eyes_in(stance));
            if eyes >= low && high > low {
                let part = ((eyes - low) / (high - low)).min(1.0);
                return self.shape_in(stance).toward(&self.shape_in(above), part);
            }
            above = stance;
        }
        self.shape_in(above)
    }

    /// The numbers of a low stance; `None` for standing, and for one that the tuning does not have.
    #[must_use]
    pub fn low(&self, stance: Stance) -> Option<&LowStance> {
        low(&self.values, stance)
    }

    pub(crate) fn rise(&self) -> Leap {
        self.rise
    }

    pub(crate) fn fall(&self) -> Leap {
        self.fall
    }

    pub(crate) fn stamp(&self) -> u64 {
        self.stamp
    }

    /// Limits of ground in a stance.
    pub(crate) fn limits_in(&self, stance: Stance) -> Limits {
        let Shape { radius, height, .. } = self.shape_in(stance);
        let overhang = self.values.ground.overhang * radius;
        Limits { overhang, step: self.limits.step.min(0.5 * height), ..self.limits }
    }
}

fn low(values: &TuningValues, stance: Stance) -> Option<&LowStance> {
    match stance {
        Stance::Stand => None,
        Stance::Crouch => values.crouch.as_ref(),
        Stance::Prone => values.prone.as_ref(),
    }
}

fn shape_in(values: &TuningValues, stance: Stance) -> Shape {
    let Size { form, radius, height, .. } = values.size;
    let Some(low) = low(values, stance) else { return Shape { form, radius, height } };
    let part = if stance == Stance::Prone { 1.0 / 3.0 } else { 2.0 / 3.0 };
    let height = low.height.unwrap_or(height * part);
    let most = if form == Form::Capsule { 0.5 * height } else { f32::INFINITY };
    Shape { form, radius: low.radius.unwrap_or(radius.min(most)), height }
}

/// How much steeper than the steepest, degrees, what is stood on already may be: the very limit is one or the other.
const MORE_TO_STAY: f32 = 0.008;

/// Gravity up and down, as the jump asks for it, else as the air says.
fn leaps(values: &TuningValues) -> (Leap, Leap) {
    let gravity = f64::from(values.air.gravity);
    let Some(jump) = values.jump else {
        let plain = Leap { gravity, hang_speed: 0.0, hang_gravity: 1.0 };
        return (plain, plain);
    };
    let (hang_speed, hang_gravity) = (f64::from(jump.hang_speed), f64::from(jump.hang_gravity));
    let leap = |time: Option<f32>| match time {
        Some(time) => Leap::timed(f64::from(jump.height), f64::from(time), hang_speed, hang_gravity),
        None => Leap { gravity, hang_speed, hang_gravity },
    };
    (leap(jump.time_to_top), leap(jump.time_down))
}

fn stamp(values: &TuningValues) -> u64 {
    let mut print = Fingerprint::new();
    FIELDS.iter().for_each(|field| print.u64((field.get)(values).map_or(u64::MAX, |v| u64::from(v.to_bits()))));
    CHOICES.iter().for_each(|choice| print.u64((choice.get)(values).map_or(u64::MAX, |i| i as u64)));
    print.value()
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Room for every field's range, so that no contradiction hides the one under test.
    fn roomy() -> TuningValues {
        let jump = Jump { height: 1000.0, time_to_top: Some(0.4), ..Jump::default() };
        let gait = Gait { moving: 1000.0, still: 0.0, ..Gait::default() };
        let size = Size { height: 200.0, radius: 0.01, ..presets::walker().size };
        TuningValues { jump: Some(jump), gait, size, ..presets::walker() }
    }

    #[test]
    fn every_field_is_checked_at_its_ends_and_just_beyond() {
        let beyond = |end: f32, way: f32| match end {
            0.0 => way * f32::from_bits(1),
            end => f32::from_bits(end.to_bits().wrapping_add_signed(if way * end > 0.0 { 1 } else { -1 })),
        };
        for field in FIELDS {
            let with = |value: f32| {
                let mut values = roomy();
                (field.set)(&mut values, value);
                assert_eq!((field.get)(&values).map(f32::to_bits), Some(value.to_bits()), "{}", field.path);
                Tuning::new(values)
            };
            let (under, over) = (beyond(field.least, -1.0), beyond(field.most, 1.0));
            for bad in [f32::NAN, f32::INFINITY, f32::NEG_INFINITY, under, over, field.least - 1.0] {
                match with(bad) {
                    Err(TuningError::OutOfRange { field: named, .. }) => assert_eq!(named.path, field.path),
                    other => panic!("{} = {bad}: {other:?}", field.path),
                }
            }
            for good in [field.least, field.most] {
                let kept = with(good);
                let refused = matches!(kept, Err(TuningError::OutOfRange { .. } | TuningError::NotWhole { .. }));
                assert!(!refused, "{} = {good}: {kept:?}", field.path);
            }
            let half = matches!(with(field.least + 0.5), Err(TuningError::NotWhole { field: f, .. }) if f == field);
            assert_eq!(half, field.whole, "{}", field.path);
        }
    }

    #[test]
    fn every_choice_can_be_made_and_no_two_paths_are_the_same() {
        for choice in CHOICES {
            for (place, word) in choice.words.iter().enumerate() {
                let mut values = roomy();
                (choice.set)(&mut values, place);
                assert_eq!((choice.get)(&values), Some(place), "{} = {word}", choice.path);
                assert!(Tuning::new(values).is_ok());
            }
        }
        let mut paths: Vec<_> = FIELDS.iter().map(|f| f.path).chain(CHOICES.iter().map(|c| c.path)).collect();
        paths.sort_unstable();
        assert!(paths.windows(2).all(|two| two[0] != two[1]));
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
        assert_eq!(
            refused(|v| v.stick.dead_zone = 0.9 * std::mem::replace(&mut v.stick.full_zone, 0.8)),
            "stick.dead_zone"
        );
        assert_eq!(refused(|v| v.gait.still = 0.3), "gait.still");
        assert_eq!(
            refused(|v| v.dash = Some(Dash { distance: 1000.0, time: 0.05, ..Dash::default() })),
            "dash.distance"
        );
        let low = |height, radius| Some(LowStance { height: Some(height), radius, ..LowStance::crouch() });
        let slide = |change: fn(&mut Slide)| {
            let mut slide = Slide::default();
            change(&mut slide);
            let values = TuningValues { slide: Some(slide), ..presets::walker() };
            Tuning::new(values).map_err(|e| e.field())
        };
        let crouched =
            |crouch, prone| Tuning::new(TuningValues { crouch, prone, ..presets::walker() }).map_err(|e| e.field());
        assert_eq!(crouched(low(1.9, None), None), Err("crouch.height"));
        assert_eq!(crouched(low(1.0, None), low(1.1, None)), Err("prone.height"));
        assert_eq!(crouched(low(1.0, Some(0.6)), None), Err("crouch.radius"));
        assert!(
            crouched(None, low(0.4, None)).is_ok_and(|t| t.shape_in(Stance::Prone).radius == 0.2),
            "as round as fits"
        );
        assert_eq!(slide(|s| s.ends_below = 5.1), Err("slide.ends_below"));
        assert_eq!(slide(|s| s.fastest = 4.9), Err("slide.fastest"));
        assert_eq!(refused(|v| (v.crouch, v.slide) = (None, Some(Slide::default()))), "slide.from");
        assert_eq!(refused(|v| (v.air.gravity, v.jump) = (0.0, Some(Jump::default()))), "jump.height");
        let jump = |change: fn(&mut Jump)| {
            let mut values = presets::walker();
            change(values.jump.as_mut().unwrap());
            Tuning::new(values).unwrap_err().field()
        };
        assert_eq!(jump(|j| j.tap_height = Some(2.0)), "jump.tap_height");
        assert_eq!(jump(|j| (j.height, j.time_down) = (0.0, Some(0.3))), "jump.time_down");
        assert_eq!(jump(|j| j.hang_speed = 9.0), "jump.hang_speed");
    }

    #[test]
    fn a_jump_is_given_by_what_it_achieves() {
        let mut values = presets::walker();
        let jump = Jump { height: 1.25, time_to_top: Some(0.5), time_down: Some(0.25), ..Jump::default() };
        values.jump = Some(Jump { tap_height: Some(0.25), ..jump });
        let tuning = Tuning::new(values).unwrap();
        assert!((tuning.take_off_speed() - 5.0).abs() < 1e-12 && (tuning.rising_gravity() - 10.0).abs() < 1e-12);
        assert!((tuning.falling_gravity() - 40.0).abs() < 1e-12 && (tuning.released_gravity() - 50.0).abs() < 1e-12);
    }
}
