//! Fighting one foe: going for it, keeping it within range, and letting it go.

use super::closing::{Closing, Distance, Progress, close_in, walks, why_no_nearer};
use super::{Bound, Delay};
use crate::geom::Vec2;
use crate::world::UnitId;
use crate::world::order::{Failure, Task};
use crate::world::queue;
use crate::world::state::State;

/// After so many seconds in which it came no nearer, a unit that was ordered to attack gives up.
const GIVE_UP_S: u64 = 20;

/// After so many seconds in which it came no nearer, a unit lets go of a foe that it went for of
/// its own accord.
const LET_GO_S: u64 = 5;

/// For so many seconds after letting go of one foe it goes for no other.
const CALM_S: u64 = 3;

/// A foe that gets so much farther off than a unit notices foes is let go.
const LEASH: f32 = 1.5;

/// Within so many bodies of its range, a unit that cannot get through to its foe waits for its
/// turn among those that strike it already.
const TURN_BODIES: f32 = 6.0;

/// The fight of a unit with a foe.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Bout {
    pub(crate) foe: UnitId,
    /// Whether the unit goes after the foe, or only strikes it while it is in range.
    pub(crate) chases: bool,
    /// Where the unit was when it began.
    pub(crate) from: Vec2,
}

/// Begins a bout. One that turns from foe to foe is still on the same leash, and its patience
/// does not begin anew: else two could lure it away for ever.
pub(crate) fn begin(state: &mut State, row: usize, foe: UnitId, chases: bool) {
    let known = state.units.bout[row];
    if known.is_none() {
        state.units.progress[row] = Progress::from(state.tick);
    }
    state.units.bout[row] = Some(Bout {
        foe,
        chases,
        from: known.map_or(state.units.position[row], |known| known.from),
    });
}

/// Goes on with an ordered attack. Gives why it cannot succeed, once that is clear.
pub(crate) fn attack(state: &mut State, row: usize, target: usize) -> Option<Failure> {
    let distance = distance(state, row)?;
    let stalled = match close_in(state, row, target, distance) {
        Closing::There => return None,
        Closing::Stranded { why } => return Some(why),
        Closing::OnTheWay { stalled } => stalled,
    };
    if stalled < GIVE_UP_S * u64::from(state.ticks_per_second) || waits_its_turn(state, row, target)
    {
        return None;
    }
    Some(why_no_nearer(state, target))
}

/// Goes on with a bout that the unit began of its own accord, and ends it in time.
pub(crate) fn fight(state: &mut State, row: usize) {
    let Some(bout) = state.units.bout[row] else {
        return;
    };
    let range = distance(state, row);
    let (Some(target), Some(distance)) = (state.units.row(bout.foe), range) else {
        return end(state, row);
    };
    if !bout.chases {
        if state.gap_m(row, target) > distance.keep_m {
            return end(state, row);
        }
        return queue::halt(state, row);
    }
    if is_off_the_leash(state, row, target, bout) {
        return let_go(state, row);
    }
    match close_in(state, row, target, distance) {
        Closing::There => {}
        Closing::Stranded { .. } => let_go(state, row),
        Closing::OnTheWay { stalled } => {
            let long = stalled >= LET_GO_S * u64::from(state.ticks_per_second);
            if long && !waits_its_turn(state, row, target) {
                let_go(state, row);
            }
        }
    }
}

/// Ends a bout; the unit goes on with its order.
pub(crate) fn end(state: &mut State, row: usize) {
    if state.units.bout[row].take().is_none() {
        return;
    }
    state.units.progress[row] = Progress::from(state.tick);
    let first = state.units.orders[row].first();
    match first.map(|order| &order.task) {
        Some(Task::AttackMove(_) | Task::Patrol(_) | Task::GuardPlace(_)) => {
            if !matches!(state.units.activity[row].bound(), Some(Bound::Place)) {
                queue::await_route(state, row, Bound::Place, Delay::default());
            }
        }
        _ => queue::halt(state, row),
    }
}

fn let_go(state: &mut State, row: usize) {
    state.units.calm_until[row] = state.tick + CALM_S * u64::from(state.ticks_per_second);
    end(state, row);
}

fn distance(state: &State, row: usize) -> Option<Distance> {
    let weapon = state.kind(state.units.kind[row]).weapon?;
    Some(Distance {
        near_m: weapon.close_in_m(),
        keep_m: weapon.range_m,
        strict: true,
        side: None,
    })
}

/// Whether the foe, or the unit in going after it, has got too far from what the unit is about.
fn is_off_the_leash(state: &State, row: usize, target: usize, bout: Bout) -> bool {
    let notice = state.kind(state.units.kind[row]).notice_m;
    if let Some(ward) = state.ward(row) {
        return state.gap_from(ward.at, ward.radius, target) > notice * LEASH;
    }
    let strayed = state.units.position[row].distance(bout.from);
    strayed > 2.0 * notice || state.gap_m(row, target) > notice * LEASH
}

fn waits_its_turn(state: &State, row: usize, target: usize) -> bool {
    let range = distance(state, row).map_or(0.0, |distance| distance.keep_m);
    let reach = range + TURN_BODIES * state.units.radius[row];
    !walks(state, target) && state.gap_m(row, target) <= reach
}
