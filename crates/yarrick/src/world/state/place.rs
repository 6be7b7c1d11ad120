//! Where units are sent, and the place that each takes up there.

use crate::geom::Vec2;
use crate::route::Shortfall;
use crate::world::message::Failure;
use serde::{Deserialize, Serialize};

/// A point that a unit was sent to, and its own place there.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Destination {
    /// The point that was asked for, in metres.
    pub goal: Vec2,
    /// The place that this unit takes up, or why it cannot go there at all.
    pub place: Result<Place, Failure>,
}

/// Where a unit will stand: at the goal, beside the others there, or as near as it can get.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Place {
    /// The place, in metres.
    pub at: Vec2,
    /// The point round which its group stands: the goal, or the nearest point to it that the
    /// group can reach.
    pub middle: Vec2,
    /// How far from there the places of the group lie, in metres. A unit that is held up by
    /// others within this has arrived.
    pub spread_m: f32,
    /// Where it looks when it has come there, in radians, if that matters.
    pub facing: Option<f32>,
    /// How near to the place the unit has to come, in metres.
    pub within_m: f32,
    /// Why the group could not go to the goal itself.
    pub short: Option<Shortfall>,
}

impl Place {
    /// A place of its own, where no group assembles.
    pub(crate) fn alone(at: Vec2) -> Place {
        Place {
            at,
            middle: at,
            spread_m: 0.0,
            facing: None,
            within_m: 0.0,
            short: None,
        }
    }
}

/// The units that were sent to a point together: they take turns, and may trade places. `0` is no group.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
pub(crate) struct GroupNo(pub(crate) u64);

impl GroupNo {
    /// How many legs the way of a group may have.
    const LEGS: u64 = 1 << 16;

    /// The number for the units that are sent somewhere next.
    pub(crate) fn next(self) -> GroupNo {
        GroupNo(self.0.wrapping_add(Self::LEGS).max(Self::LEGS))
    }

    /// The number of the group on one leg of its way. Members on different legs meet as different groups do.
    pub(crate) fn on_leg(self, leg: u16) -> GroupNo {
        GroupNo(self.0.wrapping_add(u64::from(leg)))
    }
}

/// A place that legs are to lead to.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct GroupPlace {
    pub(crate) group: GroupNo,
    pub(crate) goal: Vec2,
    pub(crate) place: Place,
    pub(crate) claim: Claim,
}

/// What a place is to the unit that is led there.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub(crate) enum Claim {
    /// It is its own.
    Keeps,
    /// It may be traded for that of another in the group.
    Trades,
    /// It goes on elsewhere from there: where others stand in the way, near is enough.
    Passes,
}

/// What legs are to lead a unit to.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) enum MoveTarget {
    /// Its place among those that were sent to the same point.
    Place(GroupPlace),
    /// Another unit: the point, but no nearer than `short_m` metres. The activity that asked decides when it is
    /// near enough.
    Unit {
        to: Vec2,
        short_m: f32,
        /// The middle of the assembly to which the unit goes on afterwards: it decides who has right of way.
        onward: Option<Vec2>,
    },
}

impl MoveTarget {
    /// The point that it leads to, in metres.
    pub(crate) fn point(&self) -> Vec2 {
        match self {
            MoveTarget::Place(target) => target.place.at,
            MoveTarget::Unit { to, .. } => *to,
        }
    }

    /// The place that it leads to, if it is one.
    pub(crate) fn place(&self) -> Option<&GroupPlace> {
        match self {
            MoveTarget::Place(target) => Some(target),
            MoveTarget::Unit { .. } => None,
        }
    }

    /// The middle of the assembly to which the unit goes, at once or afterwards.
    pub(crate) fn middle(&self) -> Option<Vec2> {
        match self {
            MoveTarget::Place(target) => Some(target.place.middle),
            MoveTarget::Unit { onward, .. } => *onward,
        }
    }

    /// The metres at the end of the way that are not to be walked.
    pub(crate) fn short_m(&self) -> f32 {
        match self {
            MoveTarget::Place(_) => 0.0,
            MoveTarget::Unit { short_m, .. } => *short_m,
        }
    }
}
