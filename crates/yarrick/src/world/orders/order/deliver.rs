//! Taking a load to a depot.

use super::checks::{flaw_of_spot, gatherers};
use super::{Effect, OrderKind};
use crate::world::activity::{Activity, Deliver};
use crate::world::message::{Action, Refusal};

pub(super) const ORDER: OrderKind = OrderKind {
    word: "deliver",
    keys: &["target", "target_id"],
    read: |reader| {
        let target = reader.target()?;
        Some(Action::Deliver { target })
    },
    write: |action, writer| {
        if let Action::Deliver { target } = action {
            writer.target(*target);
        }
    },
    flaw: |state, side, action| {
        let flaw = flaw_of_spot(state, side, action);
        let Action::Deliver { target } = action else {
            return flaw;
        };
        let row = state.units.row(*target);
        let is_own = row.is_some_and(|row| state.units.side[row] == side);
        let is_depot = is_own && state.derived.depots.contains(target);
        flaw.or((!is_depot).then_some(Refusal::NoDepot))
    },
    check: gatherers,
    effect: Effect::Activities(|prepare, action| {
        let Action::Deliver { target } = action else {
            return Vec::new();
        };
        prepare.each(|| Activity::Deliver(Deliver::to(*target)))
    }),
};
