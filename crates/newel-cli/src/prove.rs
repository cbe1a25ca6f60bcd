//! `newel prove`: a tuning, or all presets, over generated land and among moving bodies.

use std::error::Error;
use std::path::Path;

use comfy_table::{CellAlignment, Table, presets};
use newel_lab::proving::{Cut, MovingFigures, Proof, ProofSize, TwiceFigures, prove, seconds};
use newel_lab::{FileError, write_whole};

use crate::args;
use crate::measure::named;
use crate::report::{self, Code, say};

/// The worst cuts that are printed.
const SHOWN: usize = 8;

pub fn run(args: &args::Prove) -> Result<Code, Box<dyn Error>> {
    if let Some(file) = &args.again {
        return again(file);
    }
    let tuning = args.tuning.as_deref().map(named).transpose()?;
    let size = ProofSize { first: args.first, walks: args.walks, cuts: args.cuts, worlds: args.worlds };
    let bar = report::progress("walking");
    let proof = prove(size, tuning.as_ref(), |part| bar.set_position((part * 1000.0) as u64));
    bar.finish_and_clear();
    if let Some(directory) = &args.keep {
        keep(&proof.cuts.worst, directory)?;
    }
    if args.json {
        say(serde_json::to_string_pretty(&proof)?)?;
    } else {
        print(&proof)?;
    }
    Ok(Code::Fine)
}

fn again(file: &Path) -> Result<Code, Box<dyn Error>> {
    let text = std::fs::read_to_string(file).map_err(|e| FileError::whole(file, format!("cannot be read: {e}")))?;
    let cut: Cut =
        serde_json::from_str(&text).map_err(|e| FileError::whole(file, format!("is not a kept cut: {e}")))?;
    let (apart, events) =
        cut.again().ok_or_else(|| FileError::whole(file, "names land or a tuning that is not possible"))?;
    say(format_args!("{}", words(&cut)))?;
    say(format_args!("  ends {:.4} mm apart (kept: {:.4} mm)", apart * 1e3, cut.apart * 1e3))?;
    say(format_args!("  events {}", if events { "differ" } else { "are the same" }))?;
    Ok(Code::Fine)
}

fn keep(cuts: &[Cut], directory: &Path) -> Result<(), Box<dyn Error>> {
    std::fs::create_dir_all(directory).map_err(|e| FileError::whole(directory, format!("cannot be made: {e}")))?;
    for (rank, cut) in cuts.iter().enumerate() {
        write_whole(&directory.join(format!("{:02}.json", rank + 1)), &serde_json::to_vec(cut)?)?;
    }
    Ok(())
}

fn print(proof: &Proof) -> Result<(), Box<dyn Error>> {
    say(format_args!("{} walks of 30 s over generated land", proof.walks))?;
    say(format_args!(
        "  a walking tick takes {:.1} closest-point queries in the mean, at 60 Hz on hills",
        proof.walking_queries
    ))?;
    say("\nWhat a player would see, by tick rate")?;
    if proof.findings.is_empty() {
        say("  nothing")?;
    } else {
        let rows = proof.findings.iter().map(|(name, counts)| {
            let numbers = counts.iter().map(ToString::to_string);
            std::iter::once((*name).to_owned()).chain(numbers).collect()
        });
        say(table(&["finding", "15 Hz", "60 Hz", "333 Hz"], rows))?;
    }
    for example in &proof.examples {
        say(format_args!("    {example}"))?;
    }
    say("\nThe same walks at other tick rates, beside 1000 Hz")?;
    let rows = proof.rates.iter().map(|r| {
        let counts = [r.apart, r.apart_at_end, r.same_bits, r.events].map(|n| n.to_string());
        std::iter::once(r.ticks.clone()).chain(counts).chain([format!("{:.3} mm", r.median * 1e3)]).collect()
    });
    say(table(&["ticks", "over 5 mm", "at the end", "same bits", "other events", "median"], rows))?;
    print_cuts(proof)?;
    print_twice("All input 3.1 ms later", &proof.shifted)?;
    print_twice("The world turned askew", &proof.turned)?;
    proof.moving.iter().try_for_each(print_moving)
}

fn print_twice(what: &str, figures: &TwiceFigures) -> Result<(), Box<dyn Error>> {
    let TwiceFigures { walks, apart, events } = figures;
    say(format_args!("\n{what}: of {walks} walks {apart} end over 5 mm apart, {events} have other events"))?;
    Ok(())
}

fn print_cuts(proof: &Proof) -> Result<(), Box<dyn Error>> {
    let cuts = &proof.cuts;
    let [median, most, nearly_all, worst] = cuts.apart.map(|apart| apart * 1e3);
    say(format_args!("\n{} ticks cut in two, most of them with motion decided anew at the cut", cuts.count))?;
    say(format_args!(
        "  the ends are {median:.1e} mm apart in the median, {most:.4} mm at 99 %, {nearly_all:.3} mm at 99.9 %, {worst:.2} mm at most"
    ))?;
    say(format_args!(
        "  {} by over 0.01 mm, {} by over 1 mm; events differ in {}",
        cuts.moved, cuts.moved_far, cuts.events
    ))?;
    for (rank, cut) in cuts.worst.iter().take(SHOWN).enumerate() {
        say(format_args!("    {:2}. {:.3} mm: {}", rank + 1, cut.apart * 1e3, words(cut)))?;
    }
    Ok(())
}

fn words(cut: &Cut) -> String {
    let how = match cut.kind {
        newel_lab::proving::CutKind::DecidedAnew => "decided anew",
        newel_lab::proving::CutKind::TwoTicks => "in two ticks",
    };
    let triangles = match cut.triangles.len() {
        0 => String::new(),
        1 => ", shown by 1 triangle".to_owned(),
        n => format!(", shown by {n} triangles"),
    };
    let events =
        cut.events.as_ref().map_or(String::new(), |(whole, parts)| format!(", events {whole:?} and {parts:?}"));
    format!(
        "walk {} ({}, {}) at {:.4} s, {how}, {:?}{triangles}{events}",
        cut.walk,
        cut.land,
        cut.preset,
        seconds(cut.from),
        cut.state.mode
    )
}

fn print_moving(figures: &MovingFigures) -> Result<(), Box<dyn Error>> {
    let list = |counts: Vec<String>| if counts.is_empty() { "nothing".to_owned() } else { counts.join(", ") };
    let found = list(figures.findings.iter().map(|(name, count)| format!("{name} {count}")).collect());
    let told = list(figures.troubles.iter().map(|(name, count)| format!("{name} {count}")).collect());
    let (mean, most) = figures.queries;
    say(format_args!("\nAmong forty moving bodies at {} Hz: {} ticks", figures.rate, figures.ticks))?;
    say(format_args!("  closest-point queries of a tick: {mean:.1} in the mean, {most} at most"))?;
    say(format_args!("  found: {found}"))?;
    say(format_args!("  reported by events: {told}"))?;
    Ok(())
}

/// A table whose numbers are on the right.
fn table(head: &[&str], rows: impl Iterator<Item = Vec<String>>) -> Table {
    let mut table = Table::new();
    table.load_style(presets::NOTHING).set_header(head);
    rows.for_each(|row| {
        table.add_row(row);
    });
    table.column_iter_mut().skip(1).for_each(|column| column.set_cell_alignment(CellAlignment::Right));
    table
}
