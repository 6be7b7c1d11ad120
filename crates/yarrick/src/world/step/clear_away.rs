//! Takes out the units that leave and the dead, and ends what others were about with them.

use crate::world::activity::bout;
use crate::world::event::Event;
use crate::world::queue::{self, Departure};
use crate::world::state::{Events, Scratch, State};
use crate::world::{Spot, UnitId};

pub(in crate::world) fn run(state: &mut State, scratch: &mut Scratch, events: &mut Events) {
    if state.leaving.is_empty() && state.slain.is_empty() {
        return;
    }
    let mut left: Vec<(UnitId, Departure)> = Vec::new();
    let slain = core::mem::take(&mut state.slain).into_iter();
    let leaving = core::mem::take(&mut state.leaving).into_iter();
    left.extend(slain.map(|unit| (unit, Departure::Slain)));
    left.extend(leaving.map(|unit| (unit, Departure::Removed)));
    // Whoever was struck down and was to leave besides was struck down: the sort is stable.
    left.sort_by_key(|(unit, _)| *unit);
    left.dedup_by_key(|(unit, _)| *unit);
    let departure = |unit: UnitId| {
        let at = left.binary_search_by_key(&unit, |(unit, _)| *unit).ok()?;
        Some(left[at].1)
    };
    for row in 0..state.units.len() {
        if departure(state.units.id[row]).is_some() {
            queue::abandon(state, events, row);
            continue;
        }
        queue::settle(state, events, row, departure);
        if state.units.bout[row].is_some_and(|bout| departure(bout.foe).is_some()) {
            bout::end(state, row);
        }
        pin_rally_points(state, events, row, departure);
    }
    for (unit, _) in &left {
        state.cover_ground(*unit, false);
        if let Some(row) = state.units.row(*unit) {
            state.units.remove(row);
            events.push(Event::Gone { unit: *unit });
            scratch.near_is_stale = true;
        }
    }
}

/// A rally point on a unit that leaves stays on the ground where the unit was last.
fn pin_rally_points(
    state: &mut State,
    events: &mut Events,
    row: usize,
    departure: impl Fn(UnitId) -> Option<Departure>,
) {
    let mut changed = false;
    for k in 0..state.units.rally[row].len() {
        if let Spot::Unit(unit) = state.units.rally[row][k]
            && departure(unit).is_some()
            && let Some(of) = state.units.row(unit)
        {
            state.units.rally[row][k] = Spot::Ground(state.units.position[of]);
            changed = true;
        }
    }
    if changed {
        events.push(Event::Rallied {
            unit: state.units.id[row],
            to: state.units.rally[row].clone(),
        });
    }
}
