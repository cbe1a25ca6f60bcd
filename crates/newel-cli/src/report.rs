//! Exit codes, progress, and tables for people.

use std::io::{IsTerminal, Write};
use std::process::ExitCode;

use comfy_table::{ContentArrangement, Table, presets};
use indicatif::{ProgressBar, ProgressStyle};
use newel_lab::{Verdict, Warning};

/// What the command tells the shell.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Code {
    /// All well.
    Fine = 0,
    /// An expectation failed.
    Failed = 1,
    /// Something given is wrong.
    BadInput = 2,
}

impl From<Code> for ExitCode {
    fn from(code: Code) -> ExitCode {
        ExitCode::from(code as u8)
    }
}

/// Prints a line; whoever reads may have gone away, which is for the caller to hear of and not to panic at.
pub fn say(line: impl std::fmt::Display) -> std::io::Result<()> {
    writeln!(std::io::stdout(), "{line}")
}

/// True where printing failed because nobody reads any more.
pub fn is_broken_pipe(error: &(dyn std::error::Error + 'static)) -> bool {
    error.downcast_ref::<std::io::Error>().is_some_and(|e| e.kind() == std::io::ErrorKind::BrokenPipe)
}

/// A progress bar on a terminal, nothing in a pipe.
pub fn progress(what: &str) -> ProgressBar {
    if !std::io::stderr().is_terminal() {
        return ProgressBar::hidden();
    }
    let style = ProgressStyle::with_template("{msg} [{bar:40}] {percent:>3} %");
    let bar = ProgressBar::new(1000).with_message(what.to_owned());
    match style {
        Ok(style) => bar.with_style(style.progress_chars("=> ")),
        Err(_) => bar,
    }
}

/// A table of verdicts.
pub fn verdicts(verdicts: &[Verdict]) -> Table {
    let mut table = Table::new();
    table.load_style(presets::NOTHING).set_content_arrangement(ContentArrangement::Dynamic);
    for verdict in verdicts {
        let mark = if verdict.passed { "  ok" } else { "  FAILED" };
        table.add_row([mark.to_owned(), verdict.expected.clone(), verdict.found.clone()]);
    }
    table
}

/// Says what is odd, beside what is asked for: on the side of errors, so that a JSON output stays one.
pub fn warn(warnings: &[Warning]) {
    for warning in warnings {
        eprintln!("warning: {warning}");
    }
}
