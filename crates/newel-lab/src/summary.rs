//! Summary of a run in a few lines.

use std::collections::BTreeMap;
use std::fmt;

use newel::{EventKind, Mode};
use serde::Serialize;

use crate::audit::{Finding, FindingKind};
use crate::names::{MODES, mode_name, refusal_words};
use crate::trace::Trace;

/// The few figures that tell how a run went, and whatever looks wrong about it.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Summary {
    /// The course's title.
    pub title: String,
    /// How long it ran, seconds.
    pub seconds: f64,
    /// Ticks a second.
    pub rate: f64,
    /// The way gone, metres.
    pub distance_m: f64,
    /// Seconds in each mode.
    pub modes: Vec<(&'static str, f64)>,
    /// The highest speed, m/s, and when.
    pub top_speed_m_s: f64,
    /// When that was, seconds.
    pub top_speed_at_s: f64,
    /// Jumps.
    pub jumps: usize,
    /// Times the ground was left without a jump.
    pub falls: usize,
    /// The hardest landing, m/s; 0 without one.
    pub hardest_landing_m_s: f64,
    /// The lowest and highest the feet were, metres.
    pub heights_m: (f64, f64),
    /// Where the feet ended, metres.
    pub end_m: [f64; 3],
    /// The hash of the state at the end.
    pub hash: String,
    /// The hash of all inputs.
    pub inputs: String,
    /// Reports of its drivers: when, seconds, and what.
    pub told: Vec<(f64, String)>,
    /// The routes that were planned: when, how long they are, metres, and should take, seconds.
    pub planned: Vec<[f64; 3]>,
    /// The sensors that it came into: when, seconds, and which.
    pub sensed: Vec<(f64, String)>,
    /// Refused requests, with the reason: when first, seconds, what, and how often.
    pub refused: Vec<(f64, String, usize)>,
    /// Whatever looks wrong.
    pub suspicious: Vec<String>,
}

/// More changes between ground and air in a second than this is a flutter.
const FLUTTER: usize = 6;

impl Summary {
    /// The summary of a run.
    #[must_use]
    pub fn of(trace: &Trace) -> Summary {
        let rows = &trace.rows;
        let end = rows[rows.len() - 1];
        let put = trace.ticks_put();
        let gone = rows.windows(2).filter(|w| put.binary_search(&w[1].tick).is_err());
        let distance_m = gone.map(|w| (w[1].position - w[0].position).length()).sum();
        let top =
            rows.iter().fold(rows[0], |best, r| if r.velocity.length() > best.velocity.length() { *r } else { best });
        let landing =
            |kind: &EventKind| if let EventKind::Landed { speed, .. } = kind { f64::from(*speed) } else { 0.0 };
        let fold = |f: fn(f64, f64) -> f64| rows.iter().map(|r| r.position.y).fold(end.position.y, f);
        Summary {
            title: trace.title.clone(),
            seconds: end.time,
            rate: trace.rate,
            distance_m,
            modes: modes(trace),
            top_speed_m_s: top.velocity.length(),
            top_speed_at_s: top.time,
            jumps: trace.count("jumped"),
            falls: trace.count("left_ground"),
            hardest_landing_m_s: trace.events.iter().map(|e| landing(&e.kind)).fold(0.0, f64::max),
            heights_m: (fold(f64::min), fold(f64::max)),
            end_m: end.position.to_array(),
            hash: format!("{:016x}", trace.hash),
            inputs: format!("{:016x}", trace.inputs),
            told: trace.told.iter().map(|told| (told.time, told.words.clone())).collect(),
            planned: trace.planned.iter().map(|p| [p.time, p.length, p.seconds]).collect(),
            sensed: sensed(trace),
            refused: refused(trace),
            suspicious: suspicious(trace),
        }
    }
}

fn modes(trace: &Trace) -> Vec<(&'static str, f64)> {
    let seconds = |mode: Mode| trace.rows[1..].iter().filter(|r| r.mode == mode).count() as f64 / trace.rate;
    MODES.into_iter().map(|m| (mode_name(m), seconds(m))).filter(|m| m.1 > 0.0).collect()
}

fn sensed(trace: &Trace) -> Vec<(f64, String)> {
    let entered = trace.events.iter().filter_map(|event| match event.kind {
        EventKind::SensorEntered { sensor } => Some((event.time, trace.sensor(sensor))),
        _ => None,
    });
    entered.collect()
}

fn refused(trace: &Trace) -> Vec<(f64, String, usize)> {
    let mut all: Vec<(f64, String, usize)> = Vec::new();
    for event in &trace.events {
        let EventKind::Refused { ability, why } = event.kind else { continue };
        let words = refusal_words(ability, why);
        match all.iter_mut().find(|known| known.1 == words) {
            Some(known) => known.2 += 1,
            None => all.push((event.time, words, 1)),
        }
    }
    all
}

