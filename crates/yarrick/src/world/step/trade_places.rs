//! The member that comes first to where a group assembles takes the place farthest in, so that none has to get past
//! others that stand already.
//!
//! Places are assigned in the order in which the members set out. A gap on the way can change that order. A unit that
//! arrives then trades places with one that is still on its way, if their ways would otherwise cross.

use crate::geom::Vec2;
use crate::near::Near;
use crate::world::legs;
use crate::world::state::{Claim, GroupNo, Locomotion, Moves, Place, Scratch, State, Walk};

/// How many times as long as alone a unit may take from there to its place before it stops where it is, and how many
/// seconds more.
const LEISURE: u32 = 2;
const SPARE_S: u32 = 4;

pub(super) fn run(state: &mut State, scratch: &mut Scratch) {
    let (near, moves) = (&scratch.near, &mut scratch.moves);
    moves.traders.clear();
    for row in 0..state.units.len() {
        if moves.may_trade[row] && considers(state, moves, row) {
            moves.traders.push(row as u32);
        }
    }
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
        if comes_to_assembly(state, row) {
            if let Some(other) = partner(state, &moves.groups, row) {
                trade(state, row, other);
            }
            assemble(state, row);
        }
    }
}

/// Whether a unit has to look whether it had better trade its place: it does not get on, or comes to the assembly.
/// One in formation keeps its place in it.
fn considers(state: &State, moves: &Moves, row: usize) -> bool {
    moves.slots[row].is_none() && (is_stuck(state, row) || comes_to_assembly(state, row))
}

/// Notes which units are on the way to an assembly, by group and row.
fn group(state: &State, moves: &mut Moves) {
    moves.groups.clear();
    if moves
        .traders
        .iter()
        .any(|row| comes_to_assembly(state, *row as usize))
    {
        let rows = (0..state.units.len()).filter(|row| is_on_its_way(state, *row));
        let numbered = rows.filter_map(|row| Some((number(state, row)?, row as u32)));
        moves.groups.extend(numbered);
        moves.groups.sort_unstable();
    }
}

/// Whether a unit has not got on for so long that it looks round.
fn is_stuck(state: &State, row: usize) -> bool {
    let walk = state.units.locomotion[row].walk();
    walk.is_some_and(Walk::is_stuck)
}

/// The unit beside it with which a unit that does not get on had better trade: each stands where the other is bound for.
fn beside(state: &State, near: &Near, row: usize) -> Option<usize> {
    let units = &state.units;
    let within = near.within(units.position[row], 4.0 * units.radius[row]);
    let like = within
        .map(|other| other as usize)
        .filter(|other| *other < units.len())
        .filter(|other| units.locomotion[*other].walk().is_some());
    best_to_trade_with(state, row, like, 0.0)
}

/// Whether a unit has come near enough to the places of its group, and had not before.
fn comes_to_assembly(state: &State, row: usize) -> bool {
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    let walk = state.units.locomotion[row].walk();
    walk.is_some_and(|walk| walk.comes_to_assembly(at, radius))
}

/// Notes that a unit has come to the assembly, and how long it may take to get to its place.
fn assemble(state: &mut State, row: usize) {
    let (at, speed) = (state.units.position[row], state.top_speed(row));
    let second = state.rules.ticks_per_second;
    if let Locomotion::Walking(walk) = &mut state.units.locomotion[row] {
        let alone = (walk.left(at) / speed * second as f32) as u32;
        walk.assemble(
            alone
                .saturating_mul(LEISURE)
                .saturating_add(SPARE_S * second),
        );
    }
}

fn is_on_its_way(state: &State, row: usize) -> bool {
    let walk = state.units.locomotion[row].walk();
    walk.is_some_and(|walk| walk.assembles().is_none())
}

/// The group with which a unit goes to a place.
fn number(state: &State, row: usize) -> Option<GroupNo> {
    let target = state.units.locomotion[row].place();
    target.map(|target| target.group)
}

/// The unit with which a unit that comes to the assembly had best trade: one still on the way behind it, whose place lies
/// farthest beyond its own. Looks at those of its group, once for each that comes.
fn partner(state: &State, groups: &[(GroupNo, u32)], row: usize) -> Option<usize> {
    let own = number(state, row)?;
    let first = groups.partition_point(|(number, _)| *number < own);
    let group = groups[first..]
        .iter()
        .take_while(|(number, _)| *number == own);
    let group = group.map(|(_, other)| *other as usize);
    // Some have come to the assembly since the list was made.
    let on_their_way = group.filter(|other| is_on_its_way(state, *other));
    best_to_trade_with(state, row, on_their_way, state.units.radius[row])
}

/// Of some units the one with which trading places shortens both ways the most, if it does by more than `least`, in
/// square metres: of the same kind and order, and bound for the same assembly. Ties go to the first.
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

/// The place that a unit is bound for with its group.
fn place_of(state: &State, row: usize) -> Option<Place> {
    let target = state.units.locomotion[row].place();
    target
        .filter(|target| target.claim == Claim::Trades)
        .map(|target| target.place)
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
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    let view = state.ground.view(state.kind_of(row).body.gait);
    let Locomotion::Walking(walk) = &mut state.units.locomotion[row] else {
        return;
    };
    let from = before_last(walk).unwrap_or(at);
    if view.line_is_clear(from, to, radius) && !walk.ends_on_link() {
        walk.end_at(to);
    } else if let Some(target) = walk.target().place() {
        let place = Place {
            at: to,
            ..target.place
        };
        walk.set_place(place);
        legs::replan(state, row);
    }
}

/// The point before the last, if that is still ahead.
fn before_last(walk: &Walk) -> Option<Vec2> {
    let ahead = walk.ahead();
    ahead.len().checked_sub(2).map(|k| ahead[k])
}
