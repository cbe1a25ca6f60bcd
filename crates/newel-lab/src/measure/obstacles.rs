//! Behaviour at an obstacle of any height: stepped onto, gone over, got up onto, caught, or in the way.

use newel::{Button, EventKind, Face, Stance, Tuning};
use serde::Serialize;

use super::Outcome;
use super::grounds::Ground;
use super::trial::{Trial, Writing, largest};
use crate::course::Step;

/// How an obstacle is come to.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Approach {
    /// Walking at full speed.
    Walking,
    /// Sprinting.
    Running,
    /// In a crouch.
    Crouching,
    /// Jumping right before it.
    InTheAir,
}

impl Approach {
    /// All of them.
    pub const ALL: [Approach; 4] = [Approach::Walking, Approach::Running, Approach::Crouching, Approach::InTheAir];

    /// Readable name.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            Approach::Walking => "walking",
            Approach::Running => "running",
            Approach::Crouching => "crouching",
            Approach::InTheAir => "in the air",
        }
    }
}

/// The result.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Passage {
    /// Taken in stride.
    Step,
    /// The jump itself clears it.
    Jump,
    /// Gone over.
    Vault,
    /// Got up onto.
    Climb,
    /// Caught by its edge.
    Catch,
    /// In the way.
    Blocked,
}

impl Passage {
    /// All of them.
    pub const ALL: [Passage; 6] =
        [Passage::Step, Passage::Jump, Passage::Vault, Passage::Climb, Passage::Catch, Passage::Blocked];

    /// Readable name.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            Passage::Step => "step",
            Passage::Jump => "jump",
            Passage::Vault => "vault",
            Passage::Climb => "climb",
            Passage::Catch => "catch",
            Passage::Blocked => "blocked",
        }
    }
}

/// Heights at which the same comes of it: from and to, centimetres.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
pub struct Band {
    /// The result.
    pub passage: Passage,
    /// The lowest, centimetres.
    pub from: u32,
    /// The highest.
    pub to: u32,
}

/// Results at obstacles of one depth.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Obstacles {
    /// How deep they are, metres; `None` without end.
    pub deep: Option<f64>,
    /// By approach, from low to high.
    pub bands: Vec<(Approach, Vec<Band>)>,
}

/// The two depths that are tried: a wall, and a block without end.
const DEPTHS: [Option<f64>; 2] = [Some(0.3), None];
/// The highest that is tried, centimetres, unless it reaches higher.
const LEAST_HIGH: u32 = 250;
/// Heights are looked at this far apart first, centimetres: no band that means anything is narrower.
const STEP: u32 = 5;
/// The way to it, metres, and how long all of it may take, seconds.
const RUN_UP: f64 = 4.0;
const ENOUGH: f64 = 6.0;

/// Results at obstacles of every whole centimetre of height.
#[must_use]
pub fn obstacles(tuning: &Tuning) -> Vec<Obstacles> {
    let values = tuning.values();
    let jump = values.jump.map_or(0.0, |j| f64::from(j.height));
    let hands = values.ledge.map_or(0.0, |l| f64::from(l.hang + l.reach));
    let high = (((jump + hands) * 100.0) as u32 + 20).max(LEAST_HIGH);
    let high = high.next_multiple_of(STEP);
    let row = |deep, approach| bands(high, |cm| passage(tuning, approach, f64::from(cm) / 100.0, deep));
    let of = |deep| Obstacles { deep, bands: Approach::ALL.map(|a| (a, row(deep, a))).to_vec() };
    DEPTHS.into_iter().map(of).collect()
}

