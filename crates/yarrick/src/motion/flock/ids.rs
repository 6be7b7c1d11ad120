//! The limits of flocks, and the names of what is in them.

use core::fmt;
use serde::{Deserialize, Serialize};

/// The most zones of a flock.
pub const MAX_ZONES: usize = 64;

/// The most members of a flock.
pub const MAX_MEMBERS: usize = 1_000_000;

/// No member gets farther from the origin than this along an axis, in metres.
pub const FARTHEST_M: f32 = 1.0e6;

/// A member of a flock, for as long as the flock lives: no other ever gets its number.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
pub struct MemberId(u32);

impl MemberId {
    pub(super) fn of(number: u32) -> MemberId {
        MemberId(number)
    }

    pub(super) fn number(self) -> u32 {
        self.0
    }
}

/// A zone of a flock, for as long as the flock lives: no other ever gets its number.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
pub struct ZoneId(u32);

impl ZoneId {
    pub(super) fn of(number: u32) -> ZoneId {
        ZoneId(number)
    }

    /// The number itself: 0 for the first zone of a flock.
    #[must_use]
    pub fn number(self) -> u32 {
        self.0
    }
}

impl fmt::Display for ZoneId {
    fn fmt(&self, formatter: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(formatter, "z{}", self.0)
    }
}
