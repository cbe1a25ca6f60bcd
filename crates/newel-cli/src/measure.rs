//! `newel measure`: what a tuning does, beside what it says.

use std::error::Error;
use std::path::Path;

use comfy_table::{CellAlignment, ContentArrangement, Table, presets};
use newel::Tuning;
use newel_lab::measure::{Outcome, Sensitivity, figure, measure, sensitivity};
use newel_lab::{FileError, read_tuning};
use serde_json::json;

use crate::args;
use crate::report::{self, Code, say};

pub fn run(args: &args::Measure) -> Result<Code, Box<dyn Error>> {
    let tuning = named(&args.tuning)?;
    let measured = measure(&tuning);
    let changes = args.sensitivity.then(|| {
        let bar = report::progress("a tenth more of each number");
        let changes = sensitivity(&tuning, |part| bar.set_position((part * 1000.0) as u64));
        bar.finish_and_clear();
        changes
    });
    if args.json {
        let all = json!({ "tuning": args.tuning, "outcomes": measured.outcomes, "sensitivity": changes });
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
            say(sensitivities(changes))?;
        }
    }
    Ok(Code::Fine)
}

/// A preset by its name, or a file.
fn named(tuning: &str) -> Result<Tuning, FileError> {
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

fn sensitivities(changes: &Sensitivity) -> Table {
    let mut table = plain();
    table.set_header(std::iter::once("").chain(changes.fields.iter().map(|(path, _)| *path)));
    for (row, name) in changes.outcomes.iter().enumerate() {
        let cells =
            changes.fields.iter().map(|(_, row_of)| row_of[row].map_or_else(String::new, |c| format!("{c:+.1}")));
        table.add_row(std::iter::once((*name).to_owned()).chain(cells));
    }
    right(&mut table, 1..changes.fields.len() + 1);
    table
}

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
