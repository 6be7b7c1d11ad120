//! What is wrong with the text of drills, and where.

use core::fmt;
use core::ops::Range;

/// Something wrong with a text of drills.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct DrillError {
    /// Where, in bytes of the text.
    pub bytes: Range<usize>,
    /// What is wrong, and what is allowed.
    pub message: String,
    /// The likely fix, if one is likely.
    pub fix: Option<String>,
    /// Another place that has to do with it, and what it is.
    pub other: Option<(Range<usize>, &'static str)>,
}

impl DrillError {
    pub(super) fn new(bytes: Range<usize>, message: impl Into<String>) -> DrillError {
        DrillError {
            bytes,
            message: message.into(),
            fix: None,
            other: None,
        }
    }

    pub(super) fn with_fix(self, fix: impl Into<String>) -> DrillError {
        DrillError {
            fix: Some(fix.into()),
            ..self
        }
    }

    pub(super) fn with_other(self, bytes: Range<usize>, what: &'static str) -> DrillError {
        DrillError {
            other: Some((bytes, what)),
            ..self
        }
    }
}

/// All that is wrong with a text of drills, from top to bottom.
#[derive(Clone, PartialEq, Eq)]
pub struct DrillErrors {
    text: String,
    list: Vec<DrillError>,
}

/// The most errors that are reported of one text.
pub const MAX_DRILL_ERRORS: usize = 50;

impl DrillErrors {
    pub(super) fn new(text: &str, mut list: Vec<DrillError>) -> DrillErrors {
        list.sort_by_key(|error| error.bytes.start);
        list.dedup();
        list.truncate(MAX_DRILL_ERRORS);
        DrillErrors {
            text: text.to_owned(),
            list,
        }
    }

    /// The errors.
    #[must_use]
    pub fn list(&self) -> &[DrillError] {
        &self.list
    }

    /// The line and the column of a place in the text, both from 1.
    #[must_use]
    pub fn position(&self, at: usize) -> (usize, usize) {
        let before = self.text.get(..at).unwrap_or(&self.text);
        let line = before.matches('\n').count() + 1;
        let start = before.rfind('\n').map_or(0, |at| at + 1);
        (line, before[start..].chars().count() + 1)
    }
}

/// Each error with its line and column, the line itself, and a marker under the place.
impl fmt::Display for DrillErrors {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        for error in &self.list {
            let (line, column) = self.position(error.bytes.start);
            writeln!(f, "{line}:{column}: {}", error.message)?;
            let source = self.text.lines().nth(line - 1).unwrap_or_default();
            let piece = self.text.get(error.bytes.clone()).unwrap_or_default();
            let width = piece.lines().next().unwrap_or_default().chars().count();
            writeln!(f, "    {source}")?;
            writeln!(
                f,
                "    {:column$}{}",
                "",
                "^".repeat(width.max(1)),
                column = column - 1
            )?;
            if let Some((other, what)) = &error.other {
                writeln!(f, "    {what} in line {}", self.position(other.start).0)?;
            }
            if let Some(fix) = &error.fix {
                writeln!(f, "    {fix}")?;
            }
        }
        Ok(())
    }
}

/// The same, below a line of its own: what a program prints whose `main` returns it.
impl fmt::Debug for DrillErrors {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "\n{self}")
    }
}

impl core::error::Error for DrillErrors {}

/// The name most like another, if it looks like a slip of the pen (Damerau-Levenshtein with neighbours swapped).
pub(super) fn likely<'a>(given: &str, known: impl Iterator<Item = &'a str>) -> Option<&'a str> {
    let most = (given.chars().count() / 3).max(1);
    let close = known.map(|name| (strsim::osa_distance(given, name), name));
    let best = close.min_by_key(|(distance, _)| *distance)?;
    (best.0 <= most).then_some(best.1)
}

/// "a", "a or b", "a, b or c".
pub(super) fn one_of(names: &[&str]) -> String {
    match names {
        [] => "none".to_owned(),
        [one] => (*one).to_owned(),
        [all @ .., last] => format!("{} or {last}", all.join(", ")),
    }
}
