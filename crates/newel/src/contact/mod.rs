//! What touches what: sweep, slide, ground, stairs and push-out, all on a patch.

pub(crate) mod arcs;
pub(crate) mod closest;
pub(crate) mod ground;
pub(crate) mod push;
pub(crate) mod slide;
pub(crate) mod surroundings;
pub(crate) mod sweep;
pub(crate) mod touch;

pub use ground::{Ground, Support};
