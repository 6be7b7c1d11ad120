//! Fighting: what flies goes on, and what aims strikes.
//!
//! All blows of a tick are gathered before any lands, so that no unit is the first.

mod aim;
mod fly;
mod ground;

use crate::combat::deal;
use crate::world::arms::raise_alarm;
use crate::world::message::Event;
use crate::world::state::{Alarm, Departure, Events, Scratch, State};

pub(super) fn run(state: &mut State, scratch: &mut Scratch, events: &mut Events) {
    scratch.blows.clear();
    fly::run(state, scratch, events);
    aim::run(state, scratch, events);
    ground::run(state, scratch, events);
    for blow in &scratch.blows {
        let target = state.units.id[blow.target as usize];
        state.last_hit.set(target, (state.clock.tick, blow.by));
        state.unrest.latest_hit = state.clock.tick;
    }
    for fallen in deal(&scratch.blows, &mut state.units.health) {
        let unit = state.units.id[fallen.who as usize];
        scratch.departures.push((unit, Departure::Died));
        let alarm = Alarm {
            tick: state.clock.tick,
            side: state.units.side[fallen.who as usize],
            at: state.units.position[fallen.who as usize],
            by: fallen.by,
        };
        raise_alarm(state, alarm);
        events.push(Event::Died {
            unit,
            by: Some(fallen.by),
        });
    }
}
