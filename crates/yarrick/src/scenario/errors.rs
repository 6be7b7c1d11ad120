//! All that was found in the files of a scenario.

use super::error::{Diagnostic, MAX_ERRORS, Span};
use super::source::Source;
use core::fmt;

/// What was found in the files of a scenario: the errors because of which it was not loaded, or the
/// [warnings](super::Scenario::warnings) of a scenario that was loaded.
///
/// Displayed, it gives a line for each: `file:line:column: message`.
#[derive(Clone, Default, PartialEq)]
pub struct Diagnostics {
    pub(super) entries: Vec<Diagnostic>,
    pub(super) sources: Vec<Source>,
}

impl Diagnostics {
    /// Diagnostics in the order of the files, each once. The files are kept if there are any.
    pub(super) fn new(mut entries: Vec<Diagnostic>, sources: Vec<Source>) -> Diagnostics {
        entries.sort_by_key(|entry| (entry.span.file, entry.span.bytes.start));
        entries.dedup();
        let sources = if entries.is_empty() {
            Vec::new()
        } else {
            sources
        };
        Diagnostics { entries, sources }
    }
    /// All of them, file by file from top to bottom; the first [`MAX_ERRORS`] of them.
    #[must_use]
    pub fn list(&self) -> &[Diagnostic] {
        &self.entries[..self.entries.len().min(MAX_ERRORS)]
    }

    /// How many there are in all.
    #[must_use]
    pub fn count(&self) -> usize {
        self.entries.len()
    }

    /// The files that were read.
    #[must_use]
    pub fn sources(&self) -> &[Source] {
        &self.sources
    }

    /// The file, line and column at which a span begins, both counted from 1.
    #[must_use]
    pub fn position(&self, span: &Span) -> (&str, usize, usize) {
        let Some(source) = self.sources.get(span.file) else {
            return ("?", 1, 1);
        };
        let (line, column) = source.line_and_column(span.bytes.start);
        (&source.name, line, column)
    }
}

/// The same as [`Display`](fmt::Display), below a line of its own: what a program prints whose `main` returns it.
impl fmt::Debug for Diagnostics {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "\n{self}")
    }
}

impl fmt::Display for Diagnostics {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        for (k, entry) in self.list().iter().enumerate() {
            let (file, line, column) = self.position(&entry.span);
            let separator = if k == 0 { "" } else { "\n" };
            write!(f, "{separator}{file}:{line}:{column}: {}", entry.message)?;
            if let Some(fix) = &entry.fix {
                write!(f, " ({fix})")?;
            }
            if let Some((span, what)) = &entry.other {
                let (file, line, column) = self.position(span);
                write!(f, " [{what} at {file}:{line}:{column}]")?;
            }
        }
        match self.count() - self.list().len() {
            0 => Ok(()),
            more => write!(f, "\nand {more} more"),
        }
    }
}

impl core::error::Error for Diagnostics {}
