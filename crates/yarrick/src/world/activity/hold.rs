//! Standing firm: striking what comes within range, and never taking a step.

use super::{Act, Behaviour, Faculties, Next};
use crate::world::arms::{self, Alertness};
use crate::world::kind::Kind;
use crate::world::legs;
use crate::world::state::State;
use serde::{Deserialize, Serialize};

/// Standing firm.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Hold;

impl Behaviour for Hold {
    fn needs(&self) -> Faculties {
        Faculties::BOTH
    }

    fn is_possible_for(&self, _: &Kind) -> bool {
        true
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        legs::halt(act.state, act.row);
        act.state.units.stands_firm[act.row] = true;
        Next::Continue
    }

    fn advance(&mut self, act: &mut Act<'_>) -> Next {
        act.strike_in_reach();
        Next::Continue
    }

    fn stop(&mut self, act: &mut Act<'_>) {
        act.state.units.stands_firm[act.row] = false;
        arms::lower(act.state, act.row);
    }

    fn alertness(&self, _: &State) -> Alertness {
        Alertness::InReach {
            only_standing: false,
        }
    }
}
