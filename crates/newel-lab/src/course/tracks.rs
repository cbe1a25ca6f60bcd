//! Terrain that moves: key-framed paths in a course.

use newel::glam::{DQuat, DVec3};
use newel::{Ending, Key, Track};

use crate::error::FileError;
use crate::reader::Table;

/// The track of a piece of terrain, if it has one, for a mesh about the piece's own `pivot`.
pub(super) fn read_track(table: &Table<'_>, pivot: DVec3) -> Result<Option<Track>, FileError> {
    let keys = table.tables("track")?;
    let ending = match table.word("after", &["stay", "again", "back"])? {
        Some("again") => Ending::Again,
        Some("back") => Ending::Back,
        _ => Ending::Stay,
    };
    if keys.is_empty() {
        return match table.has("after") {
            true => {
                Err(table.field_error("after", "only terrain with a `track` moves: give it [[terrain.track]] keys"))
            }
            false => Ok(None),
        };
    }
    let keys = keys.iter().map(|key| read_key(key, pivot)).collect::<Result<Vec<_>, _>>()?;
    Track::new(keys, ending).map(Some).map_err(|e| table.field_error("track", e.to_string()))
}

/// `time`, and where the piece has moved and turned by then.
fn read_key(table: &Table<'_>, pivot: DVec3) -> Result<Key, FileError> {
    let time = table.required("time", 0.0..=1e6)?;
    let moved = DVec3::from_array(table.numbers::<3>("move")?.unwrap_or_default());
    let turn = table.number("turn", -360.0..=360.0)?.unwrap_or(0.0).to_radians();
    let axis = DVec3::from_array(table.numbers::<3>("axis")?.unwrap_or([0.0, 1.0, 0.0]));
    table.finish()?;
    let length = axis.length();
    if length < 1e-9 {
        return Err(table.field_error("axis", "an axis needs a direction, such as [0, 1, 0]"));
    }
    Ok(Key::at(time, pivot + moved).turned(DQuat::from_axis_angle(axis / length, turn)))
}
