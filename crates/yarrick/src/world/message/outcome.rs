//! How orders and activities end.

use crate::route::Shortfall;
use crate::world::ids::OrderNo;
use core::fmt;
use serde::{Deserialize, Serialize};

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
    /// It was stopped by what started it. Only activities without an order end so.
    Stopped,
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
    /// The unit that the order is about left the world, and not by being struck down.
    #[error("the unit that it was about is gone")]
    TargetGone,
    /// The target is out of range, and the unit cannot walk.
    #[error("the target is out of range")]
    OutOfRange,
    /// The deposit is empty, and no other of its kind is near.
    #[error("nothing is left to gather there")]
    NothingLeft,
    /// The unit's side has no depot that it can get to.
    #[error("there is no depot that it can get to")]
    NoDepot,
    /// The side cannot pay the price.
    #[error("the side cannot pay for it")]
    NotAffordable,
    /// The target got away: for a long time the unit came no nearer to it.
    #[error("the target got away")]
    GotAway,
}

impl fmt::Display for Outcome {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Outcome::Done => f.write_str("done"),
            Outcome::CameShort { why, by_m } => write!(f, "came {by_m:.1} m short: {why}"),
            Outcome::Replaced { by } => write!(f, "replaced by order {by}"),
            Outcome::Failed { why } => write!(f, "failed: {why}"),
            Outcome::UnitLost => f.write_str("the unit is gone"),
            Outcome::Stopped => f.write_str("stopped"),
        }
    }
}
