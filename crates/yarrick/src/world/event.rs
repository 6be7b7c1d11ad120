//! What happened in a tick.

use super::{Action, OrderNo, Outcome, Refusal, SideId, UnitId, When};
use serde::{Deserialize, Serialize};

/// Something that happened in a tick. Plain data, in the order in which it happened.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[non_exhaustive]
pub enum Event {
    /// A command was taken up, by these units: once a command, for feedback at the place.
    Ordered {
        /// The number that the order has from now on.
        order: OrderNo,
        /// Who gave it.
        side: SideId,
        /// Who took it up, in order of id.
        units: Vec<UnitId>,
        /// What they are to do.
        action: Action,
        /// What becomes of what they do already.
        when: When,
    },
    /// A command, or its part for one unit, was refused.
    Refused {
        /// Who gave it.
        side: SideId,
        /// Whom it was for; `None` where the whole command was refused.
        unit: Option<UnitId>,
        /// Why.
        why: Refusal,
    },
    /// A unit found its way and set out.
    SetOut {
        /// The unit.
        unit: UnitId,
        /// What it carries out.
        order: OrderNo,
        /// The length of its way, in metres.
        length_m: f32,
    },
    /// An order ended, for one unit.
    Ended {
        /// The unit.
        unit: UnitId,
        /// The order.
        order: OrderNo,
        /// How it ended.
        outcome: Outcome,
    },
    /// A unit left the world.
    Gone {
        /// The unit.
        unit: UnitId,
    },
}
