//! What can be wrong with a scenario: where, what is allowed, and the likely fix.

use super::source::Source;
use core::fmt;
use core::ops::Range;

/// The most mistakes that are told one by one.
pub const MAX_MISTAKES: usize = 100;

/// A stretch of one of the files.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Span {
    /// The file, by its number in [`Mistakes::sources`].
    pub file: usize,
    /// The bytes of its text.
    pub bytes: Range<usize>,
}

/// One mistake in a file.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Mistake {
    /// Where.
    pub span: Span,
    /// What is wrong, and what is allowed.
    pub message: String,
    /// The likely fix, where there is one.
    pub fix: Option<String>,
    /// Another place that has to do with it, and what it is.
    pub other: Option<(Span, String)>,
}

impl Mistake {
    pub(super) fn new(span: Span, message: impl Into<String>) -> Mistake {
        Mistake {
            span,
            message: message.into(),
            fix: None,
            other: None,
        }
    }

    pub(super) fn with_fix(self, fix: impl Into<String>) -> Mistake {
        Mistake {
            fix: Some(fix.into()),
            ..self
        }
    }

    pub(super) fn with_other(self, span: Span, what: impl Into<String>) -> Mistake {
        Mistake {
            other: Some((span, what.into())),
            ..self
        }
    }
}

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

/// The name that a misspelt one was most likely meant to be.
pub(super) fn nearest_name<'a>(
    given: &str,
    known: impl IntoIterator<Item = &'a str>,
) -> Option<&'a str> {
    let most = (given.chars().count() / 3).max(1);
    known
        .into_iter()
        .map(|name| (strsim::damerau_levenshtein(given, name), name))
        .filter(|(distance, _)| *distance <= most)
        .min()
        .map(|(_, name)| name)
}

/// `"a"`, `"b"` or `"c"`, for messages: all of them, since the one that is wanted may be the last.
pub(super) fn one_of<'a>(names: impl IntoIterator<Item = &'a str>) -> String {
    let names = names.into_iter().map(|name| format!("{name:?}"));
    let names: Vec<String> = names.collect();
    match names.as_slice() {
        [] => "nothing".to_owned(),
        [one] => one.clone(),
        [most @ .., last] => format!("{} or {last}", most.join(", ")),
    }
}
