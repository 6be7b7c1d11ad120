//! The orders of a unit: taken up, carried out one after another, each ended once.

use super::activity::{Activity, Bound, Delay, Progress, bout};
use super::event::Event;
use super::order::{Beat, Errand, Failure, Order, Outcome, Task};
use super::state::{Events, State};
use super::units::RESTLESS_TICKS;
use super::{MAX_PATROL_POINTS, OrderNo, UnitId};
use crate::route::{Group, Ticket};

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

/// Sends a unit on to the next post of its patrol. Gives whether it is on one.
pub(crate) fn turn_to_next_post(state: &mut State, row: usize) -> bool {
    let first = state.units.orders[row].first_mut();
    let Some(Task::Patrol(beat)) = first.map(|order| &mut order.task) else {
        return false;
    };
    beat.turn_to_next();
    await_route(state, row, Bound::Place, Delay::default());
    true
}

/// Whether the last order of a unit is a patrol.
pub(crate) fn ends_with_patrol(state: &State, row: usize) -> bool {
    last_beat(state, row).is_some()
}

/// Whether a patrol that a unit has as its last order can take so many points more. A unit that
/// has none has room.
pub(crate) fn has_room_for_posts(state: &State, row: usize, more: usize) -> bool {
    // Where it began is a post besides.
    last_beat(state, row).is_none_or(|beat| beat.posts.len() + more <= MAX_PATROL_POINTS + 1)
}

fn last_beat(state: &State, row: usize) -> Option<&Beat> {
    match state.units.orders[row].last().map(|order| &order.task) {
        Some(Task::Patrol(beat)) => Some(beat),
        _ => None,
    }
}

/// Adds points to the patrol that is the last order of a unit. The order that brought them is
/// done with that.
pub(crate) fn extend_patrol(
    state: &mut State,
    events: &mut Events,
    row: usize,
    points: &[Errand],
    by: OrderNo,
) {
    let last = state.units.orders[row].last_mut();
    if let Some(Task::Patrol(beat)) = last.map(|order| &mut order.task) {
        beat.posts.extend_from_slice(points);
    }
    end_at_once(state, events, row, by, Outcome::Done);
}

/// Ends an order that never was in the unit's queue.
pub(crate) fn end_at_once(
    state: &State,
    events: &mut Events,
    row: usize,
    order: OrderNo,
    outcome: Outcome,
) {
    let unit = state.units.id[row];
    events.push(Event::Ended {
        unit,
        order,
        outcome,
    });
}

/// Ends all orders that are about a unit which has left: done, if they were to bring that about.
pub(crate) fn settle(
    state: &mut State,
    events: &mut Events,
    row: usize,
    left: impl Fn(UnitId) -> Option<Departure>,
) {
    let unit = state.units.id[row];
    let first = state.units.orders[row].first().map(|order| order.number);
    state.units.orders[row].retain(|order| {
        let Some(departure) = order.target().and_then(&left) else {
            return true;
        };
        let outcome = match (&order.task, departure) {
            (Task::Attack { .. }, Departure::Slain) => Outcome::Done,
            _ => Outcome::Failed {
                why: Failure::TargetGone,
            },
        };
        events.push(Event::Ended {
            unit,
            order: order.number,
            outcome,
        });
        false
    });
    if state.units.orders[row].first().map(|order| order.number) != first {
        begin(state, events, row);
    }
}

/// How a unit left the world.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Departure {
    /// It was struck down.
    Slain,
    /// The game took it out.
    Removed,
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
    state.units.bout[row] = None;
    state.units.looks[row] = None;
    state.units.progress[row] = Progress::from(state.tick);
    while let Some(first) = state.units.orders[row].first() {
        if let Some(why) = first.hopeless() {
            end_first(state, events, row, Outcome::Failed { why });
            continue;
        }
        match first.task {
            Task::Stop => end_first(state, events, row, Outcome::Done),
            Task::Move(_) | Task::AttackMove(_) | Task::Patrol(_) | Task::GuardPlace(_) => {
                return await_route(state, row, Bound::Place, Delay::default());
            }
            Task::Attack { target } => {
                bout::begin(state, row, target, true);
                break;
            }
            Task::Approach { .. } | Task::Follow { .. } | Task::Guard { .. } | Task::Hold => break,
        }
    }
    halt(state, row);
}

/// Lets the unit stand where it is.
pub(crate) fn halt(state: &mut State, row: usize) {
    if matches!(state.units.activity[row], Activity::AwaitRoute { .. }) {
        state.planner.cancel(state.units.id[row].number());
    }
    if !matches!(state.units.activity[row], Activity::Stand) {
        state.units.activity[row] = Activity::Stand;
        state.units.restless[row] = RESTLESS_TICKS;
    }
}

/// Puts the unit in line for a route.
pub(crate) fn await_route(state: &mut State, row: usize, bound: Bound, delay: Delay) {
    state.units.activity[row] = Activity::AwaitRoute {
        bound,
        delay,
        lead: None,
    };
    // Whoever is after another cannot wait: that one may be gone by then.
    let urgent = matches!(bound, Bound::Unit { .. });
    request_route(state, row, urgent);
}

/// Puts the unit in line for a route, and lets it go on meanwhile with what it is at.
pub(crate) fn request_route(state: &mut State, row: usize, urgent: bool) {
    let group = match state.units.activity[row].bound() {
        Some(Bound::Place) => group_of(state, row),
        _ => None,
    };
    state.planner.request(Ticket {
        who: state.units.id[row].number(),
        side: state.units.side[row].0,
        urgent,
        group,
    });
}

/// Puts a unit that waits for a route before all that are not urgent.
pub(crate) fn make_urgent(state: &mut State, row: usize) {
    request_route(state, row, true);
}

/// With whom a unit goes that is sent to a place.
fn group_of(state: &State, row: usize) -> Option<Group> {
    let place = state.units.orders[row].first()?.place()?;
    let cell = state.ground.cell_at(place.middle)?;
    Some(Group::new(state.passage_index(row), cell))
}
