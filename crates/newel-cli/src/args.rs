//! Arguments of the command.

use std::path::PathBuf;

use clap::{Args as ClapArgs, Parser, Subcommand};

/// Tune how a game character moves: simulate a course, look at it, compare, and hold it to what it promises.
#[derive(Parser)]
#[command(
    name = "newel",
    version,
    max_term_width = 100,
    after_help = "A course is a TOML file: terrain, where the character starts, its tuning, a script of what the player \
        does, and what is expected. Start with `newel demo`, then copy demo/courses/gull-rock.toml and change one number.\n\n\
        Exit codes: 0 all well; 1 an expectation failed; 2 something given is wrong (a file, a field, an argument)."
)]
pub struct Args {
    #[command(subcommand)]
    pub command: Command,
}

#[derive(Subcommand)]
pub enum Command {
    /// Simulate a course and say what happened
    #[command(
        after_help = "Examples:\n  newel run demo/courses/gull-rock.toml\n  newel run demo/courses/gull-rock.toml --picture run.png --trace run.csv\n  newel run demo/courses/gull-rock.toml --lanes lanes.png --span 9..12\n  newel run demo/courses/gull-rock.toml --rate 240 --json"
    )]
    Run(Run),
    /// Read a course and everything it names, and say what is wrong with it; simulates nothing
    Check {
        /// The course files
        #[arg(required = true)]
        files: Vec<PathBuf>,
    },
    /// Simulate courses and judge what they expect
    #[command(after_help = "Exits with 1 where any expectation failed.\n\nExample:\n  newel test demo/courses/*.toml")]
    Test {
        /// The course files
        #[arg(required = true)]
        files: Vec<PathBuf>,
    },
    /// Tell what one tick of a course saw, what it tried, and why it did what it did
    #[command(
        after_help = "Ticks are numbered from 1, as in traces.\n\nExamples:\n  newel explain demo/courses/gull-rock.toml --tick 756 --picture tick.png\n  newel explain demo/courses/gull-rock.toml --at 12.59"
    )]
    Explain(Explain),
    /// Measure what a tuning really does, beside what its numbers say
    #[command(
        after_help = "Figures that differ from their formula are marked.\n\nExamples:\n  newel measure brisk_hero\n  newel measure demo/tunings/keeper.toml --pictures target/keeper\n  newel measure demo/tunings/keeper.toml --sensitivity"
    )]
    Measure(Measure),
    /// Walk a tuning over generated land and report what a player would see
    #[command(
        after_help = "Walks, tick rates, cut ticks and moving worlds are made from numbers: the same numbers give the same figures on every \
            machine. Without a tuning all presets are tried in turn. A cut is a tick made in two parts: whatever that changes depends on \
            where ticks end.\n\nExamples:\n  newel prove\n  newel prove demo/tunings/keeper.toml\n  newel prove --walks 1000 --cuts 100000 --worlds 10 --keep target/cuts\n  newel prove --again target/cuts/01.json"
    )]
    Prove(Prove),
    /// Run the demo course over Gull Rock and say what to look at
    Demo {
        /// Where the demo's files are, if not in ./demo
        #[arg(long, value_name = "DIRECTORY", default_value = "demo")]
        from: PathBuf,
        /// Where to put the picture and the trace
        #[arg(long, value_name = "DIRECTORY", default_value = "target/demo")]
        into: PathBuf,
    },
}

#[derive(ClapArgs)]
pub struct Run {
    /// The course file
    pub file: PathBuf,
    /// Write every tick to a file: .csv, or .jsonl for JSON Lines
    #[arg(long, value_name = "FILE")]
    pub trace: Option<PathBuf>,
    /// Draw the course and the path: .png or .svg
    #[arg(long, value_name = "FILE")]
    pub picture: Option<PathBuf>,
    /// Draw buttons, what waits, what carries it and what was refused, as lanes over time: .png or .svg
    #[arg(long, value_name = "FILE")]
    pub lanes: Option<PathBuf>,
    /// The seconds that the lanes show, such as 2.5..4
    #[arg(long, value_name = "FROM..TO", value_parser = span, requires = "lanes")]
    pub span: Option<(f64, f64)>,
    /// Print the summary as JSON
    #[arg(long)]
    pub json: bool,
    /// Ticks a second, instead of the course's own
    #[arg(long, value_name = "HZ", value_parser = rate)]
    pub rate: Option<f64>,
}

