//! Places round a unit for those that come up to it, by reservation: no two take the same, and each takes the nearest that is
//! free when it looks.

use super::close_up;
use super::rims::{Gaps, Look, berths_of};
use crate::geom::Vec2;
use crate::near::Near;
use crate::world::state::{Berth, State};

/// How many ranks wait behind those that are near enough.
const RANKS: u32 = 5;

/// Distance between the ranks that wait, in radii of the unit.
const RANK_RADII: f32 = 2.2;

/// How much farther a place may be for a unit to take it rather than one in the next rank, for each metre that the rank lies
/// off the distance that is best: among places that are near enough, and among those behind.
const OFF_COST: f32 = 2.0;
const BEHIND_COST: f32 = 4.0;

/// Takes a place for a unit on the rim of another: the nearest that is free at one of the gaps, or one behind those where it
/// waits; it keeps the one where it waits already. `None` where there is none, or none that `suits`.
pub(crate) fn take_berth(
    state: &mut State,
    near: &Near,
    (row, target): (usize, usize),
    gaps: Gaps,
    suits: &dyn Fn(&State, Vec2) -> bool,
) -> Option<Berth> {
    let own = berth_at(state, (row, target)).filter(|(_, berth)| !berth.is_near);
    unfile(state, row);
    let look = Look::new(state, near, (row, target), gaps);
    let from = state.units.position[row];
    let at_gap = |gap_m: f32, most_m: f32| look.nearest(from, (gap_m, most_m), suits);
    let within = |gap_m: f32| Some(at_gap(gap_m, f32::INFINITY)?.at);
    let best = look.cheapest(gaps, gaps.outward(), (OFF_COST, &at_gap));
    let closed_up = match best {
        Some(_) => None,
        None => close_up::room_for_one_more(&look, gaps, suits),
    };
    let best = best.or(closed_up.as_ref().map(|room| room.at));
    let best = best.or_else(|| gaps.inward().find_map(within));
    // It waits for a place that is taken, but not for one to which it has no way.
    let all_are_taken = || {
        let free = look.of_free_rims();
        let mut gaps = gaps.outward().chain(gaps.inward());
        gaps.any(|gap_m| {
            let anywhere = (gap_m, f32::INFINITY);
            free.nearest(from, anywhere, suits).is_some()
        })
    };
    let waits = || {
        let step_m = RANK_RADII * state.units.radius[row];
        let ranks = (1..=RANKS).map(|rank| gaps.most_m + rank as f32 * step_m);
        // A place behind a wall is far from the target by foot.
        let not_parted =
            |state: &State, at: Vec2| look.is_beside(at, gaps.best_m) && suits(state, at);
        let beside = |gap_m: f32, most_m: f32| look.nearest(from, (gap_m, most_m), &not_parted);
        look.cheapest(gaps, ranks.clone(), (BEHIND_COST, &beside))
            .or_else(|| look.cheapest(gaps, ranks, (BEHIND_COST, &at_gap)))
    };
    let (is_near, at) = match (best, own) {
        (Some(at), _) => (true, at),
        (None, Some((at, _))) => (false, at),
        (None, None) if all_are_taken() => (false, waits()?),
        (None, None) => return None,
    };
    for (other, at) in closed_up.into_iter().flat_map(|room| room.moved) {
        move_berth(state, (other, target), at);
    }
    Some(reserve(state, (row, target), (at, is_near)))
}

/// Moves the place of a unit to make room for another unit.
fn move_berth(state: &mut State, (row, target): (usize, usize), at: Vec2) {
    let offset = at - state.middle(target);
    if let Some(berth) = &mut state.units.berth[row] {
        (berth.offset, berth.moved) = (offset, true);
    }
}

/// Notes that a unit has come to its place.
pub(crate) fn note_at_berth(state: &mut State, row: usize) {
    if let Some(berth) = &mut state.units.berth[row] {
        berth.moved = false;
    }
}

/// Notes that the place that a unit has taken is where it is now.
pub(crate) fn shift_berth(state: &mut State, (row, target): (usize, usize)) {
    let offset = state.units.position[row] - state.middle(target);
    if let Some(berth) = &mut state.units.berth[row] {
        (berth.offset, berth.is_near, berth.moved) = (offset, true, false);
    }
}

