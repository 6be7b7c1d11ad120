//! Thinking: drills look whether a rule holds, and do their next steps. Orders go before them.

use crate::world::activity::Faculties;
use crate::world::drills::DrillHost;
use crate::world::orders::{Dispatch, Minds};
use crate::world::state::{Events, Owner, Scratch, State};
use std::sync::Arc;

pub(super) fn run(
    state: &mut State,
    minds: &mut Minds,
    scratch: &mut Scratch,
    events: &mut Events,
) {
    if state.derived.program.drills.is_empty() {
        return;
    }
    let mut dispatch = Dispatch {
        state,
        minds,
        scratch,
        events,
    };
    for row in 0..dispatch.state.units.len() {
        for nth in 0..dispatch.minds.drills.as_slice()[row].len() {
            think(&mut dispatch, row, nth);
        }
    }
}

/// Lets a drill of a unit think, if it has anything to do in this tick.
fn think(dispatch: &mut Dispatch<'_>, row: usize, nth: usize) {
    let now = dispatch.state.clock.tick;
    let machine = &dispatch.minds.drills.as_slice()[row][nth];
    let is_blocked = is_blocked(dispatch, row, nth);
    if is_blocked {
        if !machine.sleeps() {
            dispatch.stop_drill(row, nth as u8);
            dispatch.minds.drills[row][nth].sleep();
        }
        return;
    }
    if !machine.sleeps() && !machine.is_due(now) {
        return;
    }
    // Out of its place while it thinks: what it does ends nothing of its own.
    let mut machine = machine.clone();
    let program = Arc::clone(&dispatch.state.derived.program);
    machine.wake(&program, now);
    let since = machine.since();
    let mut host = DrillHost {
        dispatch,
        row,
        nth,
        since,
    };
    machine.think(&program, now, &mut host);
    dispatch.minds.drills[row][nth] = machine;
}

/// Whether something else drives what a drill of a unit controls.
fn is_blocked(dispatch: &Dispatch<'_>, row: usize, nth: usize) -> bool {
    let state = &*dispatch.state;
    let used = state.kind_of(row).drills.get(nth);
    let drill = used.and_then(|used| state.derived.program.drills.get(usize::from(used.drill)));
    let Some(drill) = drill else {
        return true;
    };
    let controls = Faculties::of_drill(drill.controls);
    let mut running = dispatch.minds.activities.as_slice()[row].iter();
    let is_other = |owner: Owner| matches!(owner, Owner::Order(_) | Owner::Change(_));
    !state.is_complete(row)
        || running.any(|running| is_other(running.owner) && running.needs().overlap(controls))
}
