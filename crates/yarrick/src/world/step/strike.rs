//! Strikes: whoever stands and has its foe within range turns to it, and strikes when it can.
//!
//! All blows of a tick are gathered before any lands, so that nobody is the first.

use crate::combat::{Blow, deal};
use crate::geom::angle;
use crate::world::activity::Activity;
use crate::world::event::Event;
use crate::world::state::{Events, Scratch, State};

pub(in crate::world) fn run(state: &mut State, scratch: &mut Scratch, events: &mut Events) {
    scratch.blows.clear();
    for row in 0..state.units.len() {
        if state.units.bout[row].is_some() && matches!(state.units.activity[row], Activity::Stand) {
            scratch.blows.extend(strike(state, events, row));
        }
    }
    for fallen in deal(&scratch.blows, &mut state.units.health) {
        let unit = state.units.id[fallen.who as usize];
        let by = state.units.id[fallen.by as usize];
        state.slain.push(unit);
        events.push(Event::Died { unit, by });
    }
}

fn strike(state: &mut State, events: &mut Events, row: usize) -> Option<Blow> {
    let target = state.units.row(state.units.bout[row]?.foe)?;
    let kind = state.kind(state.units.kind[row]);
    let (weapon, turn_rate) = (kind.weapon?, kind.turn_rate);
    if state.gap_m(row, target) > weapon.range_m {
        return None;
    }
    let towards = state.units.position[target] - state.units.position[row];
    if let Some(heading) = angle::of(towards) {
        let limit = turn_rate * state.tick_s();
        let facing = &mut state.units.facing[row];
        *facing = angle::turn_towards(*facing, heading, limit);
    }
    if state.tick < state.units.ready_at[row] {
        return None;
    }
    state.units.ready_at[row] = state.tick + weapon.cooldown_ticks(state.ticks_per_second);
    events.push(Event::Struck {
        unit: state.units.id[row],
        target: state.units.id[target],
        damage: weapon.damage,
    });
    Some(Blow {
        by: row as u32,
        target: target as u32,
        damage: weapon.damage,
    })
}
