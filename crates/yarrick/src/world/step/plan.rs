//! Finds routes for those that wait, within this tick's budget; the rest wait on.
//!
//! The budget is counted in cells that searches settle, not in time, so that the same run plans
//! the same routes in the same ticks everywhere. A search that has begun is carried through, so
//! the last one of a tick may go over the budget by its own length.

use crate::route::NoRoute;
use crate::world::activity::{Activity, Go};
use crate::world::event::Event;
use crate::world::order::{Failure, Outcome};
use crate::world::queue;
use crate::world::state::{Events, Scratch, State};

/// What a route costs besides the cells it settles: a straight walk is not free either.
const COST_OF_A_ROUTE: u32 = 16;

pub(in crate::world) fn run(state: &mut State, scratch: &mut Scratch, events: &mut Events) {
    let mut budget = state.plan_budget;
    while budget > 0 {
        let Some(unit) = state.waiting.pop_front() else {
            break;
        };
        if let Some(row) = state.units.row(unit)
            && let Activity::AwaitRoute { held_up } = state.units.activity[row]
        {
            let settled = plan(state, scratch, events, row, held_up);
            budget = budget.saturating_sub(settled.saturating_add(COST_OF_A_ROUTE));
        }
    }
}

/// Plans the route of the unit in a row. Gives the number of cells settled.
fn plan(
    state: &mut State,
    scratch: &mut Scratch,
    events: &mut Events,
    row: usize,
    held_up: u32,
) -> u32 {
    let first = state.units.orders[row].first();
    let Some((order, place)) = first.and_then(|order| Some((order.number, order.place()?))) else {
        state.units.activity[row] = Activity::Stand;
        return 0;
    };
    let found = scratch.router.find(
        &state.ground,
        state.passage(row),
        state.units.radius[row],
        state.units.position[row],
        place.at,
    );
    match found {
        Ok(mut route) => {
            events.push(Event::SetOut {
                unit: state.units.id[row],
                order,
                length_m: route.length_m,
            });
            // The first point is where the unit stands.
            route.points.remove(0);
            state.units.activity[row] = Activity::Go(Go::new(route.points, held_up));
            route.settled
        }
        Err(no_route) => {
            let why = match no_route {
                NoRoute::NoWay(short) => Failure::NoWay(short),
                NoRoute::StartClosed | NoRoute::NotFinite => Failure::Stuck,
            };
            queue::finish(state, events, row, Outcome::Failed { why });
            0
        }
    }
}
