//! Moves the flocks, and before that the zones that units carry to where these are now.

use crate::threads::Threads;
use crate::world::state::{State, WorldFlock};

pub(super) fn run(state: &mut State, threads: &Threads) {
    let tick_s = state.tick_s();
    let mut flocks = core::mem::take(&mut state.flocks);
    for known in &mut flocks {
        carry(state, known);
        known.flock.step_on(threads, tick_s);
    }
    state.flocks = flocks;
}

/// Brings zones after those that carry them. The zones of one that is gone are taken away.
fn carry(state: &State, WorldFlock { flock, carried, .. }: &mut WorldFlock) {
    carried.retain(|&(zone, unit)| match state.units.row(unit) {
        Some(row) => {
            let (at, facing) = (state.units.position[row], state.units.facing[row]);
            // A zone that the game has removed meanwhile is carried no farther.
            flock.move_zone(zone, at, facing).is_ok()
        }
        None => {
            let _ = flock.remove_zone(zone);
            false
        }
    });
}
