//! Things with names, and looking them up.

use super::error::{Diagnostic, Span};
use super::table::{Context, Field};
use core::ops::Range;
use std::collections::BTreeMap;

/// The names of units and blocks, each with the numbers of its units.
pub(super) type Names = Named<Range<u32>>;

/// Things with names that differ, in the order of the files.
pub(super) struct Named<T> {
    pub(super) what: &'static str,
    pub(super) all: Vec<T>,
    pub(super) names: Vec<(String, Span)>,
    /// Where each name is in the lists: files may hold a great many.
    by_name: BTreeMap<String, usize>,
}

impl<T> Named<T> {
    pub(super) fn new(what: &'static str) -> Named<T> {
        Named {
            what,
            all: Vec::new(),
            names: Vec::new(),
            by_name: BTreeMap::new(),
        }
    }

    /// Adds a thing, or notes that its name is used already.
    pub(super) fn add(&mut self, context: &Context<'_>, name: &str, span: Span, thing: T) {
        match self.position(name).map(|at| &self.names[at].1) {
            Some(first) => {
                let message = format!("there is a {} called {name:?} already", self.what);
                let error = Diagnostic::new(span, message);
                context.note(error.with_other(first.clone(), "first defined"));
            }
            None => {
                self.by_name.insert(name.to_owned(), self.all.len());
                self.names.push((name.to_owned(), span));
                self.all.push(thing);
            }
        }
    }

    pub(super) fn position(&self, name: &str) -> Option<usize> {
        self.by_name.get(name).copied()
    }

    /// The number of the thing that a field names; an unknown name is noted.
    pub(super) fn named_by(&self, context: &Context<'_>, field: &Field<'_>) -> Option<usize> {
        let name = field.name()?;
        let found = self.position(name);
        if found.is_none() {
            context.note_unknown(&field.span, self.what, name, self.known());
        }
        found
    }

    pub(super) fn known(&self) -> impl Iterator<Item = &str> + Clone {
        self.names.iter().map(|(name, _)| name.as_str())
    }

    /// Notes it where there are none, or more than `most`.
    pub(super) fn check_count(&self, context: &Context<'_>, file: usize, most: usize) {
        let (what, count) = (self.what, self.all.len());
        if count == 0 {
            let span = Span { file, bytes: 0..0 };
            let message = format!("a scenario needs at least one [[{what}]]");
            context.note(Diagnostic::new(span, message));
        } else if count > most {
            let span = self.names[most].1.clone();
            let message = format!(
                "this is {what} number {}; at most {most} are allowed",
                most + 1
            );
            context.note(Diagnostic::new(span, message));
        }
    }
}
