//! Gets the units out of one another's way before they move.
//!
//! Those that walk look round, and those that stand and have been touched. Who is left alone
//! costs nothing.

use crate::ground::Ground;
use crate::motion::{Bodies, push_apart, step_clear};
use crate::near::Near;
use crate::world::Kind;
use crate::world::activity::Activity;
use crate::world::state::{Moves, State};
use crate::world::units::{RESTLESS_TICKS, Units};

/// How often in a tick overlaps are looked for and taken back. More keep dense crowds looser,
/// and cost accordingly; measured on two groups of 50 that walk through each other, four take
/// back most of what can be within the speed of the units.
const ROUNDS: usize = 4;

/// Moves `moves.at` from where each unit wants to be to where the others let it.
pub(super) fn give_way(state: &mut State, near: &Near, moves: &mut Moves) {
    begin(state, moves);
    let units = &mut state.units;
    let drift = (0..units.len()).map(|row| moves.limits[row]);
    let drift = 2.0 * drift.fold(0.0, f32::max);
    for _ in 0..ROUNDS {
        moves.awake.clone_from(&units.restless);
        let Moves {
            at,
            steps,
            limits,
            awake,
            active,
            pushes,
            listed,
            ..
        } = moves;
        let bodies = Bodies {
            wanted: at,
            steps,
            awake,
            radii: &units.radius,
            widest: state.widest,
            limits,
            drift,
        };
        let looking = active.len();
        pushes.clear();
        for k in 0..looking {
            let push = push_apart(&bodies, near, active[k], |other| {
                units.restless[other as usize] = RESTLESS_TICKS;
                if !core::mem::replace(&mut listed[other as usize], true) {
                    active.push(other);
                }
            });
            pushes.push(push);
        }
        apply((&state.ground, &state.kinds), units, moves, looking);
        if moves.active.is_empty() {
            break;
        }
    }
}

/// Everybody wants to be where their step takes them; those that walk and those that were
/// touched lately look round.
fn begin(state: &State, moves: &mut Moves) {
    let units = &state.units;
    moves.at.clear();
    moves.at.extend_from_slice(&moves.wanted);
    moves.stirred.clear();
    moves.stirred.resize(units.len(), false);
    moves.listed.clear();
    moves.active.clear();
    for (row, activity) in units.activity.iter().enumerate() {
        let looks = matches!(activity, Activity::Go(_)) || units.restless[row] > 0;
        moves.listed.push(looks);
        if looks {
            moves.active.push(row as u32);
        }
    }
}

/// Takes the pushes of the first `looking` active units, none farther than it can get in a tick.
/// Those that touched nobody look no more; those that were touched begin to.
fn apply((ground, kinds): (&Ground, &[Kind]), units: &Units, moves: &mut Moves, looking: usize) {
    let newcomers = moves.active.len() - looking;
    let mut kept = 0;
    for k in 0..looking {
        let row = moves.active[k] as usize;
        let Some(push) = moves.pushes[k] else {
            moves.listed[row] = false;
            continue;
        };
        let from = units.position[row];
        let moved = moves.at[row] + push - from;
        let to = from + moved.clamp_length_max(moves.limits[row]);
        // A wall does not yield: what it holds back, the others must give.
        let gait = kinds[usize::from(units.kind[row].0)].gait;
        moves.at[row] = step_clear(ground.going(gait), from, to, units.radius[row]);
        moves.stirred[row] = true;
        moves.active[kept] = row as u32;
        kept += 1;
    }
    moves.active.copy_within(looking.., kept);
    moves.active.truncate(kept + newcomers);
}
