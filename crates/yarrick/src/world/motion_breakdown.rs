//! Why a unit moved as it did in the last tick.

use super::{UnitId, World};
use crate::geom::Vec2;

/// What made a unit move in the last tick, part by part, in metres a second: the velocity that it had is their sum.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct MotionBreakdown {
    /// How it would have moved alone: along its way, at its pace.
    pub wanted: Vec2,
    /// How it turned aside for those that it would have come upon, and slowed down behind others.
    pub aside: Vec2,
    /// How others pushed it.
    pub pushed: Vec2,
    /// What bodies and walls in its way took off that.
    pub held: Vec2,
}

impl MotionBreakdown {
    /// Their sum.
    #[must_use]
    pub fn sum(&self) -> Vec2 {
        self.wanted + self.aside + self.pushed + self.held
    }
}

impl World {
    /// What made a unit move in the last tick; `None` for one that is not there, or was not there in it.
    ///
    /// Costs in proportion to the units of the world: for looking into things, not for every unit in every tick.
    #[must_use]
    pub fn motion_breakdown(&self, unit: UnitId) -> Option<MotionBreakdown> {
        let moves = &self.scratch.moves;
        let (row, tick_s) = (self.state.units.row(unit)?, self.tick_s());
        let then = moves.of.iter().position(|known| *known == unit)?;
        let before = self.state.units.before[row].position;
        let wanted = moves.wishes[then];
        let (course, given) = (moves.steps[then] / tick_s, moves.given[then] / tick_s);
        let went = (moves.at[then] - before) / tick_s;
        Some(MotionBreakdown {
            wanted,
            aside: course - wanted,
            pushed: given - course,
            held: went - given,
        })
    }
}
