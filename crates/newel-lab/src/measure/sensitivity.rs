//! How much each figure changes when a number is a tenth larger.

use newel::{FIELDS, Tuning};
use serde::Serialize;

use super::measure;

/// Changes smaller than this, per cent, are left blank.
const SMALL: f64 = 0.5;

/// Outcomes by fields: per cent of change for 10 % more.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Sensitivity {
    /// The outcomes that something changes, in the order of the measure.
    pub outcomes: Vec<&'static str>,
    /// The fields that change something: path, and the change of each outcome; `None` where it is small.
    pub fields: Vec<(&'static str, Vec<Option<f64>>)>,
}

/// Measures a tuning again with each number a tenth larger. `progress` is told which part is done.
#[must_use]
pub fn sensitivity(tuning: &Tuning, mut progress: impl FnMut(f64)) -> Sensitivity {
    let plain = measure(tuning);
    let mut fields = Vec::new();
    for (done, field) in FIELDS.iter().enumerate() {
        progress(done as f64 / FIELDS.len() as f64);
        let Some(value) = (field.get)(tuning.values()).filter(|v| *v != 0.0) else { continue };
        let mut values = *tuning.values();
        (field.set)(&mut values, if field.whole { value + 1.0 } else { value * 1.1 });
        // At the end of its range, or against another number, it cannot be larger.
        let Ok(more) = Tuning::new(values) else { continue };
        let more = measure(&more);
        let change = |name: &'static str| {
            let (before, after) = (plain.figure(name)?, more.figure(name)?);
            let change = 100.0 * (after - before) / before.abs().max(1e-6);
            (change.abs() >= SMALL).then_some(change)
        };
        let row: Vec<_> = plain.outcomes.iter().map(|o| change(o.name)).collect();
        if row.iter().any(Option::is_some) {
            fields.push((field.path, row));
        }
    }
    progress(1.0);
    let used: Vec<usize> =
        (0..plain.outcomes.len()).filter(|i| fields.iter().any(|(_, row)| row[*i].is_some())).collect();
    Sensitivity {
        outcomes: used.iter().map(|i| plain.outcomes[*i].name).collect(),
        fields: fields.into_iter().map(|(path, row)| (path, used.iter().map(|i| row[*i]).collect())).collect(),
    }
}
