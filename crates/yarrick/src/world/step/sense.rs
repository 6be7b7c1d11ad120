//! Lets units notice foes, each at its own interval. What they noticed is only noted here: their activities decide what
//! to do about it.

use crate::world::activity;
use crate::world::arms;
use crate::world::kind::Ability;
use crate::world::orders::Minds;
use crate::world::state::{Scratch, Sighting, State};

pub(super) fn run(state: &State, minds: &Minds, scratch: &mut Scratch) {
    scratch.sightings.clear();
    if !some_are_armed_against_others(state) {
        return;
    }
    for row in 0..state.units.len() {
        if !state.kind_of(row).can(Ability::Strikes)
            || !state.looks_now(row)
            || !state.is_complete(row)
        {
            continue;
        }
        let alertness = activity::alertness(state, row, &minds.activities[row]);
        if let Some((foe, chases)) = arms::notice(state, &scratch.near, row, alertness) {
            scratch.sightings.push(Sighting {
                row: row as u32,
                foe,
                chases,
            });
        }
    }
}

/// Whether there are two sides that are foes, one of them armed: else no unit need look.
fn some_are_armed_against_others(state: &State) -> bool {
    let (mut all, mut armed) = (0_u16, 0_u16);
    for row in 0..state.units.len() {
        let side = 1 << state.units.side[row].0;
        all |= side;
        armed |= if state.kind_of(row).can(Ability::Strikes) {
            side
        } else {
            0
        };
    }
    state.derived.stances.some_are_foes(armed, all)
}
