//! Errors of files: always which file, and where there is one, the line, the field and what is allowed.

use std::fmt;
use std::path::{Path, PathBuf};

/// Something wrong with a file, told so that it can be mended without opening the documentation.
#[derive(Debug, Clone, PartialEq)]
pub struct FileError {
    /// The file.
    pub file: PathBuf,
    /// Where in it, if it is a text file and the place is known.
    pub place: Option<Place>,
    /// The field, such as `terrain[2].height`, if there is one.
    pub field: Option<String>,
    /// The problem, and the right value.
    pub message: String,
}

/// A place in a text file.
#[derive(Debug, Clone, PartialEq)]
pub struct Place {
    /// Line, from 1.
    pub line: usize,
    /// Column, from 1, in characters.
    pub column: usize,
    /// How many characters it spans on that line, at least 1.
    pub length: usize,
    /// The line itself.
    pub text: String,
}

impl FileError {
    /// Something wrong with a file as a whole.
    pub fn whole(file: &Path, message: impl Into<String>) -> FileError {
        FileError { file: file.to_owned(), place: None, field: None, message: message.into() }
    }
}

impl Place {
    /// The same after so many lines more.
    pub(crate) fn after(self, lines: usize) -> Place {
        Place { line: self.line + lines, ..self }
    }

    /// The place of a span of bytes in `text`.
    pub fn of(text: &str, span: std::ops::Range<usize>) -> Place {
        let whole = |mut at: usize| {
            while !text.is_char_boundary(at) {
                at -= 1;
            }
            at
        };
        let start = whole(span.start.min(text.len()));
        let before = &text[..start];
        let line_start = before.rfind('\n').map_or(0, |i| i + 1);
        let line_end = text[start..].find('\n').map_or(text.len(), |i| start + i);
        let end = whole(span.end.clamp(start, line_end));
        Place {
            line: before.matches('\n').count() + 1,
            column: text[line_start..start].chars().count() + 1,
            length: text[start..end].chars().count().max(1),
            text: text[line_start..line_end].trim_end().to_owned(),
        }
    }
}

impl fmt::Display for FileError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}", self.file.display())?;
        if let Some(place) = &self.place {
            write!(f, ":{}:{}", place.line, place.column)?;
        }
        write!(f, ": ")?;
        if let Some(field) = &self.field {
            write!(f, "{field}: ")?;
        }
        write!(f, "{}", self.message)?;
        if let Some(place) = &self.place {
            let number = place.line.to_string();
            let gutter = " ".repeat(number.len());
            let under: String = " ".repeat(place.column - 1) + &"^".repeat(place.length);
            write!(f, "\n {gutter} |\n {number} | {}\n {gutter} | {under}", place.text)?;
        }
        Ok(())
    }
}

impl std::error::Error for FileError {}
