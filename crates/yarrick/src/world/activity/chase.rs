//! Chasing another: straight for it, faster and faster, past it and back.

use super::closing::{Distance, close_in};
use super::{Act, Behaviour, Faculties, Next};
use crate::world::ids::UnitId;
use crate::world::legs;
use crate::world::message::Outcome;
use crate::world::state::{Departure, Patience, Steer};
use serde::{Deserialize, Serialize};

/// Chasing a unit, with an acceleration and a top speed of its own, or at one's usual speed.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Chase {
    pub(crate) prey: UnitId,
    /// In metres a second squared; `None` for at once.
    pub(crate) acceleration: Option<f32>,
    /// In metres a second; `None` for that of the kind.
    pub(crate) top_speed: Option<f32>,
    pub(crate) patience: Patience,
}

impl Behaviour for Chase {
    fn needs(&self) -> Faculties {
        Faculties::LEGS
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        self.patience = Patience::default();
        self.advance(act)
    }

    fn advance(&mut self, act: &mut Act<'_>) -> Next {
        let (state, row) = (&mut *act.state, act.row);
        let Some(prey) = state.units.row(self.prey) else {
            return Next::Continue;
        };
        let (from, to) = (state.units.position[row], state.middle(prey));
        let sees = || {
            state
                .ground_view(row)
                .line_is_clear(from, to, state.units.radius[row])
        };
        if state.block(prey).is_some() || !sees() {
            // Round walls it goes by a route, like anybody else.
            let distance = Distance::within(0.0, 0.1);
            close_in(
                state,
                act.scratch,
                (row, prey),
                distance,
                &mut self.patience,
            );
            return Next::Continue;
        }
        let top = self.top_speed.unwrap_or_else(|| state.top_speed(row));
        let way = to - from;
        let wish = match self.acceleration {
            // It brakes for nothing, and so overshoots.
            Some(_) => way.normalize_or_zero() * top,
            None => (way / state.tick_s()).clamp_length_max(top),
        };
        let steer = Steer {
            acceleration: self.acceleration,
            ..Steer::to(wish)
        };
        legs::steer(state, row, steer);
        Next::Continue
    }

    fn target(&self) -> Option<UnitId> {
        Some(self.prey)
    }

    fn target_gone(&mut self, _: &mut Act<'_>, _: Departure) -> Next {
        Next::Ended(Outcome::Done)
    }
}
