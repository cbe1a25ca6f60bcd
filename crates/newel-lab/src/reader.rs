//! Reads TOML tables field by field, so that every mistake is told with its line, its value and what is allowed.

use std::cell::RefCell;
use std::ops::{Range, RangeInclusive};
use std::path::{Path, PathBuf};

use toml_edit::{Document, Item, TableLike, Value};

use crate::error::{FileError, Place};
use crate::long_list::{Part, apart};

/// A parsed TOML file.
pub struct Source {
    file: PathBuf,
    /// All of it, or all but the long list that is read apart.
    document: Document<String>,
    /// How many lines come before it, where it is a part of a file.
    line: usize,
    /// The tables of the long list.
    parts: Vec<Part>,
}

/// A text of more bytes than this has its long list read apart, and the name of that.
const LONG: usize = 1_000_000;
const LIST: &str = "script";

impl Source {
    /// Reads and parses a file.
    ///
    /// # Errors
    /// [`FileError`] where it cannot be read or is not TOML.
    pub fn read(file: &Path) -> Result<Source, FileError> {
        let bytes = std::fs::read(file).map_err(|e| FileError::whole(file, format!("cannot be read: {e}")))?;
        let text = String::from_utf8(bytes)
            .map_err(|_| FileError::whole(file, "is not a text file: a course or tuning is TOML in UTF-8"))?;
        Source::parse(file, text)
    }

    /// Parses text as if it were that file's.
    ///
    /// # Errors
    /// [`FileError`] where it is not TOML.
    pub fn parse(file: &Path, text: String) -> Result<Source, FileError> {
        let (text, parts) = if text.len() > LONG { apart(text, LIST) } else { (text, Vec::new()) };
        Ok(Source { parts, ..Source::parse_part(file, text, 0)? })
    }

    /// Parses a part of a file that begins after so many lines.
    fn parse_part(file: &Path, text: String, line: usize) -> Result<Source, FileError> {
        match Document::parse(text.clone()) {
            Ok(document) => Ok(Source { file: file.to_owned(), document, line, parts: Vec::new() }),
            Err(error) => Err(FileError {
                file: file.to_owned(),
                place: error.span().map(|span| Place::of(&text, span).after(line)),
                field: None,
                message: not_toml(error.message()),
            }),
        }
    }

    /// The file's directory, which paths in it start from.
    pub fn directory(&self) -> &Path {
        self.file.parent().unwrap_or(Path::new("."))
    }

    /// The top table.
    pub fn root(&self) -> Table<'_> {
        let table = self.document.as_table();
        Table { source: self, path: String::new(), table, span: 0..0, asked: RefCell::default() }
    }
}

/// Message about a text that is not TOML; with what is right where something is given twice.
fn not_toml(why: &str) -> String {
    let why = why.trim().replace('\n', "; ");
    let twice = why.contains("duplicate key") || why.contains("cannot extend value");
    let hint = if twice { ": each is given once, and a table as `true` or by its fields, not both" } else { "" };
    format!("not TOML: {why}{hint}")
}

/// One table being read.
pub struct Table<'a> {
    source: &'a Source,
    path: String,
    table: &'a dyn TableLike,
    span: Range<usize>,
    asked: RefCell<Vec<&'static str>>,
}

type Read<T> = Result<T, FileError>;

impl<'a> Table<'a> {
    /// An error about this table as a whole.
    pub fn error(&self, message: impl Into<String>) -> FileError {
        self.at(self.span.clone(), &self.path, message)
    }

    /// An error about one field.
    pub fn field_error(&self, field: &str, message: impl Into<String>) -> FileError {
        let span = self.table.get(field).and_then(Item::span).unwrap_or(self.span.clone());
        self.at(span, &self.join(field), message)
    }

    fn at(&self, span: Range<usize>, field: &str, message: impl Into<String>) -> FileError {
        let known = span != (0..0);
        FileError {
            file: self.source.file.clone(),
            place: known.then(|| Place::of(self.source.document.raw(), span).after(self.source.line)),
            field: (!field.is_empty()).then(|| field.to_owned()),
            message: message.into(),
        }
    }

    fn join(&self, field: &str) -> String {
        if self.path.is_empty() { field.to_owned() } else { format!("{}.{field}", self.path) }
    }

