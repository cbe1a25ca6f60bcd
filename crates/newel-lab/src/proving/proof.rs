//! Everything that is measured on the proving grounds, in one run: walks, tick rates, cuts, shifted input, moving worlds.

use std::collections::BTreeMap;
use std::sync::atomic::{AtomicUsize, Ordering};

use fastrand::Rng;
use newel::glam::DVec3;
use newel::{State, Tuning};
use rayon::prelude::*;
use serde::Serialize;

use super::cuts::{Cut, MOMENT, SAME, exact_state};
use super::land::{Land, LandKind};
use super::moving::{MovingResult, MovingWorld};
use super::parts::tilted;
use super::rates::{APART, AUDITED, RateResult, compare_rates, first_difference};
use super::time::{Ticks, UNITS};
use super::walk::{WALKS_PER_LAND, Walk, Walked, land_of};
use crate::audit::{Finding, Surface};

/// How much is measured.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct ProofSize {
    /// The number of the first walk and of the first moving world. Other numbers give other land, players and bodies.
    pub first: u64,
    /// Walks of 30 seconds; rounded up to whole pieces of land, of five walks each.
    pub walks: u64,
    /// Ticks that are cut, in all.
    pub cuts: u64,
    /// Moving worlds, each played for ten seconds at three tick rates.
    pub worlds: u64,
}

/// Seconds of a walk.
const LENGTH: u32 = 30;
/// Seconds of a moving world.
const MOVING_LENGTH: f64 = 10.0;
/// The tick rates of moving worlds.
const MOVING_RATES: [f64; 3] = [30.0, 60.0, 144.0];
/// The tick rates of the walks whose ticks are cut.
const CUT_RATES: [f64; 3] = [60.0, 37.0, 144.0];
/// How much later all input is in a shifted walk, in units: 3.1 ms.
const SHIFT: i64 = UNITS * 31 / 10_000;
/// The cuts that are kept with their smallest reproduction.
const WORST: usize = 20;
/// The findings of each kind that are kept, of one walk each.
const EXAMPLES: usize = 3;

/// What was measured.
#[derive(Debug, Clone, Serialize)]
pub struct Proof {
    /// How many walks there were.
    pub walks: usize,
    /// Closest-point queries of a walking tick at 60 Hz, in the mean.
    pub walking_queries: f64,
    /// Findings by kind, at each tick rate that is audited.
    pub findings: BTreeMap<&'static str, Vec<usize>>,
    /// The first findings of each kind, in words.
    pub examples: Vec<String>,
    /// Each kind of ticks beside 1000 Hz.
    pub rates: Vec<RateFigures>,
    /// Ticks that were cut.
    pub cuts: CutFigures,
    /// Walks with all input 3.1 ms later, beside the same on time.
    pub shifted: TwiceFigures,
    /// Walks in a world that is turned askew, beside the same upright.
    pub turned: TwiceFigures,
    /// Moving worlds at each tick rate.
    pub moving: Vec<MovingFigures>,
}

/// Walks with ticks of a kind beside the same walks at 1000 Hz.
#[derive(Debug, Clone, Serialize)]
pub struct RateFigures {
    /// The ticks.
    pub ticks: String,
    /// Walks that are over 5 mm apart at some whole second.
    pub apart: usize,
    /// Walks that end over 5 mm apart.
    pub apart_at_end: usize,
    /// Walks that are the same to the bit at every whole second.
    pub same_bits: usize,
    /// Walks with other events.
    pub events: usize,
    /// The median of the largest distance at a whole second, in metres.
    pub median: f64,
}

/// Ticks that were cut.
#[derive(Debug, Clone, Serialize)]
pub struct CutFigures {
    /// How many.
    pub count: usize,
    /// How far apart the ends are, in metres: the median, the 99th percentile, the 99.9th, and the most.
    pub apart: [f64; 4],
    /// Cuts that move the end by over 0.01 mm.
    pub moved: usize,
    /// Cuts that move the end by over 1 mm.
    pub moved_far: usize,
    /// Cuts with other events.
    pub events: usize,
    /// The worst, most apart first, each with the fewest triangles that show it.
    pub worst: Vec<Cut>,
}

