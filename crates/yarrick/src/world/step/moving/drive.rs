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

/// The distance to the point that a unit drives to, and whether it manoeuvres the other way round. Corners on its way are
/// rounded, and only manoeuvred to where it does not get on.
fn goal_of(state: &State, row: usize) -> (f32, bool) {
    let Some(walk) = state.units.locomotion[row].walk() else {
        return (f32::INFINITY, false);
    };
    // For the time of a manoeuvre each, a unit that is held up tries it one way round and the other.
    let period = (1.0 + state.kind_of(row).manoeuvre_s()) * state.rules.ticks_per_second as f32;
    let periods = (walk.held_up() as f32 / period) as u32;
    let ahead = walk.ahead();
    match ahead.first() {
        Some(to) if ahead.len() == 1 || periods > 0 => {
            let goal_m = state.units.position[row].distance(*to);
            (goal_m, periods % 2 == 1)
        }
        _ => (f32::INFINITY, false),
    }
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
    let (goal_m, other_way) = goal_of(state, row);
    let how = Drive {
        speed: moves.limits[row] / tick_s,
        acceleration: legs.acceleration.unwrap_or(f32::INFINITY),
        braking: legs.braking,
        turn_rate: kind.body.turn_rate,
        turning: legs.turning,
        goal_m,
        other_way,
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
