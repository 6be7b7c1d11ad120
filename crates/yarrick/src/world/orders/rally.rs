//! Rally points: where a building sends units that come out of it.

use super::{Dispatch, MAX_QUEUED, Minds};
use crate::world::ids::{Ticket, UnitId};
use crate::world::message::{Action, Command, Event, Spot, When};
use crate::world::state::State;

/// Whether a building can take no more rally points.
pub(super) fn is_full(state: &State, minds: &Minds, row: usize, when: When) -> bool {
    let points = minds.rally.get(state.units.id[row]);
    when != When::Now && points.is_some_and(|points| points.len() >= MAX_QUEUED)
}

impl Dispatch<'_> {
    /// Sends a unit that has just come out of a building to a rally point of it, after those before.
    pub(crate) fn send_on(&mut self, unit: UnitId, to: Spot) {
        let Some(row) = self.state.units.row(unit) else {
            return;
        };
        let side = self.state.units.side[row];
        let ticket = Ticket {
            side: Some(side),
            number: 0,
        };
        let command = Command {
            side,
            units: vec![unit],
            action: Action::Context { at: to },
            when: When::Afterwards,
        };
        self.take(ticket, &command);
    }
}

/// Sets or adds a rally point. The building itself takes them all away.
pub(super) fn set(dispatch: &mut Dispatch<'_>, row: usize, to: Spot, when: When) {
    let unit = dispatch.state.units.id[row];
    let mut points = dispatch.minds.rally.remove(unit).unwrap_or_default();
    match when {
        _ if to == Spot::Unit(unit) => points.clear(),
        When::Now => points = vec![to],
        When::Afterwards => points.push(to),
        When::First => points.insert(0, to),
    }
    let to = points.clone();
    if !points.is_empty() {
        dispatch.minds.rally.set(unit, points);
    }
    dispatch.events.push(Event::Rallied { unit, to });
}
