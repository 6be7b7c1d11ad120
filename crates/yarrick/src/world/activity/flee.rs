//! Fleeing from another.

use super::steering::{heading_to, steer_towards};
use super::{Act, Behaviour, Faculties, Next};
use crate::geom::angle;
use crate::world::ids::UnitId;
use crate::world::message::Outcome;
use crate::world::state::Departure;
use core::f32::consts::PI;
use serde::{Deserialize, Serialize};

/// Fleeing from a unit: away from it, along walls where there are some.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Flee {
    pub(crate) from: UnitId,
    pub(crate) pace: Option<f32>,
}

impl Behaviour for Flee {
    fn needs(&self) -> Faculties {
        Faculties::LEGS
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        if let Some(pace) = self.pace {
            let unit = act.state.units.id[act.row];
            act.state.pace.set(unit, pace);
        }
        self.advance(act)
    }

    fn advance(&mut self, act: &mut Act<'_>) -> Next {
        let (state, row) = (&mut *act.state, act.row);
        if let Some(other) = state.units.row(self.from) {
            let away = heading_to(state, row, state.middle(other)) + PI;
            steer_towards(state, row, angle::wrap(away), None);
        }
        Next::Continue
    }

    fn target(&self) -> Option<UnitId> {
        Some(self.from)
    }

    fn target_gone(&mut self, _: &mut Act<'_>, _: Departure) -> Next {
        Next::Ended(Outcome::Done)
    }

    fn stop(&mut self, act: &mut Act<'_>) {
        let unit = act.state.units.id[act.row];
        act.state.pace.remove(unit);
    }
}
