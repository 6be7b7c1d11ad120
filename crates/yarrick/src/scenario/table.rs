//! Reading checked values out of a table: every slip is noted with its place, and reading goes
//! on, so that all errors of a file are found at once.

use super::error::{Diagnostic, MAX_ERRORS, Span, nearest_name, one_of};
use super::source::Source;
use super::value::{NAME, as_name, as_number, as_point, describe, single_glyph};
use crate::geom::Vec2;
use core::cell::RefCell;
use core::ops::RangeInclusive;
use toml::Spanned;
use toml::de::{DeTable, DeValue};

/// What all tables of a scenario are read with.
pub(super) struct Context<'a> {
    pub(super) sources: &'a [Source],
    errors: RefCell<Vec<Diagnostic>>,
    warnings: RefCell<Vec<Diagnostic>>,
}

impl<'a> Context<'a> {
    pub(super) fn new(sources: &'a [Source], errors: Vec<Diagnostic>) -> Context<'a> {
        Context {
            sources,
            errors: RefCell::new(errors),
            warnings: RefCell::default(),
        }
    }

    pub(super) fn note(&self, error: Diagnostic) {
        self.errors.borrow_mut().push(error);
    }

    /// Notes something that is allowed, but hardly what was meant.
    pub(super) fn warn(&self, warning: Diagnostic) {
        self.warnings.borrow_mut().push(warning);
    }

    pub(super) fn source(&self, file: usize) -> &Source {
        &self.sources[file]
    }

    pub(super) fn has_errors(&self) -> bool {
        !self.errors.borrow().is_empty()
    }

    /// The errors and the warnings.
    pub(super) fn finish(self) -> (Vec<Diagnostic>, Vec<Diagnostic>) {
        (self.errors.into_inner(), self.warnings.into_inner())
    }

    /// Notes that a name is not among the known ones.
    pub(super) fn note_unknown<'n>(
        &self,
        span: &Span,
        what: &str,
        given: &str,
        known: impl IntoIterator<Item = &'n str>,
    ) {
        let mut known = known.into_iter().peekable();
        // Where there are none at all, that is the error, and noted once.
        if known.peek().is_none() {
            return;
        }
        // In a file that is wrong throughout, looking for what was meant would take too long.
        if self.errors.borrow().len() > 10 * MAX_ERRORS {
            let message = format!("there is no {what} {given:?}");
            return self.note(Diagnostic::new(span.clone(), message));
        }
        self.note_none_of(span, what, given, &known.collect::<Vec<&str>>());
    }

    fn note_none_of(&self, span: &Span, what: &str, given: &str, known: &[&str]) {
        let known_names = one_of(known);
        let message = format!("there is no {what} {given:?}; there is {known_names}");
        let error = Diagnostic::new(span.clone(), message);
        let first = &known[..known.len().min(2000)];
        self.note(match nearest_name(given, first) {
            Some(name) => error.with_fix(format!("did you mean {name:?}?")),
            None => error,
        });
    }
}

/// A table being read, called `what` in messages: "a kind", say. Keys that nobody asked for are noted by [`Table::finish`].
pub(super) struct Table<'a> {
    context: &'a Context<'a>,
    span: Span,
    what: &'static str,
    entries: &'a DeTable<'a>,
    known: RefCell<Vec<&'static str>>,
}

