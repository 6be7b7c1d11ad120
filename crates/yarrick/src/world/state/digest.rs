//! The checksum of a tick: of everything that decides how the world goes on.
//!
//! Values are hashed in little-endian bytes of fixed length, field by field as serde shows them, so the checksum is
//! the same on every machine and misses nothing that a snapshot holds. Positions and facings hold neither NaN nor
//! negative zeros: they are made canonical where they are set.
//!
//! A serialiser of our own, since it runs over every unit in every tick: with the one that snapshots use, a tick of ten
//! thousand walkers took a third longer.

use core::fmt;
use serde::ser::{self, Serialize};
use xxhash_rust::xxh3::{Xxh3Default, xxh3_64};

/// This many bytes are hashed at a time: few enough to stay in the nearest cache until then.
const USUAL_BLOCK: usize = 4096;

/// A checksum in the making.
#[derive(Clone)]
pub(crate) struct Digest<const BLOCK: usize = USUAL_BLOCK> {
    bytes: [u8; BLOCK],
    used: usize,
    /// For what is longer than a block.
    hasher: Option<Xxh3Default>,
}

impl<const BLOCK: usize> Default for Digest<BLOCK> {
    fn default() -> Digest<BLOCK> {
        Digest {
            bytes: [0; BLOCK],
            used: 0,
            hasher: None,
        }
    }
}

impl<const BLOCK: usize> fmt::Debug for Digest<BLOCK> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("Digest")
    }
}

impl Digest {
    /// The bytes that a value adds, to compare it with another.
    pub(crate) fn bytes_of<T: Serialize>(value: &T) -> Vec<u8> {
        postcard::to_extend(value, Vec::new()).unwrap_or_default()
    }
}

/// The hash of a value by itself.
pub(super) fn hash_of<T: Serialize + ?Sized>(value: &T) -> u64 {
    let mut digest = Digest::<512>::default();
    digest.add(value);
    digest.finish()
}

/// Two numbers as one word.
#[inline]
pub(super) fn word(first: u32, second: u32) -> u64 {
    u64::from(second) << 32 | u64::from(first)
}

impl<const BLOCK: usize> Digest<BLOCK> {
    /// Begins anew.
    pub(crate) fn begin(&mut self) {
        self.used = 0;
        self.hasher = None;
    }

    /// Adds a value.
    #[inline]
    pub(crate) fn add<T: Serialize + ?Sized>(&mut self, value: &T) {
        // Nothing that is written here can fail: see `Never`.
        let _ = value.serialize(&mut *self);
    }

    /// The checksum of all that was added.
    pub(crate) fn finish(&mut self) -> u64 {
        if self.hasher.is_some() {
            self.flush();
        }
        match &self.hasher {
            Some(hasher) => hasher.digest(),
            // The same as by way of the hasher, which takes a microsecond to set up for a few bytes.
            None => xxh3_64(&self.bytes[..self.used]),
        }
    }

    fn flush(&mut self) {
        let hasher = self.hasher.get_or_insert_with(Xxh3Default::new);
        hasher.update(&self.bytes[..self.used]);
        self.used = 0;
    }

    #[inline]
    pub(super) fn put<const N: usize>(&mut self, data: [u8; N]) {
        if self.used + N > BLOCK {
            self.flush();
        }
        if let Some(free) = self.bytes.get_mut(self.used..self.used + N) {
            free.copy_from_slice(&data);
            self.used += N;
        }
    }

    /// Adds many values of the same length, a block at a time.
    #[inline]
    pub(super) fn put_each<const N: usize>(&mut self, all: impl ExactSizeIterator<Item = [u8; N]>) {
        let mut all = all;
        while all.len() > 0 {
            if self.used + N > BLOCK {
                self.flush();
            }
            let fitting = ((BLOCK - self.used) / N).min(all.len());
            let free = &mut self.bytes[self.used..self.used + fitting * N];
            for (bytes, value) in free.chunks_exact_mut(N).zip(&mut all) {
                bytes.copy_from_slice(&value);
            }
            self.used += fitting * N;
        }
    }

    /// Adds words in one write.
    #[inline]
    pub(super) fn put_words<const N: usize>(&mut self, words: [u64; N]) {
        if self.used + N * 8 > BLOCK {
            self.flush();
        }
        if let Some(free) = self.bytes.get_mut(self.used..self.used + N * 8) {
            for (bytes, word) in free.chunks_exact_mut(8).zip(words) {
                bytes.copy_from_slice(&word.to_le_bytes());
            }
            self.used += N * 8;
        }
    }

    fn put_all(&mut self, data: &[u8]) {
        self.put((data.len() as u32).to_le_bytes());
        for part in data.chunks(BLOCK) {
            if self.used + part.len() > BLOCK {
                self.flush();
            }
            self.bytes[self.used..self.used + part.len()].copy_from_slice(part);
            self.used += part.len();
        }
    }
}

/// What goes wrong when values are hashed: a type that serialises with an error of its own. Ours do not.
#[derive(Debug)]
pub(crate) struct Never;

impl fmt::Display for Never {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("a value refused to be hashed")
    }
}

impl core::error::Error for Never {}

impl ser::Error for Never {
    fn custom<T: fmt::Display>(_: T) -> Never {
        Never
    }
}

type Put = Result<(), Never>;

/// Numbers, each in the bytes of its type.
macro_rules! numbers {
    ($($method:ident: $type:ty,)*) => {
        $(
            #[inline]
            fn $method(self, value: $type) -> Put {
                self.put(value.to_le_bytes());
                Ok(())
            }
        )*
    };
}

