//! Judges a run from outside: what a player would see, measured in double precision against the triangles themselves.
//!
//! Shares no code with the core: its own tree, its own distances.

mod distance;
mod feet;
mod finding;
mod moment;
mod outline;
mod progress;
mod steps;
mod surface;
mod watch;

pub use finding::{Finding, FindingKind};
pub use moment::Moment;
pub(crate) use outline::depth;
pub use surface::Surface;
pub use watch::Watch;
