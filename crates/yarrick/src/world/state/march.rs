//! Groups in formation: their shape, and the guide that they follow.
//!
//! Each member has a place of its own at the end, and its own way there, like any unit that was sent to a point. On the
//! way a *guide*, a point where no unit stands, walks ahead with the shape round it, and a unit that sees its *slot* in
//! the shape keeps to that instead of its way. Where the ground leaves no room for the shape, each goes its own way for
//! as long as that lasts; the guide waits for those that fall behind.

use super::patience::Patience;
use super::place::{GroupNo, Place};
use crate::geom::Vec2;
use crate::motion::formation::Formation;
use crate::world::ids::{OrderNo, UnitId};
use serde::{Deserialize, Serialize};

super::table::plain!(March);

/// A group under way in formation, or waiting for its turn to be.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub(crate) struct March {
    pub(crate) group: GroupNo,
    /// The order that sent it; none for units that a game leads.
    pub(crate) order: Option<OrderNo>,
    pub(crate) formation: Formation,
    /// The middle of its places, in metres, and where it looks there, in radians.
    pub(crate) middle: Vec2,
    pub(crate) facing: f32,
    pub(crate) members: Vec<Marcher>,
    pub(crate) guide: Option<Guide>,
    /// Whether members have left that are to be closed up for.
    pub(crate) has_gaps: bool,
}

/// A member of a march.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) struct Marcher {
    pub(crate) unit: UnitId,
    /// Its slot: ahead of the middle and to the left of it, in metres.
    pub(crate) offset: Vec2,
    /// How it gets on towards its slot.
    pub(crate) patience: Patience,
    /// The place that it takes up at the end, if ranks have closed since it was sent.
    pub(crate) place: Option<Place>,
}

impl Marcher {
    pub(crate) fn new(unit: UnitId, offset: Vec2) -> Marcher {
        Marcher {
            unit,
            offset,
            patience: Patience::default(),
            place: None,
        }
    }
}

/// What a march follows.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub(crate) struct Guide {
    pub(crate) path: Vec<Vec2>,
    pub(crate) next: u32,
    pub(crate) at: Vec2,
    pub(crate) facing: f32,
    /// How many ticks it has stood at the end of its path.
    pub(crate) at_end: u32,
}
