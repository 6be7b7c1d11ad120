//! Giving up a site, or a building under construction.

use super::checks::sound;
use super::{Effect, OrderKind};
use crate::world::message::{Action, Outcome, Refusal};
use crate::world::state::Departure;

pub(super) const ORDER: OrderKind = OrderKind {
    word: "call-off",
    keys: &[],
    read: |_| Some(Action::CallOff),
    write: |_, _| {},
    flaw: sound,
    check: |asked, _| {
        if asked.state.is_complete(asked.row) {
            Err(Refusal::NoSite)
        } else {
            Ok(())
        }
    },
    effect: Effect::AtOnce(|dispatch, taken, _| {
        let unit = dispatch.state.units.id[taken.row];
        let departure = (unit, Departure::CalledOff);
        dispatch.scratch.departures.push(departure);
        dispatch.end_at_once(taken.row, taken.number, Outcome::Done);
    }),
};
