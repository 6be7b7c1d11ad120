//! A part of a field: the costs of joining a track, or leaving it, for the cells of one tract.

use crate::ground::{ClearanceMap, FAR, Spread, Tile};
use serde::{Deserialize, Serialize};

/// Maximum work to compute a part, in settled cells.
pub(super) const PART_CELLS: u32 = 900;

/// The part of that work which does not depend on the ground.
const OVERHEAD: u32 = 100;

/// Identifies a part.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub(in crate::route::planner) struct PartKey {
    pub(super) tract: u32,
    /// Whether it is for leaving the track near the goal; otherwise for joining it near the start.
    pub(super) leads_off: bool,
}

/// The cost from each cell of a tract along the track to its end, or from the beginning of the track to each cell.
#[derive(Clone, Debug)]
pub(in crate::route::planner) struct Part {
    pub(super) key: PartKey,
    /// Whether the track does not pass through this tract, so that it is reached through a neighbouring tract.
    pub(super) is_beside: bool,
    /// The lowest cost of a cell.
    base: u64,
    /// The costs of the cells above that.
    spread: Spread,
}

impl Part {
    /// Computes a part from cells of known cost. Returns also the work.
    pub(super) fn new(
        clearance: &ClearanceMap,
        tile: &mut Tile,
        (key, corner): (PartKey, (i32, i32)),
        seeds: Vec<(u32, u64)>,
        is_beside: bool,
    ) -> (Part, u32) {
        let base = seeds.iter().map(|(_, cost)| *cost).min().unwrap_or(0);
        let beyond = |cost: u64| u32::try_from(cost - base).unwrap_or(FAR);
        let seeds = seeds.into_iter();
        tile.load(clearance, corner);
        let settled = tile.spread_from(seeds.map(|(cell, cost)| (cell, beyond(cost))));
        let part = Part {
            key,
            is_beside,
            base,
            spread: Spread::of(tile),
        };
        (part, OVERHEAD + settled)
    }

    /// The cost of a cell of the tract; `None` if it cannot be reached.
    pub(super) fn cost(&self, cell: u32) -> Option<u64> {
        let cost = self.spread.cost(cell);
        (cost < FAR).then(|| self.base + u64::from(cost))
    }

    /// Appends the cells from a cell to one of the cells that the part was computed from.
    pub(super) fn add_way(&self, cell: u32, way: &mut Vec<u32>) {
        self.spread.add_way_back(cell, way);
    }
}

/// Parts that were computed and are not yet kept, each with the number of its track.
#[derive(Debug, Default)]
pub(in crate::route::planner) struct NewParts(pub(super) Vec<(u64, Part)>);

impl NewParts {
    /// The parts of a track.
    pub(super) fn of(&self, track: u64) -> impl Iterator<Item = &Part> {
        let here = self.0.iter().filter(move |(number, _)| *number == track);
        here.map(|(_, part)| part)
    }
}
