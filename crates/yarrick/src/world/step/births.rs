//! Births: the one place where units begin that nobody hands in. What the assault sends enters the world here.

use crate::geom::{Vec2, angle};
use crate::waves::Arrival;
use crate::world::ids::UnitId;
use crate::world::kind::KindId;
use crate::world::message::Event;
use crate::world::orders::Minds;
use crate::world::state::{Events, Pose, RunningAssault, Scratch, Sent, State};
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
    if scratch.near_is_stale {
        super::index::run(state, scratch);
    }
}

/// Lets a unit enter the world. `None` where the world is full.
fn bear(
    state: &mut State,
    minds: &mut Minds,
    (kind, side): (KindId, crate::world::ids::SideId),
    (at, facing): (Vec2, f32),
) -> Option<UnitId> {
    let row = state.check_entry(kind, side, at, facing).ok()?;
    let unit = state.enter(row);
    minds.add();
    Some(unit)
}

fn note(state: &mut State, events: &mut Events, unit: UnitId, arrival: Arrival) {
    let Arrival { wave, goal, .. } = arrival;
    state.of_wave.set(unit, Sent { wave, goal });
    events.push(Event::CameIn { unit, wave });
}
