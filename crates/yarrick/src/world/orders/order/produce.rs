//! Queueing a unit for production.

use super::checks::sound;
use super::{Effect, OrderKind};
use crate::economy::NotQueued;
use crate::world::kind::KindId;
use crate::world::message::{Action, Failure, Outcome, Refusal};
use crate::world::state::State;

pub(super) const ORDER: OrderKind = OrderKind {
    word: "produce",
    keys: &["kind"],
    read: |reader| {
        let kind = reader.kind()?;
        Some(Action::Produce { kind })
    },
    write: |action, writer| {
        if let Action::Produce { kind } = action {
            writer.kind(*kind);
        }
    },
    flaw: sound,
    check: |asked, action| {
        let Action::Produce { kind } = action else {
            return Ok(());
        };
        can_produce(asked.state, asked.row, *kind)
    },
    effect: Effect::AtOnce(|dispatch, taken, action| {
        let Action::Produce { kind } = action else {
            return;
        };
        // Others of the same command may have taken what there was.
        let outcome = match queue(dispatch.state, taken.row, *kind) {
            Ok(()) => Outcome::Done,
            Err(_) => Outcome::Failed {
                why: Failure::NotAffordable,
            },
        };
        dispatch.end_at_once(taken.row, taken.number, outcome);
    }),
};

fn can_produce(state: &State, row: usize, kind: KindId) -> Result<(), Refusal> {
    let producer = state.kind_of(row).producer.as_ref();
    let Some(producer) = producer.filter(|producer| producer.kinds.contains(&kind)) else {
        return Err(Refusal::CannotProduce);
    };
    let production = state.productions.get(state.units.id[row]);
    let Some(production) = production.filter(|_| state.is_complete(row)) else {
        return Err(Refusal::CannotProduce);
    };
    if production.line.items().len() >= usize::from(producer.limit) {
        return Err(Refusal::LineFull);
    }
    let price = &state.kind(kind).cost.price;
    let ledger = state.ledgers.get(usize::from(state.units.side[row].0));
    let missing = ledger.and_then(|ledger| ledger.owned().missing_for(price).next());
    match missing {
        Some(missing) => Err(Refusal::NotAffordable(missing)),
        None => Ok(()),
    }
}

fn queue(state: &mut State, row: usize, kind: KindId) -> Result<(), NotQueued> {
    let cost = state.kind(kind).cost.clone();
    let takes = (cost.time_s * state.rules.ticks_per_second as f32).round() as u32;
    let (unit, side) = (state.units.id[row], state.units.side[row]);
    let Some(ledger) = state.ledgers.get_mut(usize::from(side.0)) else {
        return Err(NotQueued::Full(0));
    };
    let queued = state.productions.change(unit, |production| {
        production.line.queue(kind, &cost.price, takes, ledger)
    });
    queued.unwrap_or(Err(NotQueued::Full(0)))
}
