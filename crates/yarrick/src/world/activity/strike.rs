//! One strike at another, as soon as it is within range and the arms are ready: the legs are free meanwhile.

use super::{Act, Behaviour, Faculties, Next};
use crate::world::arms;
use crate::world::ids::UnitId;
use crate::world::kind::{Ability, Kind};
use crate::world::message::Outcome;
use crate::world::state::Departure;
use serde::{Deserialize, Serialize};

/// One strike at a unit.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Strike {
    pub(crate) target: UnitId,
    /// The tick in which the arms were to be ready when it began: it is later once they have struck.
    pub(crate) ready_at: u64,
}

impl Behaviour for Strike {
    fn needs(&self) -> Faculties {
        Faculties::ARMS
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        self.ready_at = act.state.units.ready_at[act.row];
        arms::aim_on_the_move(act.state, act.row, self.target);
        Next::Continue
    }

    fn advance(&mut self, act: &mut Act<'_>) -> Next {
        if act.state.units.ready_at[act.row] == self.ready_at {
            return Next::Continue;
        }
        Next::Ended(Outcome::Done)
    }

    fn target(&self) -> Option<UnitId> {
        Some(self.target)
    }

    fn target_gone(&mut self, _: &mut Act<'_>, _: Departure) -> Next {
        Next::Ended(Outcome::Done)
    }

    fn suits(&self, target_is_foe: bool) -> bool {
        target_is_foe
    }

    fn is_possible_for(&self, kind: &Kind) -> bool {
        kind.can(Ability::Strikes)
    }

    fn stop(&mut self, act: &mut Act<'_>) {
        arms::lower(act.state, act.row);
    }
}