impl<'a> Table<'a> {
    pub(super) fn new(
        context: &'a Context<'a>,
        span: Span,
        what: &'static str,
        entries: &'a DeTable<'a>,
    ) -> Table<'a> {
        Table {
            context,
            span,
            what,
            entries,
            known: RefCell::new(Vec::new()),
        }
    }

    pub(super) fn context(&self) -> &'a Context<'a> {
        self.context
    }

    pub(super) fn span(&self) -> &Span {
        &self.span
    }

    /// The value under a key.
    pub(super) fn field(&self, key: &'static str) -> Field<'a> {
        let mut known = self.known.borrow_mut();
        if !known.contains(&key) {
            known.push(key);
        }
        let value = self.entries.get(key);
        Field {
            context: self.context,
            span: Span {
                file: self.span.file,
                bytes: value.map_or(self.span.bytes.clone(), Spanned::span),
            },
            key,
            what: self.what,
            value: value.map(Spanned::get_ref),
        }
    }

    /// The tables under a key, as `[[key]]` writes them.
    pub(super) fn tables(&self, key: &'static str, what: &'static str) -> Vec<Table<'a>> {
        let field = self.field(key);
        let Some(DeValue::Array(array)) = field.value else {
            field.note_kind(&format!("tables, written [[{key}]]"));
            return Vec::new();
        };
        let entry = |value: &'a Spanned<DeValue<'a>>| {
            let span = Span {
                file: self.span.file,
                bytes: value.span(),
            };
            let DeValue::Table(entries) = value.get_ref() else {
                let message = format!("{what} must be a table, written [[{key}]]");
                self.context.note(Diagnostic::new(span, message));
                return None;
            };
            Some(Table::new(self.context, span, what, entries))
        };
        array.iter().filter_map(entry).collect()
    }

    /// The table under a key, written as `[key]`.
    pub(super) fn table(&self, key: &'static str, what: &'static str) -> Option<Table<'a>> {
        self.table_like(key, what, &format!("a table, written [{key}]"))
    }

    /// The table under a key; messages say what it is like.
    pub(super) fn table_like(
        &self,
        key: &'static str,
        what: &'static str,
        like: &str,
    ) -> Option<Table<'a>> {
        let field = self.field(key);
        match field.value {
            Some(DeValue::Table(entries)) => {
                Some(Table::new(self.context, field.span, what, entries))
            }
            _ => {
                field.note_kind(like);
                None
            }
        }
    }

    /// Every entry of a table whose keys the user chooses.
    pub(super) fn entries(&self) -> impl Iterator<Item = (&'a str, Span, &'a DeValue<'a>, Span)> {
        let span = |bytes| Span {
            file: self.span.file,
            bytes,
        };
        self.entries.iter().map(move |(key, value)| {
            let (at, of) = (span(key.span()), span(value.span()));
            (key.get_ref().as_ref(), at, value.get_ref(), of)
        })
    }

    /// Notes every key that was not asked for.
    pub(super) fn finish(self) {
        let known = self.known.borrow();
        for (key, at, _, _) in self.entries() {
            if known.contains(&key) {
                continue;
            }
            let message = format!(
                "{key:?} is not a key of {}; allowed here: {}",
                self.what,
                one_of(&known)
            );
            let error = Diagnostic::new(at, message);
            self.context.note(match nearest_name(key, &known) {
                Some(name) => error.with_fix(format!("did you mean {name:?}?")),
                None if key == "include" => {
                    error.with_fix("put it at the top of the file, before any [table]")
                }
                None => error,
            });
        }
    }
}

/// The value under a key, if there is one.
pub(super) struct Field<'a> {
    context: &'a Context<'a>,
    /// Where the value is; where the table is, if there is none.
    pub(super) span: Span,
    key: &'static str,
    what: &'static str,
    value: Option<&'a DeValue<'a>>,
}

impl<'a> Field<'a> {
    pub(super) fn is_given(&self) -> bool {
        self.value.is_some()
    }

    /// What `read` makes of the value, if there is one.
    pub(super) fn if_given<T>(&self, read: impl FnOnce(&Self) -> Option<T>) -> Option<T> {
        if self.is_given() { read(self) } else { None }
    }

    /// What `read` makes of the value, or the default where there is none.
    pub(super) fn or<T>(&self, default: T, read: impl FnOnce(&Self) -> Option<T>) -> Option<T> {
        if self.is_given() {
            read(self)
        } else {
            Some(default)
        }
    }

