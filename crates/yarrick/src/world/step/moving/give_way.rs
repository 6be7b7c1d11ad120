//! Gets the units out of one another's way before they move.
//!
//! Walking units look round, and so do standing ones that were touched. A unit that is left alone
//! costs nothing.

use crate::geom::Vec2;
use crate::motion::{Bodies, Crowd, ROUNDED_UP, Turns, step_between};
use crate::near::Near;
use crate::world::state::{Moves, SETTLING_TICKS, State, Units};

/// How often in a tick everybody tries to get on.
const PASSES: usize = 3;

/// Sets `moves.at` to where the others let each unit get.
pub(super) fn give_way(state: &mut State, near: &Near, moves: &mut Moves) {
    begin(state, moves);
    push(state, near, moves);
    settle(state, near, moves);
}

/// Initialises the wanted position of each unit to the end of its step. Units that walk or were recently touched look for contacts.
fn begin(state: &State, moves: &mut Moves) {
    for (listed, (step, settling)) in moves
        .listed
        .iter_mut()
        .zip(moves.steps.iter().zip(&state.units.settling_ticks))
    {
        *listed |= *step != Vec2::ZERO || *settling > 0;
    }
    moves.given.clone_from(&moves.steps);
}

/// Corrects the steps of units that might touch.
fn push(state: &mut State, near: &Near, moves: &mut Moves) {
    let mut contacts = core::mem::take(&mut moves.contacts);
    contacts.clear(state.units.len());
    let units = &state.units;
    let bodies = Bodies {
        at: &units.position,
        steps: &moves.steps,
        radii: &units.radius,
        widest: state.derived.widest,
        limits: &moves.limits,
        farthest: moves.farthest(),
        turns: Turns {
            remaining_m: &moves.remaining_m,
            groups: &moves.group,
        },
        sides: &moves.side,
        oncoming: &moves.oncoming,
    };
    for row in 0..units.len() {
        if moves.listed[row] {
            contacts.find(&bodies, near, row as u32, &moves.listed);
            contacts.find_walls(&bodies, state.ground_view(row), row as u32);
        }
    }
    let (steps, turns) = (&moves.steps, bodies.turns);
    contacts.solve(&mut moves.given, |pushed, by| {
        let (pushed, by) = (pushed as usize, by as usize);
        moves.pushed[pushed] = true;
        moves.pushed_by_passer[pushed] |= moves.passing[by] || moves.pushed_by_passer[by];
        moves.waits[pushed] |=
            turns.go_together(steps, pushed, by) && turns.goes_before(by, pushed);
        let ahead = steps[pushed].dot(units.position[by] - units.position[pushed]) > 0.0;
        moves.blocked[pushed] |= ahead && units.locomotion[by].stands();
    });
    for (row, pushed) in moves.pushed.iter().enumerate() {
        if *pushed {
            state.units.settling_ticks[row] = SETTLING_TICKS;
            moves.given[row] = moves.given[row].clamp_length_max(moves.limits[row]);
        }
    }
    moves.contacts = contacts;
}

/// Moves the units one after another, each as far as its step is free, and then once more the units that were blocked by others that
/// have moved on since. A unit that cannot touch any other moves at once.
fn settle(state: &State, near: &Near, moves: &mut Moves) {
    let units = &state.units;
    let drift = 2.0 * moves.farthest();
    moves.at.clone_from(&units.position);
    let mut order = core::mem::take(&mut moves.order);
    order.clear();
    order.reserve(units.len());
    for (row, given) in moves.given.iter().enumerate() {
        let most = moves.limits[row] * ROUNDED_UP;
        if *given == Vec2::ZERO {
            continue;
        }
        if moves.contacts.meets_any(row as u32) || given.length_squared() > most * most {
            order.push(row as u32);
        } else {
            moves.at[row] = goal(units, moves, row);
        }
    }
    let left = |row: u32| moves.remaining_m[row as usize];
    // Ties go by row: a sort that keeps their order would take memory.
    order.sort_unstable_by(|a, b| left(*a).total_cmp(&left(*b)).then(a.cmp(b)));
    for _ in 0..PASSES {
        for &row in &order {
            let row = row as usize;
            let wanted = goal(units, moves, row);
            if moves.at[row] == wanted {
                continue;
            }
            let crowd = Crowd {
                at: &moves.at,
                radii: &units.radius,
                widest: state.derived.widest,
                drift,
            };
            let to = step_between(&crowd, near, state.ground_view(row), row as u32, wanted);
            // Sliding along others leads nobody farther than it can walk.
            if to.distance(units.position[row]) <= moves.limits[row] * ROUNDED_UP {
                moves.at[row] = to;
            }
        }
        order.reverse();
    }
    moves.order = order;
}

/// Where the step that is left to a unit would take it.
fn goal(units: &Units, moves: &Moves, row: usize) -> Vec2 {
    if moves.given[row] == moves.steps[row] {
        moves.wanted[row]
    } else {
        units.position[row] + moves.given[row]
    }
}