/// Walks made twice at 60 Hz, with what should change nothing.
#[derive(Debug, Clone, Serialize)]
pub struct TwiceFigures {
    /// How many.
    pub walks: usize,
    /// Those that end over 5 mm apart.
    pub apart: usize,
    /// Those with other events.
    pub events: usize,
}

/// Moving worlds at one tick rate.
#[derive(Debug, Clone, Serialize)]
pub struct MovingFigures {
    /// Ticks a second.
    pub rate: f64,
    /// Ticks of all characters.
    pub ticks: u64,
    /// Closest-point queries of a tick: in the mean, and the most.
    pub queries: (f64, u32),
    /// Findings by kind.
    pub findings: BTreeMap<&'static str, usize>,
    /// Events that tell of trouble, by name.
    pub troubles: BTreeMap<&'static str, u64>,
}

/// One walk and all that was done with it.
struct WalkProof {
    land: LandKind,
    rates: Vec<RateResult>,
    aparts: Vec<f64>,
    cuts: Vec<Cut>,
    /// None where waves tell the two apart.
    shifted: Option<Twice>,
    /// None where there is water, which is always level.
    turned: Option<Twice>,
    label: String,
}

/// A walk made twice.
struct Twice {
    /// How far apart the ends are, in metres.
    apart: f64,
    events_differ: bool,
}

/// Measures everything, with the presets or with one tuning of your own. `progress` hears which part of it, 0 to 1, is done.
pub fn prove(size: ProofSize, tuning: Option<&Tuning>, progress: impl Fn(f64) + Sync) -> Proof {
    let lands: Vec<u64> = (size.first / WALKS_PER_LAND..(size.first + size.walks).div_ceil(WALKS_PER_LAND)).collect();
    let worlds: Vec<(u64, f64)> =
        (size.first..size.first + size.worlds).flat_map(|world| MOVING_RATES.map(|rate| (world, rate))).collect();
    let (done, all) = (AtomicUsize::new(0), lands.len() + worlds.len());
    let step = || progress((done.fetch_add(1, Ordering::Relaxed) + 1) as f64 / all as f64);
    let cuts_per_walk = size.cuts as f64 / size.walks.max(1) as f64;
    let walks: Vec<WalkProof> = lands
        .par_iter()
        .flat_map_iter(|land| {
            let walks = prove_land(*land, cuts_per_walk, tuning);
            step();
            walks
        })
        .collect();
    let moving: Vec<(f64, MovingResult)> = worlds
        .par_iter()
        .map(|(world, rate)| {
            let result = MovingWorld::generate(*world).play(*world, *rate, MOVING_LENGTH, tuning, |_, _, _, _| ());
            step();
            (*rate, result)
        })
        .collect();
    gather(&walks, &moving)
}

fn prove_land(land: u64, cuts: f64, tuning: Option<&Tuning>) -> Vec<WalkProof> {
    let first = land * WALKS_PER_LAND;
    let mut land = land_of(first);
    let surface = Surface::of(&land.scene);
    let numbers = first..first + WALKS_PER_LAND;
    numbers.filter_map(|number| prove_walk(&mut land, &surface, number, cuts, tuning)).collect()
}

fn prove_walk(
    land: &mut Land,
    surface: &Surface,
    number: u64,
    cuts: f64,
    tuning: Option<&Tuning>,
) -> Option<WalkProof> {
    let walk = Walk::new(land, number, LENGTH, tuning)?;
    let rates = compare_rates(&walk, land, Some(surface));
    let (aparts, cuts) = cut_walk(&walk, land, cuts);
    let base = &rates.iter().find(|r| r.ticks == Ticks::Rate(60.0))?.walked;
    let has_water = land.kind == LandKind::Shore;
    let shifted = (!has_water).then(|| shift_walk(&walk, land, base));
    let turned = (!has_water).then(|| turn_walk(&walk, land, base));
    let label = format!("walk {number} ({}, {}, {:?})", land.kind.name(), walk.preset, walk.kind);
    Some(WalkProof { land: land.kind, rates, aparts, cuts, shifted, turned, label })
}

