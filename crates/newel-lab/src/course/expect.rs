//! Expectations of a run.

use newel::glam::DVec3;
use newel::{Mode, Stance};

use super::script::read_stance;
use crate::error::FileError;
use crate::names::{EVENT_NAMES, MODES, mode_name};
use crate::reader::Table;

/// One expectation, as a course states it.
#[derive(Debug, Clone, PartialEq)]
pub struct Expectation {
    /// The line of the file it stands on, for reports.
    pub name: String,
    /// What is expected.
    pub expected: Expected,
}

/// An expectation.
#[derive(Debug, Clone, PartialEq)]
pub enum Expected {
    /// The feet are near a place at a time.
    Place {
        /// When, seconds.
        at: f64,
        /// Where, metres.
        position: DVec3,
        /// How near, metres.
        within: f64,
    },
    /// The character is in a mode at a time.
    Mode {
        /// When, seconds.
        at: f64,
        /// Which.
        mode: Mode,
    },
    /// The character has a shape at a time.
    Stance {
        /// When, seconds.
        at: f64,
        /// Which.
        stance: Stance,
    },
    /// Events of one kind happen so many times.
    Count {
        /// The kind, by the name that traces use.
        event: &'static str,
        /// At least.
        least: usize,
        /// At most.
        most: usize,
    },
    /// A driver tells something, so many times.
    Told {
        /// Its words, such as `arrived`.
        words: String,
        /// At least.
        least: usize,
        /// At most.
        most: usize,
    },
    /// The highest speed lies in a range, m/s.
    TopSpeed {
        /// At least.
        least: f64,
        /// At most.
        most: f64,
    },
    /// The hash of the state at the end: the same bits on every machine and in every build.
    State(u64),
    /// Nothing overlaps anything at any tick, judged against all triangles.
    Clear,
}

pub(super) fn read(root: &Table<'_>, duration: f64) -> Result<Vec<Expectation>, FileError> {
    root.tables("expect")?.iter().map(|table| read_one(table, duration)).collect()
}

/// Subject of an expectation.
const SUBJECTS: [&str; 8] = ["position", "mode", "stance", "event", "told", "top_speed", "state", "clear"];

fn read_one(table: &Table<'_>, duration: f64) -> Result<Expectation, FileError> {
    let mut subjects = SUBJECTS.iter().filter(|subject| table.has(subject));
    if let (Some(one), Some(other)) = (subjects.next(), subjects.next()) {
        let message =
            format!("an expectation is about one thing, and this one is about `{one}` already: make two of it");
        return Err(table.field_error(other, message));
    }
    let expected = if let Some(position) = table.numbers::<3>("position")? {
        let at = table.number("at", 0.0..=duration)?.unwrap_or(duration);
        let within = table.required("within", 0.0..=1e6)?;
        Expected::Place { at, position: DVec3::from_array(position), within }
    } else if let Some(word) = table.word("mode", &MODES.map(mode_name))? {
        let at = table.number("at", 0.0..=duration)?.unwrap_or(duration);
        Expected::Mode { at, mode: MODES.into_iter().find(|mode| mode_name(*mode) == word).unwrap_or_default() }
    } else if let Some(stance) = read_stance(table)? {
        Expected::Stance { at: table.number("at", 0.0..=duration)?.unwrap_or(duration), stance }
    } else if let Some(event) = table.word("event", &EVENT_NAMES)? {
        let [least, most] = read_count(table)?;
        Expected::Count { event, least, most }
    } else if let Some(words) = table.text("told")? {
        let (words, [least, most]) = (words.to_owned(), read_count(table)?);
        Expected::Told { words, least, most }
    } else if let Some([least, most]) = table.numbers::<2>("top_speed")? {
        Expected::TopSpeed { least, most }
    } else if let Some(text) = table.text("state")? {
        let hash = u64::from_str_radix(text, 16).ok().filter(|_| text.len() == 16);
        let shape = "16 hexadecimal digits are expected, as `newel run` prints them after `state`";
        Expected::State(hash.ok_or_else(|| table.field_error("state", shape))?)
    } else if table.flag("clear")? == Some(true) {
        Expected::Clear
    } else {
        table.finish()?;
        return Err(
            table.error("an expectation is one of position, mode, stance, event, told, top_speed, state or clear")
        );
    };
    table.finish()?;
    Ok(Expectation { name: name(&expected), expected })
}

/// How often something is expected: at least once where nothing is said of that.
fn read_count(table: &Table<'_>) -> Result<[usize; 2], FileError> {
    let [exactly, least, most] = ["count", "least", "most"].map(|field| table.number(field, 0.0..=1e9));
    let (exactly, least, most) = (exactly?, least?, most?);
    if let Some(count) = exactly {
        let beside = ["least", "most"].into_iter().find(|field| table.has(field));
        return match beside {
            Some(field) => {
                Err(table.field_error(field, format!("`count` says exactly {count}: leave out one of them")))
            }
            None => Ok([count as usize; 2]),
        };
    }
    let usual = if most.is_some() { 0.0 } else { 1.0 };
    let (least, most) = (least.unwrap_or(usual), most.unwrap_or(1e9));
    if least > most {
        return Err(
            table.field_error("least", format!("{least} is over `most`, {most}: nothing can be expected so often"))
        );
    }
    Ok([least as usize, most as usize])
}

/// A count in words.
fn times(least: usize, most: usize) -> String {
    match most {
        _ if least == most => format!("{least}"),
        1_000_000_000.. => format!("{least} to any number"),
        _ => format!("{least} to {most}"),
    }
}

fn name(expected: &Expected) -> String {
    match expected {
        Expected::Place { at, position: p, within } => {
            format!("at {at} s within {within} m of ({:.2}, {:.2}, {:.2})", p.x, p.y, p.z)
        }
        Expected::Mode { at, mode } => format!("at {at} s in mode {}", mode_name(*mode)),
        Expected::Stance { at, stance } => format!("at {at} s in stance {}", stance.words()),
        Expected::Count { event, least, most } => format!("{event}: {}", times(*least, *most)),
        Expected::Told { words, least, most } => format!("told \"{words}\": {}", times(*least, *most)),
        Expected::TopSpeed { least, most } => format!("highest speed {least} to {most} m/s"),
        Expected::State(hash) => format!("state {hash:016x} at the end"),
        Expected::Clear => "never overlaps anything".to_owned(),
    }
}
