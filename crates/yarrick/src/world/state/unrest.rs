//! What has upset units: ground that closed under them or before them, and attacks.

use super::table::{Single, Visitor};
use crate::geom::Vec2;
use crate::world::ids::{SideId, UnitId};
use serde::{Deserialize, Serialize};

super::table::plain!(Alarm);

/// That a unit has been killed.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Alarm {
    pub(crate) tick: u64,
    /// The side that lost it, and where, in metres.
    pub(crate) side: SideId,
    pub(crate) at: Vec2,
    pub(crate) by: UnitId,
}

/// What has upset units.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
pub(crate) struct Unrest {
    /// Units in closed ground: something was built where they were, or they are on a link.
    pub(crate) trapped: Vec<UnitId>,
    /// Units under way whose places may no longer be the right ones, because the ground has changed.
    pub(crate) displaced: Vec<UnitId>,
    /// Units that were killed lately, and the last tick in which any was hit.
    pub(crate) alarms: Vec<Alarm>,
    pub(crate) latest_hit: u64,
}

impl Unrest {
    pub(super) fn visit(&self, visit: &mut Visitor<'_>) {
        let Unrest {
            trapped,
            displaced,
            alarms,
            latest_hit,
        } = self;
        visit("Units", "trapped", trapped);
        visit("Units", "displaced", displaced);
        visit("Units", "alarms", alarms);
        visit("Units", "latest_hit", &Single(latest_hit));
    }
}
