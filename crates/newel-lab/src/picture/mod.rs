//! Pictures of runs: PNG or SVG, with their own fonts, the same on every machine.

mod arc_panel;
mod canvas;
mod chart;
mod course_key;
mod course_sheet;
mod figure;
mod gap_panel;
mod labels;
mod lanes_sheet;
mod marks;
mod obstacle_panel;
mod relief;
mod rulers;
mod speed_sheet;
mod stance_panel;
mod tick_sheet;
mod timeline;
mod tuning_sheets;
mod view;
mod zone_marks;

pub use course_sheet::course_sheet;
pub use lanes_sheet::lanes_sheet;
pub use speed_sheet::speed_sheet;
pub use tick_sheet::tick_sheet;
pub use tuning_sheets::{jump_sheet, shape_sheet};

use std::path::Path;

use crate::error::FileError;

/// The kinds of picture files.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Format {
    /// A bitmap.
    Png,
    /// Drawn in lines and texts, sharp at any size.
    Svg,
}

impl Format {
    /// The format that a file's ending asks for.
    ///
    /// # Errors
    /// [`FileError`] for any other ending than .png and .svg.
    pub fn of(file: &Path) -> Result<Format, FileError> {
        match file.extension().map(|e| e.to_string_lossy().to_lowercase()).as_deref() {
            Some("png") => Ok(Format::Png),
            Some("svg") => Ok(Format::Svg),
            other => {
                let ending = other.map_or("no ending".to_owned(), |e| format!("the ending `.{e}`"));
                Err(FileError::whole(file, format!("has {ending}: pictures are .png or .svg files")))
            }
        }
    }
}
