//! What is wanted: buttons, a heading in any frame, a stick, an intent for a tick, the latch that makes one of a device, the
//! gestures of its keys; and what drives a character by itself.

mod bounds;
pub(crate) mod buttons;
mod gestures;
mod go_to;
pub(crate) mod heading;
pub(crate) mod intent;
mod latch;
mod lock;
mod patrol;
mod stick;
pub(crate) mod wants;

/// A driver's part of full speed, within its range whatever the game has set.
fn part_of_full(speed: f32) -> f32 {
    if speed.is_finite() { speed.clamp(0.0, 1.0) } else { 1.0 }
}

pub use bounds::{AtBounds, Bounded, Bounds, Crossed};
pub use buttons::{Button, Buttons};
pub use gestures::{Gesture, Gestures, Gives};
pub use go_to::{AtSolid, GoEnd, GoTo, Going, OwnHeading};
pub use heading::{Face, Heading};
pub use intent::{Change, Intent, Timed};
pub use latch::Latch;
pub use lock::{Aside, Lock, LockEnd, Locking, NoTarget, Sights, Target};
pub use patrol::{Pacing, Patrol};
