//! The command `newel`: runs, checks and tests movement courses.

mod args;
mod commands;
mod measure;
mod prove;
mod report;

use std::process::ExitCode;

use clap::Parser;

fn main() -> ExitCode {
    let args = args::Args::parse();
    match commands::run(args) {
        Ok(code) => code.into(),
        // `newel ... | head`: the reader has seen enough.
        Err(error) if report::is_broken_pipe(error.as_ref()) => report::Code::Fine.into(),
        Err(error) => {
            eprintln!("error: {error}");
            report::Code::BadInput.into()
        }
    }
}
