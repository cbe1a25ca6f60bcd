//! What a tuning really does: simulated on built-in grounds, beside what its formulas say.

mod abilities;
mod forces;
mod formula;
mod gaps;
mod grounds;
mod jumping;
mod obstacles;
mod sensitivity;
mod stances;
mod swimming;
mod trial;
mod walking;

pub(crate) use gaps::gaps;
pub use gaps::{Gap, Gaps, Start};
pub(crate) use jumping::{Arc, arcs};
pub use obstacles::obstacles;
pub use obstacles::{Approach, Band, Obstacles, Passage};
pub use sensitivity::{Sensitivity, sensitivity};
pub(crate) use stances::{Slid, slid};
pub(crate) use trial::Sample;
pub(crate) use walking::paced;

use std::fmt;

use newel::Tuning;
use serde::Serialize;

/// One figure of a tuning.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Outcome {
    /// What it is.
    pub name: &'static str,
    /// Its unit.
    pub unit: &'static str,
    /// As simulated; `None` where it never came to that.
    pub measured: Option<f64>,
    /// As the numbers of the tuning say; `None` where there is no formula.
    pub formula: Option<f64>,
    /// True where the two differ by more than they should.
    pub flagged: bool,
}

/// All figures of a tuning.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Measure {
    /// In the order to read them.
    pub outcomes: Vec<Outcome>,
}

/// Figures this near to each other, as a part, are the same.
const SAME: f64 = 1e-3;

impl Outcome {
    pub(crate) fn new(name: &'static str, unit: &'static str, measured: Option<f64>, formula: Option<f64>) -> Outcome {
        // A formula without an answer, such as the time of a jump without gravity, says nothing.
        let formula = formula.filter(|f| f.is_finite());
        let flagged = match (measured, formula) {
            (Some(found), Some(said)) => (found - said).abs() > SAME * said.abs().max(0.01),
            (None, Some(_)) => true,
            _ => false,
        };
        Outcome { name, unit, measured, formula, flagged }
    }
}

/// Simulates a tuning on built-in grounds.
#[must_use]
pub fn measure(tuning: &Tuning) -> Measure {
    let on_foot = &on_foot(tuning);
    let mut outcomes = walking::outcomes(on_foot);
    outcomes.extend(jumping::outcomes(on_foot));
    outcomes.extend(gaps::outcomes(on_foot));
    outcomes.extend(obstacles::outcomes(tuning));
    outcomes.extend(abilities::outcomes(on_foot));
    outcomes.extend(stances::outcomes(on_foot));
    outcomes.extend(forces::outcomes(on_foot));
    outcomes.extend(swimming::outcomes(on_foot));
    Measure { outcomes }
}

/// The same without its hands: what would be got up onto is a step too high, and a gap whose far edge it would hang from is too wide.
pub(crate) fn on_foot(tuning: &Tuning) -> Tuning {
    let values = newel::TuningValues { climb: None, ledge: None, vault: None, ..*tuning.values() };
    Tuning::new(values).unwrap_or(*tuning)
}

impl Measure {
    /// The figure of this name, if it was measured.
    pub fn figure(&self, name: &str) -> Option<f64> {
        self.outcomes.iter().find(|o| o.name == name)?.measured
    }

    /// How many figures differ from their formula.
    pub fn flagged(&self) -> usize {
        self.outcomes.iter().filter(|o| o.flagged).count()
    }
}

/// A figure with as many digits as say something.
pub fn figure(value: f64) -> String {
    let digits = if value.abs() >= 100.0 { 1 } else { 3 };
    format!("{value:.digits$}")
}

impl fmt::Display for Outcome {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let words = |v: Option<f64>| v.map_or("-".to_owned(), figure);
        write!(f, "{}: {} {} ({})", self.name, words(self.measured), self.unit, words(self.formula))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_differs_by_more_than_a_thousandth_is_flagged() {
        let flagged = |measured, formula| Outcome::new("x", "m", measured, formula).flagged;
        assert!(!flagged(Some(1.0005), Some(1.0)) && flagged(Some(1.002), Some(1.0)));
        assert!(flagged(None, Some(1.0)), "it never came to that");
        assert!(!flagged(Some(1.0), None) && !flagged(None, None));
        assert!(flagged(Some(0.01), Some(0.0)));
    }
}
