//! Keeping a distance from another: coming on when it is far, backing away when it is near.

use super::closing::{Closing, Distance, close_in};
use super::steering::{heading_to, steer_towards};
use super::{Act, Behaviour, Faculties, Next};
use crate::geom::angle;
use crate::world::ids::UnitId;
use crate::world::legs;
use crate::world::message::Outcome;
use crate::world::state::{Departure, Locomotion, Patience};
use core::f32::consts::PI;
use serde::{Deserialize, Serialize};

/// Keeping between two distances from a unit, from edge to edge, in metres.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct KeepRange {
    pub(crate) of: UnitId,
    pub(crate) near_m: f32,
    pub(crate) far_m: f32,
    /// Whether it looks at the other all the time.
    pub(crate) facing: bool,
    pub(crate) patience: Patience,
}

impl KeepRange {
    /// How far beyond the near distance it goes when it backs away, as a part of the room between the two: so that it does
    /// not tremble.
    const EASE: f32 = 0.3;
}

impl Behaviour for KeepRange {
    fn needs(&self) -> Faculties {
        Faculties::LEGS
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        self.patience = Patience::default();
        self.advance(act)
    }

    fn advance(&mut self, act: &mut Act<'_>) -> Next {
        let (state, row) = (&mut *act.state, act.row);
        let Some(other) = state.units.row(self.of) else {
            return Next::Continue;
        };
        let gap = state.gap_m(row, other);
        let room = (self.far_m - self.near_m).max(0.0);
        let backs = matches!(state.units.locomotion[row], Locomotion::Steered(_));
        let heading = heading_to(state, row, state.middle(other));
        let unit = state.units.id[row];
        let enough = self.near_m + room * KeepRange::EASE;
        if gap < self.near_m || backs && gap < enough {
            let looks = self.facing.then_some(heading);
            steer_towards(state, row, angle::wrap(heading + PI), looks);
            return Next::Continue;
        }
        if backs {
            legs::halt(state, row);
        }
        let near_m = self.far_m - room * KeepRange::EASE;
        let distance = Distance::within(near_m, self.far_m);
        let closing = close_in(
            state,
            act.scratch,
            (row, other),
            distance,
            &mut self.patience,
        );
        if closing == Closing::There && self.facing {
            state.ordered_facing.set(unit, heading);
        }
        Next::Continue
    }

    fn target(&self) -> Option<UnitId> {
        Some(self.of)
    }

    fn target_gone(&mut self, _: &mut Act<'_>, _: Departure) -> Next {
        Next::Ended(Outcome::Done)
    }

    fn stop(&mut self, act: &mut Act<'_>) {
        let unit = act.state.units.id[act.row];
        act.state.ordered_facing.remove(unit);
    }
}
