//! Ends walks that have come to their end, or to the end of a unit's patience.

use crate::geom::Vec2;
use crate::world::activity::{Activity, Bearing, Bound, Patience};
use crate::world::order::{Failure, Outcome, Place, Task};
use crate::world::queue;
use crate::world::state::{Events, Moves, State};
use crate::world::units::RESTLESS_TICKS;

/// After so many seconds without progress a unit asks whether this is near enough, or whether
/// it needs another way.
const FRAY_S: u32 = 1;

/// Who gathers speed and brakes, or has to turn where it goes, has arrived within so many of its radii.
const DRIVEN_RADII: f32 = 0.3;

/// Held up for so many seconds a unit gives up.
const GIVE_UP_S: u32 = 20;

/// A unit does not wait for its turn for longer than so many seconds.
const WAIT_S: u32 = 60;

/// Ends a walk that has come to its end, or to the end of the unit's patience.
pub(super) fn arrive_or_wait(state: &mut State, events: &mut Events, moves: &Moves, row: usize) {
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    let stirred = moves.stirred[row] || at != moves.wanted[row];
    let second = state.ticks_per_second;
    let drives = state.kind(state.units.kind[row]).drives();
    let Activity::Go(go) = &mut state.units.activity[row] else {
        return;
    };
    if go.bound() != Bound::Place {
        return come_up(state, row);
    }
    // Whoever goes on elsewhere passes by within a step of the place, and so loses no speed.
    let near_enough = if state.units.orders[row].len() > 1 {
        moves.limits[row]
    } else if drives {
        // Who cannot stop on the spot does not stop on a point.
        DRIVEN_RADII * radius
    } else if stirred {
        0.1 * radius
    } else {
        0.0
    };
    if go.left(at) <= near_enough {
        return finish(state, events, row);
    }
    let patience = go.watch(at, moves.waits[row], bearing(second));
    let delay = go.delay();
    let target = go.ahead()[0];
    match patience {
        Patience::Holds if stirred && go.gathers() == Some(0) => finish(state, events, row),
        Patience::Holds => {}
        Patience::Frays if moves.against[row] && may_stop_here(state, row) => {
            finish(state, events, row);
        }
        Patience::Frays if !state.going(row).line_is_clear(at, target, radius) => {
            // It was pushed round a corner.
            queue::await_route(state, row, Bound::Place, delay);
        }
        Patience::Frays => {}
        // As near as the others let it.
        Patience::Ends if moves.against[row] && is_among_its_group(state, row) => {
            finish(state, events, row);
        }
        Patience::Ends if stirred && delay.waited < WAIT_S * second => try_another_way(state, row),
        Patience::Ends => give_up(state, events, row),
    }
}

/// Lets a unit that is held up in a crowd look for another way. It gives up when it has done so for as long as it would
/// wait for its turn.
fn try_another_way(state: &mut State, row: usize) {
    if let Activity::Go(go) = &mut state.units.activity[row] {
        go.forbear();
    }
    queue::request_route(state, row, true);
}

/// How much delay a unit bears, there being so many ticks in a second.
fn bearing(second: u32) -> Bearing {
    Bearing {
        fray: FRAY_S * second,
        held_up: GIVE_UP_S * second,
        waited: WAIT_S * second,
    }
}

/// Halts a unit that comes up to another and has walked its path to the end, or lost it: its
/// activity will think of something.
fn come_up(state: &mut State, row: usize) {
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    let second = state.ticks_per_second;
    let Activity::Go(go) = &mut state.units.activity[row] else {
        return;
    };
    let lost = match go.ahead().first() {
        None => true,
        Some(&target) => {
            // Whether it gives up is for its activity to say.
            let bearing = Bearing {
                held_up: u32::MAX,
                waited: u32::MAX,
                ..bearing(second)
            };
            let frays = go.watch(at, false, bearing) == Patience::Frays;
            frays && !state.going(row).line_is_clear(at, target, radius)
        }
    };
    if lost {
        queue::halt(state, row);
    }
}

/// Gives up a walk to a place. A patrol turns to its next post, and a guard stands where it is.
fn give_up(state: &mut State, events: &mut Events, row: usize) {
    let first = state.units.orders[row].first();
    if let Some(Task::GuardPlace(_)) = first.map(|order| &order.task) {
        queue::halt(state, row);
    } else if !queue::turn_to_next_post(state, row) {
        let why = Failure::HeldUp;
        queue::finish(state, events, row, Outcome::Failed { why });
    }
}

/// The place that a unit walks to, and the point asked for.
fn destination(state: &State, row: usize) -> Option<(Vec2, Place)> {
    let errand = state.units.orders[row].first()?.errand()?;
    Some((errand.goal, errand.place.ok()?))
}

/// Whether a unit that pushes against those who stand may stop among its group: it must have tried for as long as
/// the rest of its way would take.
fn may_stop_here(state: &State, row: usize) -> bool {
    let Activity::Go(go) = &state.units.activity[row] else {
        return false;
    };
    let left = go.left(state.units.position[row]);
    let tried = go.held_up() as f32 * state.tick_s() * state.top_speed(row);
    left <= tried && is_among_its_group(state, row)
}

/// Whether a unit has come to where its group stands, so that it may stop where it is: nobody
/// looks at who stands in which place.
fn is_among_its_group(state: &State, row: usize) -> bool {
    let at = state.units.position[row];
    let body = state.units.radius[row] + state.widest;
    destination(state, row).is_some_and(|(_, place)| {
        at.distance(place.middle) <= place.spread_m + body || at.distance(place.at) <= body
    })
}

/// Ends a walk where the unit stands; on a patrol it goes on to the next post, and a guard stays.
fn finish(state: &mut State, events: &mut Events, row: usize) {
    let first = state.units.orders[row].first();
    if let Some(Task::GuardPlace(_)) = first.map(|order| &order.task) {
        return queue::halt(state, row);
    }
    if queue::turn_to_next_post(state, row) {
        return;
    }
    let Some((goal, place)) = destination(state, row) else {
        return;
    };
    // What has closed since the order was given may have kept it from its place.
    let short = match &state.units.activity[row] {
        Activity::Go(go) => go.short(),
        _ => None,
    };
    let outcome = match place.short.or(short) {
        Some(why) => Outcome::CameShort {
            why,
            by_m: goal.distance(state.units.position[row]),
        },
        None => Outcome::Done,
    };
    queue::finish(state, events, row, outcome);
    if state.units.orders[row].is_empty() {
        state.units.looks[row] = place.facing;
    }
    state.units.restless[row] = RESTLESS_TICKS;
}
