//! An error or a warning in a file: where, what is allowed, and the likely fix.

use core::ops::Range;

/// The most errors or warnings that are reported one by one.
pub const MAX_ERRORS: usize = 100;

/// A stretch of one of the files.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Span {
    /// The file, by its number in [`Diagnostics::sources`](super::Diagnostics::sources).
    pub file: usize,
    /// The bytes of its text.
    pub bytes: Range<usize>,
}

/// One error or warning in a file.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Diagnostic {
    /// Where.
    pub span: Span,
    /// What is wrong, and what is allowed.
    pub message: String,
    /// The likely fix, where there is one.
    pub fix: Option<String>,
    /// Another place that has to do with it, and what it is.
    pub other: Option<(Span, String)>,
}

impl Diagnostic {
    pub(super) fn new(span: Span, message: impl Into<String>) -> Diagnostic {
        Diagnostic {
            span,
            message: message.into(),
            fix: None,
            other: None,
        }
    }

    pub(super) fn with_fix(self, fix: impl Into<String>) -> Diagnostic {
        Diagnostic {
            fix: Some(fix.into()),
            ..self
        }
    }

    pub(super) fn with_other(self, span: Span, what: impl Into<String>) -> Diagnostic {
        Diagnostic {
            other: Some((span, what.into())),
            ..self
        }
    }
}

/// The name that a misspelt one was most likely meant to be.
pub(super) fn nearest_name<'a>(given: &str, known: &[&'a str]) -> Option<&'a str> {
    let most = (given.chars().count() / 3).max(1);
    known
        .iter()
        .map(|&name| (strsim::damerau_levenshtein(given, name), name))
        .filter(|(distance, _)| *distance <= most)
        .min()
        .map(|(_, name)| name)
}

/// `"a"`, `"b"` or `"c"`, for messages: all of them, since the one that is wanted may be the last.
pub(super) fn one_of(names: &[&str]) -> String {
    let names: Vec<String> = names.iter().map(|name| format!("{name:?}")).collect();
    match names.as_slice() {
        [] => "nothing".to_owned(),
        [one] => one.clone(),
        [most @ .., last] => format!("{} or {last}", most.join(", ")),
    }
}
