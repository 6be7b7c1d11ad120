//! Reports to activities how the legs fared that they have sent to a place.

use crate::world::orders::{Dispatch, Minds};
use crate::world::state::{Events, Scratch, State};

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
        dispatch.hear(*row as usize, *report);
    }
    reports.clear();
    scratch.reports = reports;
}
