//! Values as bytes behind a header: what they are, the version of their format, and a checksum.

use serde::Serialize;
use serde::de::DeserializeOwned;
use xxhash_rust::xxh3::xxh3_64;

/// Magic, version and the checksum of what follows.
const HEADER: usize = 8 + 4 + 8;

/// A format: the bytes with which it begins, and the version that is written and read.
pub(crate) struct Format {
    pub(crate) magic: [u8; 8],
    pub(crate) version: u32,
}

/// Why bytes cannot be read in a format.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Flaw {
    /// They begin otherwise.
    OtherFormat,
    /// They have this version.
    OtherVersion(u32),
    /// They end too early.
    CutShort,
    /// The checksum is wrong.
    Damaged,
    /// The checksum is right, but the bytes are no such value.
    Senseless(&'static str),
}

impl Format {
    /// A value as bytes.
    pub(crate) fn seal<T: Serialize>(&self, value: &T) -> Vec<u8> {
        let mut bytes = Vec::with_capacity(1 << 16);
        bytes.extend_from_slice(&self.magic);
        bytes.extend_from_slice(&self.version.to_le_bytes());
        bytes.extend_from_slice(&[0; 8]);
        // Writing to memory cannot fail, and our types are plain data.
        let mut bytes = postcard::to_extend(value, bytes).unwrap_or_default();
        if bytes.len() >= HEADER {
            let sum = xxh3_64(&bytes[HEADER..]);
            bytes[12..HEADER].copy_from_slice(&sum.to_le_bytes());
        }
        bytes
    }

    /// The value of bytes that [`Format::seal`] gave.
    pub(crate) fn open<T: DeserializeOwned>(&self, bytes: &[u8]) -> Result<T, Flaw> {
        if !bytes.starts_with(&self.magic) {
            return Err(Flaw::OtherFormat);
        }
        let (header, body) = bytes.split_at_checked(HEADER).ok_or(Flaw::CutShort)?;
        let found = header[8..12].try_into().map_or(0, u32::from_le_bytes);
        if found != self.version {
            return Err(Flaw::OtherVersion(found));
        }
        if header[12..] != xxh3_64(body).to_le_bytes() {
            return Err(Flaw::Damaged);
        }
        match postcard::take_from_bytes(body) {
            Ok((value, [])) => Ok(value),
            Ok(_) => Err(Flaw::Senseless("something follows it")),
            Err(postcard::Error::DeserializeUnexpectedEnd) => Err(Flaw::CutShort),
            Err(_) => Err(Flaw::Senseless("a value that is out of range")),
        }
    }
}
