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
    for (unit, _) in &left {
        state.cover_ground(*unit, false);
        if let Some(row) = state.units.row(*unit) {
            state.planner.cancel(unit.number());
            state.ordered_facing.remove(*unit);
            state.no_chase_until.remove(*unit);
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
        let Some(points) = minds.rally.get_mut(building) else {
            continue;
        };
        let mut changed = false;
        for spot in points.iter_mut() {
            if let Spot::Unit(unit) = *spot
                && departure(unit).is_some()
                && let Some(row) = state.units.row(unit)
            {
                *spot = Spot::Ground(state.units.position[row]);
                changed = true;
            }
        }
        if changed && departure(building).is_none() {
            let to = points.clone();
            events.push(Event::Rallied { unit: building, to });
        }
    }
}
