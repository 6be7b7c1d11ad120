//! Walking up to another unit.

use super::closing::{Closing, Distance, close_in, walks, why_no_nearer};
use crate::route::Shortfall;
use crate::world::order::{Failure, Outcome};
use crate::world::state::State;

/// How to stand beside what one walks up to.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Beside {
    /// How far from its edge, in metres from edge to edge.
    pub(crate) stand_off_m: f32,
    /// On which side of it, as the angle from where it looks in radians, if that matters.
    pub(crate) side: Option<f32>,
}

/// After so many seconds in which it came no nearer, a unit gives up.
const GIVE_UP_S: u64 = 20;

/// A unit that is within so many of its radii of the other, for each second in which it came no nearer, has
/// come as near as those before it let it.
const CROWDED_RADII: f32 = 8.0;

/// Goes on walking up to a unit. Gives the outcome, once there is one.
pub(crate) fn approach(
    state: &mut State,
    row: usize,
    target: usize,
    beside: Beside,
) -> Option<Outcome> {
    let distance = Distance {
        near_m: beside.stand_off_m,
        keep_m: beside.stand_off_m,
        strict: false,
        side: beside.side,
    };
    let has_begun = state.units.progress[row].best_m.is_finite();
    let closing = close_in(state, row, target, distance);
    let by_m = match beside.side {
        Some(_) => distance.short_of(state, row, target),
        None => state.gap_m(row, target),
    };
    let second = u64::from(state.ticks_per_second);
    Some(match closing {
        Closing::There => Outcome::Done,
        Closing::Stranded {
            why: Failure::NoWay(why),
        } if has_begun => Outcome::CameShort { why, by_m },
        Closing::Stranded { why } => Outcome::Failed { why },
        Closing::OnTheWay { stalled }
            if is_in_a_crowd(state, (row, target), by_m - beside.stand_off_m, stalled) =>
        {
            let why = Shortfall::Crowded;
            Outcome::CameShort { why, by_m }
        }
        Closing::OnTheWay { stalled } if stalled > GIVE_UP_S * second => {
            let why = why_no_nearer(state, target);
            Outcome::Failed { why }
        }
        Closing::OnTheWay { .. } => return None,
    })
}

/// Whether a unit that is `by_m` short of where it is to stand by another, and has come no nearer for so many ticks, had better stay.
fn is_in_a_crowd(state: &State, (row, target): (usize, usize), by_m: f32, stalled: u64) -> bool {
    let seconds = stalled / u64::from(state.ticks_per_second);
    // One that walks off is followed for longer.
    let seconds = if walks(state, target) {
        seconds.min(1)
    } else {
        seconds
    };
    let crowd_m = CROWDED_RADII * state.units.radius[row] * seconds as f32;
    seconds > 0 && by_m <= crowd_m
}
