//! Why a tuning is refused.

use super::Field;

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
    /// A number that counts something is not whole.
    NotWhole {
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
        /// The problem and the allowed values, as a sentence.
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
            TuningError::NotWhole { field, value } => write!(
                f,
                "{} is {value}: a whole number from {} to {} is allowed ({})",
                field.path, field.least, field.most, field.meaning
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
            TuningError::OutOfRange { field, .. } | TuningError::NotWhole { field, .. } => field.path,
            TuningError::Contradiction { field, .. } => field,
        }
    }
}
