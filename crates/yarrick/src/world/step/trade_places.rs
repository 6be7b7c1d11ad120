//! Who comes first to where a group gathers takes the place farthest in, so that nobody has to get past those
//! who stand already.
//!
//! Places were shared out for the order in which the members set out. On the way through a gap that order gets
//! mixed up: whoever comes to the gathering then trades places with one that is still on its way, if that spares
//! both of them crossing each other's way.

use crate::geom::Vec2;
use crate::near::Near;
use crate::world::OrderNo;
use crate::world::activity::{Activity, Bound, Go};
use crate::world::order::{Place, Task};
use crate::world::queue;
use crate::world::state::{Moves, State};

/// How far outside of the places a unit has come to the gathering, in its own radii.
const FORECOURT_RADII: f32 = 3.0;

/// How many times as long as alone a unit may take from there to its place before it stops where it is, and how many
/// seconds more.
const LEISURE: u32 = 2;
const SPARE_S: u32 = 4;

/// After how many ticks without getting on, over and over, a unit looks whether one beside it had better have
/// its place.
const HELD_UP_TICKS: u32 = 8;

/// Whether a unit has to look whether it had better trade its place: it does not get on, or comes to the gathering.
/// Who goes in formation keeps its place in it.
pub(super) fn considers(state: &State, moves: &Moves, row: usize) -> bool {
    moves.slots[row].is_none() && (is_stuck(state, row) || comes_to_gathering(state, row))
}

/// Lets those trade their places that consider it.
pub(super) fn trade_places(state: &mut State, near: &Near, moves: &mut Moves) {
    if moves.traders.is_empty() {
        return;
    }
    group(state, moves);
    for &row in &moves.traders {
        let row = row as usize;
        if is_stuck(state, row)
            && let Some(other) = beside(state, near, row)
        {
            trade(state, row, other);
        }
        if comes_to_gathering(state, row) {
            if let Some(other) = partner(state, &moves.groups, row) {
                trade(state, row, other);
            }
            gather(state, row);
        }
    }
}

/// Notes who is on the way to a gathering, by order and row.
fn group(state: &State, moves: &mut Moves) {
    moves.groups.clear();
    if moves
        .traders
        .iter()
        .any(|row| comes_to_gathering(state, *row as usize))
    {
        let rows = (0..state.units.len()).filter(|row| is_on_its_way(state, *row));
        let numbered = rows.filter_map(|row| Some((number(state, row)?, row as u32)));
        moves.groups.extend(numbered);
        moves.groups.sort_unstable();
    }
}

/// Whether a unit has not got on for so long that it looks round.
fn is_stuck(state: &State, row: usize) -> bool {
    let Activity::Go(go) = &state.units.activity[row] else {
        return false;
    };
    let looks = go.held_up() > 0 && go.held_up().is_multiple_of(HELD_UP_TICKS);
    looks && go.bound() == Bound::Place
}

/// With whom beside it a unit that does not get on had better trade: each stands where the other is bound for.
fn beside(state: &State, near: &Near, row: usize) -> Option<usize> {
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

fn is_on_its_way(state: &State, row: usize) -> bool {
    matches!(&state.units.activity[row], Activity::Go(go) if go.gathers().is_none())
}

/// The number of the order that a unit carries out.
fn number(state: &State, row: usize) -> Option<OrderNo> {
    state.units.orders[row].first().map(|order| order.number)
}

/// With whom a unit had best trade that comes to the gathering: one still on the way behind it, whose place lies
/// farthest beyond its own. Looks at those of its group, once for each that comes.
fn partner(state: &State, groups: &[(OrderNo, u32)], row: usize) -> Option<usize> {
    let own = number(state, row)?;
    let first = groups.partition_point(|(number, _)| *number < own);
    let group = groups[first..]
        .iter()
        .take_while(|(number, _)| *number == own);
    let group = group.map(|(_, other)| *other as usize);
    // Some have come to the gathering since the list was made.
    let on_their_way = group.filter(|other| is_on_its_way(state, *other));
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
    let is_alike = |other: &usize| {
        let of_a_kind = *other != row && units.kind[*other] == units.kind[row];
        of_a_kind && number(state, *other) == number(state, row)
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
