//! The checksum of a tick: of everything that decides how the world goes on.
//!
//! Values are hashed as the bytes in which they would be saved (postcard, little-endian), so the
//! checksum is the same on every machine and misses nothing that a snapshot holds. Positions and
//! facings hold neither NaN nor negative zeros: they are made canonical where they are set.

use postcard::ser_flavors::Flavor;
use serde::Serialize;
use xxhash_rust::xxh3::Xxh3Default;

/// This many bytes are hashed at a time: few enough to stay in the nearest cache until then.
const BLOCK: usize = 8192;

/// A checksum in the making. Keeps its memory.
#[derive(Clone, Default)]
pub(crate) struct Digest {
    bytes: Vec<u8>,
    hasher: Xxh3Default,
}

impl core::fmt::Debug for Digest {
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        f.write_str("Digest")
    }
}

impl Digest {
    /// Begins anew.
    pub(crate) fn begin(&mut self) {
        self.bytes.clear();
        self.bytes.reserve(BLOCK);
        self.hasher.reset();
    }

    /// Adds a value.
    pub(crate) fn add<T: Serialize + ?Sized>(&mut self, value: &T) {
        // Our types serialise without errors: they are plain data of known length.
        let written = postcard::serialize_with_flavor(value, Feed(self));
        debug_assert!(written.is_ok());
    }

    /// The checksum of all that was added.
    pub(crate) fn finish(&mut self) -> u64 {
        self.hasher.update(&self.bytes);
        self.bytes.clear();
        self.hasher.digest()
    }

    /// The bytes that a value adds.
    pub(crate) fn bytes_of<T: Serialize>(value: &T) -> Vec<u8> {
        postcard::to_stdvec(value).unwrap_or_default()
    }

    #[inline]
    fn push(&mut self, data: &[u8]) {
        if self.bytes.len() + data.len() > BLOCK {
            self.hasher.update(&self.bytes);
            self.bytes.clear();
        }
        self.bytes.extend_from_slice(data);
    }
}

/// What the serialiser writes to.
struct Feed<'a>(&'a mut Digest);

impl Flavor for Feed<'_> {
    type Output = ();

    #[inline]
    fn try_push(&mut self, byte: u8) -> postcard::Result<()> {
        self.0.push(&[byte]);
        Ok(())
    }

    #[inline]
    fn try_extend(&mut self, data: &[u8]) -> postcard::Result<()> {
        self.0.push(data);
        Ok(())
    }

    fn finalize(self) -> postcard::Result<()> {
        Ok(())
    }
}
