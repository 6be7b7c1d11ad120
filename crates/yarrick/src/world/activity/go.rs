//! Going to a place.

use super::{Act, Behaviour, Faculties, Next};
use crate::route::Shortfall;
use crate::world::legs::{self, join_march};
use crate::world::message::{Failure, Outcome};
use crate::world::state::{
    Arrival, Claim, Destination, GroupNo, GroupPlace, MoveTarget, Place, Report,
};
use serde::{Deserialize, Serialize};

/// Going to a place, with others that were sent there.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Go {
    pub(crate) group: GroupNo,
    pub(crate) destination: Destination,
}

impl Go {
    /// Sends the legs there, or ends with the reason why that is no use. What the place is to it is for the
    /// activity to say.
    pub(crate) fn send(&self, act: &mut Act<'_>, claim: Claim) -> Next {
        let goal = self.destination.goal;
        let place = match self.destination.place {
            Ok(place) => place,
            // It was cut off when the order was given.
            Err(Failure::NoWay(_)) if legs::can_reach(act.state, act.row, goal) => Place {
                short: Some(Shortfall::CutOff),
                ..Place::alone(goal)
            },
            Err(why) => return Next::Ended(Outcome::Failed { why }),
        };
        legs::check_place(act.state, act.row, (goal, &place));
        let target = GroupPlace {
            group: self.group,
            goal,
            place,
            claim,
        };
        legs::go_to(act.state, act.row, MoveTarget::Place(target));
        Next::Continue
    }

    /// Sends the legs there unless they are on their way.
    pub(crate) fn send_again(&mut self, act: &mut Act<'_>, claim: Claim) -> Next {
        match act.state.units.locomotion[act.row].place() {
            Some(_) => Next::Continue,
            None => self.set_out(act, claim),
        }
    }

    /// Takes over the place that the legs are led to now: on the way, places may have been traded.
    pub(crate) fn remember_place(&mut self, act: &Act<'_>) {
        if let Some(target) = act.state.units.locomotion[act.row].place() {
            self.take_place(target.place);
        }
    }

    pub(crate) fn take_place(&mut self, place: Place) {
        if self.destination.place.is_ok() {
            self.destination.place = Ok(place);
        }
    }

    /// Begins to go: to the place in the formation, if ranks have closed since the unit was sent.
    pub(crate) fn set_out(&mut self, act: &mut Act<'_>, claim: Claim) -> Next {
        let unit = act.state.units.id[act.row];
        if let Some(place) = join_march(act.state, unit, self.group) {
            self.take_place(place);
        }
        self.send(act, claim)
    }

    /// How it ends by what the legs report.
    pub(crate) fn outcome(act: &mut Act<'_>, report: Report) -> Outcome {
        match report {
            Report::Arrived(arrival) => arrived(act, arrival),
            Report::HeldUp => Outcome::Failed {
                why: Failure::HeldUp,
            },
            Report::NoWay(why) => Outcome::Failed { why },
        }
    }
}

fn arrived(act: &mut Act<'_>, arrival: Arrival) -> Outcome {
    if let Some(facing) = arrival.facing {
        let unit = act.state.units.id[act.row];
        act.state.ordered_facing.set(unit, facing);
    }
    match arrival.short {
        Some(why) => Outcome::CameShort {
            why,
            by_m: arrival.goal.distance(act.state.units.position[act.row]),
        },
        None => Outcome::Done,
    }
}

impl Behaviour for Go {
    fn needs(&self) -> Faculties {
        Faculties::LEGS
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        self.set_out(act, Claim::Trades)
    }

    fn only_waits(&self) -> bool {
        true
    }

    fn heard(&mut self, act: &mut Act<'_>, report: Report) -> Next {
        Next::Ended(Go::outcome(act, report))
    }

    fn stop(&mut self, act: &mut Act<'_>) {
        self.remember_place(act);
    }

    fn place(&self) -> Option<Place> {
        self.destination.place.ok()
    }
}
