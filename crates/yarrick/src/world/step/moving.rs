//! Moves the units: each along its path, past the others, and never into walls.

use super::give_way::give_way;
use crate::geom::{Vec2, angle, canonical};
use crate::motion::{braked_speed, follow, step_clear};
use crate::world::activity::{Activity, Bound, Patience};
use crate::world::order::{Failure, Outcome, Place, Task};
use crate::world::queue;
use crate::world::state::{Events, Moves, Scratch, State};
use crate::world::units::{Pose, RESTLESS_TICKS};

/// After so many seconds without progress a unit asks whether this is near enough, or whether
/// it needs another way.
const FRAY_S: u32 = 1;

/// The part of its top speed below which a unit that comes up to another does not slow down.
const LEAST_PART: f32 = 0.25;

/// After so many seconds without progress a unit gives up.
const GIVE_UP_S: u32 = 20;

pub(in crate::world) fn run(state: &mut State, scratch: &mut Scratch, events: &mut Events) {
    remember_poses(state);
    want(state, &mut scratch.moves);
    give_way(state, &scratch.near, &mut scratch.moves);
    let moves = &scratch.moves;
    for row in 0..state.units.len() {
        match &state.units.activity[row] {
            Activity::Go(go) if go.is_on_link() => {
                cross(state, row);
                arrive_or_wait(state, events, moves, row);
            }
            Activity::Go(_) => {
                walk(state, moves, row);
                arrive_or_wait(state, events, moves, row);
            }
            _ => stand(state, moves, row),
        }
    }
}

fn remember_poses(state: &mut State) {
    let units = &mut state.units;
    let poses = units.position.iter().zip(&units.facing);
    for (before, (&position, &facing)) in units.before.iter_mut().zip(poses) {
        *before = Pose { position, facing };
    }
}

/// Where each unit would be at the end of the tick if it were alone.
fn want(state: &State, moves: &mut Moves) {
    let units = &state.units;
    let tick_s = state.tick_s();
    moves.wanted.clear();
    moves.wanted.extend_from_slice(&units.position);
    moves.steps.clear();
    moves.steps.resize(units.len(), Vec2::ZERO);
    moves.next.clear();
    moves.next.resize(units.len(), 0);
    moves.limits.clear();
    for row in 0..units.len() {
        let kind = state.kind(units.kind[row]);
        let Activity::Go(go) = &units.activity[row] else {
            if let Activity::AwaitRoute { lead: Some(to), .. } = units.activity[row] {
                stroll(state, moves, row, to);
                continue;
            }
            // Who stands firm does not let itself be pushed.
            let gives_way = if state.stands_firm(row) {
                0.0
            } else {
                kind.speed
            };
            moves.limits.push(gives_way * tick_s);
            continue;
        };
        let top = state.top_speed(row);
        let left = go.left(units.position[row]) - go.short_m();
        let speed = match go.bound() {
            // Whoever goes on elsewhere afterwards need not slow down.
            Bound::Place if units.orders[row].len() > 1 => top,
            Bound::Place => braked_speed(left, top, kind.braking),
            // The path is always a little behind the one that it leads to.
            Bound::Unit { .. } => braked_speed(left, top, kind.braking).max(top * LEAST_PART),
        };
        let mut next = go.next();
        let at = follow(
            units.position[row],
            go.up_to_link(),
            &mut next,
            speed * tick_s,
        );
        moves.limits.push(top * tick_s);
        moves.steps[row] = at - units.position[row];
        moves.wanted[row] = at;
        moves.next[row] = next;
    }
}

/// The move of a unit that goes a little way while it waits for its route.
fn stroll(state: &State, moves: &mut Moves, row: usize, to: Vec2) {
    let from = state.units.position[row];
    let most = state.top_speed(row) * state.tick_s();
    moves.limits.push(most);
    moves.steps[row] = (to - from).clamp_length_max(most);
    moves.wanted[row] = from + moves.steps[row];
}

/// Carries a unit over a link, past walls and others: at its own speed on plain ground.
fn cross(state: &mut State, row: usize) {
    let (from, kind) = (state.units.position[row], state.units.kind[row]);
    let most = state.kind(kind).speed * state.tick_s();
    let Activity::Go(go) = &mut state.units.activity[row] else {
        return;
    };
    let sets_out = go.set_afloat(true);
    let mut next = go.next();
    let end = go.path()[next as usize];
    let at = follow(from, core::slice::from_ref(&end), &mut 0, most);
    if at == end {
        next += 1;
        go.pass(next);
        go.set_afloat(false);
    }
    let id = state.units.id[row];
    if sets_out && !state.trapped.contains(&id) {
        // Should it leave the link half way, it has to get out of closed ground.
        state.trapped.push(id);
    }
    settle_at(state, row, at);
    face(state, row, at - from);
}

