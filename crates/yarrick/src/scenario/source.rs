//! The files of a scenario: read through the caller, with limits, each once.

use super::error::{Diagnostic, Span};
use toml::de::{DeTable, DeValue};

/// The most bytes that one file may have.
pub const MAX_FILE_BYTES: usize = 32 << 20;

/// The most files that a scenario may have.
pub const MAX_FILES: usize = 64;

/// A file that was read.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Source {
    /// Its name, as the including file gives it.
    pub name: String,
    /// Its text.
    pub text: String,
}

impl Source {
    /// The line and the column of a byte of the text, both counted from 1; the column in
    /// characters.
    #[must_use]
    pub fn line_and_column(&self, byte: usize) -> (usize, usize) {
        let mut end = byte.min(self.text.len());
        while !self.text.is_char_boundary(end) {
            end -= 1;
        }
        let before = &self.text[..end];
        let line = before.matches('\n').count() + 1;
        let start = before.rfind('\n').map_or(0, |at| at + 1);
        (line, before[start..].chars().count() + 1)
    }
}

/// How a scenario gets at the text of a file: by its name relative to the main file. The error
/// is a sentence for the user.
pub type Read<'a> = &'a dyn Fn(&str) -> Result<String, String>;

/// Reads the main file and all that it includes: included files come before the file that
/// includes them, each once.
pub(super) fn gather(main: &str, read: Read<'_>) -> Gathered {
    let mut gathering = Gathering {
        read,
        sources: Vec::new(),
        order: Vec::new(),
        drills: Vec::new(),
        errors: Vec::new(),
    };
    gathering.file(main, None, &mut Vec::new());
    let Gathering {
        sources,
        order,
        drills,
        errors,
        ..
    } = gathering;
    Gathered {
        sources,
        order,
        drills,
        errors,
    }
}

/// The files of a scenario.
pub(super) struct Gathered {
    pub(super) sources: Vec<Source>,
    /// The numbers of those that are scenario files, in the order in which they are read.
    pub(super) order: Vec<usize>,
    /// The numbers of those with drills.
    pub(super) drills: Vec<usize>,
    pub(super) errors: Vec<Diagnostic>,
}

struct Gathering<'a> {
    read: Read<'a>,
    sources: Vec<Source>,
    order: Vec<usize>,
    drills: Vec<usize>,
    errors: Vec<Diagnostic>,
}

impl Gathering<'_> {
    /// Takes in a file. `by` is where it is included; `chain` the files being read.
    fn file(&mut self, name: &str, by: Option<Span>, chain: &mut Vec<String>) {
        let file = self.sources.len();
        if !self.text(name, by, chain) {
            return;
        }
        chain.push(name.to_owned());
        for (included, span) in names_under("include", &self.sources[file], file) {
            self.file(&included, Some(span), chain);
        }
        for (drills, span) in names_under("drills", &self.sources[file], file) {
            let number = self.sources.len();
            if self.text(&drills, Some(span), chain) {
                self.drills.push(number);
            }
        }
        chain.pop();
        self.order.push(file);
    }

    /// Reads the text of a file that was not read before. Gives whether there is one.
    fn text(&mut self, name: &str, by: Option<Span>, chain: &[String]) -> bool {
        let file = self.sources.len();
        let here = by.unwrap_or(Span { file, bytes: 0..0 });
        if let Some(flaw) = self.flaw(name, chain) {
            self.errors.push(Diagnostic::new(here, flaw));
            return false;
        }
        if self.sources.iter().any(|source| source.name == name) {
            return false;
        }
        let text = match (self.read)(name) {
            Ok(text) => text,
            Err(why) => {
                if here.file == file {
                    self.sources.push(Source {
                        name: name.to_owned(),
                        text: String::new(),
                    });
                }
                let message = format!("cannot read {name:?}: {why}");
                self.errors.push(Diagnostic::new(here, message));
                return false;
            }
        };
        let size = text.len();
        let too_large = size > MAX_FILE_BYTES;
        self.sources.push(Source {
            name: name.to_owned(),
            text: if too_large { String::new() } else { text },
        });
        if too_large {
            let message = format!(
                "{name:?} has {} MiB; a scenario file may have {} MiB",
                size.div_ceil(1 << 20),
                MAX_FILE_BYTES >> 20,
            );
            self.errors.push(Diagnostic::new(here, message));
        }
        !too_large
    }

    fn flaw(&self, name: &str, chain: &[String]) -> Option<String> {
        if let Some(at) = chain.iter().position(|open| open == name) {
            let round = chain[at..].join(" → ");
            return Some(format!(
                "the files include one another in a circle: {round} → {name}"
            ));
        }
        let steps_out = name
            .split(['/', '\\'])
            .any(|part| part == ".." || part.is_empty());
        if name.contains(':') || steps_out {
            return Some(format!(
                "{name:?} does not lie beside or below the main file, where included files must"
            ));
        }
        (self.sources.len() >= MAX_FILES)
            .then(|| format!("a scenario may have {MAX_FILES} files; this is one more"))
    }
}

/// The names under a key, as far as they are sound; the rest is reported when the file
/// is read for good.
fn names_under(key: &str, source: &Source, file: usize) -> Vec<(String, Span)> {
    let (table, _) = DeTable::parse_recoverable(&source.text);
    let Some(DeValue::Array(names)) = table.get_ref().get(key).map(|value| value.get_ref()) else {
        return Vec::new();
    };
    names
        .iter()
        .filter_map(|name| {
            let bytes = name.span();
            let text = name.get_ref().as_str()?.to_owned();
            Some((text, Span { file, bytes }))
        })
        .collect()
}
