//! Creeping along one axis until one is level with another.

use super::{Act, Behaviour, Faculties, Next};
use crate::geom::Vec2;
use crate::world::ids::UnitId;
use crate::world::legs;
use crate::world::message::Outcome;
use crate::world::state::{Departure, Steer};
use serde::{Deserialize, Serialize};

/// Moving along one axis only, until the coordinate on it is that of another unit.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Level {
    pub(crate) with: UnitId,
    pub(crate) along_y: bool,
    pub(crate) pace: Option<f32>,
}

impl Behaviour for Level {
    fn needs(&self) -> Faculties {
        Faculties::LEGS
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        self.advance(act)
    }

    fn advance(&mut self, act: &mut Act<'_>) -> Next {
        let (state, row) = (&mut *act.state, act.row);
        let Some(other) = state.units.row(self.with) else {
            return Next::Continue;
        };
        let off = state.middle(other) - state.units.position[row];
        let off = if self.along_y {
            Vec2::new(0.0, off.y)
        } else {
            Vec2::new(off.x, 0.0)
        };
        let speed = state.top_speed(row) * self.pace.unwrap_or(1.0);
        let wish = (off / state.tick_s()).clamp_length_max(speed);
        legs::steer(state, row, Steer::to(wish));
        Next::Continue
    }

    fn target(&self) -> Option<UnitId> {
        Some(self.with)
    }

    fn target_gone(&mut self, _: &mut Act<'_>, _: Departure) -> Next {
        Next::Ended(Outcome::Done)
    }
}
