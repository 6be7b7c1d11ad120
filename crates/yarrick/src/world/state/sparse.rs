//! A column that few rows have a value in.

use super::digest::{Digest, hash_of};
use super::table::Column;
use core::fmt::Debug;
use serde::{Deserialize, Deserializer, Serialize, Serializer};
use std::collections::BTreeMap;

/// Values by id, for the few that have one. Looking up costs with the logarithm of how many there are.
///
/// The checksum takes the sum of the hashes of all entries, which is kept up to date: in every tick it costs the same,
/// however many entries there are.
#[derive(Clone, Debug)]
pub(crate) struct Sparse<Id: Ord, T> {
    values: BTreeMap<Id, T>,
    /// The wrapping sum of the hashes of the entries.
    sum: u64,
}

impl<Id: Ord, T> Default for Sparse<Id, T> {
    fn default() -> Sparse<Id, T> {
        Sparse {
            values: BTreeMap::new(),
            sum: 0,
        }
    }
}

impl<Id: Ord + Copy + Serialize, T: Serialize> Sparse<Id, T> {
    pub(crate) fn get(&self, id: Id) -> Option<&T> {
        // Most of the time there is none at all.
        if self.values.is_empty() {
            return None;
        }
        self.values.get(&id)
    }

    /// Changes the value of an id, if it has one, and gives what `change` gives.
    pub(crate) fn change<R>(&mut self, id: Id, change: impl FnOnce(&mut T) -> R) -> Option<R> {
        let value = self.values.get_mut(&id)?;
        let before = hash_of(&(id, &*value));
        let result = change(value);
        let after = hash_of(&(id, &*value));
        self.sum = self.sum.wrapping_sub(before).wrapping_add(after);
        Some(result)
    }

    pub(crate) fn set(&mut self, id: Id, value: T) {
        self.remove(id);
        self.sum = self.sum.wrapping_add(hash_of(&(id, &value)));
        self.values.insert(id, value);
    }

    pub(crate) fn remove(&mut self, id: Id) -> Option<T> {
        if self.values.is_empty() {
            return None;
        }
        let value = self.values.remove(&id)?;
        self.sum = self.sum.wrapping_sub(hash_of(&(id, &value)));
        Some(value)
    }

    pub(crate) fn values(&self) -> impl Iterator<Item = &T> {
        self.values.values()
    }

    pub(crate) fn iter(&self) -> impl Iterator<Item = (Id, &T)> {
        self.values.iter().map(|(id, value)| (*id, value))
    }

    pub(crate) fn ids(&self) -> impl Iterator<Item = Id> + '_ {
        self.values.keys().copied()
    }
}

impl<Id: Ord + Serialize + Debug, T: Serialize + Debug> Column for Sparse<Id, T> {
    fn rows(&self) -> usize {
        self.values.len()
    }

    fn feed(&self, digest: &mut Digest) {
        digest.add(&(self.values.len() as u32, self.sum));
    }

    fn bytes(&self, row: usize) -> Vec<u8> {
        let entry = self.values.iter().nth(row);
        entry
            .map(|entry| Digest::bytes_of(&entry))
            .unwrap_or_default()
    }

    fn show(&self, row: usize) -> String {
        let entry = self.values.iter().nth(row);
        entry.map_or_else(String::new, |(id, value)| format!("{id:?}: {value:?}"))
    }
}

impl<Id: Ord + Serialize, T: Serialize> Serialize for Sparse<Id, T> {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        self.values.serialize(serializer)
    }
}

impl<'de, Id, T> Deserialize<'de> for Sparse<Id, T>
where
    Id: Ord + Serialize + Deserialize<'de>,
    T: Serialize + Deserialize<'de>,
{
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Sparse<Id, T>, D::Error> {
        let values = BTreeMap::<Id, T>::deserialize(deserializer)?;
        let hashes = values.iter().map(|entry| hash_of(&entry));
        let sum = hashes.fold(0, u64::wrapping_add);
        Ok(Sparse { values, sum })
    }
}
