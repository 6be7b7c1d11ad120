//! Moves the units: each along its path, past the others, and never into walls.

use crate::geom::{Vec2, angle, canonical};
use crate::motion::{Bodies, braked_speed, follow, push_apart, step_clear};
use crate::route::Shortfall;
use crate::world::activity::{Activity, Patience};
use crate::world::order::{Outcome, Task};
use crate::world::queue;
use crate::world::state::{Events, Moves, Scratch, State};
use crate::world::units::{Pose, RESTLESS_TICKS};

/// After so many seconds without progress a unit looks for another way.
const FRAY_S: u32 = 2;

/// After so many seconds without progress a unit gives up.
const GIVE_UP_S: u32 = 10;

pub(in crate::world) fn run(state: &mut State, scratch: &mut Scratch, events: &mut Events) {
    remember_poses(state);
    want(state, &mut scratch.moves);
    give_way(state, scratch);
    let moves = &scratch.moves;
    for row in 0..state.units.len() {
        let pushed = moves.pushes[row];
        if matches!(state.units.activity[row], Activity::Go(_)) {
            walk(state, moves, row, pushed);
            arrive_or_wait(state, events, row, pushed.is_some());
        } else {
            stand(state, row, pushed);
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
            moves.limits.push(kind.speed * tick_s);
            continue;
        };
        let top = state.top_speed(row);
        // Whoever goes on elsewhere afterwards need not slow down.
        let speed = if units.orders[row].len() > 1 {
            top
        } else {
            braked_speed(go.left(units.position[row]), top, kind.braking)
        };
        let mut next = go.next();
        let at = follow(units.position[row], go.path(), &mut next, speed * tick_s);
        moves.limits.push(top * tick_s);
        moves.steps[row] = at - units.position[row];
        moves.wanted[row] = at;
        moves.next[row] = next;
    }
}

/// By how much each unit gets out of the way of others. First those that walk, then those that
/// stand and have been touched: who is left alone costs nothing.
fn give_way(state: &mut State, scratch: &mut Scratch) {
    let Scratch { near, moves, .. } = scratch;
    let units = &mut state.units;
    let drift = moves.steps.iter().map(|step| step.length_squared());
    let bodies = Bodies {
        wanted: &moves.wanted,
        steps: &moves.steps,
        radii: &units.radius,
        widest: state.widest,
        limits: &moves.limits,
        drift: drift.fold(0.0, f32::max).sqrt(),
    };
    let restless = &mut units.restless;
    moves.pushes.clear();
    moves.pushes.resize(units.id.len(), None);
    for (row, activity) in units.activity.iter().enumerate() {
        if matches!(activity, Activity::Go(_)) {
            moves.pushes[row] = push_apart(&bodies, near, row as u32, |other| {
                restless[other as usize] = RESTLESS_TICKS;
            });
        }
    }
    moves.uneasy.clear();
    moves.uneasy.extend(
        (0..units.id.len() as u32)
            .filter(|&row| restless[row as usize] > 0)
            .filter(|&row| !matches!(units.activity[row as usize], Activity::Go(_))),
    );
    for &row in &moves.uneasy {
        moves.pushes[row as usize] = push_apart(&bodies, near, row, |other| {
            restless[other as usize] = RESTLESS_TICKS;
        });
    }
}

/// Carries out the move of a unit that walks.
fn walk(state: &mut State, moves: &Moves, row: usize, pushed: Option<Vec2>) {
    let (from, radius) = (state.units.position[row], state.units.radius[row]);
    let step = moves.steps[row];
    let wanted = step + pushed.unwrap_or(Vec2::ZERO);
    let to = from + wanted.clamp_length_max(moves.limits[row]);
    let to = if pushed.is_some() {
        to
    } else {
        moves.wanted[row]
    };
    let at = step_clear(&state.ground, from, to, radius);
    settle_at(state, row, at);
    if let Some(heading) = angle::of(step) {
        let limit = state.kind(state.units.kind[row]).turn_rate * state.tick_s();
        let facing = &mut state.units.facing[row];
        *facing = angle::turn_towards(*facing, heading, limit);
    }
    let on_course = at == moves.wanted[row];
    let next = moves.next[row];
    let ground = &state.ground;
    let Activity::Go(go) = &mut state.units.activity[row] else {
        return;
    };
    let in_sight = |point: u32| {
        let target = go.path().get(point as usize);
        target.is_some_and(|target| ground.line_is_clear(at, *target, radius))
    };
    if on_course {
        if next != go.next() {
            go.pass(next);
        }
    } else if near_a_corner(go.path(), go.next(), at, radius) && in_sight(go.next() + 1) {
        // In a crowd nobody gets to the corner itself: to see past it is enough.
        go.pass(go.next() + 1);
    }
}

/// Whether the next point is not the last, and within two bodies of `at`.
fn near_a_corner(path: &[Vec2], next: u32, at: Vec2, radius: f32) -> bool {
    (next as usize) + 1 < path.len() && path[next as usize].distance(at) < 4.0 * radius
}

/// Ends a walk that has come to its end, or to the end of the unit's patience.
fn arrive_or_wait(state: &mut State, events: &mut Events, row: usize, pushed: bool) {
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    let second = state.ticks_per_second;
    let fray = FRAY_S * second;
    let Activity::Go(go) = &mut state.units.activity[row] else {
        return;
    };
    let left = go.left(at);
    if go.ahead().is_empty() || (pushed && left < 0.1 * radius) {
        return finish(state, events, row, None);
    }
    let patience = go.watch(at, fray, GIVE_UP_S * second);
    let held_up = go.held_up();
    let walled_off = pushed
        && held_up > 0
        && held_up.is_multiple_of(second.div_ceil(2))
        && !state.ground.line_is_clear(at, go.ahead()[0], radius);
    match patience {
        Patience::Holds if !walled_off => {}
        Patience::Ends => {
            let why = crate::world::Failure::HeldUp;
            queue::finish(state, events, row, Outcome::Failed { why });
        }
        _ if pushed && left < 4.0 * (radius + state.widest) => {
            finish(state, events, row, Some(left));
        }
        _ => queue::await_route(state, row, held_up),
    }
}

/// Ends a walk at its place, or `left` metres before it among others who stand there.
fn finish(state: &mut State, events: &mut Events, row: usize, left: Option<f32>) {
    let first = state.units.orders[row].first().map(|order| order.task);
    let Some(Task::Move {
        goal,
        place: Ok(place),
    }) = first
    else {
        return;
    };
    let radius = state.units.radius[row];
    let crowded = left
        .filter(|left| *left > radius)
        .map(|_| Shortfall::Crowded);
    let outcome = match place.short.or(crowded) {
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
fn stand(state: &mut State, row: usize, pushed: Option<Vec2>) {
    let from = state.units.position[row];
    let restless = &mut state.units.restless[row];
    *restless = restless.saturating_sub(1);
    let at = pushed.map_or(from, |push| {
        step_clear(&state.ground, from, from + push, state.units.radius[row])
    });
    settle_at(state, row, at);
}

fn settle_at(state: &mut State, row: usize, at: Vec2) {
    let at = canonical(at);
    let moved = at - state.units.position[row];
    state.units.velocity[row] = canonical(moved * state.ticks_per_second as f32);
    state.units.position[row] = at;
}