/// The bands up to a height: looked at every few centimetres, and at every one where those differ.
fn bands(high: u32, at: impl Fn(u32) -> Passage) -> Vec<Band> {
    let mut bands: Vec<Band> = Vec::new();
    let mut add = |cm, passage| match bands.last_mut().filter(|band| band.passage == passage) {
        Some(band) => band.to = cm,
        None => bands.push(Band { passage, from: cm, to: cm }),
    };
    let mut before = at(1);
    add(1, before);
    for top in (STEP..=high).step_by(STEP as usize) {
        let here = at(top);
        for cm in (top - STEP + 1).max(2)..top {
            add(cm, if here == before { here } else { at(cm) });
        }
        add(top, here);
        before = here;
    }
    bands
}

/// Result at an obstacle of this height and depth.
pub(crate) fn passage(tuning: &Tuning, approach: Approach, height: f64, deep: Option<f64>) -> Passage {
    let radius = f64::from(tuning.values().size.radius);
    let far = deep.unwrap_or(1000.0);
    let ground = Ground::floor().block([0.0, -10.0, -50.0], [far, height, 50.0]);
    let jumps = approach == Approach::InTheAir;
    let from = if jumps { -radius - 0.05 } else { -RUN_UP };
    let Some(trial) = Trial::new(&ground, tuning, [from, 0.0, 0.0]) else { return Passage::Blocked };
    let mut trial = trial.at_rate(120.0);
    let way = Writing::default().face(Face::Movement).head(0.0, 1.0);
    let script = match approach {
        Approach::Walking => way,
        Approach::Running => way.press(0.0, Button::Sprint, ENOUGH),
        Approach::Crouching => way.at(0.0, Step::Stance(Stance::Crouch)),
        Approach::InTheAir => way.press(0.0, Button::Jump, ENOUGH),
    };
    let over = 0.5 * radius;
    let calm = if jumps { 1.6 } else { 0.4 };
    let settled = |t: &Trial| {
        let told = t.first(|k| found(k).is_some()).is_some();
        // On top of it, beyond it, or come to rest before it.
        let rests = t.hero.clock > calm && t.hero.mode.is_on_ground() && t.hero.velocity.length() < 0.01;
        told || rests || t.hero.position.x > over
    };
    trial.play_until(&script.script(), ENOUGH, settled);
    match trial.first(|k| found(k).is_some()).and_then(|e| found(&e.kind)) {
        Some(passage) => passage,
        None if trial.hero.position.x <= over => Passage::Blocked,
        None if jumps && trial.first(|k| matches!(k, EventKind::Jumped { .. })).is_some() => Passage::Jump,
        None => Passage::Step,
    }
}

fn found(kind: &EventKind) -> Option<Passage> {
    match kind {
        EventKind::Vaulted { .. } => Some(Passage::Vault),
        EventKind::PulledUp { .. } => Some(Passage::Climb),
        EventKind::Caught { .. } => Some(Passage::Catch),
        _ => None,
    }
}

pub(super) fn outcomes(tuning: &Tuning) -> Vec<Outcome> {
    let values = tuning.values();
    let highest = |approach, deep, wanted: Passage, most: f64| {
        // Below it other things come first.
        let low = 0.9 * most;
        largest(low, 1.2 * most, |height| passage(tuning, approach, height, deep) == wanted)
    };
    let mut found = Vec::new();
    if let Some(vault) = values.vault {
        let most = f64::from(vault.highest);
        let measured = highest(Approach::Walking, DEPTHS[0], Passage::Vault, most);
        found.push(Outcome::new("highest wall vaulted", "m", measured, Some(most)));
    }
    if let Some(ledge) = values.ledge {
        let most = f64::from(ledge.highest);
        let measured = highest(Approach::Walking, None, Passage::Climb, most);
        found.push(Outcome::new("highest ledge got up onto", "m", measured, Some(most)));
        if let Some(jump) = values.jump {
            let most = f64::from(jump.height) + f64::from(ledge.hang) + f64::from(ledge.reach);
            let measured = highest(Approach::InTheAir, None, Passage::Catch, most);
            found.push(Outcome::new("highest ledge caught in a jump", "m", measured, Some(most)));
        }
    }
    found
}
