//! Taking a unit out of a production queue.

use super::checks::sound;
use super::{Effect, OrderKind};
use crate::world::message::{Action, Outcome, Refusal};

pub(super) const ORDER: OrderKind = OrderKind {
    word: "cancel-production",
    keys: &["place"],
    read: |reader| {
        let place = reader.place()?;
        Some(Action::CancelProduction { place })
    },
    write: |action, writer| {
        if let Action::CancelProduction { place } = action {
            writer.key("place", &place.to_string());
        }
    },
    flaw: sound,
    check: |asked, action| {
        let Action::CancelProduction { place } = action else {
            return Ok(());
        };
        let unit = asked.state.units.id[asked.row];
        let production = asked.state.productions.get(unit);
        let count = production.map_or(0, |production| production.line.items().len());
        if usize::from(*place) < count {
            Ok(())
        } else {
            Err(Refusal::NoSuchPlace)
        }
    },
    effect: Effect::AtOnce(|dispatch, taken, action| {
        if let Action::CancelProduction { place } = action {
            let state = &mut *dispatch.state;
            let (unit, side) = (state.units.id[taken.row], state.units.side[taken.row]);
            if let Some(ledger) = state.ledgers.get_mut(usize::from(side.0)) {
                state.productions.change(unit, |production| {
                    production.line.cancel(usize::from(*place), ledger);
                    production.is_held_up &= production.line.finished().is_some();
                });
            }
            dispatch.end_at_once(taken.row, taken.number, Outcome::Done);
        }
    }),
};