    fn get(&self, field: &'static str) -> Option<&'a Item> {
        self.asked.borrow_mut().push(field);
        self.table.get(field).filter(|item| !item.is_none())
    }

    /// The file this is in.
    pub fn directory(&self) -> &Path {
        self.source.directory()
    }

    /// True where `field` is a list.
    pub fn is_list(&self, field: &str) -> bool {
        self.table.get(field).is_some_and(Item::is_array)
    }

    /// True where the field is there.
    pub fn has(&self, field: &str) -> bool {
        self.table.contains_key(field)
    }

    /// A number in a range.
    pub fn number(&self, field: &'static str, range: RangeInclusive<f64>) -> Read<Option<f64>> {
        let Some(item) = self.get(field) else { return Ok(None) };
        let value = self.as_number(item.as_value(), item, &self.join(field))?;
        if range.contains(&value) {
            return Ok(Some(value));
        }
        Err(self
            .field_error(field, format!("{value} is out of range: {} to {} is allowed", range.start(), range.end())))
    }

    /// A number that must be there.
    pub fn required(&self, field: &'static str, range: RangeInclusive<f64>) -> Read<f64> {
        self.number(field, range)?.ok_or_else(|| self.missing(field, "a number"))
    }

    fn as_number(&self, value: Option<&Value>, item: &Item, field: &str) -> Read<f64> {
        let number = match value {
            Some(Value::Float(f)) => Some(*f.value()),
            Some(Value::Integer(i)) => Some(*i.value() as f64),
            _ => None,
        };
        match number {
            Some(number) if number.is_finite() => Ok(number),
            Some(number) => {
                let span = value.and_then(Value::span).unwrap_or(self.span.clone());
                Err(self.at(span, field, format!("{number} is not allowed: it must be a finite number")))
            }
            None => {
                let span = value.and_then(Value::span).or(item.span()).unwrap_or(self.span.clone());
                let found = value
                    .map_or("something else".to_owned(), |v| format!("{} {}", v.type_name(), v.to_string().trim()));
                Err(self.at(span, field, format!("a number is expected, found {found}")))
            }
        }
    }

    fn missing(&self, field: &str, what: &str) -> FileError {
        self.error(format!("{what} `{field}` is missing"))
    }

    /// A list of exactly `N` numbers.
    pub fn numbers<const N: usize>(&self, field: &'static str) -> Read<Option<[f64; N]>> {
        let Some(item) = self.get(field) else { return Ok(None) };
        let array = item.as_array().filter(|a| a.len() == N);
        let Some(array) = array else {
            return Err(self.field_error(
                field,
                format!("a list of {N} numbers is expected, such as [{}]", EXAMPLE[..N].join(", ")),
            ));
        };
        let mut numbers = [0.0; N];
        for (number, value) in numbers.iter_mut().zip(array) {
            *number = self.as_number(Some(value), item, &self.join(field))?;
        }
        Ok(Some(numbers))
    }

    /// A list of exactly `N` numbers that must be there.
    pub fn required_numbers<const N: usize>(&self, field: &'static str) -> Read<[f64; N]> {
        self.numbers(field)?.ok_or_else(|| self.missing(field, &format!("a list of {N} numbers")))
    }

    /// A text.
    pub fn text(&self, field: &'static str) -> Read<Option<&'a str>> {
        let Some(item) = self.get(field) else { return Ok(None) };
        item.as_str().map(Some).ok_or_else(|| self.field_error(field, "a text in quotes is expected"))
    }

    /// One of a few words.
    pub fn word(&self, field: &'static str, allowed: &[&'static str]) -> Read<Option<&'static str>> {
        let Some(text) = self.text(field)? else { return Ok(None) };
        match allowed.iter().find(|a| **a == text) {
            Some(word) => Ok(Some(word)),
            None => Err(self.field_error(field, unknown("value", text, allowed))),
        }
    }

