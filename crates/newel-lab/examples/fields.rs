//! Every field of a tuning, changed in the demo's courses: the first that it changes, and what of it. A field that changes nothing would be
//! a defect, or a part of the world that no course leads through.
//!
//! `cargo run --release -p newel-lab --example fields [courses]`

use std::path::PathBuf;
use std::time::{Duration, Instant};

use newel::{CHOICES, FIELDS, Tuning, TuningValues};
use newel_lab::{Course, Trace, run};

/// Courses that take longer than this are left out, unless they are named.
const LONGEST: Duration = Duration::from_millis(300);

/// Effects of a change on a run, from the greatest to the least.
#[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
enum Shows {
    Motion,
    Events,
    Readout,
}

/// The first effect of a field.
#[derive(Default)]
struct Changes {
    course: String,
    shows: Option<Shows>,
}

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let named: Vec<PathBuf> = std::env::args().skip(1).map(PathBuf::from).collect();
    let all = named.is_empty();
    let files = if all { demo_courses()? } else { named };
    let mut played = Vec::new();
    for file in files {
        let course = Course::load(&file)?;
        let began = Instant::now();
        let trace = run(&course, |_| ())?;
        played.push((course, trace, began.elapsed()));
    }
    // The short ones first, and those that take long not at all: every field is tried in each until it shows.
    played.retain(|(.., took)| !all || *took < LONGEST);
    played.sort_by_key(|(_, trace, _)| trace.rows.len());
    let played: Vec<_> = played.into_iter().map(|(course, trace, _)| (course, trace)).collect();
    let mut nothing = Vec::new();
    println!("| field | shows in | first of {} courses that it changes |", played.len());
    println!("| --- | --- | --- |");
    let mut tell = |path: &str, changes: Changes| {
        let Some(shows) = changes.shows else { return nothing.push(path.to_owned()) };
        let word = match shows {
            Shows::Motion => "motion",
            Shows::Events => "events",
            Shows::Readout => "readout",
        };
        println!("| `{path}` | {word} | {} |", changes.course);
    };
    for field in FIELDS {
        let others = |values: &TuningValues| -> Vec<TuningValues> {
            let now = (field.get)(values).unwrap_or(0.3);
            let far = [now * 1.2, now * 0.8, now + 0.3, now - 0.3, now + 1.0, field.most.min(90.0), field.least];
            // A number bound to another may only change a little.
            let tried = far.into_iter().chain([now * 0.98, now * 1.02]);
            let other = |value: f32| {
                let value = value.clamp(field.least, field.most);
                let mut changed = *values;
                (field.set)(&mut changed, if field.whole { value.round() } else { value });
                changed
            };
            tried.map(other).collect()
        };
        tell(field.path, changes(&played, others));
    }
    for choice in CHOICES {
        let others = |values: &TuningValues| -> Vec<TuningValues> {
            let other = |word: usize| {
                let mut changed = *values;
                (choice.set)(&mut changed, word);
                changed
            };
            (0..choice.words.len()).map(other).collect()
        };
        tell(choice.path, changes(&played, others));
    }
    println!("\n{} fields and choices change nothing in these: {}", nothing.len(), nothing.join(", "));
    Ok(())
}

fn demo_courses() -> Result<Vec<PathBuf>, std::io::Error> {
    let directory = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/courses");
    let mut files: Vec<PathBuf> =
        std::fs::read_dir(directory)?.map(|entry| Ok(entry?.path())).collect::<Result<_, std::io::Error>>()?;
    files.sort();
    Ok(files)
}

/// The first course that comes out otherwise with one of these tunings; the first that changes anything counts.
fn changes(played: &[(Course, Trace)], others: impl Fn(&TuningValues) -> Vec<TuningValues>) -> Changes {
    for (course, before) in played {
        let shows = others(course.tuning.values()).into_iter().find_map(|values| {
            let tuning = Tuning::new(values).ok()?;
            let after = run(&Course { tuning, ..course.clone() }, |_| ()).ok()?;
            difference(before, &after)
        });
        if shows.is_some() {
            let course = course.file.file_stem().map_or(String::new(), |stem| stem.to_string_lossy().into_owned());
            return Changes { course, shows };
        }
    }
    Changes::default()
}

fn difference(before: &Trace, after: &Trace) -> Option<Shows> {
    let places =
        |trace: &Trace| trace.rows.iter().map(|row| row.position.to_array().map(f64::to_bits)).collect::<Vec<_>>();
    if places(before) != places(after) {
        return Some(Shows::Motion);
    }
    if before.events != after.events {
        return Some(Shows::Events);
    }
    (before.rows != after.rows).then_some(Shows::Readout)
}
