//! What bodies make of the steps that they would like to take that gather speed, brake and turn no faster than they can.

use crate::geom::Vec2;
use crate::motion::steering::{Drive, Driven, Turning, drive};
use crate::world::state::{Moves, State};

/// Puts the steps right of those that do not move as they like.
pub(super) fn drive_on(state: &State, moves: &mut Moves) {
    for row in 0..state.units.len() {
        let kind = state.kind_of(row);
        if kind.drives() && moves.limits[row] > 0.0 && !is_on_link(state, row) {
            drive_one(state, moves, row);
        }
    }
}

fn is_on_link(state: &State, row: usize) -> bool {
    let walk = state.units.locomotion[row].walk();
    walk.is_some_and(|walk| walk.is_on_link())
}

fn drive_one(state: &State, moves: &mut Moves, row: usize) {
    let kind = state.kind_of(row);
    let Some(legs) = kind.legs else { return };
    let tick_s = state.tick_s();
    let now = Driven {
        velocity: state.units.velocity[row],
        facing: state.units.facing[row],
    };
    let wish = moves.steps[row] / tick_s;
    if wish == Vec2::ZERO && now.velocity == Vec2::ZERO {
        return;
    }
    let how = Drive {
        speed: moves.limits[row] / tick_s,
        acceleration: legs.acceleration.unwrap_or(f32::INFINITY),
        braking: legs.braking,
        turn_rate: kind.body.turn_rate,
        turning: legs.turning,
    };
    let next = drive(now, wish, None, &how, tick_s);
    if next.velocity != wish {
        moves.steps[row] = next.velocity * tick_s;
        moves.wanted[row] = state.units.position[row] + moves.steps[row];
        // It may no longer be on its path.
        moves.turned[row] = true;
    }
    if legs.turning != Turning::Free {
        moves.faces[row] = Some(next.facing);
    }
}
