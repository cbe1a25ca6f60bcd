//! Errors of scenes.

/// Why a scene did not do what it was told. It is then as it was.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[non_exhaustive]
pub enum SceneError {
    /// The name is the world's own.
    World,
    /// A body has this name already.
    Taken {
        /// The name.
        id: u64,
    },
    /// No body has this name.
    Unknown {
        /// The name.
        id: u64,
    },
    /// It follows a track, and where that has it at a tick depends on how long ticks are.
    OnTrack {
        /// The name.
        id: u64,
    },
    /// A zone that makes no sense.
    BadZone {
        /// Which.
        id: u64,
        /// The problem.
        why: &'static str,
    },
    /// A place that is not finite, or an orientation that is no unit quaternion.
    NotAPose {
        /// Whose.
        id: u64,
    },
}

impl core::fmt::Display for SceneError {
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        match self {
            SceneError::World => write!(f, "0 is the world's own name: another number is needed"),
            SceneError::Taken { id } => {
                write!(f, "there is a body {id} already: remove it first, or take another name")
            }
            SceneError::Unknown { id } => write!(f, "there is no body {id} in the scene"),
            SceneError::OnTrack { id } => {
                write!(f, "body {id} follows a track: put it where it is before it is taken elsewhere")
            }
            SceneError::BadZone { id, why } => {
                write!(f, "zone {id} cannot act: {why}; two corners apart along every axis are needed")
            }
            SceneError::NotAPose { id } => {
                write!(f, "no pose for body {id}: finite numbers and a unit quaternion are needed")
            }
        }
    }
}

impl core::error::Error for SceneError {}
