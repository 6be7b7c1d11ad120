//! What players and scripts ask of units.

use super::{SideId, UnitId};
use crate::geom::Vec2;
use core::fmt;
use serde::{Deserialize, Serialize};

/// What a side asks of some of its units. Plain data.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Command {
    /// The side that gives it.
    pub side: SideId,
    /// Whom it is given to. Their order does not matter, and naming one twice is naming it once.
    pub units: Vec<UnitId>,
    /// What they are to do.
    pub action: Action,
    /// What becomes of what they do already.
    pub when: When,
}

/// What becomes of what units do already when a command comes.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum When {
    /// It is dropped: the command replaces it.
    #[default]
    Now,
    /// It is done first: the command waits behind it.
    Afterwards,
    /// It is interrupted: they do what is commanded first, and then go on with it.
    First,
}

impl When {
    /// All of them, each with the word for it in scenario files.
    pub const WORDS: [(&'static str, When); 3] = [
        ("now", When::Now),
        ("afterwards", When::Afterwards),
        ("first", When::First),
    ];

    /// The word for it in scenario files.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            When::Now => "now",
            When::Afterwards => "afterwards",
            When::First => "first",
        }
    }
}

/// What units can be told to do.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Action {
    /// Go to a point, in metres. A group takes up places beside one another round it.
    Move {
        /// The point.
        to: Vec2,
    },
    /// Go to a point and back to where one stands, over and over, until told otherwise. Orders
    /// that wait behind a patrol wait until it is cancelled.
    Patrol {
        /// The point, in metres.
        to: Vec2,
    },
    /// Drop everything and stand still.
    Stop,
    /// Drop one order, and go on with the others.
    Cancel {
        /// Which.
        order: OrderNo,
    },
}

/// The number of an order: the first command that a world accepts is 1, the next 2, and so on.
/// All units of a command share it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
pub struct OrderNo(pub u32);

impl fmt::Display for OrderNo {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "order {}", self.0)
    }
}

/// Why a command, or its part for one unit, was not taken up. What was refused changes nothing.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, thiserror::Error)]
#[serde(rename_all = "kebab-case")]
#[non_exhaustive]
pub enum Refusal {
    /// There is no such side.
    #[error("there is no such side")]
    NoSuchSide,
    /// The command names no unit.
    #[error("it names no unit")]
    NoUnits,
    /// The id names no unit that lives.
    #[error("there is no such unit any more")]
    NoSuchUnit,
    /// The unit belongs to another side.
    #[error("the unit belongs to another side")]
    NotYours,
    /// A coordinate is NaN or infinite.
    #[error("a coordinate is not a finite number")]
    NotFinite,
    /// The unit has no such order, or not any more.
    #[error("the unit has no such order")]
    NoSuchOrder,
    /// The unit cannot move at all.
    #[error("the unit cannot move")]
    CannotMove,
    /// The unit has [`MAX_QUEUED`](super::MAX_QUEUED) orders already.
    #[error("the unit's queue is full")]
    QueueFull,
}
