//! Keeping near a unit or a point, going for foes that are noticed near it, and coming back.

use super::engage::Leash;
use super::follow::Follow;
use super::{Act, Activity, Behaviour, Engage, Faculties, Go, Next};
use crate::world::arms::{self, Alertness};
use crate::world::ids::UnitId;
use crate::world::legs;
use crate::world::message::{Outcome, USUAL_FOLLOW_GAP_M};
use crate::world::state::{Claim, Place, Report, State};
use serde::{Deserialize, Serialize};

/// Guarding a unit.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Guard {
    ward: UnitId,
    follow: Follow,
}

impl Guard {
    pub(crate) fn new(ward: UnitId) -> Guard {
        Guard {
            ward,
            follow: Follow::new(ward, USUAL_FOLLOW_GAP_M),
        }
    }
}

impl Behaviour for Guard {
    fn needs(&self) -> Faculties {
        Faculties::BOTH
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        self.follow.begin(act);
        Next::Continue
    }

    fn advance(&mut self, act: &mut Act<'_>) -> Next {
        if let Some(sighting) = act.sighting.take_if(|sighting| sighting.chases) {
            let leash = Leash::Unit(self.ward);
            return Next::RunFirst(Activity::Engage(Engage::on_leash(leash, sighting)));
        }
        self.follow.keep_near(act);
        Next::Continue
    }

    fn target(&self) -> Option<UnitId> {
        Some(self.ward)
    }

    fn suits(&self, target_is_foe: bool) -> bool {
        !target_is_foe
    }

    fn stop(&mut self, act: &mut Act<'_>) {
        arms::lower(act.state, act.row);
    }

    fn alertness(&self, state: &State) -> Alertness {
        match state.units.row(self.ward) {
            Some(ward) => Alertness::AroundWard {
                at: state.units.position[ward],
                radius: state.kind_of(ward).body.radius_m,
            },
            None => Alertness::Off,
        }
    }
}

/// Guarding a point.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct GuardPlace(pub(crate) Go);

impl Behaviour for GuardPlace {
    fn needs(&self) -> Faculties {
        Faculties::BOTH
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        self.0.set_out(act, Claim::Keeps)
    }

    fn only_waits(&self) -> bool {
        true
    }

    fn advance(&mut self, act: &mut Act<'_>) -> Next {
        match act.sighting.take() {
            Some(sighting) => {
                self.0.remember_place(act);
                let leash = Leash::Point(self.middle());
                let engage = Engage::on_leash(leash, sighting).on_the_way_to(self.place());
                Next::RunFirst(Activity::Engage(engage))
            }
            None => Next::Continue,
        }
    }

    fn heard(&mut self, act: &mut Act<'_>, report: Report) -> Next {
        match report {
            // As near as the others let it: it stays there.
            Report::Arrived(_) | Report::HeldUp => {
                self.0.remember_place(act);
                legs::halt(act.state, act.row);
                Next::Continue
            }
            Report::NoWay(why) => Next::Ended(Outcome::Failed { why }),
        }
    }

    fn resumed(&mut self, act: &mut Act<'_>) -> Next {
        self.0.send_again(act, Claim::Keeps)
    }

    fn stop(&mut self, act: &mut Act<'_>) {
        self.0.remember_place(act);
        arms::lower(act.state, act.row);
    }

    fn alertness(&self, _: &State) -> Alertness {
        Alertness::AroundWard {
            at: self.middle(),
            radius: 0.0,
        }
    }

    fn place(&self) -> Option<Place> {
        self.0.place()
    }
}

impl GuardPlace {
    fn middle(&self) -> crate::geom::Vec2 {
        let destination = &self.0.destination;
        destination
            .place
            .map_or(destination.goal, |place| place.middle)
    }
}
