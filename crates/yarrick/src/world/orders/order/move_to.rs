//! Going to a point.

use super::checks::{flaw_of_spot, walkers};
use super::{Effect, OrderKind};
use crate::world::activity::Activity;
use crate::world::message::Action;

pub(super) const ORDER: OrderKind = OrderKind {
    word: "move",
    keys: &["point"],
    read: |reader| {
        let to = reader.point()?;
        Some(Action::Move { to })
    },
    write: |action, writer| {
        if let Action::Move { to } = action {
            writer.point(*to);
        }
    },
    flaw: flaw_of_spot,
    check: walkers,
    effect: Effect::Activities(|prepare, action| match action {
        Action::Move { to } => prepare.go_to(*to, Activity::Go),
        _ => Vec::new(),
    }),
};
