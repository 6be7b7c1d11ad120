//! Lets units walk out of closed ground, where something was built on them or they left a link half way.

use crate::geom::canonical;
use crate::route::nearest_free;
use crate::world::legs;
use crate::world::state::{Locomotion, State};

pub(super) fn run(state: &mut State) {
    let mut trapped = core::mem::take(&mut state.unrest.trapped);
    trapped.retain(|&unit| {
        state
            .units
            .row(unit)
            .is_some_and(|row| !walk_out(state, row))
    });
    state.unrest.trapped = trapped;
}

/// Takes a step towards the nearest free place, through whatever there is. Gives whether that is done
/// with: the unit is free, or can never be.
fn walk_out(state: &mut State, row: usize) -> bool {
    let (from, radius) = (state.units.position[row], state.units.radius[row]);
    if let Locomotion::Walking(walk) = &state.units.locomotion[row] {
        if walk.is_on_link() {
            return false;
        }
        if state.ground_view(row).disc_is_clear(from, radius) {
            // It has come off a link; what has changed meanwhile is seen to now.
            if state.way_is_cut(row, &state.ground.bounds()) {
                legs::replan(state, row);
            }
            return true;
        }
    }
    let speed = state.kind_of(row).speed();
    let free = nearest_free(state.ground_view(row), state.clearance(row), radius, from);
    let Some(free) = free.filter(|_| speed > 0.0) else {
        return true;
    };
    let at = from + (free - from).clamp_length_max(speed * state.tick_s());
    state.units.position[row] = canonical(at);
    if !state
        .ground_view(row)
        .disc_is_clear(state.units.position[row], radius)
    {
        return false;
    }
    // The way that it was on began elsewhere.
    legs::replan(state, row);
    true
}
