//! Reports to activities how the legs fared that they have sent to a place.

use crate::world::legs;
use crate::world::orders::{Dispatch, Minds};
use crate::world::state::{Events, Owner, Scratch, State};

pub(super) fn run(
    state: &mut State,
    minds: &mut Minds,
    scratch: &mut Scratch,
    events: &mut Events,
) {
    let mut reports = core::mem::take(&mut scratch.reports);
    // Those of the planner came first, and then those of all that walked.
    reports.sort_by_key(|(row, _)| *row);
    let mut dispatch = Dispatch {
        state,
        minds,
        scratch,
        events,
    };
    for (row, report) in &reports {
        let row = *row as usize;
        dispatch.hear(row, *report);
        if dispatch.state.units.legs_owner[row] == Owner::Nobody {
            // It has made room, and stands from now on.
            legs::halt(dispatch.state, row);
        }
    }
    reports.clear();
    scratch.reports = reports;
}
