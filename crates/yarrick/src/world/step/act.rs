//! Lets each unit go on with the activity of its order: this decides where its legs go.

use crate::world::activity::approach::Beside;
use crate::world::activity::{Activity, approach, bout, follow};
use crate::world::order::{Outcome, Task};
use crate::world::queue;
use crate::world::state::{Events, Scratch, State};

pub(in crate::world) fn run(state: &mut State, scratch: &mut Scratch, events: &mut Events) {
    follow::line_up(state, scratch);
    for row in 0..state.units.len() {
        let idle = state.units.orders[row].is_empty() && state.units.bout[row].is_none();
        if !idle {
            act(state, scratch, events, row);
        }
    }
}

fn act(state: &mut State, scratch: &Scratch, events: &mut Events, row: usize) {
    let first = state.units.orders[row].first();
    let target = first.and_then(|order| state.units.row(order.target()?));
    match (first.map(|order| &order.task), target) {
        (Some(Task::Attack { .. }), Some(target)) => {
            if let Some(why) = bout::attack(state, row, target) {
                queue::finish(state, events, row, Outcome::Failed { why });
            }
        }
        (
            Some(&Task::Approach {
                stand_off_m, side, ..
            }),
            Some(target),
        ) => {
            let beside = Beside { stand_off_m, side };
            if let Some(outcome) = approach::approach(state, row, target, beside) {
                queue::finish(state, events, row, outcome);
            }
        }
        (Some(Task::Guard { .. }), Some(_)) if chases(state, row) => bout::fight(state, row),
        (Some(Task::Follow { .. } | Task::Guard { .. }), Some(target)) => {
            follow::follow(state, scratch, row, target);
            if matches!(state.units.activity[row], Activity::Stand) {
                bout::fight(state, row);
            } else {
                state.units.bout[row] = None;
            }
        }
        (Some(Task::Move(_) | Task::Stop), _) => {}
        _ => bout::fight(state, row),
    }
}

fn chases(state: &State, row: usize) -> bool {
    state.units.bout[row].is_some_and(|bout| bout.chases)
}
