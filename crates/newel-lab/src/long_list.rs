//! Takes a long list of tables out of a TOML text, so that it need not be parsed as one document: that takes kilobytes a table.

/// Tables parsed together.
const TOGETHER: usize = 4096;

/// Some tables of a list.
pub(crate) struct Part {
    pub text: String,
    /// How many lines come before it in the file, and how many tables in the list.
    pub line: usize,
    pub first: usize,
}

/// The text without the tables of the list `name`, which leave empty lines, and these tables in parts. Texts with strings of several lines are
/// left as they are.
pub(crate) fn apart(text: String, name: &str) -> (String, Vec<Part>) {
    if text.contains("\"\"\"") || text.contains("'''") {
        return (text, Vec::new());
    }
    let (mut rest, mut parts, mut tables) = (String::new(), Vec::<Part>::new(), 0);
    let mut is_in_list = false;
    for (line, content) in text.split_inclusive('\n').enumerate() {
        let header = header_of(content);
        if let Some(header) = header {
            let is_table = header == Header { list: true, name };
            let is_inside = header.name.strip_prefix(name).is_some_and(|inside| inside.starts_with('.'));
            if is_table && (!is_in_list || tables % TOGETHER == 0) {
                parts.push(Part { text: String::new(), line, first: tables });
            }
            tables += usize::from(is_table);
            is_in_list = is_table || (is_in_list && is_inside);
        }
        match parts.last_mut().filter(|_| is_in_list) {
            Some(part) => {
                part.text.push_str(content);
                rest.push('\n');
            }
            None => rest.push_str(content),
        }
    }
    (rest, parts)
}

/// The table that a line begins: `[name]`, or `[[name]]` in a list.
#[derive(Clone, Copy, PartialEq)]
struct Header<'a> {
    list: bool,
    name: &'a str,
}

fn header_of(line: &str) -> Option<Header<'_>> {
    let line = line.trim();
    let line = line.split_once('#').map_or(line, |(before, _)| before.trim());
    let inner = line.strip_prefix('[')?.strip_suffix(']')?;
    let (list, name) = match inner.strip_prefix('[').and_then(|inner| inner.strip_suffix(']')) {
        Some(name) => (true, name.trim()),
        None => (false, inner.trim()),
    };
    let is_name = |c: char| c.is_ascii_alphanumeric() || "_-.".contains(c);
    (!name.is_empty() && name.chars().all(is_name)).then_some(Header { list, name })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_list_is_taken_out_and_every_line_stays_where_it_was() {
        let text = "a = 1\n[[list]] # one\nb = [\n  2,\n]\n[list.inner]\nc = 3\n[other]\nd = 4\n[[list]]\ne = 5\n";
        let (rest, parts) = apart(text.to_owned(), "list");
        assert_eq!(rest, "a = 1\n\n\n\n\n\n\n[other]\nd = 4\n\n\n");
        let told: Vec<_> = parts.iter().map(|part| (part.line, part.first, part.text.as_str())).collect();
        let first = "[[list]] # one\nb = [\n  2,\n]\n[list.inner]\nc = 3\n";
        assert_eq!(told, [(1, 0, first), (9, 1, "[[list]]\ne = 5\n")]);
        // Strings over several lines may hold anything.
        let odd = "s = \"\"\"\n[[list]]\n\"\"\"\n";
        assert_eq!(apart(odd.to_owned(), "list").0, odd);
    }
}