    /// One of a few words that must be there.
    pub fn required_word(&self, field: &'static str, allowed: &[&'static str]) -> Read<&'static str> {
        self.word(field, allowed)?.ok_or_else(|| self.missing(field, "the field"))
    }

    /// A list of words out of a few; one word alone is a list of one.
    pub fn words(&self, field: &'static str, allowed: &[&'static str]) -> Read<Vec<&'static str>> {
        let Some(item) = self.get(field) else { return Ok(Vec::new()) };
        let values: Vec<&Value> = match item.as_value() {
            Some(Value::Array(array)) => array.iter().collect(),
            Some(value) => vec![value],
            None => return Err(self.field_error(field, "a word or a list of words in quotes is expected")),
        };
        let find = |value: &&Value| {
            let text = value.as_str().unwrap_or_default();
            let word = allowed.iter().find(|a| **a == text).copied();
            word.ok_or_else(|| self.field_error(field, unknown("value", text, allowed)))
        };
        values.iter().map(find).collect()
    }

    /// Yes or no.
    pub fn flag(&self, field: &'static str) -> Read<Option<bool>> {
        let Some(item) = self.get(field) else { return Ok(None) };
        item.as_bool().map(Some).ok_or_else(|| self.field_error(field, "true or false is expected"))
    }

    /// A table inside.
    pub fn table(&self, field: &'static str) -> Read<Option<Table<'a>>> {
        let Some(item) = self.get(field) else { return Ok(None) };
        let table = item.as_table_like().ok_or_else(|| self.field_error(field, "a table is expected"))?;
        Ok(Some(self.inner(table, item.span(), self.join(field))))
    }

    /// A list of tables, `[[field]]`.
    pub fn tables(&self, field: &'static str) -> Read<Vec<Table<'a>>> {
        let Some(item) = self.get(field) else { return Ok(Vec::new()) };
        let name = |i: usize| format!("{}[{i}]", self.join(field));
        if let Some(list) = item.as_array_of_tables() {
            return Ok(list.iter().enumerate().map(|(i, t)| self.inner(t, t.span(), name(i))).collect());
        }
        let not_tables = || self.field_error(field, format!("a list of tables is expected: [[{field}]]"));
        let list = item.as_array().ok_or_else(not_tables)?;
        let inner = |(i, value): (usize, &'a Value)| {
            let table = value.as_inline_table().ok_or_else(not_tables)?;
            Ok(self.inner(table, value.span(), name(i)))
        };
        list.iter().enumerate().map(inner).collect()
    }

    /// Reads the tables of a list one after another; for the list that may be long.
    pub fn each_table(&self, field: &'static str, mut read: impl FnMut(&Table<'_>) -> Read<()>) -> Read<()> {
        for table in self.tables(field)? {
            read(&table)?;
        }
        if field != LIST || self.source.parts.is_empty() {
            return Ok(());
        }
        if self.has(field) {
            return Err(self.field_error(field, format!("`{field}` is given twice: as one list, and as [[{field}]]")));
        }
        for part in &self.source.parts {
            let source = Source::parse_part(&self.source.file, part.text.clone(), part.line)?;
            for (number, table) in source.root().tables(field)?.into_iter().enumerate() {
                read(&Table { path: format!("{field}[{}]", part.first + number), ..table })?;
            }
        }
        Ok(())
    }

    fn inner(&self, table: &'a dyn TableLike, span: Option<Range<usize>>, path: String) -> Table<'a> {
        Table { source: self.source, path, table, span: span.unwrap_or(0..0), asked: RefCell::default() }
    }

    /// Refuses every field that was not asked for.
    pub fn finish(&self) -> Read<()> {
        let asked = self.asked.borrow();
        match self.table.iter().find(|(key, _)| !asked.contains(key)) {
            Some((key, _)) => Err(self.unknown_field(key, &asked)),
            None => Ok(()),
        }
    }

    /// The error for a field that nobody knows, naming the nearest that is known.
    pub fn unknown_field(&self, key: &str, known: &[&str]) -> FileError {
        let span = self.table.get_key_value(key).and_then(|(k, _)| k.span()).unwrap_or(self.span.clone());
        self.at(span, &self.join(key), unknown("field", key, known))
    }
}

const EXAMPLE: [&str; 4] = ["1", "0", "-2.5", "0"];

/// "unknown field `hieght`: did you mean `height`? (allowed: ...)"
fn unknown(what: &str, found: &str, allowed: &[&str]) -> String {
    let close = |a: &&&str| strsim::damerau_levenshtein(a, found) <= 2 + a.len() / 5;
    let nearest = allowed.iter().filter(close).min_by_key(|a| strsim::damerau_levenshtein(a, found));
    let hint = nearest.map_or(String::new(), |a| format!(" did you mean `{a}`?"));
    let mut names: Vec<&str> = allowed.to_vec();
    names.dedup();
    format!("unknown {what} `{found}`:{hint} allowed: {}", names.join(", "))
}

impl Table<'_> {
    /// The value of a field that is true or false where it could be a table too; `None` for anything else.
    pub fn flag_or_table(&self, field: &'static str) -> Option<bool> {
        self.get(field).and_then(Item::as_bool)
    }
}
