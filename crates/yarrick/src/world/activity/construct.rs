//! Building on a site until the building stands.

use super::closing::{Closing, Distance, beside_a_building_m, close_in};
use super::gather::stroke_ticks;
use super::{Act, Behaviour, Faculties, Next};
use crate::geom::angle;
use crate::world::ids::UnitId;
use crate::world::kind::{Ability, Kind};
use crate::world::message::{Event, Failure, Outcome};
use crate::world::state::{Patience, State};
use serde::{Deserialize, Serialize};

/// Seconds without coming nearer to the site after which a builder gives up.
const GIVE_UP_S: u32 = 20;

/// Seconds for which a builder waits until there is room for it at the site.
const WAIT_S: u32 = 180;

/// How near to the site a builder works, in metres.
const AT_SITE_M: f32 = 0.15;

fn at_site(state: &State) -> Distance {
    let keep_m = AT_SITE_M + beside_a_building_m(state);
    Distance {
        strict: true,
        beside: true,
        ..Distance::within(AT_SITE_M, keep_m).spread()
    }
}

/// Building on a site.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Construct {
    site: UnitId,
    /// The tick of the next stroke; `None` on the way there.
    next: Option<u64>,
    patience: Patience,
}

impl Construct {
    pub(crate) fn new(site: UnitId) -> Construct {
        Construct {
            site,
            next: None,
            patience: Patience::default(),
        }
    }

    fn work(&mut self, act: &mut Act<'_>, target: usize) {
        let (state, row) = (&mut *act.state, act.row);
        let (now, every) = (state.clock.tick, stroke_ticks(state, row));
        let Some(next) = self.next else {
            if let Some(facing) = angle::of(state.middle(target) - state.units.position[row]) {
                let unit = state.units.id[row];
                state.ordered_facing.set(unit, facing);
            }
            self.next = Some(now + every);
            return;
        };
        if now < next {
            return;
        }
        self.next = Some(now + every);
        act.events.push(Event::Stroke {
            unit: state.units.id[row],
            at: self.site,
            item: false,
        });
        if state.build_on(self.site, every as u32) {
            let by = state.units.id[row];
            act.events.push(Event::Built {
                unit: self.site,
                by,
            });
        }
    }
}

impl State {
    /// Does some ticks of work on a site. Gives whether the building stands now.
    fn build_on(&mut self, site: UnitId, ticks: u32) -> bool {
        let Some(row) = self.units.row(site) else {
            return false;
        };
        let full = self.kind_of(row).body.health;
        let worked = self.constructions.change(site, |construction| {
            let begins = !core::mem::replace(&mut construction.has_begun, true);
            let left = construction.takes - construction.done;
            let done = ticks.min(left);
            construction.done += done;
            let part = if construction.takes == 0 {
                1.0
            } else {
                done as f32 / construction.takes as f32
            };
            (begins, part, construction.done == construction.takes)
        });
        let Some((begins, part, is_done)) = worked else {
            return false;
        };
        let health = &mut self.units.health[row];
        *health = (*health + full * part).min(full);
        if begins {
            self.cover_ground(site, true);
        }
        if is_done {
            self.constructions.remove(site);
            self.file_building(site);
        }
        is_done
    }
}

impl Behaviour for Construct {
    fn needs(&self) -> Faculties {
        Faculties::BOTH
    }

    fn start(&mut self, _: &mut Act<'_>) -> Next {
        self.next = None;
        self.patience = Patience::default();
        Next::Continue
    }

    fn advance(&mut self, act: &mut Act<'_>) -> Next {
        let (state, row) = (&mut *act.state, act.row);
        let Some(target) = state.units.row(self.site) else {
            return Next::Continue;
        };
        if state.is_complete(target) {
            return Next::Ended(Outcome::Done);
        }
        let distance = at_site(state);
        match close_in(
            state,
            act.scratch,
            (row, target),
            distance,
            &mut self.patience,
        ) {
            Closing::There => {
                state.units.stands_firm[row] = true;
                self.work(act, target);
                Next::Continue
            }
            Closing::OnTheWay { stalled } if stalled < state.ticks(GIVE_UP_S) => Next::Continue,
            Closing::Waits { ticks } if ticks < state.ticks(WAIT_S) => Next::Continue,
            Closing::OnTheWay { .. } | Closing::Waits { .. } => Next::Ended(Outcome::Failed {
                why: Failure::HeldUp,
            }),
            Closing::Stranded { why } => Next::Ended(Outcome::Failed { why }),
        }
    }

    fn target(&self) -> Option<UnitId> {
        Some(self.site)
    }

    fn suits(&self, target_is_foe: bool) -> bool {
        !target_is_foe
    }

    fn is_possible_for(&self, kind: &Kind) -> bool {
        kind.can(Ability::Builds)
    }

    fn stop(&mut self, act: &mut Act<'_>) {
        let unit = act.state.units.id[act.row];
        act.state.ordered_facing.remove(unit);
        act.state.units.stands_firm[act.row] = false;
    }
}
