//! A column whose values seldom change and are long: each row keeps its hash.

use super::digest::Digest;
use super::table::Column;
use core::fmt::Debug;
use core::ops::{Index, IndexMut};
use serde::{Deserialize, Deserializer, Serialize, Serializer};

/// A list of values, one a row. Only rows that were touched since the last checksum are hashed again.
#[derive(Clone, Debug)]
pub(crate) struct Hashed<T> {
    values: Vec<T>,
    hashes: Vec<u64>,
    /// Rows that were touched since their hash was worked out.
    touched: Vec<bool>,
}

impl<T> Default for Hashed<T> {
    fn default() -> Hashed<T> {
        Hashed::of(Vec::new())
    }
}

impl<T> Hashed<T> {
    fn of(values: Vec<T>) -> Hashed<T> {
        Hashed {
            hashes: vec![0; values.len()],
            touched: vec![true; values.len()],
            values,
        }
    }

    pub(crate) fn len(&self) -> usize {
        self.values.len()
    }

    pub(crate) fn iter(&self) -> impl Iterator<Item = &T> + Clone {
        self.values.iter()
    }

    pub(crate) fn as_slice(&self) -> &[T] {
        &self.values
    }

    pub(crate) fn push(&mut self, value: T) {
        self.hashes.push(0);
        self.touched.push(true);
        self.values.push(value);
    }

    /// Takes a row out; the last one moves into its place.
    pub(crate) fn swap_remove(&mut self, row: usize) {
        self.hashes.swap_remove(row);
        self.touched.swap_remove(row);
        self.values.swap_remove(row);
    }
}

impl<T: Serialize> Hashed<T> {
    /// Hashes the rows that were touched.
    pub(crate) fn refresh(&mut self, digest: &mut Digest) {
        let rows = self.hashes.iter_mut().zip(&mut self.touched);
        for (value, (hash, touched)) in self.values.iter().zip(rows) {
            if core::mem::take(touched) {
                *hash = hash_of(value, digest);
            }
        }
    }
}

fn hash_of<T: Serialize>(value: &T, digest: &mut Digest) -> u64 {
    digest.begin();
    digest.add(value);
    digest.finish()
}

impl<T> Index<usize> for Hashed<T> {
    type Output = T;

    fn index(&self, row: usize) -> &T {
        &self.values[row]
    }
}

impl<T> IndexMut<usize> for Hashed<T> {
    fn index_mut(&mut self, row: usize) -> &mut T {
        self.touched[row] = true;
        &mut self.values[row]
    }
}

impl<T: Serialize + Debug> Column for Hashed<T> {
    fn rows(&self) -> usize {
        self.values.len()
    }

    fn feed(&self, digest: &mut Digest) {
        if !self.touched.contains(&true) {
            return digest.add(&self.hashes);
        }
        let (mut other, mut hashes) = (Digest::default(), self.hashes.clone());
        for (row, hash) in hashes.iter_mut().enumerate() {
            if self.touched[row] {
                *hash = hash_of(&self.values[row], &mut other);
            }
        }
        digest.add(&hashes);
    }

    fn bytes(&self, row: usize) -> Vec<u8> {
        self.values
            .get(row)
            .map(Digest::bytes_of)
            .unwrap_or_default()
    }

    fn show(&self, row: usize) -> String {
        let value = self.values.get(row);
        value.map_or_else(String::new, |value| format!("{value:?}"))
    }
}

impl<T: Serialize> Serialize for Hashed<T> {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        self.values.serialize(serializer)
    }
}

impl<'de, T: Deserialize<'de>> Deserialize<'de> for Hashed<T> {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Hashed<T>, D::Error> {
        Vec::deserialize(deserializer).map(Hashed::of)
    }
}
