//! Tunings in files: start from a preset or another file, and override a few fields.

use std::path::Path;

use newel::{FIELDS, Form, Tuning, TuningValues};

use crate::error::FileError;
use crate::reader::{Source, Table};

/// Files that build on files that build on files: beyond this it is a circle.
const DEEPEST: usize = 8;

/// Reads a tuning from a file of its own.
///
/// # Errors
/// [`FileError`] names the file, the line, the field and what is allowed.
pub fn read_tuning(file: &Path) -> Result<Tuning, FileError> {
    let source = Source::read(file)?;
    tuning_of(&source.root())
}

pub(super) fn tuning_of(table: &Table<'_>) -> Result<Tuning, FileError> {
    let values = values_of(table, DEEPEST)?;
    Tuning::new(values).map_err(|error| {
        let (group, field) = error.field().split_once('.').unwrap_or(("", error.field()));
        match group_table(table, group) {
            Ok(Some(inner)) if inner.has(field) => inner.field_error(field, error.to_string()),
            _ => table.error(error.to_string()),
        }
    })
}

fn values_of(table: &Table<'_>, depth: usize) -> Result<TuningValues, FileError> {
    let mut values = base_of(table, depth)?;
    if table.flag_or_table("jump") == Some(false) {
        values.jump = None;
    }
    for group in GROUPS {
        let Some(inner) = group_table(table, group)? else { continue };
        for field in FIELDS.iter().filter(|f| f.path.split('.').next() == Some(group)) {
            let name = field.path.split_once('.').map_or(field.path, |p| p.1);
            if let Some(value) = inner.number(name, -f64::MAX..=f64::MAX)? {
                (field.set)(&mut values, value as f32);
            }
        }
        if group == "size" {
            match inner.word("form", &["capsule", "box"])? {
                Some("box") => values.size.form = Form::Box,
                Some(_) => values.size.form = Form::Capsule,
                None => {}
            }
        }
        inner.finish()?;
    }
    table.finish()?;
    Ok(values)
}

/// The tables of a tuning, as the paths of its fields begin.
const GROUPS: [&str; 5] = ["size", "ground", "air", "jump", "turn"];

fn group_table<'a>(table: &Table<'a>, group: &str) -> Result<Option<Table<'a>>, FileError> {
    match GROUPS.iter().find(|g| **g == group) {
        Some(group) if table.flag_or_table(group).is_none() => table.table(group),
        _ => Ok(None),
    }
}

fn base_of(table: &Table<'_>, depth: usize) -> Result<TuningValues, FileError> {
    let preset = table.word("preset", Tuning::PRESETS)?;
    let file = table.text("file")?;
    match (preset, file) {
        (Some(_), Some(_)) => Err(table.field_error("file", "a tuning starts from a preset or from a file, not both")),
        (Some(name), None) => Ok(*Tuning::preset(name).unwrap_or_else(Tuning::walker).values()),
        (None, Some(_)) if depth == 0 => {
            Err(table.field_error("file", format!("more than {DEEPEST} files build on each other: is it a circle?")))
        }
        (None, Some(name)) => {
            let path = table.directory().join(name);
            if !path.is_file() {
                return Err(table.field_error("file", format!("there is no file {}", path.display())));
            }
            let source = Source::read(&path)?;
            values_of(&source.root(), depth - 1)
        }
        (None, None) => Ok(TuningValues::default()),
    }
}
