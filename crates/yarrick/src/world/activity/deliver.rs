//! Taking a load to the nearest depot.

use super::closing::{Closing, Distance, beside_a_building_m, close_in, is_parted};
use super::{Act, Behaviour, Faculties, Next};
use crate::geom::{Vec2, angle};
use crate::route::Router;
use crate::world::ids::UnitId;
use crate::world::kind::{Ability, Kind};
use crate::world::legs;
use crate::world::message::{Event, Failure, Outcome};
use crate::world::state::{Departure, Patience, State};
use serde::{Deserialize, Serialize};

/// Seconds without coming nearer to a depot after which a unit gives up.
const GIVE_UP_S: u32 = 20;

/// How near to a depot, or to its entrance, a load is handed in, in metres: several can at once.
pub(crate) const AT_DEPOT_M: f32 = 0.3;
const AT_ENTRANCE_M: f32 = 0.9;

/// Seconds without coming nearer after which a unit hands in past another that stands before it.
const PAST_OTHERS_S: u32 = 2;

/// Taking a load to the nearest depot of one's side, by walking distance.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize)]
pub(crate) struct Deliver {
    /// The depot that it makes for; `None` before it has chosen one.
    depot: Option<UnitId>,
    /// Whether a player has chosen that.
    is_given: bool,
    patience: Patience,
}

impl Deliver {
    /// Delivery to a depot of one's choice.
    pub(crate) fn to(depot: UnitId) -> Deliver {
        Deliver {
            depot: Some(depot),
            is_given: true,
            patience: Patience::default(),
        }
    }

    fn choose(&mut self, act: &mut Act<'_>) -> Next {
        self.patience = Patience::default();
        match nearest_depot(act) {
            Chosen::Depot(depot) => {
                self.depot = Some(depot);
                Next::Continue
            }
            // Others have used up the searches of this tick.
            Chosen::Later => Next::Continue,
            Chosen::None => {
                legs::halt(act.state, act.row);
                let why = Failure::NoDepot;
                Next::Ended(Outcome::Failed { why })
            }
        }
    }

    fn hand_in(&self, act: &mut Act<'_>, depot: UnitId) -> Next {
        let (state, row) = (&mut *act.state, act.row);
        let (unit, side) = (state.units.id[row], state.units.side[row]);
        if let Some(load) = state.loads.remove(unit) {
            if let Some(ledger) = state.ledgers.get_mut(usize::from(side.0)) {
                ledger.hand_in(load.resource, load.amount);
            }
            act.events.push(Event::Delivered { unit, depot, load });
        }
        Next::Ended(Outcome::Done)
    }
}

impl Behaviour for Deliver {
    fn needs(&self) -> Faculties {
        Faculties::LEGS
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        self.patience = Patience::default();
        if !self.is_given {
            self.depot = None;
        }
        self.advance(act)
    }

    fn advance(&mut self, act: &mut Act<'_>) -> Next {
        let Some(depot) = self.depot else {
            return self.choose(act);
        };
        let (state, row) = (&mut *act.state, act.row);
        let Some(target) = state.units.row(depot) else {
            return Next::Continue;
        };
        let distance = before_depot(state, target);
        let reach_m = if distance.side.is_some() {
            AT_ENTRANCE_M
        } else {
            AT_DEPOT_M
        };
        if distance.short_of(state, row, target) <= reach_m {
            return self.hand_in(act, depot);
        }
        let closing = close_in(
            state,
            act.scratch,
            (row, target),
            distance,
            &mut self.patience,
        );
        match closing {
            Closing::There => self.hand_in(act, depot),
            Closing::OnTheWay { stalled } | Closing::Waits { ticks: stalled }
                if stalled < state.ticks(PAST_OTHERS_S) =>
            {
                Next::Continue
            }
            Closing::OnTheWay { stalled } | Closing::Waits { ticks: stalled } => {
                let past_another_m = reach_m + 2.0 * state.units.radius[row];
                if distance.short_of(state, row, target) <= past_another_m {
                    return self.hand_in(act, depot);
                }
                if stalled < state.ticks(GIVE_UP_S) {
                    return Next::Continue;
                }
                let why = Failure::HeldUp;
                Next::Ended(Outcome::Failed { why })
            }
            Closing::Stranded { why } => Next::Ended(Outcome::Failed { why }),
        }
    }

