//! Units that come into the world.

use super::State;
use super::units::{MAX_UNITS, Pose, UnitRow};
use crate::geom::{Block, Vec2, angle, canonical};
use crate::ground::{Cell, Patch};
use crate::world::ids::{SideId, UnitId};
use crate::world::kind::KindId;
use crate::world::message::NoRoom;

/// By less than this much, in metres, two buildings may overlap: they stand wall to wall.
const WALL_TO_WALL_M: f32 = 1e-3;

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
        let bounds = self.ground.bounds();
        if !block.corners().iter().all(|at| bounds.contains(*at)) {
            return Err(NoRoom::OffTheMap);
        }
        if let Some(row) = self.overlapped(&block, but) {
            let by = self.units.id[row];
            return Err(NoRoom::Occupied { by });
        }
        match self.cells_under(&block).find(|cell| !view.is_open(*cell)) {
            Some(cell) => {
                let at = self.ground.centre(cell);
                Err(NoRoom::ClosedGround { at })
            }
            None => Ok(()),
        }
    }

    /// The building whose footprint overlaps a box. They may stand wall to wall.
    fn overlapped(&self, block: &Block, but: Option<usize>) -> Option<usize> {
        let inner = Block {
            half: block.half - Vec2::splat(WALL_TO_WALL_M),
            ..*block
        };
        let others = (0..self.units.len()).filter(|row| Some(*row) != but);
        let mut buildings = others.filter(|row| self.kind_of(*row).closes_ground());
        buildings.find(|row| {
            let other = self.block(*row);
            other.is_some_and(|other| inner.touches(&other))
        })
    }

    /// The cells that a footprint closes: those whose middles it covers. One that is narrower than a cell closes as many
    /// as if it were as wide as one, so that nothing slips through a thin wall.
    pub(crate) fn cells_under(&self, block: &Block) -> impl Iterator<Item = Cell> {
        let least = Vec2::splat(self.ground.cell_m() * 0.5);
        let wide = Block {
            half: block.half.max(least),
            ..*block
        };
        let reach = Vec2::splat(wide.half.length());
        let low = self.ground.nearest_cell(wide.centre - reach);
        let high = self.ground.nearest_cell(wide.centre + reach);
        let cells = Patch::between(low, high).cells();
        cells.filter(move |cell| wide.distance(self.ground.centre(*cell)) <= 0.0)
    }

    /// Puts a unit into the world. The caller gives it orders to hold.
    pub(crate) fn add_unit(&mut self, row: UnitRow) -> UnitId {
        self.units.add(row)
    }
}
