//! Takes out the units that leave and the dead, and ends what others were about with them.

use crate::world::ids::UnitId;
use crate::world::message::{Event, Outcome, Spot};
use crate::world::orders::{Dispatch, Minds};
use crate::world::state::{Departure, Events, Scratch, State};

pub(super) fn run(
    state: &mut State,
    minds: &mut Minds,
    scratch: &mut Scratch,
    events: &mut Events,
) {
    if scratch.departures.is_empty() {
        return;
    }
    let mut left = core::mem::take(&mut scratch.departures);
    // A unit that died and was to leave besides has died.
    left.sort_unstable();
    left.dedup_by_key(|(unit, _)| *unit);
    let departure = |unit: UnitId| {
        let at = left.binary_search_by_key(&unit, |(unit, _)| *unit).ok()?;
        Some(left[at].1)
    };
    let mut dispatch = Dispatch {
        state,
        minds,
        scratch,
        events,
    };
    for row in 0..dispatch.state.units.len() {
        if departure(dispatch.state.units.id[row]).is_some() {
            dispatch.abandon(row, Outcome::UnitLost);
        } else {
            dispatch.settle(row, &departure);
        }
    }
    pin_rally_points(state, minds, events, departure);
    for (unit, departure) in &left {
        state.leave_wave(*unit, *departure);
        state.cover_ground(*unit, false);
        let spilled = state.end_work(*unit, *departure == Departure::CalledOff);
        let spilled = spilled.map(|load| Event::Spilled { unit: *unit, load });
        events.extend(spilled);
        if let Some(row) = state.units.row(*unit) {
            state.planner.cancel(unit.number());
            state.ordered_facing.remove(*unit);
            state.no_chase_until.remove(*unit);
            state.arms_turned.remove(*unit);
            state.pace.remove(*unit);
            state.sway.remove(*unit);
            state.last_hit.remove(*unit);
            state.ground_aims.remove(*unit);
            state.homes.remove(*unit);
            state.dials.remove(*unit);
            state.forget_senses(*unit);
            state.units.remove(row);
            minds.remove(row, *unit);
            events.push(Event::Gone { unit: *unit });
            scratch.near_is_stale = true;
        }
    }
    left.clear();
    scratch.departures = left;
}

/// Rally points on units that leave stay on the ground where these were last.
fn pin_rally_points(
    state: &State,
    minds: &mut Minds,
    events: &mut Events,
    departure: impl Fn(UnitId) -> Option<Departure>,
) {
    let buildings: Vec<UnitId> = minds.rally.ids().collect();
    for building in buildings {
        let is_gone = |spot: &Spot| matches!(*spot, Spot::Unit(unit) if departure(unit).is_some());
        let points = minds.rally.get(building).map(Vec::as_slice);
        if !points.is_some_and(|points| points.iter().any(is_gone)) {
            continue;
        }
        let to = minds.rally.change(building, |points| {
            for spot in points.iter_mut().filter(|spot| is_gone(spot)) {
                pin(state, spot);
            }
            points.clone()
        });
        if let Some(to) = to
            && departure(building).is_none()
        {
            events.push(Event::Rallied { unit: building, to });
        }
    }
}

/// A rally point on a unit becomes one on the ground where that is.
fn pin(state: &State, spot: &mut Spot) {
    if let Spot::Unit(unit) = *spot
        && let Some(row) = state.units.row(unit)
    {
        *spot = Spot::Ground(state.units.position[row]);
    }
}
