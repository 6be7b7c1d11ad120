//! Fighting a foe that the unit has noticed by itself: going for it, keeping it within range, and letting it go.
//!
//! A child of other activities, which go on when it is over.

use super::attack::{in_range, waits_its_turn, waits_on};
use super::closing::{Closing, Distance, close_in};
use super::{Act, Behaviour, Faculties, Next};
use crate::geom::Vec2;
use crate::world::arms;
use crate::world::ids::UnitId;
use crate::world::legs;
use crate::world::message::Outcome;
use crate::world::state::{Departure, Patience, Place, Sighting, State};
use serde::{Deserialize, Serialize};

/// Seconds without coming nearer after which a unit lets its foe go.
const LET_GO_S: u32 = 5;

/// Seconds after letting go of a foe in which a unit goes for no other.
const CALM_S: u32 = 3;

/// A foe is let go beyond this multiple of the distance at which a unit notices foes.
const LEASH: f32 = 1.5;

/// Fighting a foe that was noticed.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Engage {
    foe: UnitId,
    /// Whether the unit goes after the foe, or only strikes it while it is in range.
    chases: bool,
    leash: Leash,
    /// The middle of the assembly to which the unit goes on afterwards, if it does.
    onward: Option<Vec2>,
    patience: Patience,
}

/// What a unit that goes for a foe keeps near.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) enum Leash {
    /// Where it began.
    Start(Vec2),
    /// A point that it guards.
    Point(Vec2),
    /// A unit that it guards.
    Unit(UnitId),
    /// Where it stood, and how far it and the foe may be from there, in metres.
    Home { at: Vec2, reach_m: f32 },
    /// The foe itself, for as long as the unit would notice it.
    Foe,
}

impl Engage {
    /// A fight with a foe that was noticed; the unit does not stray far from where it is now.
    pub(crate) fn near_itself(act: &Act<'_>, sighting: Sighting) -> Engage {
        let here = act.state.units.position[act.row];
        Engage::on_leash(Leash::Start(here), sighting)
    }

    /// A fight with a foe that was noticed, on a leash.
    pub(crate) fn on_leash(leash: Leash, sighting: Sighting) -> Engage {
        Engage {
            foe: sighting.foe,
            chases: sighting.chases,
            leash,
            onward: None,
            patience: Patience::default(),
        }
    }

    /// The same fight of a unit that goes on to an assembly afterwards.
    pub(crate) fn on_the_way_to(self, place: Option<Place>) -> Engage {
        Engage {
            onward: place.map(|place| place.middle),
            ..self
        }
    }

    /// Whether the foe, or the unit in going after it, has got too far.
    fn is_off_the_leash(&self, state: &State, row: usize, target: usize) -> bool {
        let notice = state.kind_of(row).notice_m();
        let (at, radius) = match self.leash {
            Leash::Start(from) => {
                let strayed = state.units.position[row].distance(from);
                return strayed > 2.0 * notice || state.gap_m(row, target) > notice * LEASH;
            }
            Leash::Home { at, reach_m } => {
                let strayed = state.units.position[row].distance(at);
                return strayed > reach_m || state.gap_from(at, 0.0, target) > reach_m;
            }
            Leash::Foe => return state.gap_m(row, target) > notice * LEASH,
            Leash::Point(at) => (at, 0.0),
            Leash::Unit(ward) => match state.units.row(ward) {
                Some(ward) => (
                    state.units.position[ward],
                    state.kind_of(ward).body.radius_m,
                ),
                None => return true,
            },
        };
        state.gap_from(at, radius, target) > notice * LEASH
    }

    fn let_go(&self, act: &mut Act<'_>) -> Next {
        let until = act.state.clock.tick + u64::from(act.state.ticks(CALM_S));
        let unit = act.state.units.id[act.row];
        act.state.no_chase_until.set(unit, until);
        Next::Ended(Outcome::Done)
    }
}

impl Behaviour for Engage {
    fn needs(&self) -> Faculties {
        Faculties::BOTH
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        act.engage(self.foe);
        self.advance(act)
    }

    fn advance(&mut self, act: &mut Act<'_>) -> Next {
        if let Some(sighting) = act.sighting.take() {
            // A unit that turns from foe to foe is still on the same leash, and its patience does not begin anew:
            // else two could lure it away for ever.
            (self.foe, self.chases) = (sighting.foe, sighting.chases);
            act.engage(self.foe);
        }
        let (state, row) = (&mut *act.state, act.row);
        let Some((target, distance)) = state.units.row(self.foe).zip(in_range(state, row)) else {
            return Next::Ended(Outcome::Done);
        };
        let distance = Distance {
            onward: self.onward,
            ..distance
        };
        if !self.chases {
            let is_hidden = || state.thinks_now(row) && !arms::has_line(state, row, target);
            if state.gap_m(row, target) > distance.keep_m || is_hidden() {
                return Next::Ended(Outcome::Done);
            }
            legs::halt(state, row);
            return Next::Continue;
        }
        if self.is_off_the_leash(state, row, target) {
            return self.let_go(act);
        }
        match close_in(
            state,
            act.scratch,
            (row, target),
            distance,
            &mut self.patience,
        ) {
            Closing::There => Next::Continue,
            Closing::Waits { ticks } if waits_on(state, target, ticks) => Next::Continue,
            Closing::Waits { .. } => self.let_go(act),
            Closing::Stranded { .. } => self.let_go(act),
            Closing::OnTheWay { stalled } => {
                let long = stalled >= state.ticks(LET_GO_S);
                let waits = waits_its_turn(state, row, target) && waits_on(state, target, stalled);
                if long && !waits {
                    self.let_go(act)
                } else {
                    Next::Continue
                }
            }
        }
    }

    fn target(&self) -> Option<UnitId> {
        Some(self.foe)
    }

    fn target_gone(&mut self, _: &mut Act<'_>, _: Departure) -> Next {
        Next::Ended(Outcome::Done)
    }

    fn suits(&self, target_is_foe: bool) -> bool {
        target_is_foe
    }

    fn stop(&mut self, act: &mut Act<'_>) {
        arms::lower(act.state, act.row);
    }
}