fn suspicious(trace: &Trace) -> Vec<String> {
    let mut found = Vec::new();
    let overlaps = trace.rows.iter().filter(|r| r.depth > r.skin);
    if let Some(worst) = overlaps.clone().max_by(|a, b| a.depth.total_cmp(&b.depth)) {
        let (count, depth, time) = (overlaps.count(), worst.depth * 1000.0, worst.time);
        found.push(format!("overlaps the terrain in {count} ticks, worst {depth:.1} mm deep at {time:.3} s"));
    }
    for (name, words) in [
        ("crushed", "ticks in which it was crushed"),
        ("stuck", "ticks in which it was stuck in something"),
        ("pushed_out", "times pushed out of something"),
        ("time_dropped", "ticks whose time was not used up"),
    ] {
        match trace.count(name) {
            0 => {}
            count => found.push(format!("{count} {words}")),
        }
    }
    if let Some(time) = trace.fell_out() {
        found.push(format!("fell out of the world: below all terrain from {time:.2} s on"));
    }
    found.extend(findings(trace));
    if let Some(time) = flutter(trace) {
        found.push(format!("flutters between ground and air around {time:.2} s"));
    }
    found
}

/// The first finding of each kind, and how many more of that kind there are. Overlaps are told with their worst tick.
fn findings(trace: &Trace) -> Vec<String> {
    let kinds: BTreeMap<&str, Vec<&Finding>> = trace.findings.iter().fold(BTreeMap::new(), |mut kinds, finding| {
        kinds.entry(finding.kind.name()).or_insert_with(Vec::new).push(finding);
        kinds
    });
    let told = kinds.values().filter(|all| !matches!(all[0].kind, FindingKind::Overlap { .. }));
    let words = |all: &Vec<&Finding>| match all.len() {
        1 => all[0].to_string(),
        count => format!("{}, and {} more", all[0], count - 1),
    };
    told.map(words).collect()
}

fn flutter(trace: &Trace) -> Option<f64> {
    let changes: Vec<f64> = trace.rows.windows(2).filter(|w| w[0].mode != w[1].mode).map(|w| w[1].time).collect();
    changes.windows(FLUTTER).find(|w| w[FLUTTER - 1] - w[0] < 1.0).map(|w| w[0])
}

impl Summary {
    /// The figures in words: a name and what there is to say, line by line.
    pub fn lines(&self) -> Vec<(&'static str, String)> {
        let plural = |n: usize| if n == 1 { "" } else { "s" };
        let modes: Vec<String> = self.modes.iter().map(|(name, s)| format!("{s:.2} s {}", where_words(name))).collect();
        let (low, high) = (plain(self.heights_m.0), plain(self.heights_m.1));
        let (jumps, falls) = (self.jumps, self.falls);
        let mut airborne = format!("{jumps} jump{}, {falls} fall{}", plural(jumps), plural(falls));
        if self.hardest_landing_m_s > 0.0 {
            airborne += &format!(", hardest landing {:.2} m/s", self.hardest_landing_m_s);
        }
        let [x, y, z] = self.end_m.map(plain);
        let mut lines = vec![
            ("went", format!("{:.2} m", self.distance_m)),
            ("spent", modes.join(", ")),
            ("heights", format!("{low:.2} to {high:.2} m")),
            ("top speed", format!("{:.2} m/s at {:.2} s", self.top_speed_m_s, self.top_speed_at_s)),
            ("airborne", airborne),
            ("ended", format!("at ({x:.3}, {y:.3}, {z:.3})")),
            ("state", self.hash.clone()),
        ];
        lines.extend(self.driven().map(|driven| ("driven", driven)));
        let sensed: Vec<String> = self.sensed.iter().map(|(time, name)| format!("{name} at {time:.2} s")).collect();
        if !sensed.is_empty() {
            lines.push(("came into", sensed.join("; ")));
        }
        if !self.refused.is_empty() {
            let words = self.refused.iter().map(|(time, words, count)| match count {
                1 => format!("{words} at {time:.2} s"),
                more => format!("{words}, {more} times from {time:.2} s"),
            });
            lines.push(("refused", words.collect::<Vec<_>>().join("; ")));
        }
        match &self.suspicious[..] {
            [] => lines.push(("suspicious", "nothing".to_owned())),
            list => lines.extend(list.iter().map(|s| ("suspicious", s.clone()))),
        }
        lines
    }
}

impl Summary {
    /// Plans and reports of its drivers, if any.
    fn driven(&self) -> Option<String> {
        let metres: f64 = self.planned.iter().map(|[_, metres, _]| metres).sum();
        let plans = match self.planned.len() {
            0 => None,
            1 => Some(format!("a route of {metres:.1} m")),
            n => Some(format!("{n} routes, {metres:.1} m in all")),
        };
        let told = self.told.iter().map(|(time, words)| format!("{words} at {time:.2} s"));
        let all: Vec<String> = plans.into_iter().chain(told).collect();
        (!all.is_empty()).then(|| all.join("; "))
    }
}

/// To the millimetre; what rounds to nothing has no sign.
fn plain(metres: f64) -> f64 {
    (metres * 1e3).round() / 1e3 + 0.0
}

fn where_words(mode: &str) -> String {
    match mode {
        "ground" => "on the ground".to_owned(),
        "air" => "in the air".to_owned(),
        "slide" => "sliding".to_owned(),
        "hover" => "hovering".to_owned(),
        "climb" => "climbing".to_owned(),
        "ledge" => "at a ledge".to_owned(),
        "swim" => "swimming".to_owned(),
        other => format!("in mode {other}"),
    }
}

impl fmt::Display for Summary {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}: {:.2} s at {} ticks a second", self.title, self.seconds, self.rate)?;
        self.lines().iter().try_for_each(|(name, value)| write!(f, "\n  {name:<10} {value}"))
    }
}
