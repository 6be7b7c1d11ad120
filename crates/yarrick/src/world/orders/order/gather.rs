//! Gathering at a deposit.

use super::checks::{flaw_of_spot, gatherers};
use super::{Effect, OrderKind};
use crate::world::activity::{Activity, Gather};
use crate::world::message::{Action, Refusal};

pub(super) const ORDER: OrderKind = OrderKind {
    word: "gather",
    keys: &["target", "target_id"],
    read: |reader| {
        let target = reader.target()?;
        Some(Action::Gather { target })
    },
    write: |action, writer| {
        if let Action::Gather { target } = action {
            writer.target(*target);
        }
    },
    flaw: |state, side, action| {
        let flaw = flaw_of_spot(state, side, action);
        let Action::Gather { target } = action else {
            return flaw;
        };
        let is_deposit = state.deposits.get(*target).is_some();
        flaw.or((!is_deposit).then_some(Refusal::NoDeposit))
    },
    check: gatherers,
    effect: Effect::Activities(|prepare, action| {
        let Action::Gather { target } = action else {
            return Vec::new();
        };
        // The target was found to be a deposit.
        let gather = Gather::at(prepare.state, *target);
        gather.map_or_else(Vec::new, |gather| prepare.each(|| Activity::Gather(gather)))
    }),
};
