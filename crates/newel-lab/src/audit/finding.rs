//! Findings of audits: something that a player would notice, with its time and place.

use std::fmt;

use newel::glam::DVec3;

/// Something that a player would notice.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Finding {
    /// The character's clock, in seconds.
    pub time: f64,
    /// Where the feet are, in metres.
    pub place: DVec3,
    /// What is wrong.
    pub kind: FindingKind,
}

/// The kinds of findings.
#[derive(Debug, Clone, Copy, PartialEq)]
#[non_exhaustive]
pub enum FindingKind {
    /// The feet are over the ground by more than the skin although the character is on the ground.
    Float {
        /// The gap under the feet in metres; the step height where nothing at all is below.
        gap: f64,
    },
    /// The feet rise or drop by more than the surface and the reported steps give.
    Pop {
        /// Metres in one tick, positive upward.
        rise: f64,
    },
    /// A step was reported where a walkable way leads along the surface.
    FalseStep {
        /// The reported height in metres.
        height: f64,
    },
    /// More than ten events of one kind within a second.
    Flurry {
        /// The kind, as traces name it.
        event: &'static str,
    },
    /// The ground was lost although walkable ground is no more than a step below the feet.
    LostGround {
        /// How far below, in metres.
        below: f64,
    },
    /// The character came nowhere although the player tried more than one direction.
    NoProgress {
        /// For how long, in seconds.
        seconds: f64,
    },
    /// The shape is deeper in a triangle than its skin, and no event says so.
    Overlap {
        /// How deep, in metres.
        depth: f64,
    },
    /// The character stands at rest on a moving body, and does not keep its place on it.
    Drift {
        /// How far it has come off its place, in metres.
        distance: f64,
    },
    /// The character is faster than anything that moved it.
    UnexplainedSpeed {
        /// The speed in m/s.
        speed: f64,
    },
    /// A tick took more closest-point queries than its bound.
    TooMuchWork {
        /// The queries of the tick.
        queries: u32,
    },
}

impl FindingKind {
    /// Its name in tables.
    #[must_use]
    pub fn name(&self) -> &'static str {
        match self {
            FindingKind::Float { .. } => "float",
            FindingKind::Pop { .. } => "pop",
            FindingKind::FalseStep { .. } => "false step",
            FindingKind::Flurry { .. } => "flurry",
            FindingKind::LostGround { .. } => "lost ground",
            FindingKind::NoProgress { .. } => "no progress",
            FindingKind::Overlap { .. } => "overlap",
            FindingKind::Drift { .. } => "drift",
            FindingKind::UnexplainedSpeed { .. } => "unexplained speed",
            FindingKind::TooMuchWork { .. } => "too much work",
        }
    }
}

impl fmt::Display for FindingKind {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let cm = |metres: f64| metres * 100.0;
        match *self {
            FindingKind::Float { gap } => write!(f, "the feet float {:.1} cm over the ground", cm(gap)),
            FindingKind::Pop { rise } if rise < 0.0 => {
                write!(f, "the feet drop {:.1} cm in one tick without a cause", cm(-rise))
            }
            FindingKind::Pop { rise } => write!(f, "the feet rise {:.1} cm in one tick without a cause", cm(rise)),
            FindingKind::FalseStep { height } => {
                write!(f, "a step of {:.1} cm is reported on a walkable surface", cm(height))
            }
            FindingKind::Flurry { event } => write!(f, "more than ten events \"{event}\" within a second"),
            FindingKind::LostGround { below } => {
                write!(f, "the ground is lost with walkable ground {:.1} cm below", cm(below))
            }
            FindingKind::NoProgress { seconds } => write!(f, "no progress for {seconds:.1} s in any direction tried"),
            FindingKind::Overlap { depth } => write!(f, "the shape is {:.1} mm deep in the terrain", depth * 1e3),
            FindingKind::Drift { distance } => {
                write!(f, "drifts by {:.1} mm on what it stands on at rest", distance * 1e3)
            }
            FindingKind::UnexplainedSpeed { speed } => write!(f, "moves at {speed:.1} m/s, which nothing gave it"),
            FindingKind::TooMuchWork { queries } => write!(f, "one tick took {queries} closest-point queries"),
        }
    }
}

impl fmt::Display for Finding {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let [x, y, z] = self.place.to_array();
        write!(f, "{} at {:.3} s, ({x:.2}, {y:.2}, {z:.2})", self.kind, self.time)
    }
}
