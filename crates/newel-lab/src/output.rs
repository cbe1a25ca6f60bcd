//! Files are written whole or not at all.

use std::io::Write;
use std::path::Path;

use crate::error::FileError;

/// Writes a file so that nothing half-written is ever seen under its name.
///
/// # Errors
/// [`FileError`] where it cannot be written; what was there before is then untouched.
pub fn write_whole(file: &Path, bytes: &[u8]) -> Result<(), FileError> {
    let refuse = |e: &dyn std::fmt::Display| FileError::whole(file, format!("cannot be written: {e}"));
    let directory = file.parent().filter(|d| !d.as_os_str().is_empty()).unwrap_or(Path::new("."));
    let mut half = tempfile::NamedTempFile::new_in(directory).map_err(|e| refuse(&e))?;
    half.write_all(bytes).map_err(|e| refuse(&e))?;
    half.persist(file).map_err(|e| refuse(&e.error))?;
    Ok(())
}
