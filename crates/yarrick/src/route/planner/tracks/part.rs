//! A part of a field: what it costs to get onto a track, or off it, from the cells of one tract.

use crate::ground::{ClearanceMap, FAR, Spread, Tile};
use serde::{Deserialize, Serialize};

/// The most cells that working out a part looks at: all of a tract, and a few of them twice.
pub(super) const PART_CELLS: u32 = 1200;

/// Which part it is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub(super) struct PartKey {
    pub(super) tract: u32,
    /// Whether it leads off the track to where one wants to get; otherwise onto it, from where one sets out.
    pub(super) leads_off: bool,
}

/// What it costs from each cell of a tract by the track to its end, or from its beginning by the track to each cell.
#[derive(Clone, Debug)]
pub(super) struct Part {
    pub(super) key: PartKey,
    /// Whether the track does not come through this tract, so that one gets there through one beside it.
    pub(super) is_beside: bool,
    /// What its cheapest cell costs.
    base: u64,
    /// What the others cost beyond that.
    spread: Spread,
}

impl Part {
    /// Works out a part from cells of which the cost is known. Gives how many cells were settled, too.
    pub(super) fn new(
        clearance: &ClearanceMap,
        tile: &mut Tile,
        (key, corner): (PartKey, (i32, i32)),
        mut seeds: Vec<(u32, u64)>,
        is_beside: bool,
    ) -> (Part, u32) {
        seeds.sort_unstable_by_key(|(cell, cost)| (*cost, *cell));
        let base = seeds.first().map_or(0, |(_, cost)| *cost);
        let beyond = |cost: u64| u32::try_from(cost - base).unwrap_or(FAR);
        let seeds: Vec<(u32, u32)> = seeds
            .into_iter()
            .map(|(cell, cost)| (cell, beyond(cost)))
            .filter(|(_, cost)| *cost < FAR / 2)
            .collect();
        tile.load(clearance, corner);
        let settled = tile.spread_from(&seeds);
        let part = Part {
            key,
            is_beside,
            base,
            spread: Spread::of(tile),
        };
        (part, settled)
    }

    /// What it costs at a cell of the tract; `None` where one does not get there.
    pub(super) fn cost(&self, cell: u32) -> Option<u64> {
        let cost = self.spread.cost(cell);
        (cost < FAR).then(|| self.base + u64::from(cost))
    }

    /// Adds the way from a cell to one of those from which the part was worked out.
    pub(super) fn add_way(&self, cell: u32, way: &mut Vec<u32>) {
        self.spread.add_way_back(cell, way);
    }
}
