//! Striking a unit while it is within range, without a step.

use super::checks::{fighters, flaw_of_victim};
use super::{Effect, OrderKind};
use crate::world::activity::{Activity, Fire};
use crate::world::message::Action;

pub(super) const ORDER: OrderKind = OrderKind {
    word: "fire",
    keys: &["target", "target_id"],
    read: |reader| {
        let target = reader.target()?;
        Some(Action::Fire { target })
    },
    write: |action, writer| {
        if let Action::Fire { target } = action {
            writer.target(*target);
        }
    },
    flaw: flaw_of_victim,
    check: fighters,
    effect: Effect::Activities(|prepare, action| match action {
        Action::Fire { target } => prepare.each(|| Activity::Fire(Fire { target: *target })),
        _ => Vec::new(),
    }),
};