    /// Notes it as missing, if it is.
    pub(super) fn needed(self) -> Field<'a> {
        self.note_missing();
        self
    }

    /// Notes it as missing, if it is.
    pub(super) fn note_missing(&self) {
        if self.value.is_none() {
            let message = format!("{} needs the key {:?}", self.what, self.key);
            self.note(message);
        }
    }

    pub(super) fn note(&self, message: impl Into<String>) {
        self.context
            .note(Diagnostic::new(self.span.clone(), message));
    }

    /// Notes that the value is not of the kind wanted. Says nothing of a missing one.
    fn note_kind(&self, wanted: &str) {
        self.note_kind_with(wanted, None);
    }

    fn note_kind_with(&self, wanted: &str, meant: Option<&str>) {
        if let Some(value) = self.value {
            let (key, is) = (self.key, describe(value));
            let message = format!("{key:?} must be {wanted}, not {is}");
            let error = Diagnostic::new(self.span.clone(), message);
            self.context.note(match meant {
                Some(name) => error.with_fix(format!("did you mean {name:?}?")),
                None => error,
            });
        }
    }

    /// A number within a range, in the given unit.
    pub(super) fn number(&self, range: RangeInclusive<f64>, unit: &str) -> Option<f64> {
        let number = self.value.and_then(as_number);
        match number.filter(|number| range.contains(number)) {
            Some(number) => Some(number),
            None => {
                let (low, high) = (range.start(), range.end());
                self.note_kind(&format!("a number from {low} to {high} ({unit})"));
                None
            }
        }
    }

    /// A whole number within a range.
    pub(super) fn whole(&self, range: RangeInclusive<u64>) -> Option<u64> {
        let number = match self.value {
            Some(DeValue::Integer(digits)) => {
                u64::from_str_radix(digits.as_str(), digits.radix()).ok()
            }
            _ => None,
        };
        match number.filter(|number| range.contains(number)) {
            Some(number) => Some(number),
            None => {
                let (low, high) = (range.start(), range.end());
                self.note_kind(&format!("a whole number from {low} to {high}"));
                None
            }
        }
    }

    /// Whether the value is `false`.
    pub(super) fn is_false(&self) -> bool {
        matches!(self.value, Some(DeValue::Boolean(false)))
    }

    pub(super) fn flag(&self) -> Option<bool> {
        match self.value {
            Some(DeValue::Boolean(flag)) => Some(*flag),
            _ => {
                self.note_kind("true or false");
                None
            }
        }
    }

    /// A name: text that is neither empty nor longer than 64 characters.
    pub(super) fn name(&self) -> Option<&'a str> {
        self.value.and_then(as_name).or_else(|| {
            self.note_kind(NAME);
            None
        })
    }

    /// A single character that can be seen.
    pub(super) fn glyph(&self) -> Option<char> {
        let glyph = self.value.and_then(DeValue::as_str).and_then(single_glyph);
        if glyph.is_none() {
            self.note_kind("a single visible character");
        }
        glyph
    }

    /// A point `[x, y]` in metres.
    pub(super) fn point(&self) -> Option<Vec2> {
        let point = self.value.and_then(as_point);
        if point.is_none() {
            self.note_kind("a point [x, y] of two finite numbers (metres)");
        }
        point
    }

    /// A list of points, with limits on their number.
    pub(super) fn points(&self, count: RangeInclusive<usize>) -> Option<Vec<Vec2>> {
        let array = match self.value {
            Some(DeValue::Array(array)) if count.contains(&array.len()) => Some(array),
            _ => None,
        };
        let points = array.and_then(|array| array.iter().map(|v| as_point(v.get_ref())).collect());
        if points.is_none() {
            let (low, high) = (count.start(), count.end());
            self.note_kind(&format!("a list of {low} to {high} points [x, y] (metres)"));
        }
        points
    }

    /// A size `[length, width]` in metres, both within a range.
    pub(super) fn size(&self, range: RangeInclusive<f64>) -> Option<Vec2> {
        let what = "size [length, width] of two numbers";
        self.two(range, &format!("a {what}"), "metres")
    }

    /// Two numbers, both within a range, called `what` in messages: "speeds [lowest, highest]", say.
    pub(super) fn pair(&self, range: RangeInclusive<f64>, what: &str, unit: &str) -> Option<Vec2> {
        self.two(range, &format!("two {what}"), unit)
    }

    fn two(&self, range: RangeInclusive<f64>, what: &str, unit: &str) -> Option<Vec2> {
        if let Some(DeValue::Array(array)) = self.value
            && let [Some(first), Some(second)] = array
                .iter()
                .map(|v| as_number(v.get_ref()))
                .collect::<Vec<_>>()[..]
            && range.contains(&first)
            && range.contains(&second)
        {
            return Some(Vec2::new(first as f32, second as f32));
        }
        let (low, high) = (range.start(), range.end());
        self.note_kind(&format!("{what} from {low} to {high} ({unit})"));
        None
    }

    /// A list of names.
    pub(super) fn names(&self) -> Option<Vec<(&'a str, Span)>> {
        let Some(DeValue::Array(array)) = self.value else {
            self.note_kind("a list of names");
            return None;
        };
        let mut names = Vec::new();
        for value in array {
            let span = Span {
                file: self.span.file,
                bytes: value.span(),
            };
            match as_name(value.get_ref()) {
                Some(name) => names.push((name, span)),
                None => {
                    let is = describe(value.get_ref());
                    let message = format!("each name in {:?} must be {NAME}, not {is}", self.key);
                    self.context.note(Diagnostic::new(span, message));
                }
            }
        }
        Some(names)
    }

    /// One of some words.
    pub(super) fn choice<T: Copy>(&self, choices: &[(&str, T)]) -> Option<T> {
        let given = self.value.and_then(DeValue::as_str);
        let found = choices.iter().find(|(word, _)| Some(*word) == given);
        if found.is_none() {
            let words: Vec<&str> = choices.iter().map(|(word, _)| *word).collect();
            self.note_no_choice(&words);
        }
        found.map(|(_, value)| *value)
    }

    fn note_no_choice(&self, words: &[&str]) {
        let given = self.value.and_then(DeValue::as_str);
        let fix = given.and_then(|given| nearest_name(given, words));
        self.note_kind_with(&one_of(words), fix);
    }

    /// Lines of text, from a list or from one text of several lines, each with its place.
    pub(super) fn lines(&self) -> Option<Vec<(&'a str, Span)>> {
        let file = self.span.file;
        let source = &self.context.sources[file].text;
        match self.value {
            Some(DeValue::String(text)) => {
                let start = inner_start(source, &self.span, text);
                let line = |line: &'a str| {
                    let from = line.as_ptr() as usize - text.as_ptr() as usize;
                    let bytes = start.map_or(self.span.bytes.clone(), |start| {
                        start + from..start + from + line.len()
                    });
                    (line, Span { file, bytes })
                };
                Some(text.lines().map(line).collect())
            }
            Some(DeValue::Array(array)) => {
                let mut lines = Vec::with_capacity(array.len());
                for value in array {
                    let mut span = Span {
                        file,
                        bytes: value.span(),
                    };
                    let Some(line) = value.get_ref().as_str() else {
                        let message = format!("each row of {:?} must be text", self.key);
                        self.context.note(Diagnostic::new(span, message));
                        continue;
                    };
                    if let Some(start) = inner_start(source, &span, line) {
                        span.bytes = start..start + line.len();
                    }
                    lines.push((line, span));
                }
                Some(lines)
            }
            _ => {
                self.note_kind("rows of characters: a list of texts, or one text of several lines");
                None
            }
        }
    }
}

/// Where a text without escapes begins within its quotes.
fn inner_start(source: &str, span: &Span, text: &str) -> Option<usize> {
    let quoted = source.get(span.bytes.clone())?;
    quoted.find(text).map(|at| span.bytes.start + at)
}
