//! Who comes first to where a group gathers takes the place farthest in, so that nobody has to get past those
//! who stand already.
//!
//! Places were shared out for the order in which the members set out. On the way through a gap that order gets
//! mixed up: whoever comes to the gathering then trades places with one that is still on its way, if that spares
//! both of them crossing each other's way.

use crate::geom::Vec2;
use crate::near::Near;
use crate::world::activity::{Activity, Bound, Go};
use crate::world::order::{Place, Task};
use crate::world::queue;
use crate::world::state::{Scratch, State};

/// How far outside of the places a unit has come to the gathering, in its own radii.
const FORECOURT_RADII: f32 = 3.0;

/// How many times as long as alone a unit may take from there to its place before it stops where it is, and how many
/// seconds more.
const LEISURE: u32 = 2;
const SPARE_S: u32 = 4;

/// After how many ticks without getting on, over and over, a unit looks whether one beside it had better have
/// its place.
const HELD_UP_TICKS: u32 = 8;

pub(in crate::world) fn run(state: &mut State, scratch: &Scratch) {
    let near = &scratch.near;
    for row in 0..state.units.len() {
        // Who goes in formation keeps its place in it.
        if scratch.moves.slots[row].is_some() {
            continue;
        }
        if let Some(other) = beside(state, near, row) {
            trade(state, row, other);
        }
        if comes_to_gathering(state, row) {
            if let Some(other) = partner(state, row) {
                trade(state, row, other);
            }
            gather(state, row);
        }
    }
}

/// With whom beside it a unit that does not get on had better trade: each stands where the other is bound for.
fn beside(state: &State, near: &Near, row: usize) -> Option<usize> {
    let Activity::Go(go) = &state.units.activity[row] else {
        return None;
    };
    let looks = go.held_up() > 0 && go.held_up().is_multiple_of(HELD_UP_TICKS);
    if !looks || go.bound() != Bound::Place {
        return None;
    }
    let units = &state.units;
    let within = near.within(units.position[row], 4.0 * units.radius[row]);
    let like = within
        .map(|other| other as usize)
        .filter(|other| *other < units.len())
        .filter(|other| matches!(units.activity[*other], Activity::Go(_)));
    best_to_trade_with(state, row, like, 0.0)
}

/// Whether a unit has come near enough to the places of its group, and had not before.
fn comes_to_gathering(state: &State, row: usize) -> bool {
    let Activity::Go(go) = &state.units.activity[row] else {
        return false;
    };
    if go.gathers().is_some() || go.bound() != Bound::Place {
        return false;
    }
    let near = |place: Place| {
        let reach = place.spread_m + FORECOURT_RADII * state.units.radius[row];
        let at = state.units.position[row];
        place.spread_m > 0.0 && at.distance_squared(place.middle) <= reach * reach
    };
    place_of(state, row).is_some_and(near)
}

/// Notes that a unit has come to the gathering, and how long it may take to get to its place.
fn gather(state: &mut State, row: usize) {
    let (at, speed) = (state.units.position[row], state.top_speed(row));
    let second = state.ticks_per_second;
    if let Activity::Go(go) = &mut state.units.activity[row] {
        let alone = (go.left(at) / speed * second as f32) as u32;
        go.gather(
            alone
                .saturating_mul(LEISURE)
                .saturating_add(SPARE_S * second),
        );
    }
}

/// With whom a unit had best trade that comes to the gathering: one still on the way behind it, whose place lies
/// farthest beyond its own. Looks at all units, once for each that comes.
fn partner(state: &State, row: usize) -> Option<usize> {
    let is_on_its_way = |other: &usize| {
        let activity = &state.units.activity[*other];
        matches!(activity, Activity::Go(go) if go.gathers().is_none())
    };
    let on_their_way = (0..state.units.len()).filter(is_on_its_way);
    best_to_trade_with(state, row, on_their_way, state.units.radius[row])
}

/// Of some units the one with which trading places shortens both ways the most, if it does by more than `least`, in
/// square metres: of the same kind and order, and bound for the same gathering. Ties go to the first.
fn best_to_trade_with(
    state: &State,
    row: usize,
    others: impl Iterator<Item = usize>,
    least: f32,
) -> Option<usize> {
    let units = &state.units;
    let number = |row: usize| units.orders[row].first().map(|order| order.number);
    let is_alike = |other: &usize| {
        *other != row && units.kind[*other] == units.kind[row] && number(*other) == number(row)
    };
    let mine = place_of(state, row)?;
    let gain = |other: usize| {
        let theirs = place_of(state, other)?;
        let behind = units.position[row] - units.position[other];
        let gain = (theirs.at - mine.at).dot(behind);
        (theirs.middle == mine.middle && gain > least).then_some((gain, other))
    };
    let best = others
        .filter(is_alike)
        .filter_map(gain)
        .reduce(|best, next| if next.0 > best.0 { next } else { best });
    best.map(|(_, other)| other)
}

/// The place that a unit is bound for with its group, on a move or an attack-move.
fn place_of(state: &State, row: usize) -> Option<Place> {
    match &state.units.orders[row].first()?.task {
        Task::Move(errand) | Task::AttackMove(errand) => errand.place.ok(),
        _ => None,
    }
}

fn trade(state: &mut State, a: usize, b: usize) {
    let (Some(of_a), Some(of_b)) = (place_of(state, a), place_of(state, b)) else {
        return;
    };
    lead(state, a, of_b.at);
    lead(state, b, of_a.at);
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
    let delay = go.delay();
    if state.going(row).line_is_clear(from, to, radius) && !go.ends_on_link() {
        if let Activity::Go(go) = &mut state.units.activity[row] {
            go.end_at(to);
        }
    } else {
        queue::await_route(state, row, Bound::Place, delay);
    }
}

/// The point before the last, if that is still ahead.
fn before_last(go: &Go) -> Option<Vec2> {
    let ahead = go.ahead();
    ahead.len().checked_sub(2).map(|k| ahead[k])
}
