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
    let mut half = readable(&mut tempfile::Builder::new()).tempfile_in(directory).map_err(|e| refuse(&e))?;
    half.write_all(bytes).map_err(|e| refuse(&e))?;
    half.persist(file).map_err(|e| refuse(&e.error))?;
    Ok(())
}

/// A file like any other, not one for its owner's eyes alone as temporary files are.
#[cfg(unix)]
fn readable<'a, 'b>(builder: &'a mut tempfile::Builder<'b, 'b>) -> &'a mut tempfile::Builder<'b, 'b> {
    use std::os::unix::fs::PermissionsExt;
    builder.permissions(std::fs::Permissions::from_mode(0o666))
}

#[cfg(not(unix))]
fn readable<'a, 'b>(builder: &'a mut tempfile::Builder<'b, 'b>) -> &'a mut tempfile::Builder<'b, 'b> {
    builder
}
