//! Flying: each projectile goes on by a tick, and is gone where it hits, ends, or leaves the map.

use crate::combat::{Blow, Flown};
use crate::geom::{first_touch_of_block, first_touch_of_disc};
use crate::world::message::Event;
use crate::world::state::{Events, Scratch, State};

pub(super) fn run(state: &mut State, scratch: &mut Scratch, events: &mut Events) {
    let mut row = 0;
    while row < state.projectiles.len() {
        if flies_on(state, scratch, events, row) {
            row += 1;
        } else {
            state.projectiles.remove(row);
        }
    }
}

fn flies_on(state: &mut State, scratch: &mut Scratch, events: &mut Events, row: usize) -> bool {
    let side = state.projectiles.side[row];
    let touch = |number: u32, from, step| {
        let other = number as usize;
        // A unit that died in this very tick is not there any more.
        let may_be_hit = state.units.health[other] > 0.0
            && state
                .derived
                .stances
                .are_foes(side, state.units.side[other]);
        if !may_be_hit {
            return None;
        }
        let part = match state.block(other) {
            Some(block) => first_touch_of_block(from, step, &block),
            None => {
                let (at, radius) = (state.units.position[other], state.units.radius[other]);
                first_touch_of_disc(from, step, at, radius)
            }
        };
        Some((part?, state.units.id[other]))
    };
    // The index has everybody where they were before they moved in this tick.
    let reach_m = state.derived.farthest + scratch.moves.farthest();
    let (tick_s, bounds) = (state.tick_s(), state.ground.bounds());
    let mut flight = state.projectiles.flight[row];
    let from = flight.position;
    let flown = flight.fly(tick_s, bounds, &scratch.near, reach_m, touch);
    state.projectiles.before[row] = from;
    state.projectiles.flight[row] = flight;
    let projectile = state.projectiles.id[row];
    let is_stopped = state.projectiles.low[row] && !state.ground.sees(from, flight.position);
    match flown {
        _ if is_stopped => events.push(Event::Spent { projectile }),
        Flown::On => return true,
        Flown::Spent { .. } | Flown::OffTheMap => events.push(Event::Spent { projectile }),
        Flown::Hit { number, .. } => {
            let (unit, damage) = (state.projectiles.by[row], state.projectiles.damage[row]);
            events.push(Event::Struck {
                unit,
                target: state.units.id[number as usize],
                damage,
                projectile: Some(projectile),
            });
            scratch.blows.push(Blow {
                by: unit,
                target: number,
                damage,
            });
        }
    }
    false
}
