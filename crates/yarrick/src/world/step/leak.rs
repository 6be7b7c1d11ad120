//! Leaks: units of the assault that touch their goal leave the world.

use crate::world::game::LeakCost;
use crate::world::ids::UnitId;
use crate::world::message::Event;
use crate::world::state::{Departure, Events, Scratch, State};

pub(super) fn run(state: &mut State, scratch: &mut Scratch, events: &mut Events) {
    let Some(running) = &state.assault else {
        return;
    };
    let mut leaked: Vec<(UnitId, u32, u16)> = Vec::new();
    for (unit, sent) in state.of_wave.iter() {
        let Some(row) = state.units.row(unit) else {
            continue;
        };
        let goal = running.goals.get(usize::from(sent.goal));
        let touches = |at, radius| state.gap_from(at, radius, row) <= 0.0;
        // What cannot be harmed has no health to lose.
        let has_died = state.units.health[row] <= 0.0 && state.kind_of(row).body.health > 0.0;
        if goal.is_some_and(|goal| touches(goal.at, goal.radius_m)) && !has_died {
            leaked.push((unit, sent.wave, sent.goal));
        }
    }
    let cost = running.leak_cost.clone();
    for (unit, wave, goal) in leaked {
        if let Some(LeakCost { side, price }) = &cost
            && let Some(ledger) = state.ledgers.get_mut(usize::from(side.0))
        {
            ledger.take(price);
        }
        scratch.departures.push((unit, Departure::Leaked));
        events.push(Event::Leaked { unit, wave, goal });
    }
}
