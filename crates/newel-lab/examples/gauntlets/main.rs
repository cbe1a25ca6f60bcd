//! Random gauntlets: pieces of every kind joined at random, walked once by a player who looks where it is, and played again from what was
//! pressed when, at six tick rates.
//!
//! `cargo run --release -p newel-lab --example gauntlets -- 1000 [first seed] [directory for those that differ]`

#[path = "../common/dice.rs"]
mod dice;
mod pieces;
mod record;

use std::collections::BTreeMap;
use std::path::Path;

use dice::Dice;
use newel::{EventKind, Tuning};
use newel_lab::proving::first_difference;
use newel_lab::{Course, Trace, event_name, run};
use pieces::{Gauntlet, KINDS};
use record::record;

const RATES: [f64; 6] = [15.0, 30.0, 60.0, 144.0, 240.0, 1000.0];
const PRESETS: [&str; 4] = ["walker", "heavy_explorer", "brisk_hero", "first_person"];

/// Results of all of them.
#[derive(Default)]
struct Tally {
    gauntlets: usize,
    pieces: usize,
    seconds: f64,
    /// Those whose player did not get to the end, and in what kind of piece.
    stuck: BTreeMap<&'static str, Vec<u64>>,
    /// Of those that did: at how many all rates told the same events.
    same: usize,
    differ: Vec<String>,
    /// The deepest overlap in parts of the skin.
    deepest: f64,
    suspicious: Vec<String>,
    /// Findings of the audits at all rates, by kind.
    found: BTreeMap<&'static str, usize>,
    /// Those that came out otherwise run once more.
    other_hash: Vec<u64>,
    /// And those that did with the triangles of what stands still counted the other way about.
    renumbered: Vec<u64>,
    /// The most that a gauntlet whose events are the same ended apart, and took longer at one rate than at another.
    apart: Vec<f64>,
    /// Where those parted that ended more than a millimetre apart.
    parted: Vec<String>,
}

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let mut arguments = std::env::args().skip(1);
    let count: u64 = arguments.next().map_or(Ok(100), |n| n.parse())?;
    let first: u64 = arguments.next().map_or(Ok(0), |n| n.parse())?;
    let directory = arguments.next();
    let mut tally = Tally::default();
    for seed in first..first + count {
        try_one(seed, directory.as_deref().map(Path::new), &mut tally)?;
    }
    tally.print();
    let wrong = tally.deepest > 1.0;
    if wrong { Err("one was in rock".into()) } else { Ok(()) }
}

fn try_one(seed: u64, directory: Option<&Path>, tally: &mut Tally) -> Result<(), Box<dyn std::error::Error>> {
    let mut dice = Dice(seed);
    let preset = PRESETS[dice.pick(PRESETS.len())];
    let mut gauntlet = Gauntlet::new(preset, Tuning::preset(preset).ok_or("no such preset")?);
    for _ in 0..5 + dice.pick(5) {
        let kind = KINDS[dice.pick(KINDS.len())];
        gauntlet.add(kind, &mut dice);
    }
    let text = gauntlet.finish();
    let recorded = record(&gauntlet, &text)?;
    tally.gauntlets += 1;
    tally.pieces += gauntlet.pieces.len();
    tally.seconds += recorded.seconds;
    if let Some(kind) = recorded.stuck_in {
        tally.stuck.entry(kind).or_default().push(seed);
    }
    let course = Course::from_text("gauntlet.toml", recorded.text.clone())?;
    let traces: Vec<Trace> =
        RATES.iter().map(|rate| run(&Course { rate: *rate, ..course.clone() }, |_| ())).collect::<Result<_, _>>()?;
    let (again, renumbered) = is_same_again(&recorded.text, &course, &traces[2])?;
    tally.other_hash.extend((!again).then_some(seed));
    tally.renumbered.extend((!renumbered).then_some(seed));
    let (suspicious, mut parted) = (tally.suspicious.len(), false);
    for trace in &traces {
        tally.look(seed, trace);
    }
    let differs = (0..traces.len() - 1).find_map(|n| difference(&traces[n], &traces[traces.len() - 1]));
    if let Some(words) = &differs {
        tally.differ.push(format!("seed {seed} ({preset}): {words}"));
    } else {
        tally.same += 1;
        let ends = traces.iter().filter_map(|trace| trace.rows.last()).map(|row| row.position);
        let (low, high) = ends.fold((f64::MAX, f64::MIN), |(low, high), end| (low.min(end.x), high.max(end.x)));
        tally.apart.push(high - low);
        parted = high - low > 1e-3;
        if parted {
            let place = parts(&traces).unwrap_or_default();
            tally.parted.push(format!("seed {seed} ({preset}): {:.1} mm{place}", (high - low) * 1e3));
        }
    }
    let told = !(again && renumbered)
        || differs.is_some()
        || parted
        || recorded.stuck_in.is_some()
        || tally.suspicious.len() > suspicious;
    if let Some(directory) = directory.filter(|_| told) {
        std::fs::create_dir_all(directory)?;
        std::fs::write(directory.join(format!("seed-{seed}.toml")), &recorded.text)?;
    }
    Ok(())
}

