//! Breaks arches: bodies that are wedged side by side before a narrow place.
//!
//! ```text
//!     ██████
//!     ( a )█      The way ahead of b and c is free, but they do not fit in between a and d, and push at the same time.
//!      ( b )      Of the two, the one with the longer way left backs off for a moment.
//!      ( c )
//!     ( d )█
//!     ██████
//! ```

use crate::geom::Vec2;
use crate::near::Near;
use crate::world::state::{Locomotion, Moves, Scratch, State, Walk};

/// Seconds without progress after which a unit may be part of an arch. It backs off each time that many have passed.
const AFTER_S: u32 = 5;

/// Seconds for which it backs off, but at least one tick.
const FOR_S: f32 = 0.5;

/// Two touch that are nearer than this, in radii of the smaller one.
const TOUCH_RADII: f32 = 0.1;

/// A body is ahead of another if the cosine of the angle between it and the wish of the other is larger than this.
const AHEAD: f32 = 0.7;

/// Whether it is time to look whether a walk is part of an arch, given the number of ticks in a second.
pub(super) fn is_due(walk: &Walk, second: u32) -> bool {
    let ticks = walk.patience().all();
    ticks > 0 && ticks.is_multiple_of(AFTER_S * second)
}

/// Lets one body of each arch back off: of those for which it [`is_due`].
pub(super) fn break_up(state: &mut State, scratch: &Scratch) {
    let second = state.rules.ticks_per_second as f32;
    let until = state.clock.tick + (FOR_S * second).ceil() as u64;
    for &row in &scratch.wedged {
        let row = row as usize;
        if yields(state, &scratch.near, &scratch.moves, row)
            && let Locomotion::Walking(walk) = &mut state.units.locomotion[row]
        {
            walk.back_off(until);
        }
    }
}

/// Whether a body is held up by bodies beside it alone, and one of these goes before it.
fn yields(state: &State, near: &Near, moves: &Moves, row: usize) -> bool {
    let units = &state.units;
    let wish = moves.wishes[row].normalize_or_zero();
    let walk = units.locomotion[row].walk();
    let backs_off = walk.is_none_or(|walk| walk.backs_off(state.clock.tick));
    if wish == Vec2::ZERO || backs_off || moves.slots[row].is_some() {
        return false;
    }
    let turns = moves.turns();
    let (at, radius) = (units.position[row], units.radius[row]);
    let reach = radius * (1.0 + TOUCH_RADII) + state.derived.widest;
    let (mut is_beside, mut goes_before) = (false, false);
    for other in near.within(at, reach).map(|other| other as usize) {
        let gap = units.position[other] - at;
        let distance = gap.length();
        let smaller = radius.min(units.radius[other]);
        if other == row || distance > radius + units.radius[other] + smaller * TOUCH_RADII {
            continue;
        }
        let onward = gap.dot(wish);
        if onward > AHEAD * distance {
            return false;
        }
        is_beside |= onward > 0.0;
        goes_before |= moves.held_up[other]
            && moves.side[other] == moves.side[row]
            && turns.go_together(&moves.wishes, row, other)
            && turns.goes_before(other, row);
    }
    is_beside && goes_before
}
