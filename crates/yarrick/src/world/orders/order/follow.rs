//! Keeping near a unit.

use super::checks::{flaw_of_spot, walkers_to_others};
use super::{Effect, OrderKind};
use crate::world::activity::{Activity, Follow};
use crate::world::message::Action;

pub(super) const ORDER: OrderKind = OrderKind {
    word: "follow",
    keys: &["target", "target_id"],
    read: |reader| {
        let target = reader.target()?;
        Some(Action::Follow { target })
    },
    write: |action, writer| {
        if let Action::Follow { target } = action {
            writer.target(*target);
        }
    },
    flaw: flaw_of_spot,
    check: walkers_to_others,
    effect: Effect::Activities(|prepare, action| match action {
        Action::Follow { target } => prepare.each(|| Activity::Follow(Follow::new(*target))),
        _ => Vec::new(),
    }),
};
