//! Units that come into the world.

use super::State;
use super::units::{MAX_UNITS, Pose, UnitRow};
use crate::geom::{Block, Vec2, angle, canonical};
use crate::ground::{Cell, Patch};
use crate::world::ids::{SideId, UnitId};
use crate::world::kind::KindId;

/// Why a unit cannot come into the world.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum NoEntry {
    /// There is no such kind.
    Kind,
    /// There is no such side.
    Side,
    /// A coordinate or angle is NaN or infinite.
    NotFinite,
    /// The body does not fit there.
    NoRoom,
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
        if !self.has_room(kind, pose) {
            return Err(NoEntry::NoRoom);
        }
        if self.units.len() >= MAX_UNITS {
            return Err(NoEntry::Full);
        }
        let body = (known.radius_m, known.health);
        Ok(UnitRow::new(kind, side, body, pose))
    }

    /// Whether the body of a kind fits somewhere. A building lies on the map with its whole footprint, on open ground
    /// only; other buildings have closed theirs.
    pub(crate) fn has_room(&self, kind: KindId, pose: Pose) -> bool {
        let kind = self.kind(kind);
        let going = self.ground.going(kind.gait);
        let fits = |block: Block| {
            let bounds = self.ground.bounds();
            let on_the_map = block
                .corners()
                .iter()
                .all(|corner| bounds.contains(*corner));
            on_the_map && self.cells_under(&block).all(|cell| going.is_open(cell))
        };
        going.disc_is_clear(pose.position, kind.radius_m)
            && kind
                .footprint_at(pose.position, pose.facing)
                .is_none_or(fits)
    }

    /// The cells whose middles a footprint covers.
    pub(crate) fn cells_under(&self, block: &Block) -> impl Iterator<Item = Cell> {
        let reach = Vec2::splat(block.half.length());
        let low = self.ground.nearest_cell(block.centre - reach);
        let high = self.ground.nearest_cell(block.centre + reach);
        let cells = Patch::between(low, high).cells();
        cells.filter(|cell| block.distance(self.ground.centre(*cell)) <= 0.0)
    }

    /// Puts a unit into the world. The caller gives it orders to hold.
    pub(crate) fn add_unit(&mut self, row: UnitRow) -> UnitId {
        self.units.add(row)
    }
}
