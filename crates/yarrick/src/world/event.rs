//! What happened in a tick.

use super::{Action, OrderNo, Outcome, Refusal, SideId, Spot, UnitId, Verb, When};
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
        /// What an [`Action::Context`] came to, and for how many units; empty for all others.
        became: Vec<(Verb, u32)>,
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
    /// A unit found its way to the place of its order and set out.
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
    /// A building's rally points changed.
    Rallied {
        /// The building.
        unit: UnitId,
        /// Where it sends units now: to each in turn.
        to: Vec<Spot>,
    },
    /// A unit turned on a foe: it goes for it, or strikes it from where it stands.
    Engaged {
        /// The unit.
        unit: UnitId,
        /// The foe.
        foe: UnitId,
    },
    /// A unit struck another.
    Struck {
        /// Who struck.
        unit: UnitId,
        /// Whom.
        target: UnitId,
        /// The blow, in points.
        damage: f32,
    },
    /// A unit was struck down. Its orders end as lost, and it leaves the world, in this tick.
    Died {
        /// The unit.
        unit: UnitId,
        /// Whose blow was the last.
        by: UnitId,
    },
    /// A unit left the world.
    Gone {
        /// The unit.
        unit: UnitId,
    },
}