/// Turns a unit towards where it goes, as fast as it can.
fn face(state: &mut State, row: usize, step: Vec2) {
    if let Some(heading) = angle::of(step) {
        let limit = state.kind(state.units.kind[row]).turn_rate * state.tick_s();
        let facing = &mut state.units.facing[row];
        *facing = angle::turn_towards(*facing, heading, limit);
    }
}

/// Carries out the move of a unit that walks.
fn walk(state: &mut State, moves: &Moves, row: usize) {
    let (from, radius) = (state.units.position[row], state.units.radius[row]);
    let (step, to) = (moves.steps[row], moves.at[row]);
    let at = step_clear(state.going(row), from, to, radius);
    settle_at(state, row, at);
    face(state, row, step);
    let on_course = at == moves.wanted[row];
    let next = moves.next[row];
    let gait = state.kind(state.units.kind[row]).gait;
    let going = state.ground.going(gait);
    let Activity::Go(go) = &mut state.units.activity[row] else {
        return;
    };
    let in_sight = |point: u32| {
        let target = go.path().get(point as usize);
        target.is_some_and(|target| going.line_is_clear(at, *target, radius))
    };
    if on_course {
        if next != go.next() {
            go.pass(next);
        }
    } else if near_a_corner(go.path(), go.next(), at, radius) {
        // In a crowd nobody gets to the corner itself: to see past it is enough, or where a link
        // begins there, to see it.
        let seen = if go.is_over_link(go.next() + 1) { 0 } else { 1 };
        if in_sight(go.next() + seen) {
            go.pass(go.next() + 1);
        }
    }
}

/// Whether the next point is not the last, and within two bodies of `at`.
fn near_a_corner(path: &[Vec2], next: u32, at: Vec2, radius: f32) -> bool {
    (next as usize) + 1 < path.len() && path[next as usize].distance(at) < 4.0 * radius
}

/// Ends a walk that has come to its end, or to the end of the unit's patience.
fn arrive_or_wait(state: &mut State, events: &mut Events, moves: &Moves, row: usize) {
    let stirred = moves.stirred[row];
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    let second = state.ticks_per_second;
    let Activity::Go(go) = &mut state.units.activity[row] else {
        return;
    };
    if go.bound() != Bound::Place {
        return come_up(state, row);
    }
    // Whoever goes on elsewhere passes by within a step of the place, and so loses no speed.
    let near_enough = if state.units.orders[row].len() > 1 {
        moves.limits[row]
    } else if stirred {
        0.1 * radius
    } else {
        0.0
    };
    if go.left(at) <= near_enough {
        return finish(state, events, row);
    }
    let patience = go.watch(at, FRAY_S * second, GIVE_UP_S * second);
    let held_up = go.held_up();
    let target = go.ahead()[0];
    match patience {
        Patience::Holds => {}
        Patience::Frays if stirred && is_among_its_group(state, row) => {
            finish(state, events, row);
        }
        Patience::Frays if !state.going(row).line_is_clear(at, target, radius) => {
            // It was pushed round a corner.
            queue::await_route(state, row, Bound::Place, held_up);
        }
        Patience::Frays => {}
        Patience::Ends => give_up(state, events, row),
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
            let frays = go.watch(at, FRAY_S * second, u32::MAX) == Patience::Frays;
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
    state.units.restless[row] = RESTLESS_TICKS;
}

/// Lets a standing unit step aside, if it was pushed.
fn stand(state: &mut State, moves: &Moves, row: usize) {
    // Whoever has moved looks round once more, for those it may have come upon.
    let restless = &mut state.units.restless[row];
    *restless = restless.saturating_sub(1).max(u8::from(moves.stirred[row]));
    let (from, to) = (state.units.position[row], moves.at[row]);
    if from == to {
        state.units.velocity[row] = Vec2::ZERO;
    } else {
        let at = step_clear(state.going(row), from, to, state.units.radius[row]);
        settle_at(state, row, at);
        face(state, row, moves.steps[row]);
    }
}

fn settle_at(state: &mut State, row: usize, at: Vec2) {
    let at = canonical(at);
    let moved = at - state.units.position[row];
    state.units.velocity[row] = canonical(moved * state.ticks_per_second as f32);
    state.units.position[row] = at;
}
