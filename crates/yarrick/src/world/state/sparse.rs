//! A column that few rows have a value in.

use super::digest::Digest;
use super::table::Column;
use core::fmt::Debug;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Values by id, for the few that have one. Looking up costs with the logarithm of how many there are.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub(crate) struct Sparse<Id: Ord, T>(BTreeMap<Id, T>);

impl<Id: Ord, T> Default for Sparse<Id, T> {
    fn default() -> Sparse<Id, T> {
        Sparse(BTreeMap::new())
    }
}

impl<Id: Ord + Copy, T> Sparse<Id, T> {
    pub(crate) fn get(&self, id: Id) -> Option<&T> {
        // Most of the time there is none at all.
        if self.0.is_empty() {
            return None;
        }
        self.0.get(&id)
    }

    pub(crate) fn get_mut(&mut self, id: Id) -> Option<&mut T> {
        self.0.get_mut(&id)
    }

    pub(crate) fn set(&mut self, id: Id, value: T) {
        self.0.insert(id, value);
    }

    pub(crate) fn remove(&mut self, id: Id) -> Option<T> {
        if self.0.is_empty() {
            return None;
        }
        self.0.remove(&id)
    }

    pub(crate) fn values(&self) -> impl Iterator<Item = &T> {
        self.0.values()
    }

    pub(crate) fn ids(&self) -> impl Iterator<Item = Id> + '_ {
        self.0.keys().copied()
    }
}

impl<Id: Ord + Serialize + Debug, T: Serialize + Debug> Column for Sparse<Id, T> {
    fn rows(&self) -> usize {
        self.0.len()
    }

    fn feed(&self, digest: &mut Digest) {
        digest.add(&self.0);
    }

    fn bytes(&self, row: usize) -> Vec<u8> {
        self.0
            .iter()
            .nth(row)
            .map(|entry| Digest::bytes_of(&entry))
            .unwrap_or_default()
    }

    fn show(&self, row: usize) -> String {
        let entry = self.0.iter().nth(row);
        entry.map_or_else(String::new, |(id, value)| format!("{id:?}: {value:?}"))
    }
}
