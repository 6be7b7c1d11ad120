//! Saving a world, and loading it again.

use super::World;
use super::inbox::Inbox;
use super::kind::Kind;
use super::orders::Minds;
use super::state::{Derived, Scratch, State};
use crate::envelope::{Flaw, Format};
use crate::threads::Threads;
use serde::{Deserialize, Serialize};

/// How a world is saved. A world that was saved by another version is refused.
const FORMAT: Format = Format {
    magic: *b"yarrick\n",
    version: 1,
};

/// Why bytes are not a saved world.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum LoadError {
    /// They do not begin as a saved world does.
    #[error("this is not a saved world")]
    NotAWorld,
    /// They were saved by another version.
    #[error("this world was saved in format {found}; this version reads format {known}")]
    OtherVersion {
        /// The version of the bytes.
        found: u32,
        /// The supported version.
        known: u32,
    },
    /// They end too early.
    #[error("the saved world is cut short")]
    CutShort,
    /// They have been altered since they were saved.
    #[error("the saved world is damaged: its checksum is wrong")]
    Damaged,
    /// They hold something that no world can have.
    #[error("the saved world makes no sense: {what}")]
    Senseless {
        /// What is wrong.
        what: &'static str,
    },
}

/// What is saved of a world.
#[derive(Serialize)]
struct Saved<'a> {
    checksum: u64,
    state: &'a State,
    minds: &'a Minds,
    inbox: &'a Inbox,
}

/// The same, read again.
#[derive(Deserialize)]
struct Read {
    checksum: u64,
    state: State,
    minds: Minds,
    inbox: Inbox,
}

impl World {
    /// The world as bytes, from which [`World::load`] makes one that goes on in the same way, to the last bit. Whatever
    /// can be worked out from the rest is not saved. The number of threads is not part of it.
    #[must_use]
    pub fn save(&self) -> Vec<u8> {
        let saved = Saved {
            checksum: self.checksum,
            state: &self.state,
            minds: &self.minds,
            inbox: &self.inbox,
        };
        FORMAT.seal(&saved)
    }

    /// Makes a world from bytes that [`World::save`] gave.
    ///
    /// Costs as much as [`World::new`] on the same map, and a redo of the route searches that were under way.
    ///
    /// # Errors
    /// [`LoadError`] for bytes that are not a saved world, of another version, or damaged. Memory is bounded by the
    /// length of the bytes and the size of the map that they tell of.
    pub fn load(bytes: &[u8]) -> Result<World, LoadError> {
        let Read {
            checksum,
            mut state,
            minds,
            inbox,
        } = FORMAT.open(bytes)?;
        let senseless = |what| LoadError::Senseless { what };
        check_rules(&state).map_err(senseless)?;
        let derived = Derived::new(&state.rules, &state.ground, state.assault.as_ref());
        state.derived = derived.map_err(|_| senseless("a side names one that does not exist"))?;
        state.check().map_err(senseless)?;
        minds.check(&state).map_err(senseless)?;
        state.resume_mending().map_err(senseless)?;
        state.redo_searches().map_err(senseless)?;
        state.file_buildings();
        state.file_berths();
        let scratch = Scratch {
            near_is_stale: true,
            ..Scratch::default()
        };
        let mut world = World {
            state,
            minds,
            inbox,
            checksum,
            scratch,
            events: Vec::new(),
            threads: Threads::default(),
        };
        // Who is where is filed at once, for picking.
        super::step::file_everybody(&world.state, &mut world.scratch);
        Ok(world)
    }
}

impl From<Flaw> for LoadError {
    fn from(flaw: Flaw) -> LoadError {
        match flaw {
            Flaw::OtherFormat => LoadError::NotAWorld,
            Flaw::OtherVersion(found) => LoadError::OtherVersion {
                found,
                known: FORMAT.version,
            },
            Flaw::CutShort => LoadError::CutShort,
            Flaw::Damaged => LoadError::Damaged,
            Flaw::Senseless(what) => LoadError::Senseless { what },
        }
    }
}

/// Whether the rules could have been those of a setup.
fn check_rules(state: &State) -> Result<(), &'static str> {
    let rules = &state.rules;
    let within = (1..=super::MAX_SIDES).contains(&rules.sides.len())
        && (1..=super::MAX_KINDS).contains(&rules.kinds.len())
        && (1..=super::MAX_TICKS_PER_SECOND).contains(&rules.ticks_per_second)
        && rules.plan_budget > 0;
    let is_sound = |kind: &Kind| kind.check(&state.ground).is_ok();
    if within && rules.kinds.iter().all(is_sound) {
        Ok(())
    } else {
        Err("rules that are out of range")
    }
}
