//! Finds routes for those that wait, within this tick's budget; the rest wait on, and set out in the
//! direction of their goals meanwhile.
//!
//! The budget is counted in cells that are looked at, not in time, so that the same run plans the same
//! routes in the same ticks everywhere.

use crate::geom::Vec2;
use crate::route::{Ask, Goal, NoRoute, Route};
use crate::world::activity::{Activity, Bound, Delay, Go};
use crate::world::event::Event;
use crate::world::order::{Failure, Outcome};
use crate::world::queue;
use crate::world::state::{Events, Scratch, State};
use crate::world::{OrderNo, UnitId};

/// How far a unit goes towards its goal while it waits for its route, in metres: no farther than that
/// does it have to come back if its way leads elsewhere.
const LEAD_M: f32 = 3.0;

/// Less than this much open way ahead is not worth setting out for, in metres.
const LEAST_LEAD_M: f32 = 0.5;

pub(in crate::world) fn run(state: &mut State, scratch: &mut Scratch, events: &mut Events) {
    if state.planner.waiting() == 0 {
        return state.planner.begin_round(0);
    }
    let mut planner = core::mem::take(&mut state.planner);
    planner.begin_round(state.plan_budget);
    scratch.found.clear();
    while let Some((who, found)) = planner.next(&state.ground, |who| ask(state, who)) {
        scratch.found.push((UnitId::of_number(who), found));
    }
    state.planner = planner;
    for (unit, found) in scratch.found.drain(..) {
        if let Some(row) = state.units.row(unit) {
            match state.units.activity[row] {
                Activity::AwaitRoute { bound, delay, .. } => {
                    take_up(state, events, row, (bound, delay), found);
                }
                Activity::Go(_) => reconsider(state, row, found),
                Activity::Stand => {}
            }
        }
    }
    lead_on(state);
}

/// What the holder of a ticket wants, if it still waits for a route or wants to know a better one.
fn ask(state: &State, who: u64) -> Option<Ask<'_>> {
    let row = state.units.row(UnitId::of_number(who))?;
    let bound = match &state.units.activity[row] {
        Activity::AwaitRoute { bound, .. } => *bound,
        Activity::Go(go) if go.bound() == Bound::Place => Bound::Place,
        Activity::Go(_) | Activity::Stand => return None,
    };
    let (to, _) = destination(state, row, bound)?;
    Some(Ask {
        passage: state.passage(row),
        radius: state.units.radius[row],
        from: state.units.position[row],
        goal: Goal::Point(to),
    })
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

/// Sets out along the route that was found for a unit that waited, or ends what it was for.
fn take_up(
    state: &mut State,
    events: &mut Events,
    row: usize,
    (bound, delay): (Bound, Delay),
    found: Result<Route, NoRoute>,
) {
    match found {
        Ok(mut route) => {
            if let Some((_, Some(order))) = destination(state, row, bound) {
                events.push(Event::SetOut {
                    unit: state.units.id[row],
                    order,
                    length_m: route.length_m,
                });
            }
            // The first point is where the unit stands.
            route.points.remove(0);
            let go = Go::new(bound, state.units.position[row], route.points, delay);
            let go = go.over_links(&route.links).ending_short(route.short);
            state.units.activity[row] = Activity::Go(go);
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
        }
    }
}

/// The part of its old way that a new one must save for a unit to turn round for it.
const WORTH_TURNING: f32 = 0.95;

/// Lets a unit that walks take the way that was found instead of its own, if that is better.
fn reconsider(state: &mut State, row: usize, found: Result<Route, NoRoute>) {
    let (at, passage) = (state.units.position[row], state.passage(row));
    let Activity::Go(go) = &state.units.activity[row] else {
        return;
    };
    let Ok(mut route) = found else {
        return;
    };
    if go.is_on_link() {
        return;
    }
    let old = crate::route::cost_of_way(&state.ground, passage, at, go.ahead());
    if route.short.is_none() && route.cost_m < old * WORTH_TURNING {
        route.points.remove(0);
        let new = Go::new(go.bound(), at, route.points, go.delay());
        state.units.activity[row] = Activity::Go(new.over_links(&route.links));
    }
}

/// Gives those that wait a point to walk to in the meantime.
fn lead_on(state: &mut State) {
    let mut leads = Vec::new();
    for ticket in state.planner.tickets() {
        let row = state.units.row(UnitId::of_number(ticket.who));
        let Some(row) = row else {
            continue;
        };
        if let Activity::AwaitRoute {
            bound, lead: None, ..
        } = state.units.activity[row]
            && let Some((to, _)) = destination(state, row, bound)
        {
            leads.push((row, open_way_ahead(state, row, to)));
        }
    }
    for (row, ahead) in leads {
        if let Activity::AwaitRoute { lead, .. } = &mut state.units.activity[row] {
            // Where there is no way ahead it stands, and need not look again.
            *lead = Some(ahead);
        }
    }
}

/// As far towards a point as the way is open, or a little to the left or to the right of it: where the
/// unit stands, if that is nowhere far enough to be worth it.
fn open_way_ahead(state: &State, row: usize, to: Vec2) -> Vec2 {
    let from = state.units.position[row];
    let radius = state.units.radius[row];
    let ahead = (to - from).normalize_or_zero();
    let mut reach = LEAD_M.min(from.distance(to));
    while reach >= LEAST_LEAD_M {
        let points = TURNS.map(|turn| from + turn.rotate(ahead) * reach);
        let clear = |point: &Vec2| state.going(row).line_is_clear(from, *point, radius);
        if let Some(point) = points.into_iter().find(clear) {
            return point;
        }
        reach *= 0.5;
    }
    from
}

/// Straight on, and by 30 and 60 degrees to either side.
const TURNS: [Vec2; 5] = [
    Vec2::new(1.0, 0.0),
    Vec2::new(0.866_025_4, 0.5),
    Vec2::new(0.866_025_4, -0.5),
    Vec2::new(0.5, 0.866_025_4),
    Vec2::new(0.5, -0.866_025_4),
];
