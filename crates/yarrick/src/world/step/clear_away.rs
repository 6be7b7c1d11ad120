//! Takes out the units that leave.

use crate::world::event::Event;
use crate::world::queue;
use crate::world::state::{Events, Scratch, State};

pub(in crate::world) fn run(state: &mut State, scratch: &mut Scratch, events: &mut Events) {
    for unit in core::mem::take(&mut state.leaving) {
        if let Some(row) = state.units.row(unit) {
            queue::abandon(state, events, row);
            state.units.remove(row);
            events.push(Event::Gone { unit });
            scratch.near_is_stale = true;
        }
    }
}