/// Takes the place where a unit is: it is near enough there.
pub(crate) fn take_place_here(state: &mut State, (row, target): (usize, usize)) {
    unfile(state, row);
    reserve(state, (row, target), (state.units.position[row], true));
}

/// Lets a unit wait where it is for some ticks before it looks for a place again: others leave it no way to the one that it
/// had.
pub(crate) fn wait_here(state: &mut State, (row, target): (usize, usize), ticks: u32) {
    take_place_here(state, (row, target));
    if let Some(berth) = &mut state.units.berth[row] {
        berth.is_near = false;
        berth.looks_from = state.clock.tick + u64::from(ticks);
    }
}

fn reserve(state: &mut State, (row, target): (usize, usize), (at, is_near): (Vec2, bool)) -> Berth {
    // It looks again in a second, or when a place becomes free.
    let waits = if is_near { 0 } else { state.ticks(1) };
    let berth = Berth {
        target: state.units.id[target],
        offset: at - state.middle(target),
        is_near,
        looks_from: state.clock.tick + u64::from(waits),
        moved: false,
    };
    state.units.berth[row] = Some(berth);
    state.file_berth(row);
    berth
}

/// Gives up the place that a unit has taken, if it has. If it was near enough there, those that wait look again.
pub(crate) fn leave_berth(state: &mut State, row: usize) {
    let Some(berth) = unfile(state, row).filter(|berth| berth.is_near) else {
        return;
    };
    let waiting = state.derived.berths.get(&berth.target);
    for unit in waiting.into_iter().flatten() {
        let other = state.units.row(*unit);
        if let Some(berth) = other.and_then(|other| state.units.berth[other].as_mut()) {
            berth.looks_from = 0;
        }
    }
}

/// Takes a unit out of its place.
fn unfile(state: &mut State, row: usize) -> Option<Berth> {
    let berth = state.units.berth[row].take()?;
    let unit = state.units.id[row];
    let berths = &mut state.derived.berths;
    if let Some(known) = berths.get_mut(&berth.target) {
        known.retain(|other| *other != unit);
        if known.is_empty() {
            berths.remove(&berth.target);
        }
    }
    Some(berth)
}

/// The place that a unit has taken on the rim of another.
pub(crate) fn berth_at(state: &State, (row, target): (usize, usize)) -> Option<(Vec2, Berth)> {
    let berth = state.units.berth[row].filter(|berth| berth.target == state.units.id[target])?;
    Some((state.middle(target) + berth.offset, berth))
}

/// Whether no other unit that comes up to a target has taken a place that a unit would touch at a point.
pub(crate) fn is_unclaimed(state: &State, (row, target): (usize, usize), at: Vec2) -> bool {
    let radius = state.units.radius[row];
    let mut others = berths_of(state, target).filter(|(other, _)| *other != row);
    others.all(|(other, place)| {
        let apart = radius + state.units.radius[other];
        place.distance_squared(at) >= apart * apart
    })
}

/// Trades the place of a unit for that of another with the same body, where that shortens the ways of both together.
pub(crate) fn trade_berth(state: &mut State, (row, target): (usize, usize)) {
    let Some((mine_at, mine)) = berth_at(state, (row, target)) else {
        return;
    };
    let from = state.units.position[row];
    let radius = state.units.radius[row];
    let saves = |(other, theirs_at): (usize, Vec2)| {
        let theirs = state.units.berth[other]?;
        let units = &state.units;
        let alike = units.radius[other] == radius && units.kind[other] == units.kind[row];
        // A place that was moved to make room for another unit must not change hands.
        let moves = mine.moved || theirs.moved;
        if other == row || !alike || moves || units.locomotion[other].stands() {
            return None;
        }
        let at = units.position[other];
        // Squares keep the longest way short, as well as the sum.
        let now = from.distance_squared(mine_at) + at.distance_squared(theirs_at);
        let then = from.distance_squared(theirs_at) + at.distance_squared(mine_at);
        (then < now * 0.95 - 0.01).then_some((now - then, other, theirs))
    };
    let all = berths_of(state, target).filter_map(saves);
    let best = all.max_by(|a, b| a.0.total_cmp(&b.0).then(b.1.cmp(&a.1)));
    if let Some((_, other, theirs)) = best {
        state.units.berth[row] = Some(theirs);
        state.units.berth[other] = Some(mine);
    }
}
