//! `newel measure`: what a tuning does, beside what it says.

use std::error::Error;
use std::path::Path;

use comfy_table::{CellAlignment, ContentArrangement, Table, presets};
use newel::Tuning;
use newel_lab::measure::{Outcome, Sensitivity, figure, measure, sensitivity};
use newel_lab::picture::{Format, jump_sheet, shape_sheet, speed_sheet};
use newel_lab::{FileError, read_tuning, tuning_warnings, write_whole};
use serde_json::json;

use crate::args;
use crate::report::{self, Code, say};

pub fn run(args: &args::Measure) -> Result<Code, Box<dyn Error>> {
    let tuning = named(&args.tuning)?;
    let warnings = tuning_warnings(&tuning);
    report::warn(&warnings);
    let measured = measure(&tuning);
    let changes = args.sensitivity.then(|| {
        let bar = report::progress("a tenth more of each number");
        let changes = sensitivity(&tuning, |part| bar.set_position((part * 1000.0) as u64));
        bar.finish_and_clear();
        changes
    });
    if let Some(directory) = &args.pictures {
        draw(&title(&args.tuning), &tuning, directory)?;
    }
    if args.json {
        let warnings: Vec<String> = warnings.iter().map(ToString::to_string).collect();
        let all = json!({ "tuning": args.tuning, "warnings": warnings, "outcomes": measured.outcomes, "sensitivity": changes });
        say(serde_json::to_string_pretty(&all)?)?;
    } else {
        say(figures(&measured.outcomes))?;
        match measured.flagged() {
            0 => say("Every figure is what its formula says.")?,
            1 => say("1 figure is not what its formula says.")?,
            n => say(format_args!("{n} figures are not what their formulas say."))?,
        }
        if let Some(changes) = &changes {
            say(format_args!(
                "\nPer cent of change for 10 % more of a number (one more of a count); under half a per cent left out:"
            ))?;
            say_sensitivities(changes)?;
        }
    }
    Ok(Code::Fine)
}

/// Name of a tuning in pictures.
fn title(tuning: &str) -> String {
    let stem = Path::new(tuning).file_stem().map_or_else(|| tuning.into(), |s| s.to_string_lossy());
    stem.replace('_', " ")
}

fn draw(title: &str, tuning: &Tuning, directory: &Path) -> Result<(), Box<dyn Error>> {
    std::fs::create_dir_all(directory).map_err(|e| FileError::whole(directory, format!("cannot be made: {e}")))?;
    write_whole(&directory.join("speed.png"), &speed_sheet(title, tuning, Format::Png)?)?;
    write_whole(&directory.join("jumps.png"), &jump_sheet(title, tuning, Format::Png)?)?;
    write_whole(&directory.join("shapes.png"), &shape_sheet(title, tuning, Format::Png)?)?;
    Ok(())
}

/// A preset by its name, or a file.
pub fn named(tuning: &str) -> Result<Tuning, FileError> {
    let file = Path::new(tuning);
    match Tuning::preset(tuning) {
        Some(preset) => Ok(preset),
        None if file.is_file() => read_tuning(file),
        None => {
            let presets = Tuning::PRESETS.join(", ");
            Err(FileError::whole(file, format!("is neither a tuning file nor a preset; the presets are {presets}")))
        }
    }
}

fn figures(outcomes: &[Outcome]) -> Table {
    let mut table = plain();
    table.set_header(["", "measured", "by formula", "unit", ""]);
    for outcome in outcomes {
        let words = |v: Option<f64>| v.map_or_else(|| "-".to_owned(), figure);
        let mark = if outcome.flagged { "differs" } else { "" };
        let name = outcome.name.to_owned();
        table.add_row([
            name,
            words(outcome.measured),
            words(outcome.formula),
            outcome.unit.to_owned(),
            mark.to_owned(),
        ]);
    }
    right(&mut table, 1..3);
    table
}

/// One table for each table of the tuning, of the outcomes that it changes.
fn say_sensitivities(changes: &Sensitivity) -> std::io::Result<()> {
    let group = |path: &'static str| path.split_once('.').map_or(path, |p| p.0);
    for fields in changes.fields.chunk_by(|a, b| group(a.0) == group(b.0)) {
        for fields in fields.chunks(ACROSS) {
            let mut table = plain();
            let names = fields.iter().map(|(path, _)| path.split_once('.').map_or(*path, |p| p.1));
            table.set_header(std::iter::once(group(fields[0].0)).chain(names));
            for (row, name) in changes.outcomes.iter().enumerate() {
                let cell = |c: Option<f64>| c.map_or_else(String::new, |c| format!("{c:+.1}"));
                let cells: Vec<String> = fields.iter().map(|(_, of)| cell(of[row])).collect();
                if cells.iter().any(|c| !c.is_empty()) {
                    table.add_row(std::iter::once((*name).to_owned()).chain(cells));
                }
            }
            right(&mut table, 1..fields.len() + 1);
            say(format_args!("\n{table}"))?;
        }
    }
    Ok(())
}

/// Columns of a table that a terminal has room for.
const ACROSS: usize = 6;

fn plain() -> Table {
    let mut table = Table::new();
    table.load_style(presets::NOTHING).set_content_arrangement(ContentArrangement::Dynamic);
    table
}

fn right(table: &mut Table, columns: std::ops::Range<usize>) {
    for column in columns {
        if let Some(column) = table.column_mut(column) {
            column.set_cell_alignment(CellAlignment::Right);
        }
    }
}
