//! Exit codes, progress, and tables for people.

use std::io::{IsTerminal, Write};
use std::path::PathBuf;
use std::process::ExitCode;
use std::sync::mpsc;
use std::time::Duration;

use comfy_table::{ContentArrangement, Table, presets};
use indicatif::{ProgressBar, ProgressStyle};
use newel_lab::{Course, FileError, Verdict, Warning};

/// Exit code of the command.
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

/// Does something, with a spinner on a terminal once that has taken a second.
pub fn waiting<T>(what: &str, work: impl FnOnce() -> T) -> T {
    if !std::io::stderr().is_terminal() {
        return work();
    }
    let (done, wait) = mpsc::channel::<()>();
    let what = what.to_owned();
    let spinner = std::thread::spawn(move || {
        if wait.recv_timeout(Duration::from_secs(1)) == Err(mpsc::RecvTimeoutError::Timeout) {
            let bar = ProgressBar::new_spinner().with_message(what);
            bar.enable_steady_tick(Duration::from_millis(100));
            // It ends when the sender is dropped.
            let _ = wait.recv();
            bar.finish_and_clear();
        }
    });
    let result = work();
    drop(done);
    let _ = spinner.join();
    result
}

/// Loads a course, which takes a while where its meshes or its script are large.
pub fn load(file: impl Into<PathBuf>) -> Result<Course, FileError> {
    let file = file.into();
    waiting(&format!("reading {}", file.display()), || Course::load(&file))
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
