//! The cost of a search for single members of a group, to decide whether a field for the whole group costs less.

use super::budget::KEPT_ROUNDS;
use super::request::{COST_OF_A_ROUTE, Group};
use crate::ground::ClearanceMap;
use crate::route::work::SPREAD_A_CELL;
use serde::{Deserialize, Serialize};

/// Maximum number of groups that are remembered.
const MOST: usize = 256;

/// A field is begun only after single routes of the group have cost `1 / TRIED_PART` of the field.
const TRIED_PART: u64 = 8;

/// The cost of the routes found so far, by group.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
pub(super) struct Tries(Vec<Try>);

#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
struct Try {
    group: Group,
    /// Number of routes found for members, and their cost in cells.
    ways: u32,
    settled: u64,
    round: u64,
}

impl Tries {
    /// Adds the cost of a route found for a member of a group, in cells.
    pub(super) fn note(&mut self, group: Group, settled: u32, round: u64) {
        let known = self.0.iter().find(|known| known.group == group);
        let (ways, before) = known.map_or((0, 0), |known| (known.ways, known.settled));
        self.0.retain(|known| known.group != group);
        if self.0.len() >= MOST {
            // The oldest comes first.
            self.0.remove(0);
        }
        let new = Try {
            group,
            ways: ways.saturating_add(1),
            settled: before.saturating_add(u64::from(settled)),
            round,
        };
        self.0.push(new);
    }

    pub(super) fn forget_old(&mut self, round: u64) {
        self.0.retain(|known| round - known.round <= KEPT_ROUNDS);
    }

    pub(super) fn clear(&mut self) {
        self.0.clear();
    }

    /// Whether a field for the group costs less than `count` separate routes. A field has as many cells as the region of the goal. Without a chart one search may cost nearly as much as a field, so there a field always pays. With a chart,
    /// single routes are tried first: along the track of the first member, the others may cost very little.
    pub(super) fn field_pays(&self, group: Group, count: u32, clearance: &ClearanceMap) -> bool {
        if clearance.chart().is_none() {
            return true;
        }
        let known = self.0.iter().find(|known| known.group == group);
        let field = clearance.region(group.cell());
        let cells = field.map_or(0, |region| clearance.cells_in(&[region]) as u64);
        let field = cells / u64::from(SPREAD_A_CELL);
        known.is_some_and(|known| {
            let each = known.settled / u64::from(known.ways.max(1));
            let each = each.saturating_add(u64::from(COST_OF_A_ROUTE));
            known.settled * TRIED_PART >= field && each.saturating_mul(u64::from(count)) >= field
        })
    }

    /// Whether they could have come about: for what was read from a file.
    pub(super) fn is_consistent(&self, round: u64) -> bool {
        self.0.len() <= MOST && self.0.iter().all(|known| known.round <= round)
    }
}
