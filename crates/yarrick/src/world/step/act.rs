//! Lets each unit go on with what it is about: this decides where its legs go and what it aims at.

use crate::world::activity::line_up;
use crate::world::orders::{Dispatch, Minds};
use crate::world::state::{Events, Scratch, State};

/// How many ways to depots are worked out in a tick: units that ask after that wait for the next.
const SEARCHES: u32 = 8;

pub(super) fn run(
    state: &mut State,
    minds: &mut Minds,
    scratch: &mut Scratch,
    events: &mut Events,
) {
    line_up(state, minds.activities.as_slice(), scratch);
    scratch.searches_left = SEARCHES;
    let sightings = core::mem::take(&mut scratch.sightings);
    let mut noticed = sightings.iter().copied().peekable();
    let mut dispatch = Dispatch {
        state,
        minds,
        scratch,
        events,
    };
    for row in 0..dispatch.state.units.len() {
        let sighting = noticed.next_if(|sighting| sighting.row as usize == row);
        dispatch.advance(row, sighting);
    }
    scratch.sightings = sightings;
}
