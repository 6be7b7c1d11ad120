//! Going for a unit and striking it until it is dead.

use super::closing::{Closing, Distance, close_in, why_no_nearer};
use super::{Act, Behaviour, Faculties, Next, struck_or_gone};
use crate::world::arms;
use crate::world::ids::UnitId;
use crate::world::kind::{Ability, Kind};
use crate::world::legs::{self, walks};
use crate::world::message::{Failure, Outcome};
use crate::world::state::{Departure, Patience, State};
use serde::{Deserialize, Serialize};

/// Seconds without coming nearer after which a unit that was ordered to attack gives up.
const GIVE_UP_S: u32 = 20;

/// Seconds for which a unit waits for its turn at a foe that no other strikes.
const WAIT_S: u32 = 60;

/// Within this many body widths of its range, a unit that cannot get through to its foe waits for its
/// turn among those that strike it already.
const TURN_BODIES: f32 = 6.0;

/// Going for a unit and striking it.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Attack {
    target: UnitId,
    patience: Patience,
}

impl Attack {
    pub(crate) fn new(target: UnitId) -> Attack {
        Attack {
            target,
            patience: Patience::default(),
        }
    }
}

impl Behaviour for Attack {
    fn needs(&self) -> Faculties {
        Faculties::BOTH
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        arms::aim_at(act.state, act.row, self.target);
        self.patience = Patience::default();
        legs::halt(act.state, act.row);
        Next::Continue
    }

    fn advance(&mut self, act: &mut Act<'_>) -> Next {
        let (state, row) = (&mut *act.state, act.row);
        let Some((target, distance)) = state.units.row(self.target).zip(in_range(state, row))
        else {
            return Next::Continue;
        };
        let failed = |why| Next::Ended(Outcome::Failed { why });
        match close_in(
            state,
            act.scratch,
            (row, target),
            distance,
            &mut self.patience,
        ) {
            Closing::There => Next::Continue,
            Closing::Stranded { why } => failed(why),
            Closing::Waits { ticks } if waits_on(state, target, ticks) => Next::Continue,
            Closing::Waits { .. } => failed(Failure::HeldUp),
            Closing::OnTheWay { stalled } => {
                let patient = stalled < state.ticks(GIVE_UP_S);
                let waits = waits_its_turn(state, row, target) && waits_on(state, target, stalled);
                if patient || waits {
                    Next::Continue
                } else {
                    failed(why_no_nearer(state, target))
                }
            }
        }
    }

    fn target(&self) -> Option<UnitId> {
        Some(self.target)
    }

    fn target_gone(&mut self, _: &mut Act<'_>, departure: Departure) -> Next {
        struck_or_gone(departure)
    }

    fn suits(&self, target_is_foe: bool) -> bool {
        target_is_foe
    }

    fn is_possible_for(&self, kind: &Kind) -> bool {
        kind.can(Ability::Strikes)
    }

    fn stop(&mut self, act: &mut Act<'_>) {
        arms::lower(act.state, act.row);
    }
}

/// How near a unit has to come to strike.
pub(super) fn in_range(state: &State, row: usize) -> Option<Distance> {
    let weapon = state.kind_of(row).weapon?;
    Some(Distance {
        strict: true,
        clear_line: weapon.clear_line,
        ..Distance::within(weapon.close_in_m(), weapon.range_m).spread()
    })
}

/// Whether a unit that has waited for some ticks for its turn at a foe waits on: for as long as others strike that, and for a
/// minute besides.
pub(super) fn waits_on(state: &State, target: usize, ticks: u32) -> bool {
    let last_hit = state.last_hit.get(state.units.id[target]);
    let since_hit = last_hit.map_or(u64::MAX, |(tick, _)| state.clock.tick.saturating_sub(*tick));
    since_hit.min(u64::from(ticks)) < u64::from(state.ticks(WAIT_S))
}

/// Whether a unit that cannot get through to its foe is among those that strike it.
pub(super) fn waits_its_turn(state: &State, row: usize, target: usize) -> bool {
    let range = in_range(state, row).map_or(0.0, |distance| distance.keep_m);
    let reach = range + TURN_BODIES * state.units.radius[row];
    !walks(state, target) && state.gap_m(row, target) <= reach
}
