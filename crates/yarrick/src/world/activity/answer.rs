//! Fighting of one's own accord: what the posture of a unit without orders has it do about foes.

use super::engage::Leash;
use super::{Act, Activity, Behaviour, Engage, Faculties, Next};
use crate::geom::Vec2;
use crate::world::arms;
use crate::world::ids::UnitId;
use crate::world::legs;
use crate::world::message::Outcome;
use crate::world::state::{Claim, GroupPlace, MoveTarget, Place, Report, Sighting};
use serde::{Deserialize, Serialize};

/// Within this many radii of where it stood, a unit need not go back.
const NEAR_HOME_RADII: f32 = 0.5;

/// Going for a foe of one's own accord, and coming back.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Answer {
    foe: UnitId,
    /// Where the unit stood, and looked, if it comes back.
    home: Option<(Vec2, f32)>,
}

impl Answer {
    /// Goes for a foe that was noticed. With `home`, a position and a facing, the unit does not stray far from there, and
    /// comes back.
    pub(crate) fn new(foe: UnitId, home: Option<(Vec2, f32)>) -> Answer {
        Answer { foe, home }
    }

    fn fight(&self, act: &Act<'_>) -> Next {
        let sighting = Sighting {
            row: act.row as u32,
            foe: self.foe,
            chases: true,
        };
        let leash = match self.home {
            Some((at, _)) => {
                let notice_m = act.state.kind_of(act.row).notice_m();
                let foe = act.state.units.row(self.foe);
                let far_m = foe.map_or(0.0, |foe| act.state.gap_m(act.row, foe));
                Leash::Home {
                    at,
                    reach_m: far_m + 2.0 * notice_m,
                }
            }
            None => Leash::Foe,
        };
        Next::RunFirst(Activity::Engage(Engage::on_leash(leash, sighting)))
    }
}

impl Behaviour for Answer {
    fn needs(&self) -> Faculties {
        Faculties::BOTH
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        self.fight(act)
    }

    fn advance(&mut self, act: &mut Act<'_>) -> Next {
        match act.sighting.take_if(|sighting| sighting.chases) {
            Some(sighting) => {
                self.foe = sighting.foe;
                self.fight(act)
            }
            None => Next::Continue,
        }
    }

    fn resumed(&mut self, act: &mut Act<'_>) -> Next {
        let (at, radius) = (
            act.state.units.position[act.row],
            act.state.units.radius[act.row],
        );
        let Some((home, facing)) = self.home else {
            return Next::Ended(Outcome::Done);
        };
        if at.distance(home) <= NEAR_HOME_RADII * radius {
            return Next::Ended(Outcome::Done);
        }
        let target = GroupPlace {
            group: act.state.next_group(),
            goal: home,
            place: Place {
                facing: Some(facing),
                ..Place::alone(home)
            },
            claim: Claim::Keeps,
        };
        legs::go_to(act.state, act.row, MoveTarget::Place(target));
        Next::Continue
    }

    fn heard(&mut self, act: &mut Act<'_>, report: Report) -> Next {
        if let (Report::Arrived(_), Some((_, facing))) = (report, self.home) {
            let unit = act.state.units.id[act.row];
            act.state.ordered_facing.set(unit, facing);
        }
        Next::Ended(Outcome::Done)
    }

    fn stop(&mut self, act: &mut Act<'_>) {
        arms::lower(act.state, act.row);
    }

    fn place(&self) -> Option<Place> {
        self.home.map(|(at, _)| Place::alone(at))
    }
}
