//! What can speak against a site.

use crate::economy::Missing;
use crate::geom::Vec2;
use crate::world::ids::UnitId;
use serde::{Deserialize, Serialize};

/// Something that speaks against a building on a site.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, thiserror::Error)]
#[serde(rename_all = "kebab-case")]
#[non_exhaustive]
pub enum SiteObjection {
    /// A part of it is off the map.
    #[error("a part of it is off the map")]
    OffTheMap,
    /// It overlaps another building, or a site that is reserved.
    #[error("it overlaps {building}")]
    Overlaps {
        /// The other building.
        building: UnitId,
    },
    /// It covers closed ground.
    #[error("the ground is closed at ({}, {})", at.x, at.y)]
    ClosedGround {
        /// The middle of a closed cell, in metres. There is one objection for each.
        at: Vec2,
    },
    /// A unit is in the way.
    #[error("{unit} is in the way")]
    InTheWay {
        /// The unit.
        unit: UnitId,
    },
    /// The side has too little of a resource.
    #[error("{0}")]
    NotAffordable(Missing),
    /// It would close the last way of the assault from an entry to a goal.
    #[error("it would close the last way from entry {entry} to goal {goal}")]
    ClosesWay {
        /// The number of the entry.
        entry: u16,
        /// The number of the goal.
        goal: u16,
    },
}
