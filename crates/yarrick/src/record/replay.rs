//! Playing a recording again.

use super::{Recording, RecordingError};
use crate::world::{Event, World};

/// A recording that is played again.
#[derive(Clone, Debug)]
pub struct Replay<'a> {
    recording: &'a Recording,
    world: World,
    done: usize,
}

/// A replay did not go as the run that was recorded.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("tick {tick} has checksum {found:016x}, and had {recorded:016x} when it was recorded")]
pub struct Diverged {
    /// The number of the tick, counted from 1 at the start of the recording.
    pub tick: usize,
    /// The checksum that was recorded.
    pub recorded: u64,
    /// The checksum now.
    pub found: u64,
}

impl Recording {
    /// Begins to play it again.
    ///
    /// # Errors
    /// [`RecordingError::Start`] where the world at its start cannot be loaded.
    pub fn replay(&self) -> Result<Replay<'_>, RecordingError> {
        Ok(Replay {
            recording: self,
            world: World::load(self.start())?,
            done: 0,
        })
    }
}

impl Replay<'_> {
    /// Plays a tick, and gives what happened in it; `None` at the end of the recording.
    ///
    /// # Errors
    /// [`Diverged`] where the tick did not come out as it was recorded. The replay can go on all the same.
    pub fn step(&mut self) -> Result<Option<&[Event]>, Diverged> {
        let Some(&recorded) = self.recording.checksums().get(self.done) else {
            return Ok(None);
        };
        self.done += 1;
        for change in self.recording.changes_of(self.world.tick() + 1) {
            // As many fitted when it was recorded.
            let _ = self.world.change(change.clone());
        }
        self.world.step();
        let found = self.world.checksum();
        if found == recorded {
            Ok(Some(self.world.last_events()))
        } else {
            Err(Diverged {
                tick: self.done,
                recorded,
                found,
            })
        }
    }

    /// The world as it is now.
    #[must_use]
    pub fn world(&self) -> &World {
        &self.world
    }

    /// Computes ticks on `threads` threads: the result is the same.
    pub fn set_threads(&mut self, threads: usize) {
        self.world.set_threads(threads);
    }

    /// How many ticks were played.
    #[must_use]
    pub fn done(&self) -> usize {
        self.done
    }
}
