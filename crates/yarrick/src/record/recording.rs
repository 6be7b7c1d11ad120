//! What is recorded of a run.

use crate::world::{Change, LoadError, World};
use serde::{Deserialize, Serialize};
use xxhash_rust::xxh3::xxh3_64;

/// What every recording begins with.
const MAGIC: [u8; 8] = *b"yarr-rec";

/// The version of the format.
const VERSION: u32 = 1;

/// Magic, version and the checksum of what follows.
const HEADER: usize = 8 + 4 + 8;

/// A run: what it begins with, the changes of each tick, and the checksum of each tick.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Recording {
    title: String,
    seed: u64,
    /// The world at the start, saved.
    start: Vec<u8>,
    /// The changes of the ticks that have some, each tick by its number.
    changes: Vec<(u64, Vec<Change>)>,
    /// The checksums of all ticks, from the one after the start on.
    checksums: Vec<u64>,
}

/// Why bytes are not a recording.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum RecordingError {
    /// They do not begin as a recording does.
    #[error("this is not a recording")]
    NotARecording,
    /// They were written by another version.
    #[error("this recording has format {found}; this version reads format {known}")]
    OtherVersion {
        /// The version of the format.
        found: u32,
        /// The one that is known.
        known: u32,
    },
    /// They have been altered, or cut short.
    #[error("the recording is damaged, or cut short")]
    Damaged,
    /// The world at its start cannot be loaded.
    #[error("the world at its start: {0}")]
    Start(#[from] LoadError),
}

impl Recording {
    /// What the run is called.
    #[must_use]
    pub fn title(&self) -> &str {
        &self.title
    }

    /// The seed of the world.
    #[must_use]
    pub fn seed(&self) -> u64 {
        self.seed
    }

    /// The world at the start, saved.
    #[must_use]
    pub fn start(&self) -> &[u8] {
        &self.start
    }

    /// How many ticks it lasts.
    #[must_use]
    pub fn ticks(&self) -> usize {
        self.checksums.len()
    }

    /// How many changes it holds.
    #[must_use]
    pub fn change_count(&self) -> usize {
        self.changes.iter().map(|(_, changes)| changes.len()).sum()
    }

    /// The checksums of its ticks, in order.
    #[must_use]
    pub fn checksums(&self) -> &[u64] {
        &self.checksums
    }

    /// The changes of a tick, by its number.
    #[must_use]
    pub fn changes_of(&self, tick: u64) -> &[Change] {
        let at = self.changes.binary_search_by_key(&tick, |(tick, _)| *tick);
        at.map_or(&[], |at| &self.changes[at].1)
    }

    /// The number of the first tick, counted from 1, in which another run was not the same; `None` where the one is
    /// the beginning of the other.
    #[must_use]
    pub fn first_difference(&self, other: &Recording) -> Option<usize> {
        let mut pairs = self.checksums.iter().zip(&other.checksums);
        pairs.position(|(a, b)| a != b).map(|tick| tick + 1)
    }

    /// The recording as bytes.
    #[must_use]
    pub fn to_bytes(&self) -> Vec<u8> {
        let mut bytes = Vec::with_capacity(1 << 16);
        bytes.extend_from_slice(&MAGIC);
        bytes.extend_from_slice(&VERSION.to_le_bytes());
        bytes.extend_from_slice(&[0; 8]);
        // Writing to memory cannot fail, and our types are plain data.
        let mut bytes = postcard::to_extend(self, bytes).unwrap_or_default();
        if bytes.len() >= HEADER {
            let sum = xxh3_64(&bytes[HEADER..]);
            bytes[12..HEADER].copy_from_slice(&sum.to_le_bytes());
        }
        bytes
    }

    /// Reads a recording from bytes that [`Recording::to_bytes`] gave. The world at its start is looked at when it is
    /// replayed.
    ///
    /// # Errors
    /// [`RecordingError`] for bytes that are not a recording, of another version, or damaged.
    pub fn from_bytes(bytes: &[u8]) -> Result<Recording, RecordingError> {
        let Some((header, body)) = bytes.split_at_checked(HEADER) else {
            return Err(RecordingError::NotARecording);
        };
        if header[..8] != MAGIC {
            return Err(RecordingError::NotARecording);
        }
        let found = header[8..12].try_into().map(u32::from_le_bytes);
        let (found, known) = (found.unwrap_or(0), VERSION);
        if found != known {
            return Err(RecordingError::OtherVersion { found, known });
        }
        if header[12..] != xxh3_64(body).to_le_bytes() {
            return Err(RecordingError::Damaged);
        }
        let read = postcard::from_bytes::<Recording>(body);
        let in_order = |read: &Recording| read.changes.is_sorted_by(|a, b| a.0 < b.0);
        read.ok().filter(in_order).ok_or(RecordingError::Damaged)
    }
}

/// Takes down a run while it goes on: call [`Recorder::before`] before each [`World::step`] and [`Recorder::after`]
/// after it.
#[derive(Clone, Debug)]
pub struct Recorder {
    recording: Recording,
}

impl Recorder {
    /// Begins with a world as it is now. Changes that wait already are part of the first tick.
    #[must_use]
    pub fn begin(title: &str, world: &World) -> Recorder {
        let mut start = world.clone();
        start.forget_waiting_changes();
        Recorder {
            recording: Recording {
                title: title.to_owned(),
                seed: world.seed(),
                start: start.save(),
                changes: Vec::new(),
                checksums: Vec::new(),
            },
        }
    }

    /// Takes down the changes that wait for the next tick.
    pub fn before(&mut self, world: &World) {
        let changes: Vec<Change> = world.waiting_changes().cloned().collect();
        if !changes.is_empty() {
            self.recording.changes.push((world.tick() + 1, changes));
        }
    }

    /// Takes down the checksum of the tick that was made.
    pub fn after(&mut self, world: &World) {
        self.recording.checksums.push(world.checksum());
    }

    /// What was taken down so far.
    #[must_use]
    pub fn recording(&self) -> &Recording {
        &self.recording
    }

    /// What was taken down.
    #[must_use]
    pub fn finish(self) -> Recording {
        self.recording
    }
}
