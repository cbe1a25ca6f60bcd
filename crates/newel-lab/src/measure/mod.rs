//! Measurement of a tuning: simulated on built-in grounds, beside what its formulas say.

mod abilities;
mod aloft;
mod climbing;
mod feats;
mod forces;
mod formula;
mod gaps;
mod grounds;
mod handling;
mod hands;
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
use rayon::prelude::*;
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

/// One part of a measure, and the tables of a tuning that its figures depend on.
struct Section {
    outcomes: fn(&Tuning) -> Vec<Outcome>,
    /// True where it is measured without hands.
    on_foot: bool,
    tables: &'static [&'static str],
}

const SECTIONS: [Section; 14] = [
    Section {
        outcomes: walking::outcomes,
        on_foot: true,
        tables: &["size", "ground", "sprint", "turn", "stick", "gait", "stance"],
    },
    Section {
        outcomes: handling::outcomes,
        on_foot: true,
        tables: &["size", "ground", "sprint", "turn", "stick", "gait"],
    },
    Section { outcomes: handling::landings, on_foot: true, tables: &["size", "ground", "air", "jump", "impact"] },
    Section {
        outcomes: feats::outcomes,
        on_foot: true,
        tables: &[
            "size",
            "ground",
            "air",
            "jump",
            "sprint",
            "turn",
            "dash",
            "crouch",
            "slide",
            "wall_slide",
            "wall_jump",
            "hover",
            "swim",
        ],
    },
    Section {
        outcomes: hands::outcomes,
        on_foot: false,
        tables: &["size", "ground", "air", "jump", "sprint", "climb", "ledge", "vault", "turn", "crouch"],
    },
    Section {
        outcomes: jumping::outcomes,
        on_foot: true,
        tables: &["size", "ground", "air", "jump", "impact", "turn", "gait"],
    },
    Section {
        outcomes: aloft::outcomes,
        on_foot: true,
        tables: &["size", "ground", "air", "jump", "sprint", "wall_slide", "wall_jump", "impact", "turn"],
    },
    Section {
        outcomes: gaps::outcomes,
        on_foot: true,
        tables: &["size", "ground", "air", "jump", "sprint", "wall_slide", "wall_jump"],
    },
    Section {
        outcomes: obstacles::outcomes,
        on_foot: false,
        tables: &["size", "ground", "air", "jump", "climb", "ledge", "vault", "turn"],
    },
    Section {
        outcomes: abilities::outcomes,
        on_foot: true,
        tables: &["size", "ground", "air", "jump", "wall_slide", "wall_jump", "dash", "turn"],
    },
    Section { outcomes: climbing::outcomes, on_foot: false, tables: &["size", "ground", "climb", "ledge", "turn"] },
    Section {
        outcomes: stances::outcomes,
        on_foot: true,
        tables: &["size", "ground", "sprint", "stance", "crouch", "prone", "slide", "turn"],
    },
    Section {
        outcomes: forces::outcomes,
        on_foot: true,
        tables: &["size", "ground", "air", "jump", "impact", "hover", "turn"],
    },
    Section {
        outcomes: swimming::outcomes,
        on_foot: true,
        tables: &["size", "ground", "air", "jump", "swim", "impact", "turn"],
    },
];

/// Simulates a tuning on built-in grounds.
#[must_use]
pub fn measure(tuning: &Tuning) -> Measure {
    Measure { outcomes: SECTIONS.par_iter().flat_map_iter(|section| section.measure(tuning)).collect() }
}

/// The figures that may depend on a table of a tuning.
fn measure_table(tuning: &Tuning, table: &str) -> Measure {
    let concerned = SECTIONS.iter().filter(|section| section.tables.contains(&table));
    Measure { outcomes: concerned.flat_map(|section| section.measure(tuning)).collect() }
}

impl Section {
    fn measure(&self, tuning: &Tuning) -> Vec<Outcome> {
        (self.outcomes)(&if self.on_foot { on_foot(tuning) } else { *tuning })
    }
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
    fn a_number_changes_only_figures_of_sections_that_name_its_table() {
        let tuning = Tuning::brisk_hero();
        let plain = measure(&tuning);
        for field in newel::FIELDS.iter().step_by(3) {
            let Some(value) = (field.get)(tuning.values()).filter(|v| *v != 0.0) else { continue };
            let mut values = *tuning.values();
            (field.set)(&mut values, if field.whole { value + 1.0 } else { value * 1.1 });
            let Ok(more) = Tuning::new(values) else { continue };
            let table = field.path.split('.').next().unwrap();
            let named = measure_table(&more, table);
            for outcome in &measure(&more).outcomes {
                let same = plain.figure(outcome.name) == outcome.measured;
                assert!(same || named.figure(outcome.name) == outcome.measured, "{}: {}", field.path, outcome.name);
            }
        }
    }

    #[test]
    fn what_differs_by_more_than_a_thousandth_is_flagged() {
        let flagged = |measured, formula| Outcome::new("x", "m", measured, formula).flagged;
        assert!(!flagged(Some(1.0005), Some(1.0)) && flagged(Some(1.002), Some(1.0)));
        assert!(flagged(None, Some(1.0)), "it never came to that");
        assert!(!flagged(Some(1.0), None) && !flagged(None, None));
        assert!(flagged(Some(0.01), Some(0.0)));
    }
}
