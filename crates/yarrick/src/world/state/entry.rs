//! Units that come into the world.

use super::State;
use super::units::{MAX_UNITS, Pose, UnitRow};
use crate::geom::{Block, Vec2, angle, canonical};
use crate::site::{self, Objection};
use crate::world::ids::{SideId, UnitId};
use crate::world::kind::KindId;
use crate::world::message::NoRoom;

/// Why a unit cannot come into the world.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum NoEntry {
    /// There is no such kind.
    Kind,
    /// There is no such side.
    Side,
    /// A coordinate or angle is NaN or infinite.
    NotFinite,
    /// The body does not fit there.
    NoRoom(NoRoom),
    /// The world is full.
    Full,
}

impl State {
    /// What a new unit would be like, or why there cannot be one.
    pub(crate) fn check_entry(
        &self,
        kind: KindId,
        side: SideId,
        position: Vec2,
        facing: f32,
    ) -> Result<UnitRow, NoEntry> {
        let known = self.rules.kinds.get(usize::from(kind.0));
        let known = known.ok_or(NoEntry::Kind)?;
        if usize::from(side.0) >= self.rules.sides.len() {
            return Err(NoEntry::Side);
        }
        if !(position.is_finite() && facing.is_finite()) {
            return Err(NoEntry::NotFinite);
        }
        let pose = Pose {
            position: canonical(position),
            facing: angle::wrap(facing),
        };
        self.check_room(kind, pose, None).map_err(NoEntry::NoRoom)?;
        if self.units.len() >= MAX_UNITS {
            return Err(NoEntry::Full);
        }
        let body = (known.disc_m(), known.body.health);
        Ok(UnitRow::new(kind, side, body, pose))
    }

    /// Checks that the body of a kind fits somewhere: on open ground of the map. A building fits with its whole footprint,
    /// beside other buildings. `but` is the row of the unit whose body it is, if it stands already.
    pub(crate) fn check_room(
        &self,
        kind: KindId,
        pose: Pose,
        but: Option<usize>,
    ) -> Result<(), NoRoom> {
        let (at, kind) = (pose.position, self.kind(kind));
        let view = self.ground.view(kind.body.gait);
        let Some(block) = kind.footprint_at(at, pose.facing) else {
            let is_clear = view.disc_is_clear(at, kind.body.radius_m);
            let on_the_map = self.ground.bounds().grown(-kind.body.radius_m).contains(at);
            return match (is_clear, on_the_map) {
                (true, _) => Ok(()),
                (false, true) => Err(NoRoom::ClosedGround { at }),
                (false, false) => Err(NoRoom::OffTheMap),
            };
        };
        match site::objections(view, block, self.buildings(but), []).next() {
            None | Some(Objection::InTheWay { .. }) => Ok(()),
            Some(Objection::OffTheMap) => Err(NoRoom::OffTheMap),
            Some(Objection::Overlaps { building: by }) => Err(NoRoom::Occupied { by }),
            Some(Objection::ClosedGround { at }) => Err(NoRoom::ClosedGround { at }),
        }
    }

    /// The footprints of all buildings that close ground, those on sites included, but for that in one row.
    pub(crate) fn buildings(&self, but: Option<usize>) -> impl Iterator<Item = (UnitId, Block)> {
        let buildings = self.derived.buildings.iter().copied();
        let rows = buildings.filter_map(|unit| Some((unit, self.units.row(unit)?)));
        let others = rows.filter(move |(_, row)| Some(*row) != but);
        others.filter_map(|(unit, row)| Some((unit, self.block(row)?)))
    }

    /// Puts a unit into the world. The caller gives it orders to hold.
    pub(crate) fn add_unit(&mut self, row: UnitRow) -> UnitId {
        self.units.add(row)
    }
}
