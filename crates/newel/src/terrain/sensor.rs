//! Volumes that tell who passes through them.

use glam::DVec3;

use super::{Body, Layers};

/// An upright box, in the world or on a body, that tells when a character comes in and when it goes: a pick-up, a door, a check point.
///
/// A character is in one while the box about it reaches into it, by any amount. A character that passes through within a tick enters and leaves, at the exact moments.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Sensor {
    /// The game's own name for it.
    pub id: u64,
    /// Least corner, metres; in the axes of its body.
    pub min: DVec3,
    /// Greatest corner.
    pub max: DVec3,
    /// It sees whoever is on one of these layers.
    pub sees: Layers,
    /// The body that it is fixed to, and its motion in this tick; [`Body::WORLD`] for what stands still.
    pub body: Body,
}

impl Sensor {
    /// One that stands still in the world and sees everybody.
    #[must_use]
    pub fn new(id: u64, min: DVec3, max: DVec3) -> Sensor {
        Sensor { id, min: min.min(max), max: min.max(max), sees: Layers::ALL, body: Body::WORLD }
    }

    /// The same, which sees only who is on these layers.
    #[must_use]
    pub fn seeing(self, layers: Layers) -> Sensor {
        Sensor { sees: layers, ..self }
    }

    /// From which part of a straight way, 0 to 1, a box is inside, and to which; `None` where it never is. The box is given by its middle
    /// and half its sides, at the start of the way and at its end.
    pub(crate) fn inside(&self, from: (DVec3, DVec3), to: (DVec3, DVec3)) -> Option<(f64, f64)> {
        let (mut enters, mut leaves) = (0.0f64, 1.0f64);
        // How far it reaches in over each side must be none or more.
        let sides = [
            (from.0 + from.1 - self.min, to.0 + to.1 - self.min),
            (self.max - from.0 + from.1, self.max - to.0 + to.1),
        ];
        for (start, end) in sides.into_iter().flat_map(|(a, b)| (0..3).map(move |axis| (a[axis], b[axis]))) {
            match (start >= 0.0, end >= 0.0) {
                (true, true) => {}
                (false, false) => return None,
                (false, true) => enters = enters.max(start / (start - end)),
                (true, false) => leaves = leaves.min(start / (start - end)),
            }
        }
        (enters <= leaves).then_some((enters, leaves))
    }
}
