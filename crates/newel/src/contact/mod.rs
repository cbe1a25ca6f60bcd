//! What touches what: sweep, slide, ground, stairs and push-out, all on a patch.

pub(crate) mod arcs;
pub(crate) mod closest;
pub(crate) mod grip;
pub(crate) mod ground;
pub(crate) mod key;
pub(crate) mod lip;
pub(crate) mod point;
pub(crate) mod push;
pub(crate) mod slide;
pub(crate) mod surroundings;
pub(crate) mod sweep;
pub(crate) mod telling;
pub(crate) mod touch;
pub(crate) mod underfoot;
