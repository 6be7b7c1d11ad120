//! What is recorded of a run.

use crate::envelope::{Flaw, Format};
use crate::world::{Change, LoadError, World};
use serde::{Deserialize, Serialize};

const FORMAT: Format = Format {
    magic: *b"yarr-rec",
    version: 1,
};

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
        /// The version of the bytes.
        found: u32,
        /// The supported version.
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
        FORMAT.seal(self)
    }

    /// Reads a recording from bytes that [`Recording::to_bytes`] gave. The world at its start is looked at when it is
    /// replayed.
    ///
    /// # Errors
    /// [`RecordingError`] for bytes that are not a recording, of another version, or damaged.
    pub fn from_bytes(bytes: &[u8]) -> Result<Recording, RecordingError> {
        let read: Recording = FORMAT.open(bytes)?;
        if read.changes.is_sorted_by(|a, b| a.0 < b.0) {
            Ok(read)
        } else {
            Err(RecordingError::Damaged)
        }
    }
}

impl From<Flaw> for RecordingError {
    fn from(flaw: Flaw) -> RecordingError {
        match flaw {
            Flaw::OtherFormat => RecordingError::NotARecording,
            Flaw::OtherVersion(found) => RecordingError::OtherVersion {
                found,
                known: FORMAT.version,
            },
            Flaw::CutShort | Flaw::Damaged | Flaw::Senseless(_) => RecordingError::Damaged,
        }
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
