//! How much each figure changes when a number is a tenth larger.

use std::sync::atomic::{AtomicUsize, Ordering};

use newel::{FIELDS, Field, Tuning};
use rayon::prelude::*;
use serde::Serialize;

use super::{Measure, measure, measure_table};

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

/// Measures a tuning again with each number a tenth larger: the figures that its table may change. `progress` is told which part is done.
#[must_use]
pub fn sensitivity(tuning: &Tuning, progress: impl Fn(f64) + Sync) -> Sensitivity {
    let plain = measure(tuning);
    let done = AtomicUsize::new(0);
    let rows = FIELDS.par_iter().map(|field| {
        let row = changes(tuning, &plain, field);
        progress((done.fetch_add(1, Ordering::Relaxed) + 1) as f64 / FIELDS.len() as f64);
        row.map(|row| (field.path, row))
    });
    let fields: Vec<(&'static str, Vec<Option<f64>>)> = rows.flatten().collect();
    let used: Vec<usize> =
        (0..plain.outcomes.len()).filter(|i| fields.iter().any(|(_, row)| row[*i].is_some())).collect();
    Sensitivity {
        outcomes: used.iter().map(|i| plain.outcomes[*i].name).collect(),
        fields: fields.into_iter().map(|(path, row)| (path, used.iter().map(|i| row[*i]).collect())).collect(),
    }
}

/// How much each figure changes with one number a tenth larger; `None` where none does, or it cannot be larger.
fn changes(tuning: &Tuning, plain: &Measure, field: &Field) -> Option<Vec<Option<f64>>> {
    let value = (field.get)(tuning.values()).filter(|v| *v != 0.0)?;
    let mut values = *tuning.values();
    (field.set)(&mut values, if field.whole { value + 1.0 } else { value * 1.1 });
    // At the end of its range, or against another number, it cannot be larger.
    let more = Tuning::new(values).ok()?;
    let more = measure_table(&more, field.path.split('.').next()?);
    let change = |name: &'static str| {
        let (before, after) = (plain.figure(name)?, more.figure(name)?);
        let change = 100.0 * (after - before) / before.abs().max(1e-6);
        (change.abs() >= SMALL).then_some(change)
    };
    let row: Vec<_> = plain.outcomes.iter().map(|o| change(o.name)).collect();
    row.iter().any(Option::is_some).then_some(row)
}
