//! Striking the ground: a unit that aims at a point fires there, or strikes the foe that stands there.

use super::aim::{fire, muzzle, strike_at_once};
use crate::geom::Vec2;
use crate::geom::angle;
use crate::world::arms;
use crate::world::message::Event;
use crate::world::state::{Events, Scratch, State};

/// How near to the point a foe has to be to be struck there by a weapon without projectiles, in metres from its edge.
const AT_POINT_M: f32 = 0.1;

pub(super) fn run(state: &mut State, scratch: &mut Scratch, events: &mut Events) {
    let aims: Vec<_> = state
        .ground_aims
        .iter()
        .map(|(unit, at)| (unit, *at))
        .collect();
    for (unit, at) in aims {
        if let Some(row) = state.units.row(unit)
            && state.units.locomotion[row].stands()
        {
            strike(state, scratch, events, (row, at));
        }
    }
}

fn strike(
    state: &mut State,
    scratch: &mut Scratch,
    events: &mut Events,
    (row, at): (usize, Vec2),
) -> Option<()> {
    let weapon = state.kind_of(row).weapon?;
    let from = state.middle(row);
    let heading = angle::of(at - from)?;
    let off = arms::point_at(state, row, heading);
    let is_ready = state.clock.tick >= state.units.ready_at[row] && off <= weapon.aim_within;
    if !is_ready || weapon.clear_line && !state.ground.sees(from, at) {
        return None;
    }
    let unit = state.units.id[row];
    match weapon.flight {
        Some(mut flight) => {
            // It comes down at the point.
            let far_m = muzzle(state, row, angle::direction(heading)).distance(at);
            flight.reach_m = flight.reach_m.min(far_m);
            let projectile = fire(state, (row, &weapon), (flight, heading))?;
            events.push(Event::FiredAtGround {
                unit,
                at,
                projectile,
            });
        }
        None => {
            let target = foe_at(state, scratch, (row, at))?;
            strike_at_once((state, scratch, events), row, target, weapon.damage);
        }
    }
    let cooldown = weapon.cooldown_ticks(state.rules.ticks_per_second);
    state.units.ready_at[row] = state.clock.tick + cooldown;
    Some(())
}

/// The foe that stands at a point: the nearest, ties by id.
fn foe_at(state: &State, scratch: &Scratch, (row, at): (usize, Vec2)) -> Option<usize> {
    let side = state.units.side[row];
    // The index has everybody where they were before they moved in this tick.
    let reach_m = state.derived.farthest + scratch.moves.farthest() + AT_POINT_M;
    let near = scratch.near.within(at, reach_m);
    let foes = near.map(|other| other as usize).filter(|other| {
        let is_foe = state
            .derived
            .stances
            .are_foes(side, state.units.side[*other]);
        is_foe && state.units.health[*other] > 0.0 && state.gap_from(at, 0.0, *other) <= AT_POINT_M
    });
    let key = |other: &usize| {
        let far_m = state.middle(*other).distance_squared(at);
        (far_m.to_bits(), state.units.id[*other])
    };
    foes.min_by_key(key)
}