/// Whether the state has the same hash after another run of it, on a thread of its own, as after `trace`; and whether it has with its still
/// terrain the other way about, which numbers its triangles otherwise.
fn is_same_again(text: &str, course: &Course, trace: &Trace) -> Result<(bool, bool), Box<dyn std::error::Error>> {
    let mut tables: Vec<&str> = text.split("[[terrain]]").collect();
    let (first, last) = (tables.remove(0), tables.pop().ok_or("no terrain")?);
    // Surfaces are numbered as they come: what has one stays where it is.
    let is_still = |table: &&str| ["track", "surface", "[["].iter().all(|word| !table.contains(word));
    let mut still: Vec<&str> = tables.iter().copied().filter(is_still).collect();
    tables.iter_mut().filter(|table| is_still(table)).for_each(|table| *table = still.pop().unwrap_or_default());
    let turned = format!("{first}[[terrain]]{}[[terrain]]{last}", tables.join("[[terrain]]"));
    let other = Course { rate: trace.rate, ..Course::from_text("gauntlet.toml", turned)? };
    let same = Course { rate: trace.rate, ..course.clone() };
    let [again, turned] = std::thread::scope(|scope| {
        let runs = [&same, &other].map(|course| scope.spawn(|| run(course, |_| ())));
        runs.map(|run| run.join().expect("a run that ends").map(|trace| trace.hash))
    });
    Ok((again? == trace.hash, turned? == trace.hash))
}

/// The first whole second at which the rates differ by more than a millimetre, and where that is, in words.
fn parts(traces: &[Trace]) -> Option<String> {
    let at =
        |trace: &Trace, second: usize| trace.rows.get((second as f64 * trace.rate) as usize).map(|row| row.position);
    (1..1000).find_map(|second| {
        let places: Vec<_> = traces.iter().map(|trace| at(trace, second)).collect::<Option<_>>()?;
        let most = places.iter().map(|place| (*place - places[0]).length()).fold(0.0, f64::max);
        (most > 1e-3).then(|| format!(", {:.1} of it by {second} s, x {:.2}", most * 1e3, places[0].x))
    })
}

/// Where the events of two runs first differ, in words.
fn difference(one: &Trace, other: &Trace) -> Option<String> {
    let words = first_difference(&one.events, &other.events)?;
    Some(format!("{} Hz {words} at {} Hz", one.rate, other.rate))
}

impl Tally {
    /// Failures.
    fn look(&mut self, seed: u64, trace: &Trace) {
        // Between what closes in it overlaps, and says so.
        let crushed = trace.events.iter().find(|event| matches!(event.kind, EventKind::Crushed { .. }));
        let until = crushed.map_or(f64::INFINITY, |event| event.time - 1.0 / trace.rate);
        for row in trace.rows.iter().filter(|row| row.time <= until) {
            self.deepest = self.deepest.max(row.depth / row.skin);
        }
        for finding in &trace.findings {
            *self.found.entry(finding.kind.name()).or_default() += 1;
        }
        for event in &trace.events {
            let bad = match event.kind {
                EventKind::Stuck | EventKind::TimeDropped { .. } | EventKind::Crushed { .. } => true,
                EventKind::PushedOut { distance } => distance > 1e-3,
                _ => false,
            };
            if bad {
                let (name, time) = (event_name(&event.kind), event.time);
                self.suspicious
                    .push(format!("seed {seed}, {} Hz: {name} at {time:.4} s, {:.2}", trace.rate, event.place));
            }
        }
    }

    fn print(&mut self) {
        let stuck: usize = self.stuck.values().map(Vec::len).sum();
        println!(
            "{} gauntlets of {} pieces, {:.0} s of walking, each at {} tick rates",
            self.gauntlets,
            self.pieces,
            self.seconds,
            RATES.len()
        );
        println!("  {} got to the end", self.gauntlets - stuck);
        for (kind, seeds) in &self.stuck {
            println!("    {} did not get out of: {kind} (seeds {:?})", seeds.len(), &seeds[..seeds.len().min(8)]);
        }
        let some = |seeds: &[u64]| format!("{} {:?}", seeds.len(), &seeds[..seeds.len().min(8)]);
        println!("  not the same bits once more, on another thread: {}", some(&self.other_hash));
        println!("  nor with the triangles of what stands still renumbered: {}", some(&self.renumbered));
        println!("  deepest in rock: {:.4} of the skin", self.deepest);
        println!("  stuck, crushed, pushed out or with time dropped: {}", self.suspicious.len());
        self.suspicious.iter().take(20).for_each(|line| println!("    {line}"));
        println!("  found by the audits at all rates: {:?}", self.found);
        self.apart.sort_by(f64::total_cmp);
        let at = |part: f64| self.apart.get(((self.apart.len() as f64 - 1.0) * part).round() as usize).copied();
        println!(
            "  the same events at all rates: {} of {}; their ends apart {:.3} mm in the median, {:.3} mm at the 99th percentile",
            self.same,
            self.gauntlets,
            at(0.5).unwrap_or(0.0) * 1e3,
            at(0.99).unwrap_or(0.0) * 1e3
        );
        self.parted.iter().take(40).for_each(|line| println!("    {line}"));
        self.differ.iter().take(40).for_each(|line| println!("    {line}"));
    }
}
