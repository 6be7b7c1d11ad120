//! Saving a world, and loading it again.

use super::World;
use super::inbox::Inbox;
use super::kind::Kind;
use super::orders::Minds;
use super::state::{Derived, Scratch, State};
use serde::{Deserialize, Serialize};
use xxhash_rust::xxh3::xxh3_64;

/// What every saved world begins with.
const MAGIC: [u8; 8] = *b"yarrick\n";

/// The version of the format. A world that was saved by another version is refused.
const VERSION: u32 = 1;

/// Magic, version and the checksum of what follows.
const HEADER: usize = 8 + 4 + 8;

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
        /// The version of the format.
        found: u32,
        /// The one that is known.
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
        let mut bytes = Vec::with_capacity(1 << 16);
        bytes.extend_from_slice(&MAGIC);
        bytes.extend_from_slice(&VERSION.to_le_bytes());
        bytes.extend_from_slice(&[0; 8]);
        // Writing to memory cannot fail, and our types are plain data.
        let mut bytes = postcard::to_extend(&saved, bytes).unwrap_or_default();
        if bytes.len() >= HEADER {
            let sum = xxh3_64(&bytes[HEADER..]);
            bytes[12..HEADER].copy_from_slice(&sum.to_le_bytes());
        }
        bytes
    }

    /// Makes a world from bytes that [`World::save`] gave.
    ///
    /// Costs as much as [`World::new`] on the same map, and a redo of the route searches that were under way.
    ///
    /// # Errors
    /// [`LoadError`] for bytes that are not a saved world, of another version, or damaged. Memory is bounded by the
    /// length of the bytes and the size of the map that they tell of.
    pub fn load(bytes: &[u8]) -> Result<World, LoadError> {
        let read = decode(bytes)?;
        let Read {
            checksum,
            mut state,
            minds,
            inbox,
        } = read;
        let senseless = |what| LoadError::Senseless { what };
        check_rules(&state).map_err(senseless)?;
        let derived = Derived::new(&state.rules, &state.ground);
        state.derived = derived.map_err(|_| senseless("a side names one that does not exist"))?;
        state.check().map_err(senseless)?;
        minds.check(&state).map_err(senseless)?;
        state.redo_searches().map_err(senseless)?;
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
            threads: 1,
        };
        // Who is where is filed at once, for picking.
        super::step::file_everybody(&world.state, &mut world.scratch);
        Ok(world)
    }
}

fn decode(bytes: &[u8]) -> Result<Read, LoadError> {
    let Some((header, body)) = bytes.split_at_checked(HEADER) else {
        return Err(if bytes.starts_with(&MAGIC) {
            LoadError::CutShort
        } else {
            LoadError::NotAWorld
        });
    };
    if header[..8] != MAGIC {
        return Err(LoadError::NotAWorld);
    }
    let number = |from: usize| header[from..from + 4].try_into().map(u32::from_le_bytes);
    let found = number(8).unwrap_or(0);
    if found != VERSION {
        let known = VERSION;
        return Err(LoadError::OtherVersion { found, known });
    }
    if header[12..] != xxh3_64(body).to_le_bytes() {
        return Err(LoadError::Damaged);
    }
    match postcard::take_from_bytes::<Read>(body) {
        Ok((read, [])) => Ok(read),
        Ok(_) => Err(LoadError::Senseless {
            what: "something follows it",
        }),
        Err(postcard::Error::DeserializeUnexpectedEnd) => Err(LoadError::CutShort),
        Err(_) => Err(LoadError::Senseless {
            what: "a value that no world can have",
        }),
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
