//! Going to a place, and fighting foes that are noticed on the way.

use super::{Act, Activity, Behaviour, Engage, Faculties, Go, Next};
use crate::world::arms::Alertness;
use crate::world::state::{Claim, Place, Report, State};
use serde::{Deserialize, Serialize};

/// Going to a place, and fighting on the way.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct AttackMove(pub(crate) Go);

impl Behaviour for AttackMove {
    fn needs(&self) -> Faculties {
        Faculties::BOTH
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        self.0.set_out(act, Claim::Trades)
    }

    fn only_waits(&self) -> bool {
        true
    }

    fn advance(&mut self, act: &mut Act<'_>) -> Next {
        match act.sighting.take() {
            Some(sighting) => {
                self.0.remember_place(act);
                let engage = Engage::near_itself(act, sighting).on_the_way_to(self.place());
                Next::RunFirst(Activity::Engage(engage))
            }
            None => Next::Continue,
        }
    }

    fn heard(&mut self, act: &mut Act<'_>, report: Report) -> Next {
        Next::Ended(Go::outcome(act, report))
    }

    fn resumed(&mut self, act: &mut Act<'_>) -> Next {
        self.0.send_again(act, Claim::Trades)
    }

    fn stop(&mut self, act: &mut Act<'_>) {
        self.0.remember_place(act);
    }

    fn alertness(&self, _: &State) -> Alertness {
        Alertness::AroundItself
    }

    fn place(&self) -> Option<Place> {
        self.0.place()
    }
}
