//! Rally points: where a building sends whoever comes out of it.

use super::event::Event;
use super::order::MAX_QUEUED;
use super::state::{Events, State};
use super::{Spot, When};

/// Whether a building can take no more rally points.
pub(crate) fn is_full(state: &State, row: usize, when: When) -> bool {
    when != When::Now && state.units.rally[row].len() >= MAX_QUEUED
}

/// Sets or adds a rally point. The building itself takes them all away.
pub(crate) fn set(state: &mut State, events: &mut Events, row: usize, to: Spot, when: When) {
    let points = &mut state.units.rally[row];
    if to == Spot::Unit(state.units.id[row]) {
        points.clear();
    } else {
        match when {
            When::Now => *points = vec![to],
            When::Afterwards => points.push(to),
            When::First => points.insert(0, to),
        }
    }
    events.push(Event::Rallied {
        unit: state.units.id[row],
        to: points.clone(),
    });
}
