//! Tunings in files: start from a preset or another file, and override a few fields.

use std::path::Path;

use newel::{CHOICES, Choice, FIELDS, Field, Ledge, LowStance, Tuning, TuningValues};

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
            _ => contradicted_at(table, group, &error.to_string()),
        }
    })
}

/// An error about numbers of which the one that is told is not in this file: told where another is that the message names, or one of the
/// same group.
fn contradicted_at(table: &Table<'_>, group: &str, message: &str) -> FileError {
    let paths = || FIELDS.iter().map(|field| field.path);
    let named = paths().filter(|path| message.contains(path)).chain(paths().filter(|path| is_in(path, group)));
    for (group, field) in named.filter_map(|path| path.split_once('.')) {
        match group_table(table, group) {
            Ok(Some(inner)) if inner.has(field) => return inner.field_error(field, message),
            _ => {}
        }
    }
    table.error(message)
}

fn values_of(table: &Table<'_>, depth: usize) -> Result<TuningValues, FileError> {
    let mut values = base_of(table, depth)?;
    for group in GROUPS {
        if let Some((_, ability)) = ABILITIES.iter().find(|a| a.0 == group) {
            match table.flag_or_table(group) {
                Some(false) => (ability.take)(&mut values),
                Some(true) => (ability.give)(&mut values),
                // A table of its own gives what is not in it too.
                None if table.has(group) => (ability.give)(&mut values),
                None => {}
            }
        }
        let Some(inner) = group_table(table, group)? else { continue };
        if let Some(rate) = ["acceleration", "deceleration", "reversal"]
            .iter()
            .find(|rate| group == "ground" && inner.has("ease") && inner.has(rate))
        {
            return Err(inner.field_error(rate, "`ease` takes the place of the ground's rates: leave out one of them"));
        }
        for field in FIELDS.iter().filter(|f| is_in(f.path, group)) {
            read_number(&inner, field, &mut values)?;
        }
        for choice in CHOICES.iter().filter(|c| is_in(c.path, group)) {
            read_choice(&inner, choice, &mut values)?;
        }
        inner.finish()?;
    }
    table.finish()?;
    Ok(values)
}

/// A number, or `false` for one that may be left out.
fn read_number(table: &Table<'_>, field: &'static Field, values: &mut TuningValues) -> Result<(), FileError> {
    let name = name_of(field.path);
    match (field.clear, table.flag_or_table(name)) {
        (Some(clear), Some(false)) => clear(values),
        _ => table.number(name, -f64::MAX..=f64::MAX)?.into_iter().for_each(|value| (field.set)(values, value as f32)),
    }
    Ok(())
}

fn read_choice(table: &Table<'_>, choice: &'static Choice, values: &mut TuningValues) -> Result<(), FileError> {
    let name = name_of(choice.path);
    let place = match choice.words {
        ["false", "true"] => table.flag(name)?.map(usize::from),
        words => table.word(name, words)?.and_then(|word| words.iter().position(|w| *w == word)),
    };
    place.into_iter().for_each(|place| (choice.set)(values, place));
    Ok(())
}

fn is_in(path: &str, group: &str) -> bool {
    path.split_once('.').is_some_and(|p| p.0 == group)
}

fn name_of(path: &'static str) -> &'static str {
    path.split_once('.').map_or(path, |p| p.1)
}

/// The tables of a tuning, as the paths of its fields begin.
const GROUPS: [&str; 21] = [
    "size",
    "ground",
    "air",
    "jump",
    "sprint",
    "wall_slide",
    "wall_jump",
    "dash",
    "stance",
    "crouch",
    "prone",
    "slide",
    "swim",
    "hover",
    "climb",
    "ledge",
    "vault",
    "impact",
    "turn",
    "stick",
    "gait",
];

/// A table that may be absent: `jump = false` takes it away, `true` gives the usual one.
struct Ability {
    take: fn(&mut TuningValues),
    give: fn(&mut TuningValues),
}

const ABILITIES: [(&str, Ability); 13] = [
    ("jump", Ability { take: |v| v.jump = None, give: |v| _ = v.jump.get_or_insert_default() }),
    ("sprint", Ability { take: |v| v.sprint = None, give: |v| _ = v.sprint.get_or_insert_default() }),
    ("wall_slide", Ability { take: |v| v.wall_slide = None, give: |v| _ = v.wall_slide.get_or_insert_default() }),
    ("wall_jump", Ability { take: |v| v.wall_jump = None, give: |v| _ = v.wall_jump.get_or_insert_default() }),
    ("dash", Ability { take: |v| v.dash = None, give: |v| _ = v.dash.get_or_insert_default() }),
    ("crouch", Ability { take: |v| v.crouch = None, give: |v| _ = v.crouch.get_or_insert_with(LowStance::crouch) }),
    ("prone", Ability { take: |v| v.prone = None, give: |v| _ = v.prone.get_or_insert_with(LowStance::prone) }),
    ("slide", Ability { take: |v| v.slide = None, give: |v| _ = v.slide.get_or_insert_default() }),
    ("hover", Ability { take: |v| v.hover = None, give: |v| _ = v.hover.get_or_insert_default() }),
    ("climb", Ability { take: |v| v.climb = None, give: |v| _ = v.climb.get_or_insert_default() }),
    ("ledge", Ability { take: |v| v.ledge = None, give: |v| _ = v.ledge.get_or_insert(Ledge::for_size(&v.size)) }),
    ("swim", Ability { take: |v| v.swim = None, give: |v| _ = v.swim.get_or_insert_default() }),
    ("vault", Ability { take: |v| v.vault = None, give: |v| _ = v.vault.get_or_insert_default() }),
];

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