#[derive(ClapArgs)]
pub struct Measure {
    /// A tuning file, or the name of a preset
    pub tuning: String,
    /// Print the figures as JSON
    #[arg(long)]
    pub json: bool,
    /// Draw speed over time, jumps and gaps, and shapes and obstacles, as PNG files in this directory
    #[arg(long, value_name = "DIRECTORY")]
    pub pictures: Option<PathBuf>,
    /// Also tell how much each figure changes when a number is a tenth larger (takes a while)
    #[arg(long)]
    pub sensitivity: bool,
}

#[derive(ClapArgs)]
pub struct Prove {
    /// A tuning file, or the name of a preset; all presets in turn if left out
    pub tuning: Option<String>,
    /// Walks of 30 seconds; rounded up to fives
    #[arg(long, value_name = "N", default_value_t = 100, value_parser = clap::value_parser!(u64).range(1..=100_000))]
    pub walks: u64,
    /// Ticks to cut
    #[arg(long, value_name = "N", default_value_t = 10_000, value_parser = clap::value_parser!(u64).range(0..=100_000_000))]
    pub cuts: u64,
    /// Moving worlds of ten seconds
    #[arg(long, value_name = "N", default_value_t = 2, value_parser = clap::value_parser!(u64).range(0..=10_000))]
    pub worlds: u64,
    /// The number of the first walk: other numbers give other land and other players
    #[arg(long, value_name = "N", default_value_t = 0)]
    pub first: u64,
    /// Write each of the worst cuts to a file of its own in this directory
    #[arg(long, value_name = "DIRECTORY")]
    pub keep: Option<PathBuf>,
    /// Do a kept cut again instead, and say how far apart its ends are
    #[arg(long, value_name = "FILE", conflicts_with_all = ["tuning", "walks", "cuts", "worlds", "first", "keep", "json"])]
    pub again: Option<PathBuf>,
    /// Print the figures as JSON
    #[arg(long)]
    pub json: bool,
}

#[derive(ClapArgs)]
pub struct Explain {
    /// The course file
    pub file: PathBuf,
    /// The tick's number, from 1
    #[arg(long, value_name = "N", required_unless_present = "at", conflicts_with = "at")]
    pub tick: Option<u64>,
    /// Or a moment in it, seconds of the course: what falls between two ticks belongs to the later
    #[arg(long, value_name = "SECONDS", value_parser = moment)]
    pub at: Option<f64>,
    /// Draw what it saw, from the side and from above, in centimetres: .png or .svg
    #[arg(long, value_name = "FILE")]
    pub picture: Option<PathBuf>,
    /// Ticks a second, instead of the course's own
    #[arg(long, value_name = "HZ", value_parser = rate)]
    pub rate: Option<f64>,
}

impl Explain {
    /// Which tick is meant, of so many a second.
    pub fn number(&self, rate: f64) -> u64 {
        // A hair later, so that a moment written in decimals is not taken for the one just before it.
        self.tick.unwrap_or_else(|| (self.at.unwrap_or(0.0) * rate + 1e-6).floor() as u64 + 1)
    }
}

fn rate(text: &str) -> Result<f64, String> {
    let allowed = "a number of ticks a second from 4 to 10000 is allowed";
    match text.parse::<f64>() {
        Ok(rate) if (4.0..=10_000.0).contains(&rate) => Ok(rate),
        _ => Err(allowed.to_owned()),
    }
}

fn moment(text: &str) -> Result<f64, String> {
    match text.parse::<f64>() {
        Ok(at) if (0.0..1e6).contains(&at) => Ok(at),
        _ => Err("a number of seconds from 0 is allowed".to_owned()),
    }
}

fn span(text: &str) -> Result<(f64, f64), String> {
    let parsed = text.split_once("..").and_then(|(from, to)| Some((from.parse().ok()?, to.parse().ok()?)));
    match parsed {
        Some((from, to)) if 0.0 <= from && from < to && to <= 3600.0 => Ok((from, to)),
        _ => Err("seconds are given as FROM..TO, such as 2.5..4".to_owned()),
    }
}
