//! Jumps as they turn out: heights, times, reach, and what forgives.

use newel::glam::DVec3;
use newel::{Button, EventKind, Face, Jump, Off, Tuning};

use super::Outcome;
use super::formula::{Fall, flown, time_up};
use super::grounds::Ground;
use super::trial::{RATE, Trial, Writing, largest};

/// A button held longer than any jump rises, seconds.
const HELD: f64 = 30.0;
const LONGEST: f64 = 60.0;

pub(super) fn is_landing(kind: &EventKind) -> bool {
    matches!(kind, EventKind::Landed { .. })
}

/// A jump from standing: press by press until it has landed.
fn jumped(tuning: &Tuning, script: Writing) -> Option<Trial> {
    let mut trial = Trial::new(&Ground::floor(), tuning, [0.0; 3])?;
    trial.play_until(&script.script(), LONGEST, |t| t.first(is_landing).is_some());
    Some(trial)
}

fn top(trial: &Trial) -> Option<(f64, f64)> {
    trial.first(|k| *k == EventKind::Topped).map(|e| (e.time, e.place.y))
}

pub(super) fn outcomes(tuning: &Tuning) -> Vec<Outcome> {
    let fall = Fall::of(tuning);
    let mut found = vec![
        Outcome::new("fall speed after 1 s", "m/s", fallen(tuning, 1.0), Some(fall.plain().after(1.0))),
        Outcome::new("fall speed after 5 s", "m/s", fallen(tuning, 5.0), Some(fall.plain().after(5.0))),
    ];
    let Some(jump) = tuning.values().jump else { return found };
    found.extend(plain(tuning, &jump, fall));
    if let Some(tap) = jump.tap_height {
        // Let go in the very tick of the press.
        let trial = jumped(tuning, Writing::default().press(0.001, Button::Jump, 1e-9));
        let height = trial.as_ref().and_then(top).map(|t| t.1);
        found.push(Outcome::new("jump height, tapped", "m", height, Some(f64::from(tap))));
    }
    if jump.extra > 0.0 {
        found.push(extra(tuning, &jump));
    }
    found.push(Outcome::new("coyote time as used", "s", coyote(tuning), Some(f64::from(jump.coyote))));
    found.push(Outcome::new("jump buffer as used", "s", buffer(tuning), Some(f64::from(jump.buffer))));
    found
}

/// How long a full jump takes up, and down again to where it began.
pub(super) fn times(tuning: &Tuning) -> (f64, f64) {
    let height = tuning.values().jump.map_or(0.0, |jump| f64::from(jump.height));
    (time_up(tuning, height), Fall::of(tuning).over(height).0)
}

fn plain(tuning: &Tuning, jump: &Jump, fall: Fall) -> Vec<Outcome> {
    let height = f64::from(jump.height);
    let (up, (down, speed)) = (time_up(tuning, height), fall.over(height));
    let trial = jumped(tuning, Writing::default().press(0.0, Button::Jump, HELD));
    let landing = trial.as_ref().and_then(|t| t.first(is_landing).copied());
    let top = trial.as_ref().and_then(top);
    let landed = landing.map(|e| e.time);
    let hit =
        landing.and_then(|e| if let EventKind::Landed { speed, .. } = e.kind { Some(f64::from(speed)) } else { None });
    let running = f64::from(tuning.values().ground.speed);
    vec![
        Outcome::new("jump height", "m", top.map(|t| t.1), Some(height)),
        Outcome::new("jump, time up", "s", top.map(|t| t.0), Some(up)),
        Outcome::new("jump, time down", "s", landed.zip(top).map(|(l, t)| l - t.0), Some(down)),
        Outcome::new("jump, air time", "s", landed, Some(up + down)),
        Outcome::new("landing speed", "m/s", hit, Some(speed)),
        Outcome::new("running jump reach", "m", reach(tuning), flown(tuning, running, up + down)),
    ]
}

/// How far a jump at full speed leads over level ground.
fn reach(tuning: &Tuning) -> Option<f64> {
    let (trial, _) = super::walking::paced(tuning, false, Some(1.0), 0.0)?;
    let start = trial.hero.clock;
    let mut trial = Trial::new(&Ground::floor(), tuning, [0.0; 3])?;
    let script = Writing::default().face(Face::Movement).head(0.0, 1.0).press(start, Button::Jump, HELD).script();
    trial.play_until(&script, start + LONGEST, |t| t.first(is_landing).is_some());
    let from = trial.first(|k| matches!(k, EventKind::Jumped { .. }))?.place.x;
    Some(trial.first(is_landing)?.place.x - from)
}

/// How high an extra jump, made at the top of the first, rises from there.
fn extra(tuning: &Tuning, jump: &Jump) -> Outcome {
    let height = f64::from(jump.extra_height.unwrap_or(jump.height));
    let measured = jumped(tuning, Writing::default().press(0.0, Button::Jump, HELD)).and_then(|first| {
        let at = top(&first)?.0;
        let script = Writing::default().press(0.0, Button::Jump, at).press(at + 1e-6, Button::Jump, HELD);
        let second = jumped(tuning, script)?;
        let from = second.first(|k| *k == EventKind::Jumped { off: Off::Air })?.place.y;
        Some(second.events.iter().filter(|e| e.kind == EventKind::Topped).map(|e| e.place.y).fold(0.0, f64::max) - from)
    });
    Outcome::new("extra jump rises", "m", measured, Some(height))
}

