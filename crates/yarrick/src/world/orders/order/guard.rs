//! Guarding a unit or a point.

use super::checks::{flaw_of_spot, is_foe, walkers_to_others};
use super::{Effect, OrderKind};
use crate::world::activity::{Activity, Guard, GuardPlace};
use crate::world::message::{Action, Finish, Refusal, Spot};

pub(super) const ORDER: OrderKind = OrderKind {
    word: "guard",
    keys: &["point", "target", "target_id"],
    read: |reader| {
        let ward = reader.spot()?;
        Some(Action::Guard { ward })
    },
    write: |action, writer| {
        if let Action::Guard { ward } = action {
            writer.spot(*ward);
        }
    },
    flaw: |state, side, action| {
        flaw_of_spot(state, side, action).or_else(|| match action.spot()? {
            Spot::Unit(unit) if is_foe(state, side, unit) => Some(Refusal::IsAFoe),
            _ => None,
        })
    },
    check: walkers_to_others,
    effect: Effect::Activities(|prepare, action| match action {
        Action::Guard {
            ward: Spot::Ground(to),
        } => prepare.go_to((*to, Finish::default()), |go| {
            Activity::GuardPlace(GuardPlace(go))
        }),
        Action::Guard {
            ward: Spot::Unit(ward),
        } => prepare.each(|| Activity::Guard(Guard::new(*ward))),
        _ => Vec::new(),
    }),
};
