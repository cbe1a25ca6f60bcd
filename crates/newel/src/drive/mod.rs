//! What is wanted: buttons, a heading in any frame, a stick, an intent for a tick, and the latch that makes one of a device.

pub(crate) mod buttons;
pub(crate) mod heading;
pub(crate) mod intent;
mod latch;
mod stick;

pub use buttons::{Button, Buttons};
pub use heading::{Face, Heading};
pub use intent::{Change, Intent, Timed};
pub use latch::Latch;
