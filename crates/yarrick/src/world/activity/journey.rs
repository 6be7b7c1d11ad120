//! Going to a place for good: a way that failed is tried again.

use super::{Act, Activity, Behaviour, Faculties, Go, Next};
use crate::geom::Vec2;
use crate::world::ids::UnitId;
use crate::world::message::Outcome;
use crate::world::state::{Departure, Destination, Place, State, Sway};
use serde::{Deserialize, Serialize};

/// Seconds from one try to the next.
const TRY_AGAIN_S: u32 = 1;

/// Where a journey leads.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) enum Toward {
    Point(Vec2),
    Unit(UnitId),
}

/// Going to a place, straight or swinging, at some part of one's speed.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Journey {
    pub(crate) to: Toward,
    pub(crate) pace: Option<f32>,
    pub(crate) sway: Option<Sway>,
    /// The tick of the next try.
    pub(crate) next: u64,
}

impl Journey {
    fn point(&self, state: &State) -> Option<Vec2> {
        match self.to {
            Toward::Point(at) => Some(at),
            Toward::Unit(unit) => state.units.row(unit).map(|row| state.middle(row)),
        }
    }

    fn is_there(&self, state: &State, row: usize) -> bool {
        match self.to {
            Toward::Point(at) => {
                state.units.position[row].distance(at) <= state.units.radius[row] + NEAR_M
            }
            Toward::Unit(unit) => {
                let other = state.units.row(unit);
                other.is_some_and(|other| state.gap_m(row, other) <= NEAR_M)
            }
        }
    }
}

/// How near to its end a journey is done, in metres, beside the radius of the unit.
const NEAR_M: f32 = 0.3;

impl Behaviour for Journey {
    fn needs(&self) -> Faculties {
        Faculties::LEGS
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        let unit = act.state.units.id[act.row];
        if let Some(pace) = self.pace {
            act.state.pace.set(unit, pace);
        }
        if let Some(sway) = self.sway {
            let since = act.state.clock.tick;
            act.state.sway.set(unit, Sway { since, ..sway });
        }
        self.next = 0;
        self.advance(act)
    }

    fn advance(&mut self, act: &mut Act<'_>) -> Next {
        if self.is_there(act.state, act.row) {
            return Next::Ended(Outcome::Done);
        }
        if act.state.clock.tick < self.next {
            return Next::Continue;
        }
        let Some(goal) = self.point(act.state) else {
            return Next::Continue;
        };
        let again = act.state.ticks(TRY_AGAIN_S);
        self.next = act.state.clock.tick + u64::from(again);
        let group = act.state.next_group();
        let place = Ok(Place::alone(goal));
        let destination = Destination { goal, place };
        Next::RunFirst(Activity::Go(Go { group, destination }))
    }

    fn resumed(&mut self, act: &mut Act<'_>) -> Next {
        if self.is_there(act.state, act.row) {
            return Next::Ended(Outcome::Done);
        }
        Next::Continue
    }

    fn target(&self) -> Option<UnitId> {
        match self.to {
            Toward::Unit(unit) => Some(unit),
            Toward::Point(_) => None,
        }
    }

    fn target_gone(&mut self, _: &mut Act<'_>, _: Departure) -> Next {
        Next::Ended(Outcome::Done)
    }

    fn stop(&mut self, act: &mut Act<'_>) {
        let unit = act.state.units.id[act.row];
        act.state.pace.remove(unit);
        act.state.sway.remove(unit);
    }
}
