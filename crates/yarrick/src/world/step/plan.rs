//! Finds routes for waiting units, within this tick's budget; the rest wait on, and set out in the
//! direction of their goals meanwhile.
//!
//! The budget is counted in cells that are looked at, not in time, so that the same run plans the same
//! routes in the same ticks everywhere.

use crate::geom::Vec2;
use crate::route::{NoRoute, Route};
use crate::threads::Threads;
use crate::world::ids::UnitId;
use crate::world::legs;
use crate::world::message::{Event, Failure};
use crate::world::state::{
    Arrival, Events, Locomotion, MoveTarget, Owner, Patience, Report, Scratch, State, Walk,
};

/// How far a unit goes towards its goal while it waits for its route, in metres: no farther than that
/// does it have to come back if its way leads elsewhere.
const STROLL_M: f32 = 3.0;

/// Less than this much open way ahead is not worth setting out for, in metres.
const LEAST_STROLL_M: f32 = 0.5;

pub(super) fn run(
    state: &mut State,
    scratch: &mut Scratch,
    events: &mut Events,
    threads: &Threads,
) {
    state.planner.charge(core::mem::take(&mut scratch.looked));
    let mended = state.mend_on(state.planner.charged());
    state.planner.charge(mended);
    if state.planner.waiting() == 0 {
        return state.planner.begin_round(0);
    }
    let mut planner = core::mem::take(&mut state.planner);
    planner.begin_round(state.rules.plan_budget);
    scratch.found.clear();
    let wish = |who| state.wish(who);
    while let Some((who, found)) = planner.next_on(threads, &state.ground, wish) {
        scratch.found.push((UnitId::of_number(who), found));
    }
    state.planner = planner;
    let mut found = core::mem::take(&mut scratch.found);
    for (unit, found) in found.drain(..) {
        let Some(row) = state.units.row(unit) else {
            continue;
        };
        match state.units.locomotion[row] {
            Locomotion::AwaitingRoute {
                target, patience, ..
            } => set_out(state, (scratch, events), row, (target, patience), found),
            Locomotion::Walking(_) => reconsider(state, row, found),
            Locomotion::Standing | Locomotion::Steered(_) => {}
        }
    }
    scratch.found = found;
    stroll_on(state, scratch);
}

/// Sets out along the route that was found for a unit that waited, or reports that there is none.
fn set_out(
    state: &mut State,
    (scratch, events): (&mut Scratch, &mut Events),
    row: usize,
    (target, patience): (MoveTarget, Patience),
    found: Result<Route, NoRoute>,
) {
    match found {
        Ok(mut route) => {
            if let (MoveTarget::Place(_), Owner::Order(order)) =
                (target, state.units.legs_owner[row])
            {
                events.push(Event::SetOut {
                    unit: state.units.id[row],
                    order,
                    length_m: route.length_m,
                });
            }
            // The first point is where the unit stands.
            route.points.remove(0);
            let walk = Walk::new(target, state.units.position[row], route.points, patience);
            let walk = walk.over_links(&route.links).ending_short(route.short);
            state.units.locomotion[row] = Locomotion::Walking(walk);
        }
        Err(no_route) => {
            legs::halt(state, row);
            if let MoveTarget::Place(target) = target {
                let report = match no_route {
                    // The ground has changed since the place was given, and the unit is as near already as it can get.
                    NoRoute::NoWay(why) => Report::Arrived(Arrival {
                        goal: target.goal,
                        short: Some(why),
                        facing: target.place.facing,
                    }),
                    NoRoute::StartClosed
                    | NoRoute::NotFinite
                    | NoRoute::BadRadius
                    | NoRoute::NoSuchBody
                    | NoRoute::NoGoal => Report::NoWay(Failure::Stuck),
                };
                scratch.reports.push((row as u32, report));
            }
            // On the way to another unit, the activity that asked looks for another way, or gives up.
        }
    }
}

/// The part of its old way that a new one must save for a unit to turn round for it.
const WORTH_TURNING: f32 = 0.95;

/// Lets a unit that walks take the way that was found instead of its own, if that is better.
fn reconsider(state: &mut State, row: usize, found: Result<Route, NoRoute>) {
    let (at, clearance) = (state.units.position[row], state.clearance(row));
    let Locomotion::Walking(walk) = &state.units.locomotion[row] else {
        return;
    };
    let Ok(mut route) = found else {
        return;
    };
    if walk.is_on_link() {
        return;
    }
    let old = crate::route::cost_of_way(&state.ground, clearance, at, walk.ahead());
    if route.short.is_none() && route.cost_m < old * WORTH_TURNING {
        route.points.remove(0);
        let new = Walk::new(*walk.target(), at, route.points, walk.patience());
        state.units.locomotion[row] = Locomotion::Walking(new.over_links(&route.links));
    }
}

/// Gives units that wait for a route a point to walk to in the meantime.
fn stroll_on(state: &mut State, scratch: &mut Scratch) {
    scratch.strolls.clear();
    for request in state.planner.tickets() {
        let row = state.units.row(UnitId::of_number(request.who));
        let Some(row) = row else {
            continue;
        };
        if let Locomotion::AwaitingRoute {
            target,
            stroll_to: None,
            ..
        } = &state.units.locomotion[row]
        {
            let ahead = open_way_ahead(state, row, target.point());
            scratch.strolls.push((row, ahead));
        }
    }
    for (row, ahead) in scratch.strolls.drain(..) {
        if let Locomotion::AwaitingRoute { stroll_to, .. } = &mut state.units.locomotion[row] {
            // Where there is no way ahead it stands, and need not look again.
            *stroll_to = Some(ahead);
        }
    }
}

/// As far towards a point as the way is open, or a little to the left or to the right of it: where the
/// unit stands, if that is nowhere far enough to be worth it.
fn open_way_ahead(state: &State, row: usize, to: Vec2) -> Vec2 {
    let from = state.units.position[row];
    let radius = state.units.radius[row];
    let ahead = (to - from).normalize_or_zero();
    let mut reach = STROLL_M.min(from.distance(to));
    while reach >= LEAST_STROLL_M {
        let points = TURNS.map(|turn| from + turn.rotate(ahead) * reach);
        let clear = |point: &Vec2| state.ground_view(row).line_is_clear(from, *point, radius);
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
