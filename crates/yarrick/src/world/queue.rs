//! The orders of a unit: taken up, carried out one after another, each ended once.

use super::OrderNo;
use super::activity::Activity;
use super::event::Event;
use super::order::{Order, Outcome, Task};
use super::state::{Events, State};

/// Puts an order in place of all that the unit has.
pub(crate) fn replace(state: &mut State, events: &mut Events, row: usize, order: Order) {
    let by = order.number;
    let unit = state.units.id[row];
    for old in core::mem::take(&mut state.units.orders[row]) {
        events.push(Event::Ended {
            unit,
            order: old.number,
            outcome: Outcome::Replaced { by },
        });
    }
    state.units.orders[row].push(order);
    begin(state, events, row);
}

/// Puts an order behind all that the unit has.
pub(crate) fn append(state: &mut State, events: &mut Events, row: usize, order: Order) {
    state.units.orders[row].push(order);
    if state.units.orders[row].len() == 1 {
        begin(state, events, row);
    }
}

/// Puts an order before all that the unit has. What it was carrying out waits, and is begun anew
/// afterwards.
pub(crate) fn interrupt(state: &mut State, events: &mut Events, row: usize, order: Order) {
    state.units.orders[row].insert(0, order);
    begin(state, events, row);
}

/// Takes one order out of those that the unit has, and ends the one that asked for it.
pub(crate) fn cancel(
    state: &mut State,
    events: &mut Events,
    row: usize,
    order: OrderNo,
    by: OrderNo,
) {
    let unit = state.units.id[row];
    let orders = &mut state.units.orders[row];
    let Some(at) = orders.iter().position(|held| held.number == order) else {
        return;
    };
    orders.remove(at);
    let replaced = Outcome::Replaced { by };
    for (order, outcome) in [(order, replaced), (by, Outcome::Done)] {
        events.push(Event::Ended {
            unit,
            order,
            outcome,
        });
    }
    if at == 0 {
        begin(state, events, row);
    }
}

/// Ends the order that the unit is carrying out, and begins the next.
pub(crate) fn finish(state: &mut State, events: &mut Events, row: usize, outcome: Outcome) {
    end_first(state, events, row, outcome);
    begin(state, events, row);
}

/// Turns a unit round at the end of its patrol. Gives whether it is on one.
pub(crate) fn turn_round(state: &mut State, row: usize) -> bool {
    let first = state.units.orders[row].first_mut();
    let Some(Task::Patrol { homeward, .. }) = first.map(|order| &mut order.task) else {
        return false;
    };
    *homeward = !*homeward;
    await_route(state, row, 0);
    true
}

/// Ends all orders of a unit that is about to leave.
pub(crate) fn abandon(state: &mut State, events: &mut Events, row: usize) {
    while !state.units.orders[row].is_empty() {
        end_first(state, events, row, Outcome::UnitLost);
    }
}

fn end_first(state: &mut State, events: &mut Events, row: usize, outcome: Outcome) {
    let orders = &mut state.units.orders[row];
    if !orders.is_empty() {
        events.push(Event::Ended {
            unit: state.units.id[row],
            order: orders.remove(0).number,
            outcome,
        });
    }
}

/// Begins the first order that is not done at once; with none left, the unit stands.
fn begin(state: &mut State, events: &mut Events, row: usize) {
    while let Some(first) = state.units.orders[row].first() {
        if let Some(why) = first.hopeless() {
            end_first(state, events, row, Outcome::Failed { why });
            continue;
        }
        match first.task {
            Task::Stop => end_first(state, events, row, Outcome::Done),
            Task::Move { .. } | Task::Patrol { .. } => return await_route(state, row, 0),
        }
    }
    state.units.activity[row] = Activity::Stand;
}

/// Puts the unit in line for a route to the place of its first order.
pub(crate) fn await_route(state: &mut State, row: usize, held_up: u32) {
    let activity = &mut state.units.activity[row];
    if !matches!(activity, Activity::AwaitRoute { .. }) {
        state.waiting.push_back(state.units.id[row]);
    }
    *activity = Activity::AwaitRoute { held_up };
}
