//! Striking a point of the ground from within range of it, until told otherwise.

use super::{Act, Behaviour, Faculties, Next};
use crate::geom::Vec2;
use crate::world::kind::{Ability, Kind};
use crate::world::legs;
use crate::world::message::{Failure, Outcome};
use crate::world::state::{Locomotion, MoveTarget, Pace, Patience, State};
use serde::{Deserialize, Serialize};

/// Seconds without coming nearer after which a unit gives up.
const GIVE_UP_S: u32 = 20;

/// How much nearer a unit must come, in metres, to have made progress.
const PROGRESS_M: f32 = 0.25;

/// Striking a point of the ground.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct AttackGround {
    at: Vec2,
    patience: Patience,
}

impl AttackGround {
    pub(crate) fn new(at: Vec2) -> AttackGround {
        AttackGround {
            at,
            patience: Patience::default(),
        }
    }

    /// The metres from the edge of the unit to the point.
    fn gap_m(&self, state: &State, row: usize) -> f32 {
        match state.block(row) {
            Some(block) => block.distance(self.at),
            None => {
                (state.units.position[row].distance(self.at) - state.units.radius[row]).max(0.0)
            }
        }
    }
}

impl Behaviour for AttackGround {
    fn needs(&self) -> Faculties {
        Faculties::BOTH
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        self.patience = Patience::default();
        legs::halt(act.state, act.row);
        self.advance(act)
    }

    fn advance(&mut self, act: &mut Act<'_>) -> Next {
        let (state, row) = (&mut *act.state, act.row);
        let unit = state.units.id[row];
        let Some(weapon) = state.kind_of(row).weapon else {
            return Next::Ended(Outcome::Done);
        };
        let gap_m = self.gap_m(state, row);
        let stands = state.units.locomotion[row].stands();
        let wanted_m = if stands {
            weapon.range_m
        } else {
            weapon.close_in_m()
        };
        if gap_m <= wanted_m {
            legs::halt(state, row);
            self.patience = Patience::default();
            state.ground_aims.set(unit, self.at);
            return Next::Continue;
        }
        state.ground_aims.remove(unit);
        let failed = |why| Next::Ended(Outcome::Failed { why });
        if !state.kind_of(row).can(Ability::Moves) {
            return failed(Failure::OutOfRange);
        }
        if stands {
            let body_m = state.units.radius[row];
            let target = MoveTarget::Unit {
                to: self.at,
                short_m: weapon.close_in_m() * 0.98 + body_m,
                onward: None,
            };
            legs::go_to(state, row, target);
        }
        if !matches!(
            state.units.locomotion[row],
            Locomotion::AwaitingRoute { .. }
        ) {
            let pace = Pace {
                least_m: PROGRESS_M,
                top_m: || state.top_speed(row) * state.tick_s(),
            };
            self.patience.count(gap_m, pace, false);
        }
        if self.patience.held_up < state.ticks(GIVE_UP_S) {
            return Next::Continue;
        }
        failed(Failure::HeldUp)
    }

    fn is_possible_for(&self, kind: &Kind) -> bool {
        kind.can(Ability::Strikes)
    }

    fn stop(&mut self, act: &mut Act<'_>) {
        let unit = act.state.units.id[act.row];
        act.state.ground_aims.remove(unit);
    }
}
