//! The cost of a search for single members of a group, to decide whether a field for the whole group costs less.

use super::request::{COST_OF_A_ROUTE, Group};
use crate::ground::ClearanceMap;
use serde::{Deserialize, Serialize};

/// Maximum number of groups that are remembered.
const MOST: usize = 256;

/// Rounds after which a try is forgotten.
const OLD_ROUNDS: u64 = 200;

/// The last search of each group.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
pub(super) struct Tries(Vec<Try>);

#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
struct Try {
    group: Group,
    /// The cells that the last search for one of them settled.
    settled: u32,
    round: u64,
}

impl Tries {
    /// Notes the cost of a search for a member of a group, in settled cells.
    pub(super) fn note(&mut self, group: Group, settled: u32, round: u64) {
        self.0.retain(|known| known.group != group);
        if self.0.len() >= MOST {
            // The oldest comes first.
            self.0.remove(0);
        }
        let new = Try {
            group,
            settled,
            round,
        };
        self.0.push(new);
    }

    pub(super) fn forget_old(&mut self, round: u64) {
        self.0.retain(|known| round - known.round <= OLD_ROUNDS);
    }

    pub(super) fn clear(&mut self) {
        self.0.clear();
    }

    /// Whether a field for the group costs less than `count` separate searches. A field costs as many cells as the region of
    /// the goal has. Without a chart one search may cost nearly as much as a field, so there a field always pays; before
    /// the first search of the group is done, it does not.
    pub(super) fn field_pays(&self, group: Group, count: u32, clearance: &ClearanceMap) -> bool {
        if clearance.chart().is_none() {
            return true;
        }
        let known = self.0.iter().find(|known| known.group == group);
        let field = clearance.region(group.cell());
        let field = field.map_or(0, |region| clearance.cells_in(&[region]) as u64);
        known.is_some_and(|known| {
            let each = u64::from(known.settled) + u64::from(COST_OF_A_ROUTE);
            u64::from(count) * each >= field
        })
    }

    /// Whether they could have come about: for what was read from a file.
    pub(super) fn is_consistent(&self, round: u64) -> bool {
        self.0.len() <= MOST && self.0.iter().all(|known| known.round <= round)
    }
}
