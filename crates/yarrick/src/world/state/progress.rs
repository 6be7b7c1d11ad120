//! How far a walk has come.

use super::digest::{Digest, word};
use super::patience::Patience;
use serde::{Deserialize, Serialize};

/// How far a walk has come.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(super) struct Progress {
    /// The next point of the path.
    pub(super) next: u32,
    /// How it is off its path, if it was pushed.
    pub(super) strayed: Strayed,
    /// The way from the next point to the end, in metres.
    pub(super) beyond: f32,
    pub(super) patience: Patience,
    /// Whether it is under way on a link.
    pub(super) on_link: bool,
    /// For how many more ticks it may look for its place, once it has come to where its group assembles.
    pub(super) assembles: Option<u32>,
    pub(super) looks: Looks,
    /// Before this tick it backs off from an oncoming unit.
    pub(super) backs_until: u64,
    /// Whether it stands still because its path is blocked, or because one ahead of it does so.
    pub(super) waits: bool,
}

impl Progress {
    /// Adds it to a checksum, in words of eight bytes: that is a fiftieth of a tick less than field by field.
    #[inline]
    pub(super) fn feed(&self, digest: &mut Digest) {
        let Progress {
            next,
            strayed,
            beyond,
            patience,
            on_link,
            assembles,
            looks,
            backs_until,
            waits,
        } = *self;
        let Looks {
            again_at,
            mesh,
            in_vain,
            is_shut,
        } = looks;
        let small = [
            strayed as u8,
            u8::from(on_link),
            u8::from(assembles.is_some()),
            mesh,
            in_vain,
            u8::from(is_shut),
            u8::from(waits),
            0,
        ];
        let (way, stalls, since) = patience.words();
        digest.put_words([
            u64::from_le_bytes(small),
            word(next, beyond.to_bits()),
            word(since, assembles.unwrap_or(0)),
            way,
            stalls,
            again_at,
            backs_until,
        ]);
    }
}

/// When a walk looks for a way round bodies that stand in its way.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize)]
pub(crate) struct Looks {
    /// Not before this tick.
    pub(crate) again_at: u64,
    /// How wide it looks next: the number of the mesh.
    pub(crate) mesh: u8,
    /// How often in a row there was no way round on any mesh.
    pub(crate) in_vain: u8,
    /// Whether bodies that make no room block its path, and no way round them was found.
    pub(crate) is_shut: bool,
}

/// How a walk is off its path.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub(crate) enum Strayed {
    /// It is not.
    OnPath,
    /// It was pushed aside since the last corner, and sees the next point.
    Beside,
    /// It does not see the next point.
    Lost,
}
