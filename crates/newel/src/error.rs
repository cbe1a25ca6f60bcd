//! Errors of spawns and ticks. Nothing that is refused changes anything.

use glam::Vec3;

/// Why a tick was not made. The character is as it was.
#[derive(Clone, Debug, PartialEq)]
#[non_exhaustive]
pub enum TickError {
    /// The tick's length is not over 0 and at most [`Tick::LONGEST`](crate::Tick::LONGEST).
    Length {
        /// Given length, seconds.
        dt: f64,
        /// The longest allowed, seconds.
        longest: f64,
    },
    /// Something is NaN, infinite or absurdly large.
    NotFinite {
        /// What it is.
        field: &'static str,
    },
    /// A number is outside its range.
    OutOfRange {
        /// What it is.
        field: &'static str,
        /// What was given.
        value: f64,
        /// The least allowed.
        least: f64,
        /// The most allowed.
        most: f64,
    },
    /// A direction is not one long.
    NotUnit {
        /// What it is.
        field: &'static str,
        /// What was given.
        value: Vec3,
    },
    /// A number that must be over 0 is not, or is too large.
    NotOverZero {
        /// What it is.
        field: &'static str,
        /// What was given.
        value: f64,
        /// The most allowed.
        most: f64,
    },
    /// A timed change goes back in time or lies outside the tick.
    ChangeOutOfOrder {
        /// When it is to happen, seconds into the tick.
        at: f64,
        /// When the change before it happens.
        after: f64,
        /// The tick's length.
        dt: f64,
    },
    /// A teleport leads into something, or another plane does.
    NotClear {
        /// Where to.
        wanted: [f64; 3],
        /// The nearest clear place found, if any.
        nearest: Option<[f64; 3]>,
    },
    /// A box has no plane to keep to.
    NoPlane,
    /// The plane to keep to is neither square to up nor along it, or has no direction.
    PlaneAskew {
        /// The normal given.
        normal: Vec3,
        /// The character's up.
        up: Vec3,
    },
    /// Up has no direction.
    NoUp {
        /// What was given.
        up: Vec3,
    },
}

impl core::fmt::Display for TickError {
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        match self {
            TickError::Length { dt, longest } => {
                write!(f, "the tick is {dt} s long: more than 0 and at most {longest} s is allowed")
            }
            TickError::NotFinite { field } => write!(f, "{field} is not a usable number: it must be finite and sane"),
            TickError::OutOfRange { field, value, least, most } => {
                write!(f, "{field} is {value}: {least} to {most} is allowed")
            }
            TickError::NotUnit { field, value } => {
                write!(f, "{field} is {value}, {} long: a direction one long is needed", value.length())
            }
            TickError::NotOverZero { field, value, most } => {
                write!(f, "{field} is {value}: more than 0 and at most {most} is allowed")
            }
            TickError::ChangeOutOfOrder { at, after, dt } => write!(
                f,
                "a change of intent is timed at {at} s: {after} s (the change before it) to {dt} s (the tick) is allowed"
            ),
            TickError::NotClear { wanted, nearest } => not_clear(f, "the place", wanted, nearest.as_ref()),
            TickError::NoPlane => no_plane(f),
            TickError::PlaneAskew { normal, up } => plane_askew(f, *normal, *up),
            TickError::NoUp { up } => no_up(f, *up),
        }
    }
}

impl core::error::Error for TickError {}

/// Why a character was not spawned.
#[derive(Clone, Debug, PartialEq)]
#[non_exhaustive]
pub enum SpawnError {
    /// A number is NaN or infinite.
    NotFinite {
        /// What it is.
        field: &'static str,
    },
    /// Up has no direction.
    NoUp {
        /// What was given.
        up: Vec3,
    },
    /// A box has no plane to keep to.
    NoPlane,
    /// The plane to keep to is neither square to up nor along it, or has no direction.
    PlaneAskew {
        /// The normal given.
        normal: Vec3,
        /// The character's up.
        up: Vec3,
    },
    /// The place is inside something.
    NotClear {
        /// Where the feet were to be.
        wanted: [f64; 3],
        /// The nearest clear place found, if any.
        nearest: Option<[f64; 3]>,
    },
}

impl core::fmt::Display for SpawnError {
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        match self {
            SpawnError::NotFinite { field } => write!(f, "spawn.{field} is not finite: plain numbers are needed"),
            SpawnError::NoUp { up } => no_up(f, *up),
            SpawnError::NoPlane => no_plane(f),
            SpawnError::PlaneAskew { normal, up } => plane_askew(f, *normal, *up),
            SpawnError::NotClear { wanted, nearest } => not_clear(f, "the spawn", wanted, nearest.as_ref()),
        }
    }
}

impl core::error::Error for SpawnError {}

impl From<SpawnError> for TickError {
    fn from(error: SpawnError) -> TickError {
        match error {
            SpawnError::NotFinite { field } => TickError::NotFinite { field },
            SpawnError::NoUp { up } => TickError::NoUp { up },
            SpawnError::NoPlane => TickError::NoPlane,
            SpawnError::PlaneAskew { normal, up } => TickError::PlaneAskew { normal, up },
            SpawnError::NotClear { wanted, nearest } => TickError::NotClear { wanted, nearest },
        }
    }
}

fn no_up(f: &mut core::fmt::Formatter<'_>, up: Vec3) -> core::fmt::Result {
    write!(f, "up is {up}: it needs a direction, such as 0, 1, 0")
}

fn no_plane(f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
    write!(f, "size.form is a box, which keeps to a plane: give the normal of one, such as 0, 0, 1 for a side view")
}

fn plane_askew(f: &mut core::fmt::Formatter<'_>, normal: Vec3, up: Vec3) -> core::fmt::Result {
    write!(f, "the plane is {normal}: square to up ({up}) for a side view, or along it for a top view, is allowed")
}

fn not_clear(
    f: &mut core::fmt::Formatter<'_>,
    what: &str,
    wanted: &[f64; 3],
    nearest: Option<&[f64; 3]>,
) -> core::fmt::Result {
    let [x, y, z] = wanted;
    write!(f, "{what} at ({x:.3}, {y:.3}, {z:.3}) is inside something: ")?;
    match nearest {
        Some([x, y, z]) => write!(f, "the nearest clear place is ({x:.3}, {y:.3}, {z:.3})"),
        None => write!(f, "no clear place was found nearby"),
    }
}
