//! What is wanted: buttons, a heading in any frame, a stick, an intent for a tick, the latch that makes one of a device, and the
//! gestures of its keys.

pub(crate) mod buttons;
mod gestures;
pub(crate) mod heading;
pub(crate) mod intent;
mod latch;
mod stick;

pub use buttons::{Button, Buttons};
pub use gestures::{Gesture, Gestures, Gives};
pub use heading::{Face, Heading};
pub use intent::{Change, Intent, Timed};
pub use latch::Latch;
