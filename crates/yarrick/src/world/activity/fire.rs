//! Striking a unit while it is within range, without a step: the legs are free meanwhile.

use super::{Act, Behaviour, Faculties, Next, struck_or_gone};
use crate::world::arms;
use crate::world::ids::UnitId;
use crate::world::kind::{Ability, Kind};
use crate::world::state::Departure;
use serde::{Deserialize, Serialize};

/// Striking a unit while it is within range.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Fire {
    pub(crate) target: UnitId,
}

impl Behaviour for Fire {
    fn needs(&self) -> Faculties {
        Faculties::ARMS
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        arms::aim_on_the_move(act.state, act.row, self.target);
        Next::Continue
    }

    fn only_waits(&self) -> bool {
        true
    }

    fn target(&self) -> Option<UnitId> {
        Some(self.target)
    }

    fn target_gone(&mut self, _: &mut Act<'_>, departure: Departure) -> Next {
        struck_or_gone(departure)
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
