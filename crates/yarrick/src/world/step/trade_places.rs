//! Who comes first to where a group gathers takes the place farthest in, so that nobody has to get past those
//! who stand already.
//!
//! Places were shared out for the order in which the members set out. On the way through a gap that order gets
//! mixed up: whoever comes to the gathering then trades places with one that is still on its way, if that spares
//! both of them crossing each other's way.

use crate::geom::Vec2;
use crate::near::Near;
use crate::world::activity::{Activity, Bound, Go};
use crate::world::order::{Errand, Task};
use crate::world::queue;
use crate::world::state::State;

/// How far outside of the places a unit has come to the gathering, in its own radii.
const FORECOURT_RADII: f32 = 3.0;

/// After how many ticks without getting on, over and over, a unit looks whether one beside it had better have
/// its place.
const HELD_UP_TICKS: u32 = 8;

pub(in crate::world) fn run(state: &mut State, near: &Near) {
    for row in 0..state.units.len() {
        if let Some(other) = beside(state, near, row) {
            trade(state, row, other);
        }
        if comes_to_gathering(state, row) {
            if let Activity::Go(go) = &mut state.units.activity[row] {
                go.gather();
            }
            if let Some(other) = partner(state, row) {
                trade(state, row, other);
            }
        }
    }
}

/// With whom beside it a unit that does not get on had better trade: each stands where the other is bound for.
fn beside(state: &State, near: &Near, row: usize) -> Option<usize> {
    let Activity::Go(go) = &state.units.activity[row] else {
        return None;
    };
    if go.held_up() == 0
        || !go.held_up().is_multiple_of(HELD_UP_TICKS)
        || go.bound() != Bound::Place
    {
        return None;
    }
    let units = &state.units;
    let (at, mine) = (units.position[row], place_of(state, row)?);
    let gain = |other: usize| {
        let theirs = place_of(state, other)?;
        let gain = (theirs - mine).dot(at - units.position[other]);
        (gain > 0.0).then_some((gain, other))
    };
    let within = near.within(at, 4.0 * units.radius[row]);
    let like = within.map(|other| other as usize).filter(|other| {
        *other < units.len()
            && are_alike(state, row, *other)
            && matches!(units.activity[*other], Activity::Go(_))
    });
    let best = like
        .filter_map(gain)
        .reduce(|best, next| if next.0 > best.0 { next } else { best });
    best.map(|(_, other)| other)
}

/// Whether two are of one kind, and sent to one place by one order.
fn are_alike(state: &State, row: usize, other: usize) -> bool {
    let units = &state.units;
    let number = |row: usize| units.orders[row].first().map(|order| order.number);
    row != other && units.kind[row] == units.kind[other] && number(row) == number(other)
}

/// Whether a unit has come near enough to the places of its group, and had not before.
fn comes_to_gathering(state: &State, row: usize) -> bool {
    let Activity::Go(go) = &state.units.activity[row] else {
        return false;
    };
    let Some(place) = errand(state, row).and_then(|errand| errand.place.ok()) else {
        return false;
    };
    let near = place.spread_m + FORECOURT_RADII * state.units.radius[row];
    let at = state.units.position[row];
    place.spread_m > 0.0
        && go.bound() == Bound::Place
        && !go.gathers()
        && at.distance_squared(place.middle) <= near * near
}

fn errand(state: &State, row: usize) -> Option<Errand> {
    match &state.units.orders[row].first()?.task {
        Task::Move(errand) | Task::AttackMove(errand) => Some(*errand),
        _ => None,
    }
}

/// With whom a unit had best trade: one of its kind and order, still on the way behind it, whose place lies farthest
/// beyond its own.
fn partner(state: &State, row: usize) -> Option<usize> {
    let units = &state.units;
    let mine = errand(state, row)?.place.ok()?;
    let trades = |other: &usize| {
        let is_on_its_way = matches!(&units.activity[*other], Activity::Go(go) if !go.gathers());
        is_on_its_way && are_alike(state, row, *other)
    };
    let gain = |other: usize| {
        let theirs = errand(state, other)?.place.ok()?;
        let behind = units.position[row] - units.position[other];
        let gain = (theirs.at - mine.at).dot(behind);
        (gain > units.radius[row]).then_some((gain, other))
    };
    let best = (0..units.len()).filter(trades).filter_map(gain);
    // Ties go to the first.
    let best = best.reduce(|best, next| if next.0 > best.0 { next } else { best });
    best.map(|(_, other)| other)
}

fn trade(state: &mut State, a: usize, b: usize) {
    let (Some(of_a), Some(of_b)) = (place_of(state, a), place_of(state, b)) else {
        return;
    };
    lead(state, a, of_b);
    lead(state, b, of_a);
}

fn place_of(state: &State, row: usize) -> Option<Vec2> {
    Some(errand(state, row)?.place.ok()?.at)
}

/// Sends a unit to another place of its group: by a new last leg where that is clear, else by a new route.
fn lead(state: &mut State, row: usize, to: Vec2) {
    if let Some(order) = state.units.orders[row].first_mut()
        && let Task::Move(errand) | Task::AttackMove(errand) = &mut order.task
        && let Ok(place) = &mut errand.place
    {
        place.at = to;
    }
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    let Activity::Go(go) = &state.units.activity[row] else {
        return;
    };
    let from = before_last(go).unwrap_or(at);
    let held_up = go.held_up();
    if state.going(row).line_is_clear(from, to, radius) && !go.ends_on_link() {
        if let Activity::Go(go) = &mut state.units.activity[row] {
            go.end_at(to);
        }
    } else {
        queue::await_route(state, row, Bound::Place, held_up);
    }
}

/// The point before the last, if that is still ahead.
fn before_last(go: &Go) -> Option<Vec2> {
    let ahead = go.ahead();
    ahead.len().checked_sub(2).map(|k| ahead[k])
}
