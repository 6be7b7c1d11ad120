//! Walking up to another unit.

use super::closing::{Closing, Distance, close_in, why_no_nearer};
use super::{Act, Behaviour, Faculties, Next};
use crate::route::Shortfall;
use crate::world::ids::UnitId;
use crate::world::legs::{self, walks};
use crate::world::message::{Failure, Outcome};
use crate::world::state::{Patience, Scratch, State};
use serde::{Deserialize, Serialize};

/// Seconds without coming nearer after which a unit gives up.
const GIVE_UP_S: u32 = 20;

/// Seconds after which a unit that waits behind others has come as near as they let it.
const SETTLES_S: u32 = 1;

/// A unit that is within so many of its radii of the other, for each second in which it came no nearer, has
/// come as near as those before it let it.
const CROWDED_RADII: f32 = 8.0;

/// Walking up to another unit.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Approach {
    target: UnitId,
    /// How far from its edge to stand, in metres from edge to edge.
    stand_off_m: f32,
    /// On which side of it, as the angle from where it looks in radians, if that matters.
    side: Option<f32>,
    patience: Patience,
}

impl Approach {
    pub(crate) fn new(target: UnitId, stand_off_m: f32, side: Option<f32>) -> Approach {
        Approach {
            target,
            stand_off_m,
            side,
            patience: Patience::default(),
        }
    }

    fn outcome(
        &mut self,
        (state, scratch): (&mut State, &Scratch),
        (row, target): (usize, usize),
    ) -> Option<Outcome> {
        let distance = Distance {
            side: self.side,
            ..Distance::within(self.stand_off_m, self.stand_off_m).spread()
        };
        let has_begun = self.patience.best_m.is_finite();
        let closing = close_in(state, scratch, (row, target), distance, &mut self.patience);
        let by_m = match self.side {
            Some(_) => distance.short_of(state, row, target),
            None => state.gap_m(row, target),
        };
        Some(match closing {
            Closing::There => Outcome::Done,
            Closing::Stranded {
                why: Failure::NoWay(why),
            } if has_begun => Outcome::CameShort { why, by_m },
            Closing::Stranded { why } => Outcome::Failed { why },
            Closing::Waits { ticks } if ticks >= state.ticks(SETTLES_S) => {
                let why = Shortfall::Crowded;
                Outcome::CameShort { why, by_m }
            }
            Closing::Waits { .. } => return None,
            Closing::OnTheWay { stalled }
                if is_in_a_crowd(state, (row, target), by_m - self.stand_off_m, stalled) =>
            {
                let why = Shortfall::Crowded;
                Outcome::CameShort { why, by_m }
            }
            Closing::OnTheWay { stalled } if stalled > state.ticks(GIVE_UP_S) => Outcome::Failed {
                why: why_no_nearer(state, target),
            },
            Closing::OnTheWay { .. } => return None,
        })
    }
}

impl Behaviour for Approach {
    fn needs(&self) -> Faculties {
        Faculties::LEGS
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        self.patience = Patience::default();
        legs::halt(act.state, act.row);
        Next::Continue
    }

    fn advance(&mut self, act: &mut Act<'_>) -> Next {
        let Some(target) = act.state.units.row(self.target) else {
            return Next::Continue;
        };
        match self.outcome((act.state, act.scratch), (act.row, target)) {
            Some(outcome) => Next::Ended(outcome),
            None => Next::Continue,
        }
    }

    fn target(&self) -> Option<UnitId> {
        Some(self.target)
    }
}

/// Whether a unit that is `by_m` short of where it is to stand by another, and has come no nearer for `stalled` ticks,
/// had better stay.
fn is_in_a_crowd(state: &State, (row, target): (usize, usize), by_m: f32, stalled: u32) -> bool {
    let seconds = stalled / state.rules.ticks_per_second;
    // One that walks off is followed for longer.
    let seconds = if walks(state, target) {
        seconds.min(1)
    } else {
        seconds
    };
    let crowd_m = CROWDED_RADII * state.units.radius[row] * seconds as f32;
    seconds > 0 && by_m <= crowd_m
}
