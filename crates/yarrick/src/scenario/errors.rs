//! All that is wrong with a scenario.

use super::error::{MAX_ERRORS, ScenarioError, Span};
use super::source::Source;
use core::fmt;

/// All that is wrong with a scenario. Nothing of it was loaded.
///
/// Displayed, it gives a line for each error: `file:line:column: message`.
#[derive(Clone, Debug, PartialEq)]
pub struct ScenarioErrors {
    pub(super) errors: Vec<ScenarioError>,
    pub(super) sources: Vec<Source>,
}

impl ScenarioErrors {
    /// The errors, file by file from top to bottom; the first [`MAX_ERRORS`] of them.
    #[must_use]
    pub fn list(&self) -> &[ScenarioError] {
        &self.errors[..self.errors.len().min(MAX_ERRORS)]
    }

    /// How many there are in all.
    #[must_use]
    pub fn count(&self) -> usize {
        self.errors.len()
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

impl fmt::Display for ScenarioErrors {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        for (k, error) in self.list().iter().enumerate() {
            let (file, line, column) = self.position(&error.span);
            let separator = if k == 0 { "" } else { "\n" };
            write!(f, "{separator}{file}:{line}:{column}: {}", error.message)?;
            if let Some(fix) = &error.fix {
                write!(f, " ({fix})")?;
            }
            if let Some((span, what)) = &error.other {
                let (file, line, column) = self.position(span);
                write!(f, " [{what} at {file}:{line}:{column}]")?;
            }
        }
        match self.count() - self.list().len() {
            0 => Ok(()),
            more => write!(f, "\nand {more} more errors"),
        }
    }
}

impl core::error::Error for ScenarioErrors {}
