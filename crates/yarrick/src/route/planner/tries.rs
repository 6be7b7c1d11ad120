//! What a way of its own has cost the first of a group: it tells whether a field for all would cost less.

use super::request::{COST_OF_A_ROUTE, Group};
use crate::ground::ClearanceMap;
use serde::{Deserialize, Serialize};

/// The most groups that are remembered.
const MOST: usize = 256;

/// Rounds after which a try is forgotten.
const OLD_ROUNDS: u64 = 200;

/// The ways that were tried.
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
    /// Notes what the way of one of a group has cost.
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

    /// Whether a field, which looks at all cells that lead to the goal, costs less than ways of their own for so many of a
    /// group. Where the map has no chart, a way may cost nearly as much as a field.
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
