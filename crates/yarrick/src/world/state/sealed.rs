//! A value that seldom changes, with its hash: what takes long to hash is hashed when it changes, not in every tick.

use super::digest::hash_of;
use core::ops::Deref;
use serde::{Deserialize, Deserializer, Serialize, Serializer};

/// A value with its hash.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Sealed<T> {
    value: T,
    hash: u64,
}

impl<T: Serialize> Sealed<T> {
    pub(crate) fn new(value: T) -> Sealed<T> {
        let hash = hash_of(&value);
        Sealed { value, hash }
    }

    /// Changes the value.
    pub(crate) fn change(&mut self, change: impl FnOnce(&mut T)) {
        change(&mut self.value);
        self.hash = hash_of(&self.value);
    }

    /// What stands for the value in the checksum.
    pub(crate) fn hash(&self) -> u64 {
        self.hash
    }
}

impl<T> Deref for Sealed<T> {
    type Target = T;

    fn deref(&self) -> &T {
        &self.value
    }
}

impl<T: Serialize> Serialize for Sealed<T> {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        self.value.serialize(serializer)
    }
}

impl<'de, T: Serialize + Deserialize<'de>> Deserialize<'de> for Sealed<T> {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Sealed<T>, D::Error> {
        T::deserialize(deserializer).map(Sealed::new)
    }
}
