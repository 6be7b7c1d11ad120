//! Noticing that one's own are attacked.

use crate::near::Near;
use crate::world::kind::Ability;
use crate::world::state::{Alarm, State};

/// For this many seconds an attack is answered.
const FRESH_S: u32 = 2;

/// The most attacks that killed a unit which are remembered.
const MOST_ALARMS: usize = 64;

/// The nearest unit that has attacked a unit or others of its side within its notice, lately.
pub(super) fn assailant(state: &State, near: &Near, row: usize) -> Option<usize> {
    let calm = state.no_chase_until.get(state.units.id[row]);
    let is_calm = calm.is_some_and(|until| state.clock.tick < *until);
    let since = since(state);
    let nobody_attacks = state.unrest.latest_hit < since;
    if is_calm || nobody_attacks || !state.kind_of(row).can(Ability::Moves) {
        return None;
    }
    let side = state.units.side[row];
    let (at, notice_m) = (state.units.position[row], state.kind_of(row).notice_m());
    let mut best: Option<(f32, usize)> = None;
    let mut consider = |by| {
        let Some(foe) = state.units.row(by) else {
            return;
        };
        let is_foe = state.derived.stances.are_foes(side, state.units.side[foe]);
        let gap_m = state.gap_m(row, foe);
        let id = |row: usize| state.units.id[row];
        // Ties by id.
        let is_nearer = best.is_none_or(|(known_m, known)| (gap_m, id(foe)) < (known_m, id(known)));
        if is_foe && state.kind_of(foe).body.health > 0.0 && is_nearer {
            best = Some((gap_m, foe));
        }
    };
    let fellows = near.within(at, notice_m + state.derived.farthest);
    for fellow in fellows.map(|fellow| fellow as usize) {
        if fellow < state.units.len()
            && state.units.side[fellow] == side
            && let Some((tick, by)) = state.last_hit.get(state.units.id[fellow])
            && *tick >= since
        {
            consider(*by);
        }
    }
    let alarms = state.unrest.alarms.iter();
    for alarm in alarms.filter(|alarm| alarm.tick >= since && alarm.side == side) {
        if alarm.at.distance(at) <= notice_m {
            consider(alarm.by);
        }
    }
    best.map(|(_, foe)| foe)
}

/// Remembers for a while that a unit has been killed, and by which.
pub(crate) fn raise_alarm(state: &mut State, alarm: Alarm) {
    let since = since(state);
    state.unrest.alarms.retain(|known| known.tick >= since);
    if state.unrest.alarms.len() >= MOST_ALARMS {
        state.unrest.alarms.remove(0);
    }
    state.unrest.alarms.push(alarm);
}

/// The first tick whose attacks are answered still.
fn since(state: &State) -> u64 {
    let fresh = u64::from(state.ticks(FRESH_S));
    state.clock.tick.saturating_sub(fresh)
}