fn fallen(tuning: &Tuning, seconds: f64) -> Option<f64> {
    let mut trial =
        Trial::new(&Ground::default().block([-9.0, -1.0, -9.0], [9.0, 0.0, 9.0]), tuning, [0.0, 60_000.0, 0.0])
            .or_else(|| Trial::new(&Ground::floor(), tuning, [0.0, 60_000.0, 0.0]))?;
    trial.play(&Writing::default().script(), seconds);
    Some(-trial.hero.velocity.y)
}

/// When the ground is lost on running off a quay, from standing two metres before its end.
fn lost(tuning: &Tuning) -> Option<f64> {
    let mut trial = Trial::new(&Ground::quay(), tuning, [-2.0, 0.0, 0.0])?;
    let left = |k: &EventKind| matches!(k, EventKind::LeftGround { .. });
    trial.play_until(&Writing::default().head(0.0, 1.0).script(), LONGEST, |t| t.first(left).is_some());
    trial.first(left).map(|e| e.time)
}

/// The last moment after losing the ground at which a press still jumps.
fn coyote(tuning: &Tuning) -> Option<f64> {
    let lost = lost(tuning)?;
    let off = |k: &EventKind| *k == EventKind::Jumped { off: Off::LostGround };
    let works = |late: f64| {
        let Some(mut trial) = Trial::new(&Ground::quay(), tuning, [-2.0, 0.0, 0.0]) else { return false };
        let script = Writing::default().head(0.0, 1.0).press(lost + late, Button::Jump, HELD).script();
        trial.play(&script, lost + late + 0.02);
        trial.first(off).is_some()
    };
    Some(largest(1e-6, 12.0, works).unwrap_or(0.0))
}

/// How long before landing a press still jumps on it.
fn buffer(tuning: &Tuning) -> Option<f64> {
    // As many presses before it as use up the jumps in the air.
    let jump = tuning.values().jump?;
    let spent = jump.extra as usize;
    let fall = Fall::of(tuning).plain();
    let high = fall.height_for(f64::from(jump.buffer) + 1.0 + 0.02 * spent as f64);
    let start = |script: Writing| (0..spent).fold(script, |s, i| s.press(0.01 + 0.02 * i as f64, Button::Jump, 0.01));
    let dropped = |script: Writing, end: f64| {
        let mut trial = Trial::new(&Ground::floor(), tuning, [0.0, high, 0.0])?;
        trial.play_until(&start(script).script(), end, |t| t.first(is_landing).is_some());
        Some(trial)
    };
    let landing = dropped(Writing::default(), LONGEST)?.first(is_landing)?.time;
    let works = |early: f64| {
        let Some(mut trial) = Trial::new(&Ground::floor(), tuning, [0.0, high, 0.0]) else { return false };
        let script = start(Writing::default()).press(landing - early, Button::Jump, HELD).script();
        trial.play(&script, landing + 0.02);
        trial.first(|k| *k == EventKind::Jumped { off: Off::Ground }).is_some()
    };
    Some(largest(1e-6, landing - 0.5 - 0.02 * spent as f64, works).unwrap_or(0.0))
}

/// The way of one jump.
pub(crate) struct Arc {
    pub words: &'static str,
    /// Where the feet were, from the take-off at the origin on, once a tick.
    pub places: Vec<DVec3>,
    /// Ticks a second.
    pub rate: f64,
    /// How high it went, metres, and how long it took, seconds.
    pub height: f64,
    pub time: f64,
}

/// The jumps worth drawing.
pub(crate) fn arcs(tuning: &Tuning) -> Vec<Arc> {
    let Some(jump) = tuning.values().jump else { return Vec::new() };
    let Some((run, _)) = super::walking::paced(tuning, false, Some(1.0), 0.0) else { return Vec::new() };
    let speeding = run.hero.clock;
    let running = || Writing::default().face(Face::Movement).head(0.0, 1.0);
    let start = speeding.ceil();
    let mut wanted = vec![
        ("standing", Writing::default().press(start, Button::Jump, HELD)),
        ("running", running().press(start, Button::Jump, HELD)),
    ];
    if jump.tap_height.is_some() {
        wanted.push(("running, tapped", running().press(start, Button::Jump, 1e-6)));
    }
    if jump.extra > 0.0 {
        // The second one as the first begins to fall.
        let late = start + time_up(tuning, f64::from(jump.height)) + 0.05;
        let twice = running().press(start, Button::Jump, late - start - 0.01).press(late, Button::Jump, HELD);
        wanted.push(("running, jumping twice", twice));
    }
    wanted.into_iter().filter_map(|(words, script)| arc(tuning, words, script, start)).collect()
}

fn arc(tuning: &Tuning, words: &'static str, script: Writing, start: f64) -> Option<Arc> {
    let mut trial = Trial::new(&Ground::floor(), tuning, [0.0; 3])?;
    trial.play_until(&script.script(), start + LONGEST, |t| t.first(is_landing).is_some());
    let (from, to) = (trial.first(|k| matches!(k, EventKind::Jumped { .. }))?, trial.first(is_landing)?);
    let flight = trial.samples.iter().filter(|s| s.time >= from.time - 1e-9 && s.time < to.time).map(|s| s.position);
    let places: Vec<DVec3> = flight.chain([to.place]).map(|p| p - from.place).collect();
    let height = places.iter().map(|p| p.y).fold(0.0, f64::max);
    Some(Arc { words, places, rate: RATE, height, time: to.time - from.time })
}
