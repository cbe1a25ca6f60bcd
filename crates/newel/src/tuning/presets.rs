//! Tunings to start from.

use super::{InAir, Jump, OnGround, Size, Tuning, TuningValues, Turn};
use crate::shape::Form;

/// A plain grown-up on foot: what a field is when nothing else is said.
pub(super) fn walker() -> TuningValues {
    TuningValues {
        size: Size { form: Form::Capsule, height: 1.8, radius: 0.3 },
        ground: OnGround {
            speed: 4.5,
            acceleration: 30.0,
            deceleration: 35.0,
            steepest: 45.0,
            step: 0.35,
            overhang: 0.5,
            uphill: 1.0,
            downhill: 1.0,
            step_loss: 0.0,
            fly_off: None,
        },
        air: InAir { gravity: 18.0, acceleration: 10.0, deceleration: 2.0, carried: 1.0 },
        jump: Some(Jump { height: 1.1, time_to_top: Some(0.38) }),
        turn: Turn { rate: 720.0 },
    }
}

/// Boots and a pack: takes its time to get going, and lands where it aimed.
fn heavy_explorer() -> TuningValues {
    TuningValues {
        size: Size { form: Form::Capsule, height: 1.85, radius: 0.34 },
        ground: OnGround {
            speed: 4.0,
            acceleration: 14.0,
            deceleration: 18.0,
            steepest: 42.0,
            step: 0.4,
            overhang: 0.5,
            uphill: 1.0,
            downhill: 1.0,
            step_loss: 0.0,
            fly_off: None,
        },
        air: InAir { gravity: 20.0, acceleration: 5.0, deceleration: 1.0, carried: 1.0 },
        jump: Some(Jump { height: 0.9, time_to_top: Some(0.34) }),
        turn: Turn { rate: 420.0 },
    }
}

impl Tuning {
    /// A plain grown-up on foot.
    ///
    /// # Panics
    /// Never: the numbers are checked by a test.
    #[must_use]
    pub fn walker() -> Tuning {
        Tuning::new(walker()).expect("checked by a test")
    }

    /// Boots and a pack: takes its time to get going, and lands where it aimed.
    ///
    /// # Panics
    /// Never: the numbers are checked by a test.
    #[must_use]
    pub fn heavy_explorer() -> Tuning {
        Tuning::new(heavy_explorer()).expect("checked by a test")
    }

    /// The preset of this name, and `None` for an unknown one; the names are in [`Tuning::PRESETS`].
    #[must_use]
    pub fn preset(name: &str) -> Option<Tuning> {
        match name {
            "walker" => Some(Tuning::walker()),
            "heavy_explorer" => Some(Tuning::heavy_explorer()),
            _ => None,
        }
    }

    /// The names of the presets.
    pub const PRESETS: &'static [&'static str] = &["walker", "heavy_explorer"];
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_preset_is_valid() {
        for name in Tuning::PRESETS {
            assert!(Tuning::preset(name).is_some(), "{name}");
        }
        assert!(Tuning::preset("no such").is_none());
    }
}
