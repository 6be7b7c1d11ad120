//! Standing, and turning to another.

use super::steering::heading_to;
use super::{Act, Behaviour, Faculties, Next};
use crate::geom::angle;
use crate::world::ids::UnitId;
use crate::world::legs;
use crate::world::message::Outcome;
use crate::world::state::Departure;
use serde::{Deserialize, Serialize};

/// Within this many radians one faces another.
const WITHIN: f32 = 0.05;

/// Standing: with nobody to face for ever, else until it faces it.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Face {
    pub(crate) whom: Option<UnitId>,
}

impl Behaviour for Face {
    fn needs(&self) -> Faculties {
        Faculties::LEGS
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        legs::halt(act.state, act.row);
        Next::Continue
    }

    fn only_waits(&self) -> bool {
        self.whom.is_none()
    }

    fn advance(&mut self, act: &mut Act<'_>) -> Next {
        let (state, row) = (&mut *act.state, act.row);
        let Some(other) = self.whom.and_then(|unit| state.units.row(unit)) else {
            return Next::Continue;
        };
        let heading = heading_to(state, row, state.middle(other));
        let unit = state.units.id[row];
        state.ordered_facing.set(unit, heading);
        let off = angle::between(state.units.facing[row], heading);
        if off.abs() <= WITHIN {
            return Next::Ended(Outcome::Done);
        }
        Next::Continue
    }

    fn target(&self) -> Option<UnitId> {
        self.whom
    }

    fn target_gone(&mut self, _: &mut Act<'_>, _: Departure) -> Next {
        Next::Ended(Outcome::Done)
    }

    fn stop(&mut self, act: &mut Act<'_>) {
        let unit = act.state.units.id[act.row];
        act.state.ordered_facing.remove(unit);
    }
}
