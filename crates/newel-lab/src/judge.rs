//! Whether a run did what its course expects.

use crate::course::{Course, Expected};
use crate::names::mode_name;
use crate::trace::Trace;

/// Verdict on one expectation.
#[derive(Debug, Clone, PartialEq)]
pub struct Verdict {
    /// What was expected.
    pub expected: String,
    /// True where it came true.
    pub passed: bool,
    /// The value found.
    pub found: String,
}

/// Judges every expectation of a course by a run of it.
pub fn judge(course: &Course, trace: &Trace) -> Vec<Verdict> {
    let verdict = |expectation: &crate::Expectation| {
        let (passed, found) = judge_one(&expectation.expected, trace);
        Verdict { expected: expectation.name.clone(), passed, found }
    };
    course.expectations.iter().map(verdict).collect()
}

fn judge_one(expected: &Expected, trace: &Trace) -> (bool, String) {
    match expected {
        Expected::Place { at, position, within } => {
            let place = trace.at(*at).position;
            let off = (place - *position).length();
            (off <= *within, format!("({:.3}, {:.3}, {:.3}), {off:.3} m off", place.x, place.y, place.z))
        }
        Expected::Mode { at, mode } => {
            let found = trace.at(*at).mode;
            (found == *mode, mode_name(found).to_owned())
        }
        Expected::Stance { at, stance } => {
            let found = trace.at(*at).stance;
            (found == *stance, found.words().to_owned())
        }
        Expected::Count { event, least, most } => {
            let count = trace.count(event);
            ((*least..=*most).contains(&count), format!("{count}"))
        }
        Expected::Told { words, least, most } => {
            let count = trace.told.iter().filter(|told| told.words == *words).count();
            let all: Vec<&str> = trace.told.iter().map(|told| told.words.as_str()).collect();
            let found = if all.is_empty() { "nothing was told".to_owned() } else { all.join(", ") };
            ((*least..=*most).contains(&count), found)
        }
        Expected::TopSpeed { least, most } => {
            let top = trace.rows.iter().map(|r| r.velocity.length()).fold(0.0, f64::max);
            ((*least..=*most).contains(&top), format!("{top:.3} m/s"))
        }
        Expected::State(hash) => (trace.hash == *hash, format!("{:016x}", trace.hash)),
        Expected::Clear => {
            let worst = trace.rows.iter().map(|r| r.depth).fold(0.0, f64::max);
            (
                trace.rows.iter().all(|r| r.depth <= r.skin),
                format!("at most {:.4} mm under the surface", worst * 1000.0),
            )
        }
    }
}
