//! All that is wrong with a scenario.

use super::mistake::{MAX_MISTAKES, Mistake, Span};
use super::source::Source;
use core::fmt;

/// All that is wrong with a scenario. Nothing of it was loaded.
///
/// Displayed, it gives a line for each mistake: `file:line:column: message`.
#[derive(Clone, Debug, PartialEq)]
pub struct Mistakes {
    pub(super) mistakes: Vec<Mistake>,
    pub(super) sources: Vec<Source>,
}

impl Mistakes {
    /// The mistakes, file by file from top to bottom; the first [`MAX_MISTAKES`] of them.
    #[must_use]
    pub fn list(&self) -> &[Mistake] {
        &self.mistakes[..self.mistakes.len().min(MAX_MISTAKES)]
    }

    /// How many there are in all.
    #[must_use]
    pub fn count(&self) -> usize {
        self.mistakes.len()
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

impl fmt::Display for Mistakes {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        for (k, mistake) in self.list().iter().enumerate() {
            let (file, line, column) = self.position(&mistake.span);
            let separator = if k == 0 { "" } else { "\n" };
            write!(f, "{separator}{file}:{line}:{column}: {}", mistake.message)?;
            if let Some(fix) = &mistake.fix {
                write!(f, " ({fix})")?;
            }
            if let Some((span, what)) = &mistake.other {
                let (file, line, column) = self.position(span);
                write!(f, " [{what} at {file}:{line}:{column}]")?;
            }
        }
        match self.count() - self.list().len() {
            0 => Ok(()),
            more => write!(f, "\nand {more} more mistakes"),
        }
    }
}

impl core::error::Error for Mistakes {}
