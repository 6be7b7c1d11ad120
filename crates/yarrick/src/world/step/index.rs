//! Files all units under where they are now: for the next tick, and for picking.

use crate::world::state::{Scratch, State};

pub(in crate::world) fn run(state: &State, scratch: &mut Scratch) {
    let cell_m = state.derived.widest * 2.0;
    let bounds = state.ground.bounds();
    scratch.near.rebuild(bounds, cell_m, &state.units.position);
    scratch.near_is_stale = false;
}
