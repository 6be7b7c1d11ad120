//! Going for a unit and striking it until it is dead.

use super::checks::{fighters, flaw_of_victim};
use super::{Effect, OrderKind};
use crate::world::activity::{Activity, Attack};
use crate::world::message::Action;

pub(super) const ORDER: OrderKind = OrderKind {
    word: "attack",
    keys: &["target", "target_id"],
    read: |reader| {
        let target = reader.target()?;
        Some(Action::Attack { target })
    },
    write: |action, writer| {
        if let Action::Attack { target } = action {
            writer.target(*target);
        }
    },
    flaw: flaw_of_victim,
    check: fighters,
    effect: Effect::Activities(|prepare, action| match action {
        Action::Attack { target } => prepare.each(|| Activity::Attack(Attack::new(*target))),
        _ => Vec::new(),
    }),
};