/// Cuts about so many random ticks of a walk. Returns how far each moves the end, and those that differ.
fn cut_walk(walk: &Walk, land: &mut Land, cuts: f64) -> (Vec<f64>, Vec<Cut>) {
    let mut rng = Rng::with_seed(walk.number);
    let rate = CUT_RATES[(walk.number % CUT_RATES.len() as u64) as usize];
    let part = cuts / (f64::from(LENGTH) * rate);
    let mut chosen: Vec<((i64, i64), State)> = Vec::new();
    walk.play(land, Ticks::Rate(rate), None, |step| {
        if rng.f64() < part {
            let (from, to) = step.span;
            let intent = walk.player.wanted(from, from + MOMENT).0;
            let state = exact_state(step.hero.clone(), step.terrain, &walk.tuning, &intent);
            chosen.extend(state.map(|state| ((from + MOMENT, to - from - MOMENT), state)));
        }
    });
    let cuts: Vec<Cut> =
        chosen.into_iter().filter_map(|(span, state)| Cut::of(walk, land, span, state, &mut rng)).collect();
    (cuts.iter().map(|cut| cut.apart).collect(), cuts.into_iter().filter(Cut::differs).collect())
}

/// The same walk with all input a little later, on the same ticks.
fn shift_walk(walk: &Walk, land: &mut Land, base: &Walked) -> Twice {
    let later = Walk { player: walk.player.later(SHIFT), ..walk.clone() };
    let end = i64::from(LENGTH) * UNITS + SHIFT;
    let shifted = later.play_with(land, Ticks::Rate(60.0).ends(LENGTH).chain([end]), None, |_| ());
    let apart = distance(base.end, shifted.end);
    Twice { apart, events_differ: first_difference_in_kind(&base.events, &shifted.events) }
}

/// The same walk in a world turned askew, by another turn for each walk.
fn turn_walk(walk: &Walk, land: &Land, base: &Walked) -> Twice {
    let turn = tilted(&mut Rng::with_seed(walk.number), std::f64::consts::PI);
    let turned = walk.turned(turn).play(&mut land.turned(turn), Ticks::Rate(60.0), None, |_| ());
    let apart = distance(base.end.map(|end| turn * end), turned.end);
    Twice { apart, events_differ: first_difference(&base.events, &turned.events).is_some() }
}

/// How far apart two ends are; infinitely where a walk came to none.
fn distance(one: Option<DVec3>, other: Option<DVec3>) -> f64 {
    one.zip(other).map_or(f64::INFINITY, |(one, other)| (one - other).length())
}

/// True where the events of two walks differ in kind or number, whatever their times.
fn first_difference_in_kind(one: &[newel::Event], other: &[newel::Event]) -> bool {
    let shifted = |events: &[newel::Event], by: f64| -> Vec<newel::Event> {
        events.iter().map(|event| newel::Event { time: event.time + by, ..*event }).collect()
    };
    first_difference(&shifted(one, SHIFT as f64 / UNITS as f64), &shifted(other, 0.0)).is_some()
}

fn gather(walks: &[WalkProof], moving: &[(f64, MovingResult)]) -> Proof {
    let (findings, examples) = findings(walks);
    Proof {
        walks: walks.len(),
        walking_queries: walking_queries(walks),
        findings,
        examples,
        rates: (1..Ticks::COMPARED.len()).map(|index| rate_figures(walks, index)).collect(),
        cuts: cut_figures(walks),
        shifted: twice_figures(walks.iter().filter_map(|walk| walk.shifted.as_ref())),
        turned: twice_figures(walks.iter().filter_map(|walk| walk.turned.as_ref())),
        moving: MOVING_RATES.iter().filter_map(|rate| moving_figures(moving, *rate)).collect(),
    }
}

fn walking_queries(walks: &[WalkProof]) -> f64 {
    let at_60 = walks.iter().filter(|walk| walk.land == LandKind::Fractal);
    let at_60 = at_60.filter_map(|walk| walk.rates.iter().find(|r| r.ticks == Ticks::Rate(60.0)));
    let (queries, ticks) = at_60.fold((0, 0), |(q, t), r| (q + r.walked.queries, t + r.walked.ticks));
    queries as f64 / ticks.max(1) as f64
}

