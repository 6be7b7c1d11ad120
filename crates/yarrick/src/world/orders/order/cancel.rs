//! Dropping one order.

use super::checks::sound;
use super::{Effect, OrderKind};
use crate::world::message::{Action, Refusal};

pub(super) const ORDER: OrderKind = OrderKind {
    word: "cancel",
    keys: &["number"],
    read: |reader| {
        let order = reader.number()?;
        Some(Action::Cancel { order })
    },
    write: |action, writer| {
        if let Action::Cancel { order } = action {
            writer.key("number", &order.to_string());
        }
    },
    flaw: sound,
    check: |asked, action| {
        let Action::Cancel { order } = action else {
            return Ok(());
        };
        let mut held = asked.minds.queue[asked.row].iter();
        if held.any(|held| held.number == *order) {
            Ok(())
        } else {
            Err(Refusal::NoSuchOrder)
        }
    },
    effect: Effect::AtOnce(|dispatch, taken, action| {
        if let Action::Cancel { order } = action {
            dispatch.cancel(taken.row, *order, taken.number);
        }
    }),
};
