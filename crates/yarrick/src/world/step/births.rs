//! Births: the one place where units begin that nobody hands in. What the assault sends and what buildings have produced
//! enters the world here.

use crate::geom::{Vec2, angle};
use crate::waves::Arrival;
use crate::world::ids::{SideId, UnitId};
use crate::world::kind::KindId;
use crate::world::message::{Event, Spot};
use crate::world::orders::{Dispatch, Minds};
use crate::world::state::{Events, Pose, Production, RunningAssault, Scratch, Sent, State};
use core::f32::consts::TAU;

/// The most units that come in within a tick: others wait for the next, so that no wave stalls one.
const MAX_BIRTHS: u32 = 32;

/// How many random places at an entry are tried in a tick before a unit waits.
const TRIES: u32 = 12;

pub(super) fn run(
    state: &mut State,
    minds: &mut Minds,
    scratch: &mut Scratch,
    events: &mut Events,
) {
    send(state, minds, scratch, events);
    produce(state, minds, scratch, events);
    if scratch.near_is_stale {
        super::index::run(state, scratch);
    }
}

/// Lets in what the assault sends.
fn send(state: &mut State, minds: &mut Minds, scratch: &mut Scratch, events: &mut Events) {
    let Some(mut running) = state.assault.take() else {
        return;
    };
    let now = state.clock.tick;
    if let Some(wave) = running.assault.begin(now) {
        events.push(Event::WaveBegan { wave });
    }
    let RunningAssault {
        assault,
        places,
        entries,
        side,
        ..
    } = &mut running;
    let mut left = MAX_BIRTHS;
    assault.send(now, |arrival| {
        if left == 0 {
            return false;
        }
        let entry = &entries[usize::from(arrival.entry)];
        let kind = KindId(arrival.kind);
        let room = (0..TRIES).find_map(|_| {
            let out = angle::direction(places.between(0.0, TAU));
            // Evenly over the disc: by the root of a random part of its area.
            let at = entry.at + out * (entry.spread_m * places.unit().sqrt());
            let pose = Pose {
                position: at,
                facing: entry.facing,
            };
            state
                .is_free_spot(Some(&scratch.near), kind, pose)
                .then_some(at)
        });
        let Some(at) = room else {
            // The rest of the crowd at the entry finds no room either.
            left = left.saturating_sub(1);
            return false;
        };
        let unit = bear(state, minds, (kind, *side), (at, entry.facing));
        let Some(unit) = unit else {
            return false;
        };
        left -= 1;
        scratch.near_is_stale = true;
        note(state, events, unit, arrival);
        true
    });
    state.assault = Some(running);
}

/// Lets out what buildings have finished, and sends it to their rally points.
fn produce(state: &mut State, minds: &mut Minds, scratch: &mut Scratch, events: &mut Events) {
    let finished = |(by, production): (UnitId, &Production)| {
        let kind = *production.line.finished()?;
        Some((by, kind, production.is_held_up))
    };
    let finished: Vec<_> = state.productions.iter().filter_map(finished).collect();
    for (by, kind, was_held_up) in finished {
        let Some(row) = state.units.row(by) else {
            continue;
        };
        let side = state.units.side[row];
        let rally = minds.rally.get(by).cloned().unwrap_or_default();
        let place = way_out(state, scratch, (row, kind), rally.first());
        let unit = place.and_then(|(at, facing)| bear(state, minds, (kind, side), (at, facing)));
        let Some(unit) = unit else {
            if !was_held_up {
                state
                    .productions
                    .change(by, |production| production.is_held_up = true);
                events.push(Event::NoWayOut { by, kind });
            }
            continue;
        };
        scratch.near_is_stale = true;
        state.productions.change(by, |production| {
            production.is_held_up = false;
            production.line.take_finished()
        });
        events.push(Event::Produced { unit, by });
        let mut dispatch = Dispatch {
            state,
            minds,
            scratch,
            events,
        };
        for to in rally {
            dispatch.send_on(unit, to);
        }
    }
}

/// How far from a building what it produces may come out, in metres.
const WAY_OUT_M: f32 = 6.0;

/// Where a unit of a kind comes out of a building, and where it looks: on the side of the first rally point, or of where
/// the building faces.
fn way_out(
    state: &State,
    scratch: &Scratch,
    (row, kind): (usize, KindId),
    rally: Option<&Spot>,
) -> Option<(Vec2, f32)> {
    let middle = state.middle(row);
    let to = match rally {
        Some(Spot::Ground(at)) => Some(*at),
        Some(Spot::Unit(unit)) => state.units.row(*unit).map(|row| state.units.position[row]),
        None => None,
    };
    let heading = to.and_then(|to| angle::of(to - middle));
    let facing = heading.unwrap_or(state.units.facing[row]);
    let out = angle::direction(facing);
    let edge = match state.block(row) {
        Some(block) => block.edge_towards(out),
        None => middle + out * state.units.radius[row],
    };
    let radius = state.kind(kind).body.radius_m;
    let at = edge + out * (radius + 0.1);
    let near = Some(&scratch.near);
    let at = state.nearest_free_spot(near, kind, (at, facing), WAY_OUT_M, |_| true)?;
    Some((at, facing))
}

/// Lets a unit enter the world. `None` where the world is full.
fn bear(
    state: &mut State,
    minds: &mut Minds,
    (kind, side): (KindId, SideId),
    (at, facing): (Vec2, f32),
) -> Option<UnitId> {
    let row = state.check_entry(kind, side, at, facing).ok()?;
    let unit = state.enter(row);
    minds.add(state);
    Some(unit)
}

fn note(state: &mut State, events: &mut Events, unit: UnitId, arrival: Arrival) {
    let Arrival { wave, goal, .. } = arrival;
    state.of_wave.set(unit, Sent { wave, goal });
    events.push(Event::CameIn { unit, wave });
}