impl<const BLOCK: usize> ser::Serializer for &mut Digest<BLOCK> {
    type Ok = ();
    type Error = Never;
    type SerializeSeq = Self;
    type SerializeTuple = Self;
    type SerializeTupleStruct = Self;
    type SerializeTupleVariant = Self;
    type SerializeMap = Self;
    type SerializeStruct = Self;
    type SerializeStructVariant = Self;

    numbers! {
        serialize_i8: i8,
        serialize_i16: i16,
        serialize_i32: i32,
        serialize_i64: i64,
        serialize_u8: u8,
        serialize_u16: u16,
        serialize_u32: u32,
        serialize_u64: u64,
        serialize_f32: f32,
        serialize_f64: f64,
        serialize_i128: i128,
        serialize_u128: u128,
    }

    #[inline]
    fn serialize_bool(self, value: bool) -> Put {
        self.put([u8::from(value)]);
        Ok(())
    }

    fn serialize_char(self, value: char) -> Put {
        self.put(u32::from(value).to_le_bytes());
        Ok(())
    }

    fn serialize_str(self, value: &str) -> Put {
        self.put_all(value.as_bytes());
        Ok(())
    }

    fn serialize_bytes(self, value: &[u8]) -> Put {
        self.put_all(value);
        Ok(())
    }

    #[inline]
    fn serialize_none(self) -> Put {
        self.put([0]);
        Ok(())
    }

    #[inline]
    fn serialize_some<T: Serialize + ?Sized>(self, value: &T) -> Put {
        self.put([1]);
        value.serialize(self)
    }

    #[inline]
    fn serialize_unit(self) -> Put {
        Ok(())
    }

    #[inline]
    fn serialize_unit_struct(self, _: &'static str) -> Put {
        Ok(())
    }

    #[inline]
    fn serialize_unit_variant(self, _: &'static str, variant: u32, _: &'static str) -> Put {
        self.put([variant as u8]);
        Ok(())
    }

    #[inline]
    fn serialize_newtype_struct<T: Serialize + ?Sized>(self, _: &'static str, value: &T) -> Put {
        value.serialize(self)
    }

    #[inline]
    fn serialize_newtype_variant<T: Serialize + ?Sized>(
        self,
        _: &'static str,
        variant: u32,
        _: &'static str,
        value: &T,
    ) -> Put {
        self.put([variant as u8]);
        value.serialize(self)
    }

    #[inline]
    fn serialize_seq(self, count: Option<usize>) -> Result<Self, Never> {
        self.put((count.unwrap_or(0) as u32).to_le_bytes());
        Ok(self)
    }

    #[inline]
    fn serialize_tuple(self, _: usize) -> Result<Self, Never> {
        Ok(self)
    }

    #[inline]
    fn serialize_tuple_struct(self, _: &'static str, _: usize) -> Result<Self, Never> {
        Ok(self)
    }

    #[inline]
    fn serialize_tuple_variant(
        self,
        _: &'static str,
        variant: u32,
        _: &'static str,
        _: usize,
    ) -> Result<Self, Never> {
        self.put([variant as u8]);
        Ok(self)
    }

    fn serialize_map(self, count: Option<usize>) -> Result<Self, Never> {
        self.serialize_seq(count)
    }

    #[inline]
    fn serialize_struct(self, _: &'static str, _: usize) -> Result<Self, Never> {
        Ok(self)
    }

    #[inline]
    fn serialize_struct_variant(
        self,
        _: &'static str,
        variant: u32,
        _: &'static str,
        _: usize,
    ) -> Result<Self, Never> {
        self.put([variant as u8]);
        Ok(self)
    }

    fn is_human_readable(&self) -> bool {
        false
    }
}

/// Parts of a value, one after another.
macro_rules! parts {
    ($($trait:ident: $method:ident,)*) => {
        $(
            impl<const BLOCK: usize> ser::$trait for &mut Digest<BLOCK> {
                type Ok = ();
                type Error = Never;

                #[inline]
                fn $method<T: Serialize + ?Sized>(&mut self, value: &T) -> Put {
                    value.serialize(&mut **self)
                }

                #[inline]
                fn end(self) -> Put {
                    Ok(())
                }
            }
        )*
    };
}

parts! {
    SerializeSeq: serialize_element,
    SerializeTuple: serialize_element,
    SerializeTupleStruct: serialize_field,
    SerializeTupleVariant: serialize_field,
}

/// Fields of a value, one after another; their names do not count.
macro_rules! fields {
    ($($trait:ident,)*) => {
        $(
            impl<const BLOCK: usize> ser::$trait for &mut Digest<BLOCK> {
                type Ok = ();
                type Error = Never;

                #[inline]
                fn serialize_field<T: Serialize + ?Sized>(
                    &mut self,
                    _: &'static str,
                    value: &T,
                ) -> Put {
                    value.serialize(&mut **self)
                }

                #[inline]
                fn end(self) -> Put {
                    Ok(())
                }
            }
        )*
    };
}

fields! {
    SerializeStruct,
    SerializeStructVariant,
}

impl<const BLOCK: usize> ser::SerializeMap for &mut Digest<BLOCK> {
    type Ok = ();
    type Error = Never;

    fn serialize_key<T: Serialize + ?Sized>(&mut self, key: &T) -> Put {
        key.serialize(&mut **self)
    }

    fn serialize_value<T: Serialize + ?Sized>(&mut self, value: &T) -> Put {
        value.serialize(&mut **self)
    }

    fn end(self) -> Put {
        Ok(())
    }
}
