//! Sending units that come out of a building to a spot.

use super::checks::flaw_of_spot;
use super::{Effect, OrderKind};
use crate::world::message::{Action, Outcome, Refusal};
use crate::world::orders::rally;

pub(super) const ORDER: OrderKind = OrderKind {
    word: "rally",
    keys: &["point", "target", "target_id"],
    read: |reader| {
        let to = reader.spot()?;
        Some(Action::Rally { to })
    },
    write: |action, writer| {
        if let Action::Rally { to } = action {
            writer.spot(*to);
        }
    },
    flaw: flaw_of_spot,
    check: |asked, _| {
        if !asked.state.kind_of(asked.row).rallies {
            return Err(Refusal::CannotRally);
        }
        if rally::is_full(asked.state, asked.minds, asked.row, asked.when) {
            Err(Refusal::QueueFull)
        } else {
            Ok(())
        }
    },
    effect: Effect::AtOnce(|dispatch, taken, action| {
        if let Action::Rally { to } = action {
            rally::set(dispatch, taken.row, *to, taken.when);
            dispatch.end_at_once(taken.row, taken.number, Outcome::Done);
        }
    }),
};