/// Counts by kind at each audited rate, and the first of each kind in words.
fn findings(walks: &[WalkProof]) -> (BTreeMap<&'static str, Vec<usize>>, Vec<String>) {
    let mut counts: BTreeMap<&'static str, Vec<usize>> = BTreeMap::new();
    let mut words: BTreeMap<&'static str, Vec<String>> = BTreeMap::new();
    for walk in walks {
        let audited = AUDITED.iter().map(|ticks| walk.rates.iter().find(|r| r.ticks == *ticks));
        for (column, result) in audited.enumerate() {
            let all: &[Finding] = result.map_or(&[], |r| &r.walked.findings);
            for finding in all {
                let name = finding.kind.name();
                counts.entry(name).or_insert_with(|| vec![0; AUDITED.len()])[column] += 1;
                let examples = words.entry(name).or_default();
                let is_of_another = examples.last().is_none_or(|last| !last.starts_with(&walk.label));
                if examples.len() < EXAMPLES && is_of_another {
                    examples.push(format!("{}, {}: {finding}", walk.label, AUDITED[column]));
                }
            }
        }
    }
    (counts, words.into_values().flatten().collect())
}

fn rate_figures(walks: &[WalkProof], index: usize) -> RateFigures {
    let of = |f: &dyn Fn(&RateResult) -> bool| walks.iter().filter(|walk| f(&walk.rates[index])).count();
    let aparts = walks.iter().map(|walk| walk.rates[index].apart).collect();
    RateFigures {
        ticks: Ticks::COMPARED[index].to_string(),
        apart: of(&|r| r.apart > APART),
        apart_at_end: of(&|r| r.apart_at_end > APART),
        same_bits: of(&|r| r.same_bits),
        events: of(&|r| r.events.is_some()),
        median: quantiles(aparts, [0.5])[0],
    }
}

fn cut_figures(walks: &[WalkProof]) -> CutFigures {
    let aparts: Vec<f64> = walks.iter().flat_map(|walk| walk.aparts.iter().copied()).collect();
    let mut differ: Vec<&Cut> = walks.iter().flat_map(|walk| &walk.cuts).collect();
    differ.sort_by(|a, b| b.apart.total_cmp(&a.apart));
    CutFigures {
        count: aparts.len(),
        moved: aparts.iter().filter(|apart| **apart > SAME).count(),
        moved_far: aparts.iter().filter(|apart| **apart > 1e-3).count(),
        events: differ.iter().filter(|cut| cut.events.is_some()).count(),
        apart: quantiles(aparts, [0.5, 0.99, 0.999, 1.0]),
        worst: differ.iter().take(WORST).map(|cut| cut.smallest(&land_of(cut.walk))).collect(),
    }
}

fn twice_figures<'a>(twice: impl Iterator<Item = &'a Twice> + Clone) -> TwiceFigures {
    TwiceFigures {
        walks: twice.clone().count(),
        apart: twice.clone().filter(|t| t.apart > APART).count(),
        events: twice.filter(|t| t.events_differ).count(),
    }
}

fn moving_figures(moving: &[(f64, MovingResult)], rate: f64) -> Option<MovingFigures> {
    let results: Vec<&MovingResult> = moving.iter().filter(|m| m.0 == rate).map(|m| &m.1).collect();
    let ticks: u64 = results.iter().map(|result| result.ticks).sum();
    let queries: u64 = results.iter().map(|result| result.queries).sum();
    let mut figures = MovingFigures {
        rate,
        ticks,
        queries: (queries as f64 / ticks.max(1) as f64, results.iter().map(|r| r.most_queries).max()?),
        findings: BTreeMap::new(),
        troubles: BTreeMap::new(),
    };
    for result in results {
        for (_, finding) in &result.findings {
            *figures.findings.entry(finding.kind.name()).or_default() += 1;
        }
        for (name, count) in &result.troubles {
            *figures.troubles.entry(name).or_default() += count;
        }
    }
    Some(figures)
}

/// The values that given parts of all values are under; zeros where there are none.
fn quantiles<const N: usize>(mut values: Vec<f64>, parts: [f64; N]) -> [f64; N] {
    values.sort_by(f64::total_cmp);
    let last = values.len().saturating_sub(1) as f64;
    parts.map(|part| values.get((last * part).round() as usize).copied().unwrap_or(0.0))
}
