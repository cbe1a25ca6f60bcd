//! Events of a tick that matter to a survey.

use newel::{EventKind, Outcome};

/// Result of a tick.
#[derive(Clone, Copy, Default)]
pub(crate) struct Told {
    /// It left the ground.
    pub left: bool,
    /// How far it fell before it landed, metres.
    pub fell: f64,
    /// It is in something, and not to be got out.
    pub is_stuck: bool,
    /// It was pushed out of something.
    pub is_pushed: bool,
    /// How deep in water its feet are, metres, and how much of it is under, 0 to 1.
    pub depth: f64,
    pub under: f32,
}

impl Told {
    pub fn of(outcome: &Outcome<'_>) -> Told {
        let water = outcome.readout.water.map_or((0.0, 0.0), |wet| (f64::from(wet.depth), wet.part));
        let quiet = Told { depth: water.0, under: water.1, ..Told::default() };
        outcome.events.iter().fold(quiet, |told, event| match event.kind {
            EventKind::Landed { fell, .. } => Told { fell: told.fell.max(f64::from(fell)), ..told },
            EventKind::LeftGround { .. } | EventKind::Jumped { .. } => Told { left: true, ..told },
            EventKind::PulledUp { .. } | EventKind::Vaulted { .. } => Told { left: true, ..told },
            EventKind::PushedOut { .. } => Told { is_pushed: true, ..told },
            EventKind::Stuck | EventKind::Crushed { .. } => Told { is_stuck: true, ..told },
            _ => told,
        })
    }
}
