//! Building on a site that there is.

use super::checks::{builders, flaw_of_spot};
use super::{Effect, OrderKind};
use crate::world::activity::{Activity, Construct};
use crate::world::message::{Action, Refusal};

pub(super) const ORDER: OrderKind = OrderKind {
    word: "construct",
    keys: &["target", "target_id"],
    read: |reader| {
        let target = reader.target()?;
        Some(Action::Construct { target })
    },
    write: |action, writer| {
        if let Action::Construct { target } = action {
            writer.target(*target);
        }
    },
    flaw: |state, side, action| {
        let flaw = flaw_of_spot(state, side, action);
        let Action::Construct { target } = action else {
            return flaw;
        };
        let row = state.units.row(*target);
        let is_own = row.is_some_and(|row| state.units.side[row] == side);
        let is_site = is_own && state.constructions.get(*target).is_some();
        flaw.or((!is_site).then_some(Refusal::NoSite))
    },
    check: builders,
    effect: Effect::Activities(|prepare, action| {
        let Action::Construct { target } = action else {
            return Vec::new();
        };
        prepare.each(|| Activity::Construct(Construct::new(*target)))
    }),
};
