//! Legs of routes pulled straight down one field, kept so that others on the same way need not look for them again.

use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Maximum number of legs.
const MOST: usize = 1 << 16;

/// The legs, each from one entry to another, in the order in which they were noted. At most one begins at each entry.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
#[serde(from = "Vec<(u32, u32)>", into = "Vec<(u32, u32)>")]
pub(super) struct Leaps {
    all: Vec<(u32, u32)>,
    /// The index of the leg that begins at an entry.
    from: BTreeMap<u32, usize>,
}

impl Leaps {
    /// Adds a leg, unless one is known that begins there.
    pub(super) fn note(&mut self, from: u32, to: u32) {
        if self.all.len() < MOST && !self.from.contains_key(&from) {
            self.from.insert(from, self.all.len());
            self.all.push((from, to));
        }
    }

    /// Where the leg from an entry ends, if it is one of the first `known`.
    pub(super) fn next(&self, from: u32, known: usize) -> Option<u32> {
        let at = self.from.get(&from).filter(|at| **at < known)?;
        Some(self.all[*at].1)
    }

    pub(super) fn count(&self) -> usize {
        self.all.len()
    }

    pub(super) fn clear(&mut self) {
        self.all.clear();
        self.from.clear();
    }
}

impl From<Vec<(u32, u32)>> for Leaps {
    fn from(all: Vec<(u32, u32)>) -> Leaps {
        let mut leaps = Leaps::default();
        all.into_iter().for_each(|(from, to)| leaps.note(from, to));
        leaps
    }
}

impl From<Leaps> for Vec<(u32, u32)> {
    fn from(leaps: Leaps) -> Vec<(u32, u32)> {
        leaps.all
    }
}
