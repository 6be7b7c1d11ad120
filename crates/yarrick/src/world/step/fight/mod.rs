//! Fighting: what flies goes on, and what aims strikes.
//!
//! All blows of a tick are gathered before any lands, so that no unit is the first.

mod aim;
mod fly;

use crate::combat::deal;
use crate::world::message::Event;
use crate::world::state::{Departure, Events, Scratch, State};

pub(super) fn run(state: &mut State, scratch: &mut Scratch, events: &mut Events) {
    scratch.blows.clear();
    fly::run(state, scratch, events);
    aim::run(state, scratch, events);
    for blow in &scratch.blows {
        let target = state.units.id[blow.target as usize];
        state.last_hit.set(target, (state.clock.tick, blow.by));
    }
    for fallen in deal(&scratch.blows, &mut state.units.health) {
        let unit = state.units.id[fallen.who as usize];
        scratch.departures.push((unit, Departure::Died));
        events.push(Event::Died {
            unit,
            by: Some(fallen.by),
        });
    }
}
