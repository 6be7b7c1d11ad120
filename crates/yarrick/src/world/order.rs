//! Orders as units hold them, and how they end.

use super::OrderNo;
use crate::geom::Vec2;
use crate::route::Shortfall;
use core::fmt;
use serde::{Deserialize, Serialize};
use smallvec::SmallVec;

/// The most orders that a unit holds, the one it is carrying out included.
pub const MAX_QUEUED: usize = 64;

/// An order as one unit holds it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Order {
    /// Its number, shared by all units of the command.
    pub number: OrderNo,
    /// What the unit is to do.
    pub task: Task,
}

/// What one unit is to do.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Task {
    /// Go to a place.
    Move {
        /// The point that was asked for, in metres.
        goal: Vec2,
        /// The place that this unit takes up, or why it cannot go at all. The order then fails
        /// when its turn comes.
        place: Result<Place, Failure>,
    },
    /// Go to a place and back, over and over.
    Patrol {
        /// The point that was asked for, in metres.
        goal: Vec2,
        /// The place at its far end, or why it cannot go there at all.
        far: Result<Place, Failure>,
        /// The place from which it began.
        home: Vec2,
        /// Whether it is on its way home.
        homeward: bool,
    },
    /// Stand still.
    Stop,
}

/// Where a unit will stand: at the goal, beside the others there, or as near as it can get.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Place {
    /// The place, in metres.
    pub at: Vec2,
    /// The point round which its group stands: the goal, or the nearest point to it that the
    /// group can reach.
    pub middle: Vec2,
    /// How far from there the places of the group lie, in metres. A unit that is held up by
    /// others within this has arrived.
    pub spread_m: f32,
    /// Why the group could not go to the goal itself.
    pub short: Option<Shortfall>,
}

impl Order {
    /// Where the unit goes with this order: where it will stand when it is done, or the end of
    /// its patrol that it walks to. `None` where it stays where it is.
    #[must_use]
    pub fn place(&self) -> Option<Place> {
        match self.task {
            Task::Move { place, .. } => place.ok(),
            Task::Patrol {
                far,
                homeward: false,
                ..
            } => far.ok(),
            Task::Patrol {
                home,
                homeward: true,
                ..
            } => Some(Place {
                at: home,
                middle: home,
                spread_m: 0.0,
                short: None,
            }),
            Task::Stop => None,
        }
    }

    /// The point that was asked for, in metres.
    #[must_use]
    pub fn goal(&self) -> Option<Vec2> {
        match self.task {
            Task::Move { goal, .. } | Task::Patrol { goal, .. } => Some(goal),
            Task::Stop => None,
        }
    }

    /// Why it cannot be carried out at all.
    pub(crate) fn hopeless(&self) -> Option<Failure> {
        match self.task {
            Task::Move { place, .. } => place.err(),
            Task::Patrol { far, .. } => far.err(),
            Task::Stop => None,
        }
    }
}

/// The orders of a unit, the one being carried out first. Most have one or none.
pub(crate) type Queue = SmallVec<[Order; 1]>;

/// How an order ended, for one unit. Every accepted order ends in exactly one outcome.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Outcome {
    /// The unit did what was asked.
    Done,
    /// The unit went as near as it could get.
    CameShort {
        /// Why it could not go to the point itself.
        why: Shortfall,
        /// How far from the point asked for it came to stand, in metres. In a group, that is
        /// the point round which all take up their places.
        by_m: f32,
    },
    /// Another order took its place before it was done.
    Replaced {
        /// That order.
        by: OrderNo,
    },
    /// It could not be carried out.
    Failed {
        /// Why.
        why: Failure,
    },
    /// The unit is gone.
    UnitLost,
}

/// Why an order could not be carried out.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, thiserror::Error)]
#[serde(rename_all = "kebab-case")]
#[non_exhaustive]
pub enum Failure {
    /// No way leads any nearer to the goal than where the unit stands.
    #[error("no way leads nearer: {0}")]
    NoWay(Shortfall),
    /// Others stood in the way for too long.
    #[error("others stood in the way for too long")]
    HeldUp,
    /// The unit stands where no body of its size can move.
    #[error("it stands in closed ground")]
    Stuck,
}

impl fmt::Display for Outcome {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Outcome::Done => f.write_str("done"),
            Outcome::CameShort { why, by_m } => write!(f, "came {by_m:.1} m short: {why}"),
            Outcome::Replaced { by } => write!(f, "replaced by {by}"),
            Outcome::Failed { why } => write!(f, "failed: {why}"),
            Outcome::UnitLost => f.write_str("the unit is gone"),
        }
    }
}