    fn target(&self) -> Option<UnitId> {
        self.depot
    }

    fn target_gone(&mut self, _: &mut Act<'_>, _: Departure) -> Next {
        // It looks for another, wherever the first was.
        *self = Deliver::default();
        Next::Continue
    }

    fn suits(&self, target_is_foe: bool) -> bool {
        !target_is_foe
    }

    fn is_possible_for(&self, kind: &Kind) -> bool {
        kind.can(Ability::Gathers)
    }
}

/// How near to come to a depot, and on which side.
fn before_depot(state: &State, depot: usize) -> Distance {
    let keep_m = AT_DEPOT_M + beside_a_building_m(state);
    Distance {
        strict: true,
        side: state.kind_of(depot).depot.and_then(|depot| depot.entrance),
        beside: true,
        ..Distance::within(0.1, keep_m).spread()
    }
}

enum Chosen {
    Depot(UnitId),
    Later,
    None,
}

/// The depot of a unit's side with the shortest way. Depots are tried in the order of their straight distance; those that
/// are farther than a way that was found cannot be nearer.
fn nearest_depot(act: &mut Act<'_>) -> Chosen {
    let (state, row) = (&*act.state, act.row);
    let (side, from) = (state.units.side[row], state.units.position[row]);
    let own = state.derived.depots.iter().filter_map(|depot| {
        let at = state.units.row(*depot)?;
        let is_own = state.units.side[at] == side;
        is_own.then(|| (point_before(state, row, at).distance(from), *depot, at))
    });
    let mut depots: Vec<(f32, UnitId, usize)> = own.collect();
    // Ties by id.
    depots.sort_by(|a, b| a.0.total_cmp(&b.0).then_with(|| a.1.cmp(&b.1)));
    if let [(_, only, _)] = depots[..] {
        return Chosen::Depot(only);
    }
    let mut best: Option<(f32, UnitId)> = None;
    for (straight_m, depot, at) in depots {
        if best.is_some_and(|(known, _)| known <= straight_m) {
            break;
        }
        if act.scratch.searches_left == 0 {
            return Chosen::Later;
        }
        act.scratch.searches_left -= 1;
        if let Some(length_m) = way_m(state, &mut act.scratch.router, (row, at))
            && best.is_none_or(|(known, _)| length_m < known)
        {
            best = Some((length_m, depot));
        }
    }
    best.map_or(Chosen::None, |(_, depot)| Chosen::Depot(depot))
}

/// The length of the way to a depot in metres, if it leads there: a building closes whole cells, so that it may end a little
/// off the edge.
fn way_m(state: &State, router: &mut Router, (row, depot): (usize, usize)) -> Option<f32> {
    let (from, radius) = (state.units.position[row], state.units.radius[row]);
    let to = point_before(state, row, depot);
    let route = router.find(&state.ground, state.clearance(row), radius, from, to);
    let route = route.ok()?;
    let end = route.points.last().copied().unwrap_or(from);
    let distance = before_depot(state, depot);
    let is_there = distance.side.is_none()
        && state.gap_from(end, radius, depot) <= distance.keep_m
        && !is_parted(state, (row, depot), end);
    (route.short.is_none() || is_there).then_some(route.length_m)
}

/// The point before a depot that a unit makes for.
fn point_before(state: &State, row: usize, depot: usize) -> Vec2 {
    let distance = before_depot(state, depot);
    distance.point(state, row, depot).unwrap_or_else(|| {
        let (from, radius) = (state.units.position[row], state.units.radius[row]);
        let edge = match state.block(depot) {
            Some(block) => block.nearest(from),
            None => {
                let out = angle::of(from - state.units.position[depot]).unwrap_or(0.0);
                let reach = angle::direction(out) * state.units.radius[depot];
                state.units.position[depot] + reach
            }
        };
        let out = (from - edge).try_normalize().unwrap_or(Vec2::X);
        edge + out * (radius + distance.near_m)
    })
}
