//! Units of the assault that neither an order nor a drill leads make for their goal, and fight on the way.

use crate::drill::Faculty;
use crate::world::ids::{Ticket, UnitId};
use crate::world::kind::{Ability, Kind};
use crate::world::message::{Action, Event};
use crate::world::orders::{Dispatch, Minds};
use crate::world::state::{Events, Handle, Scratch, State};

pub(super) fn run(
    state: &mut State,
    minds: &mut Minds,
    scratch: &mut Scratch,
    events: &mut Events,
) {
    let newcomers = events.iter().filter_map(|event| match event {
        Event::CameIn { unit, .. } => Some(*unit),
        _ => None,
    });
    // Other units are checked once a second, so that a unit whose way was blocked tries again.
    let second = u64::from(state.rules.ticks_per_second);
    let is_due = |unit: UnitId| (state.clock.tick + u64::from(unit.slot())).is_multiple_of(second);
    let others = state.of_wave.iter().map(|(unit, _)| unit);
    let due: Vec<UnitId> = newcomers
        .chain(others.filter(|unit| is_due(*unit)))
        .collect();
    let mut dispatch = Dispatch {
        state,
        minds,
        scratch,
        events,
    };
    for unit in due {
        send(&mut dispatch, unit);
    }
}

fn send(dispatch: &mut Dispatch<'_>, unit: UnitId) {
    let state = &*dispatch.state;
    let goal = state.of_wave.get(unit).map(|sent| sent.goal);
    let (Some(row), Some(running), Some(goal)) = (state.units.row(unit), &state.assault, goal)
    else {
        return;
    };
    let is_led = !dispatch.minds.activities.as_slice()[row].is_empty();
    if is_led || !is_undirected(state, state.kind_of(row)) {
        return;
    }
    let Some(goal) = running.goals.get(usize::from(goal)) else {
        return;
    };
    let to = goal.at;
    let action = if state.kind_of(row).can(Ability::Strikes) {
        Action::AttackMove { to }
    } else {
        Action::move_to(to)
    };
    let ticket = Ticket {
        side: Some(state.units.side[row]),
        number: 0,
    };
    // Nobody handed this in, so a refusal is not reported; the unit tries again within a second.
    let _ = dispatch.start(ticket, unit, &action);
}

/// Whether units of a kind can move and no drill of theirs controls their legs.
fn is_undirected(state: &State, kind: &Kind) -> bool {
    let drills = &state.derived.program.drills;
    let mut used = kind.drills.iter();
    let leads = |drill: u16| {
        let drill = drills.get(usize::from(drill));
        drill.is_some_and(|drill| drill.controls & Faculty::Legs as u8 != 0)
    };
    kind.can(Ability::Moves) && !used.any(|used| leads(used.drill))
}
