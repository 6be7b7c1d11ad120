//! Why commands and changes are refused.

use super::command::{MAX_PATROL_POINTS, MAX_STAND_OFF_M};
use super::objection::SiteObjection;
use crate::economy::Missing;
use crate::geom::Vec2;
use crate::world::ids::UnitId;
use serde::{Deserialize, Serialize};

/// Why a command, or its part for one unit, was not taken up. What was refused changes nothing.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, thiserror::Error)]
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
    /// A coordinate is NaN or infinite, or beyond [`MAX_COORDINATE_M`](super::MAX_COORDINATE_M); or a facing is beyond
    /// [`MAX_FACING`](super::MAX_FACING).
    #[error("a coordinate is not a number, or lies beyond any map; or a facing is no angle")]
    BadPoint,
    /// The unit has no such order, or not any more.
    #[error("the unit has no such order")]
    NoSuchOrder,
    /// The unit cannot move at all.
    #[error("the unit cannot move")]
    CannotMove,
    /// The unit has no weapon.
    #[error("the unit has no weapon")]
    CannotStrike,
    /// The unit has no rally point.
    #[error("the unit has no rally point")]
    CannotRally,
    /// The order points at a unit that does not live.
    #[error("the unit that it points at is not there any more")]
    NoSuchTarget,
    /// The distance to stand off is not a number from 0 to [`MAX_STAND_OFF_M`].
    #[error("the distance to stand off is not a number from 0 to {MAX_STAND_OFF_M} m")]
    BadDistance,
    /// The order points at the unit that is to carry it out.
    #[error("a unit cannot do that to itself")]
    Itself,
    /// The unit to be attacked is no foe.
    #[error("the target is no foe")]
    NotAFoe,
    /// The unit to be guarded is a foe.
    #[error("a foe cannot be guarded")]
    IsAFoe,
    /// The unit to be attacked cannot be harmed.
    #[error("the target cannot be harmed")]
    CannotBeHarmed,
    /// The patrol has no point, or more than [`MAX_PATROL_POINTS`].
    #[error("a patrol has 1 to {MAX_PATROL_POINTS} points")]
    PatrolPoints,
    /// There is nothing here that the unit could do.
    #[error("there is nothing that the unit could do there")]
    NothingToDo,
    /// The unit has [`MAX_QUEUED`](crate::world::MAX_QUEUED) orders already.
    #[error("the unit's queue is full")]
    QueueFull,
    /// An order controls what the activity needs: orders go before activities that are started without one.
    #[error("an order controls what the activity needs")]
    UnderOrders,
    /// It is no activity of a unit: cancelling, rallying and clicks are for orders only.
    #[error("it is not an activity")]
    NotAnActivity,
    /// No activity of the unit was started under this ticket, or it is over.
    #[error("the unit has no such activity")]
    NoSuchActivity,
    /// There is no kind of this number.
    #[error("there is no such kind")]
    NoSuchKind,
    /// There is no door of this number on the map.
    #[error("the map has no such door")]
    NoSuchDoor,
    /// There is no terrain of this number on the map.
    #[error("the map has no such terrain")]
    NoSuchTerrain,
    /// There is no such flock, zone or member.
    #[error("there is no such flock, zone or member")]
    NotInAFlock,
    /// The flock refused the change: see the checks of [`Flock`](crate::motion::flock::Flock).
    #[error("the flock cannot take that: a number is out of range, or it is full")]
    BadFlock,
    /// The body does not fit there.
    #[error("there is no room for the body there: {0}")]
    NoRoom(NoRoom),
    /// The unit has no such drill, the drill has no such dial, or the value is outside of what is allowed.
    #[error("there is no such drill, dial or sense, or the value is not allowed")]
    NoSuchDrill,
    /// The unit does not gather.
    #[error("the unit cannot gather")]
    CannotGather,
    /// The target holds nothing that can be gathered.
    #[error("there is nothing to gather")]
    NoDeposit,
    /// The target takes nothing in, or belongs to another side.
    #[error("that is no depot of the side")]
    NoDepot,
    /// The unit does not build that.
    #[error("the unit does not build that")]
    CannotBuild,
    /// The target is no site of the side, or stands already.
    #[error("that is no site of the side")]
    NoSite,
    /// The building does not produce that, or does not stand yet.
    #[error("the building does not produce that")]
    CannotProduce,
    /// The production queue is full.
    #[error("the production queue is full")]
    LineFull,
    /// The production queue has no such place.
    #[error("the production queue has no such place")]
    NoSuchPlace,
    /// The side has too little of a resource.
    #[error("{0}")]
    NotAffordable(Missing),
    /// Something speaks against the site: the first thing in its verdict.
    #[error("it cannot be built there: {0}")]
    Site(SiteObjection),
    /// A number is not finite, or negative where that makes no sense.
    #[error("a number is out of range")]
    BadNumber,
    /// The world holds [`MAX_UNITS`](crate::world::MAX_UNITS) units already.
    #[error("the world is full")]
    WorldFull,
}

/// Why a body does not fit somewhere.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, thiserror::Error)]
#[serde(rename_all = "kebab-case")]
#[non_exhaustive]
pub enum NoRoom {
    /// It, or a part of the footprint of a building, is off the map.
    #[error("that is off the map")]
    OffTheMap,
    /// It would reach into closed ground.
    #[error("the ground there is closed, at or near ({}, {})", at.x, at.y)]
    ClosedGround {
        /// In metres: the middle of the body, or the middle of the first closed cell under a footprint.
        at: Vec2,
    },
    /// The footprint would overlap that of another building.
    #[error("unit {by} stands there")]
    Occupied {
        /// The other building.
        by: UnitId,
    },
}
