//! The commands.

use std::error::Error;
use std::path::{Path, PathBuf};

use newel_lab::picture::{Format, course_sheet, lanes_sheet, tick_sheet};
use newel_lab::{
    Course, FileError, Summary, Trace, Verdict, course_warnings, explain, judge, run as simulate, write_whole,
};

use crate::args::{Args, Command, Explain, Run};
use crate::report::{self, Code, say};

type Done = Result<Code, Box<dyn Error>>;

pub fn run(args: Args) -> Done {
    match args.command {
        Command::Run(args) => run_course(&args),
        Command::Check { files } => check(&files),
        Command::Test { files } => test(&files),
        Command::Explain(args) => explain_tick(&args),
        Command::Measure(args) => crate::measure::run(&args),
        Command::Prove(args) => crate::prove::run(&args),
        Command::Demo { from, into } => demo(&from, &into),
    }
}

fn run_course(args: &Run) -> Done {
    // Wrong endings are told before the work, not after.
    let picture = args.picture.as_deref().map(Format::of).transpose()?;
    let lanes = args.lanes.as_deref().map(Format::of).transpose()?;
    if let Some(trace) = &args.trace {
        trace_kind(trace)?;
    }
    let mut course = report::load(&args.file)?;
    course.rate = args.rate.unwrap_or(course.rate);
    report::warn(&course_warnings(&course));
    let trace = play(&course)?;
    if let Some(file) = &args.trace {
        write_trace(&course, &trace, file)?;
    }
    if let (Some(file), Some(format)) = (&args.picture, picture) {
        write_whole(file, &course_sheet(&course, &trace, format)?)?;
    }
    if let (Some(file), Some(format)) = (&args.lanes, lanes) {
        let (from, to) = args.span.unwrap_or((0.0, course.duration));
        write_whole(file, &lanes_sheet(&trace, (from, to.min(course.duration).max(from + 1e-3)), format)?)?;
    }
    if args.json {
        say(serde_json::to_string_pretty(&Summary::of(&trace))?)?;
    } else {
        say(Summary::of(&trace))?;
    }
    Ok(Code::Fine)
}

fn explain_tick(args: &Explain) -> Done {
    let picture = args.picture.as_deref().map(Format::of).transpose()?;
    let mut course = report::load(&args.file)?;
    course.rate = args.rate.unwrap_or(course.rate);
    if let Some(at) = args.at.filter(|at| *at >= course.duration) {
        let message = format!("--at {at}: the course runs from 0 s to before {} s", course.duration);
        return Err(FileError::whole(&args.file, message).into());
    }
    let explained =
        explain(&course, args.number(course.rate)).map_err(|e| FileError::whole(&args.file, e.to_string()))?;
    if let (Some(file), Some(format)) = (&args.picture, picture) {
        write_whole(file, &tick_sheet(&explained, format)?)?;
    }
    say(explained)?;
    Ok(Code::Fine)
}

fn play(course: &Course) -> Result<Trace, Box<dyn Error>> {
    let bar = report::progress(&course.title);
    let trace = simulate(course, |part| bar.set_position((part * 1000.0) as u64));
    bar.finish_and_clear();
    trace.map_err(|e| FileError::whole(&course.file, format!("the run stopped: {e}")).into())
}

#[derive(PartialEq)]
enum TraceKind {
    Csv,
    JsonLines,
}

fn trace_kind(file: &Path) -> Result<TraceKind, FileError> {
    match file.extension().map(|e| e.to_string_lossy().to_lowercase()).as_deref() {
        Some("csv") => Ok(TraceKind::Csv),
        Some("jsonl" | "ndjson") => Ok(TraceKind::JsonLines),
        _ => Err(FileError::whole(file, "traces are .csv or .jsonl files")),
    }
}

fn write_trace(course: &Course, trace: &Trace, file: &Path) -> Result<(), Box<dyn Error>> {
    let surfaces = &course.scene.surfaces;
    let bytes = match trace_kind(file)? {
        TraceKind::Csv => trace.to_csv(surfaces)?,
        TraceKind::JsonLines => trace.to_json_lines(surfaces)?,
    };
    Ok(write_whole(file, &bytes)?)
}

fn check(files: &[PathBuf]) -> Done {
    let mut code = Code::Fine;
    for file in files {
        match report::load(file) {
            Ok(course) => {
                let (triangles, moments) = (course.scene.solids.triangles(), course.script.moments.len());
                let expectations = course.expectations.len();
                let counts = format!("{triangles} triangles, {moments} changes of intent, {expectations} expectations");
                say(format_args!("{}: fine. {counts}.", file.display()))?;
                report::warn(&course_warnings(&course));
            }
            Err(error) => {
                eprintln!("error: {error}");
                code = Code::BadInput;
            }
        }
    }
    Ok(code)
}

fn test(files: &[PathBuf]) -> Done {
    let (mut passed, mut failed, mut broken) = (0, 0, 0);
    for file in files {
        match verdicts_of(file) {
            Ok(verdicts) => {
                let good = verdicts.iter().filter(|v| v.passed).count();
                (passed, failed) = (passed + good, failed + verdicts.len() - good);
            }
            Err(error) if report::is_broken_pipe(error.as_ref()) => return Err(error),
            Err(error) => {
                eprintln!("error: {error}");
                broken += 1;
            }
        }
    }
    say(format_args!("{passed} expectations came true, {failed} failed."))?;
    Ok(match (broken, failed) {
        (0, 0) => Code::Fine,
        (0, _) => Code::Failed,
        _ => Code::BadInput,
    })
}

fn verdicts_of(file: &Path) -> Result<Vec<Verdict>, Box<dyn Error>> {
    let course = report::load(file)?;
    let verdicts = judge(&course, &play(&course)?);
    say(format_args!("{}: {}", file.display(), course.title))?;
    if verdicts.is_empty() {
        say("  expects nothing: add [[expect]] to the course")?;
    } else {
        say(report::verdicts(&verdicts))?;
    }
    Ok(verdicts)
}

fn demo(from: &Path, into: &Path) -> Done {
    let file = from.join("courses/gull-rock.toml");
    if !file.is_file() {
        let message = "is not here: run `newel demo` from the root of the project, or name the directory with --from";
        return Err(FileError::whole(&file, message).into());
    }
    let course = report::load(&file)?;
    let trace = play(&course)?;
    std::fs::create_dir_all(into).map_err(|e| FileError::whole(into, format!("cannot be made: {e}")))?;
    let (picture, csv) = (into.join("gull-rock.png"), into.join("gull-rock.csv"));
    write_whole(&picture, &course_sheet(&course, &trace, Format::Png)?)?;
    write_trace(&course, &trace, &csv)?;
    let (keeper, course_file) = (from.join("tunings/keeper.toml"), &file);
    say(format_args!("{}\n", Summary::of(&trace)))?;
    say(
        "The keeper of Gull Rock goes down the slipway, along the jetty, over the gap, up the steps and off the edge.",
    )?;
    say(format_args!("  look at  {}   the place, the path, height and speed over time", picture.display()))?;
    say(format_args!("  open     {}   every tick, for a spreadsheet", csv.display()))?;
    say(format_args!("  change   {}   a number of the keeper's, then run this again", keeper.display()))?;
    say(format_args!("  read     {}   the course: terrain, script, expectations", course_file.display()))?;
    Ok(Code::Fine)
}
