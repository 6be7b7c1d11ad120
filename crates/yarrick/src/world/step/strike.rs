//! Strikes: a unit that aims at a foe within range turns to it and strikes when it can.
//!
//! All blows of a tick are gathered before any lands, so that no unit is the first.

use crate::combat::{Blow, deal};
use crate::geom::angle;
use crate::world::message::Event;
use crate::world::state::{Departure, Events, Scratch, State};

pub(super) fn run(state: &mut State, scratch: &mut Scratch, events: &mut Events) {
    scratch.blows.clear();
    for row in 0..state.units.len() {
        if let Some(aim) = state.units.aim[row]
            && (aim.on_the_move || state.units.locomotion[row].stands())
        {
            scratch.blows.extend(strike(state, events, row));
        }
    }
    for fallen in deal(&scratch.blows, &mut state.units.health) {
        let unit = state.units.id[fallen.who as usize];
        let by = Some(state.units.id[fallen.by as usize]);
        scratch.departures.push((unit, Departure::Died));
        events.push(Event::Died { unit, by });
    }
}

fn strike(state: &mut State, events: &mut Events, row: usize) -> Option<Blow> {
    let target = state.units.row(state.units.aim[row]?.foe)?;
    let kind = state.kind_of(row);
    let (weapon, turn_rate) = (kind.weapon?, kind.body.turn_rate);
    if state.gap_m(row, target) > weapon.range_m {
        return None;
    }
    let towards = state.units.position[target] - state.units.position[row];
    if state.units.locomotion[row].stands()
        && let Some(heading) = angle::of(towards)
    {
        let limit = turn_rate * state.tick_s();
        let facing = &mut state.units.facing[row];
        *facing = angle::turn_towards(*facing, heading, limit);
    }
    if state.clock.tick < state.units.ready_at[row] {
        return None;
    }
    let cooldown = weapon.cooldown_ticks(state.rules.ticks_per_second);
    state.units.ready_at[row] = state.clock.tick + cooldown;
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
