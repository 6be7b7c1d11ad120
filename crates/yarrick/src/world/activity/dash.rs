//! A dash at another: straight to where it is now, faster than one walks, for a time.

use super::{Act, Behaviour, Faculties, Next};
use crate::geom::Vec2;
use crate::world::ids::UnitId;
use crate::world::legs;
use crate::world::message::Outcome;
use crate::world::state::{Departure, Steer};
use serde::{Deserialize, Serialize};

/// A dash at a unit.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Dash {
    pub(crate) at: UnitId,
    /// The part of its speed, above 1 for faster.
    pub(crate) pace: f32,
    /// For how many ticks.
    pub(crate) ticks: u32,
    /// Its direction, and the tick in which it ends.
    pub(crate) ahead: Vec2,
    pub(crate) until: u64,
}

impl Behaviour for Dash {
    fn needs(&self) -> Faculties {
        Faculties::LEGS
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        let (state, row) = (&*act.state, act.row);
        let Some(other) = state.units.row(self.at) else {
            return Next::Ended(Outcome::Done);
        };
        let way = state.middle(other) - state.units.position[row];
        self.ahead = way.normalize_or_zero();
        self.until = state.clock.tick + u64::from(self.ticks);
        self.advance(act)
    }

    fn advance(&mut self, act: &mut Act<'_>) -> Next {
        let (state, row) = (&mut *act.state, act.row);
        let touches = state
            .units
            .row(self.at)
            .is_some_and(|other| state.gap_m(row, other) <= 0.05);
        if state.clock.tick >= self.until || touches {
            legs::halt(state, row);
            return Next::Ended(Outcome::Done);
        }
        let wish = self.ahead * (state.top_speed(row) * self.pace);
        legs::steer(state, row, Steer::to(wish));
        Next::Continue
    }

    fn target(&self) -> Option<UnitId> {
        Some(self.at)
    }

    fn target_gone(&mut self, _: &mut Act<'_>, _: Departure) -> Next {
        Next::Ended(Outcome::Done)
    }
}
