//! Finds routes for those that wait, within this tick's budget; the rest wait on.
//!
//! The budget is counted in cells that searches settle, not in time, so that the same run plans
//! the same routes in the same ticks everywhere. A search that has begun is carried through, so
//! the last one of a tick may go over the budget by its own length.

use crate::geom::Vec2;
use crate::route::NoRoute;
use crate::world::OrderNo;
use crate::world::activity::{Activity, Bound, Go};
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
        if let Some(row) = state.units.row(unit) {
            state.units.in_line[row] = false;
            if let Activity::AwaitRoute { bound, held_up } = state.units.activity[row] {
                let settled = plan(state, scratch, events, row, (bound, held_up));
                budget = budget.saturating_sub(settled.saturating_add(COST_OF_A_ROUTE));
            }
        }
    }
}

/// Where a route for the unit in a row is to lead, and the order that it is for if that leads to
/// a place.
fn destination(state: &State, row: usize, bound: Bound) -> Option<(Vec2, Option<OrderNo>)> {
    match bound {
        Bound::Unit { to, .. } => Some((to, None)),
        Bound::Place => {
            let first = state.units.orders[row].first()?;
            Some((first.place()?.at, Some(first.number)))
        }
    }
}

/// Plans the route of the unit in a row. Gives the number of cells settled.
fn plan(
    state: &mut State,
    scratch: &mut Scratch,
    events: &mut Events,
    row: usize,
    (bound, held_up): (Bound, u32),
) -> u32 {
    let Some((to, order)) = destination(state, row, bound) else {
        queue::halt(state, row);
        return 0;
    };
    let from = state.units.position[row];
    let found = scratch.router.find(
        &state.ground,
        state.passage(row),
        state.units.radius[row],
        from,
        to,
    );
    match found {
        Ok(mut route) => {
            if let Some(order) = order {
                events.push(Event::SetOut {
                    unit: state.units.id[row],
                    order,
                    length_m: route.length_m,
                });
            }
            // The first point is where the unit stands.
            route.points.remove(0);
            let go = Go::new(bound, from, route.points, held_up);
            state.units.activity[row] = Activity::Go(go);
            route.settled
        }
        Err(no_route) => {
            let why = match no_route {
                NoRoute::NoWay(short) => Failure::NoWay(short),
                NoRoute::StartClosed
                | NoRoute::NotFinite
                | NoRoute::BadRadius
                | NoRoute::NoGoal => Failure::Stuck,
            };
            match bound {
                // The activity that asked for it looks for another way, or gives up.
                Bound::Unit { .. } => queue::halt(state, row),
                Bound::Place => queue::finish(state, events, row, Outcome::Failed { why }),
            }
            0
        }
    }
}
