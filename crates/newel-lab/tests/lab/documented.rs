//! The statements of docs/courses.md hold.

use newel::{CHOICES, FIELDS, Tuning};
use newel_lab::{Course, Summary, judge, run};

const DOC: &str = include_str!("../../../../docs/courses.md");

#[test]
fn its_example_runs_and_meets_its_expectation() {
    let example = DOC.split("```toml").nth(1).and_then(|rest| rest.split("```").next()).expect("an example");
    let directory = tempfile::tempdir().expect("a directory");
    let file = directory.path().join("quay.toml");
    std::fs::write(&file, example).expect("written");
    let course = Course::load(&file).unwrap_or_else(|e| panic!("{e}"));
    let trace = run(&course, |_| {}).expect("a run");
    assert!(judge(&course, &trace).iter().all(|v| v.passed));
    assert_eq!(Summary::of(&trace).jumps, 1);
}

#[test]
fn every_field_of_a_tuning_is_there_with_its_unit_and_range() {
    for field in FIELDS {
        let row = format!("| `{}` | {} | {} to {} |", field.path, field.unit, field.least, field.most);
        assert!(DOC.contains(&row), "docs/courses.md lacks: {row}");
    }
    for name in CHOICES.iter().map(|c| c.path).chain(Tuning::PRESETS.iter().copied()) {
        assert!(DOC.contains(&format!("| `{name}` |")), "docs/courses.md lacks {name}");
    }
}

#[test]
fn two_runs_are_the_same_and_every_bit_of_the_trace_survives_text() {
    let course =
        Course::load(concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/courses/gull-rock.toml")).expect("the demo");
    let (first, second) = (run(&course, |_| {}).expect("a run"), run(&course, |_| {}).expect("a run"));
    assert_eq!(first, second);
    let csv = String::from_utf8(first.to_csv(&course.scene.surfaces).expect("CSV")).expect("text");
    let mut reader = csv::Reader::from_reader(csv.as_bytes());
    for (row, record) in first.rows.iter().zip(reader.records()) {
        let record = record.expect("a record");
        let number = |i: usize| record[i].parse::<f64>().expect("a number");
        assert_eq!([number(2), number(3), number(4)], row.position.to_array(), "tick {}", row.tick);
    }
}

#[test]
fn every_public_type_stands_in_the_list_with_its_line() {
    let interface = include_str!("../../../newel/src/lib.rs");
    let list =
        include_str!("../../../../docs/design/types.md").split("## The public interface").nth(1).expect("the list");
    let uses = interface.split("pub use ").skip(1).filter_map(|rest| rest.split(';').next());
    let words = uses.flat_map(|names| names.split(|c: char| !c.is_alphanumeric() && c != '_'));
    let names: Vec<&str> = words.filter(|word| word.starts_with(char::is_uppercase)).collect();
    assert!(names.len() > 80, "{} names", names.len());
    for name in names {
        assert!(list.contains(&format!("`{name}`")), "docs/design/types.md does not list {name}");
    }
}
