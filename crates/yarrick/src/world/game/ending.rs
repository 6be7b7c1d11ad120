//! How a game ends.

use crate::world::ids::{SideId, UnitId};
use core::fmt;
use serde::{Deserialize, Serialize};

/// The most endings that a world has.
pub const MAX_ENDINGS: usize = 256;

/// How a game ends for a side.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum GameResult {
    /// The side has won.
    Won,
    /// The side has lost.
    Lost,
}

/// When a game ends.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[non_exhaustive]
pub enum Condition {
    /// A unit, a building above all, has left the world.
    Falls {
        /// The unit.
        unit: UnitId,
    },
    /// More units of the assault than this have come to their goal.
    Leaks {
        /// How many are still allowed.
        more_than: u32,
    },
    /// All waves of the assault are over.
    WavesOver,
    /// This tick has come.
    Time {
        /// The tick.
        tick: u64,
    },
}

/// A rule by which a game ends. Of several that hold in the same tick, the first in the list counts.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Ending {
    /// The side that it is about.
    pub side: SideId,
    /// Whether that side has won or lost then.
    pub result: GameResult,
    /// When.
    pub when: Condition,
}

/// How a game has ended.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Decision {
    /// The rule by which it has.
    pub ending: Ending,
    /// The tick.
    pub tick: u64,
}

impl fmt::Display for Condition {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Condition::Falls { unit } => write!(f, "unit {unit} is lost"),
            Condition::Leaks { more_than } => write!(f, "more than {more_than} have leaked"),
            Condition::WavesOver => f.write_str("all waves are over"),
            Condition::Time { .. } => f.write_str("the time is up"),
        }
    }
}

impl fmt::Display for GameResult {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            GameResult::Won => "won",
            GameResult::Lost => "lost",
        })
    }
}
