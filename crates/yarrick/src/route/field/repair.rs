//! Mending a field where the ground has changed.
//!
//! What was left from a cell can have become more only if every step that it could be taken from has
//! gone or become dearer: such *orphans* are looked for from the change outwards, in order of what was left,
//! so that each is decided after all that it could rest on. (After Ramalingam and Reps, 1996.) Then
//! what the others know is spread over the orphans, and whatever became cheaper from the change on.

use super::spread::{in_fifths, links_to, price, relax};
use super::{FAR, GoalField};
use crate::ground::steps::{ANY, Eight, Four, Six, Tiling, offsets};
use crate::ground::{ClearanceMap, Lattice, Patch};
use core::cmp::Reverse;
use std::collections::BinaryHeap;

/// If more than one cell in this many is orphaned, all is worked out anew: that is then cheaper.
const FEW: usize = 32;

impl GoalField {
    /// Takes in that the clearance map has changed within a patch, which is what [`ClearanceMap::repair`] gave.
    /// The outcome equals a field made anew.
    ///
    /// Costs in proportion to the cells whose cost changes, and never much more than a new field.
    ///
    /// # Errors
    /// [`FieldError::GoalClosed`](super::FieldError::GoalClosed) where a goal has been closed: the
    /// field is then of no more use.
    pub fn repair(
        &mut self,
        clearance: &ClearanceMap,
        patch: Patch,
    ) -> Result<(), super::FieldError> {
        let was_done = self.is_done();
        self.repair_within(clearance, patch, u32::MAX)?;
        if was_done && !self.is_done() {
            self.advance(clearance, u32::MAX);
        }
        Ok(())
    }

    /// The same, but where more than about `most` cells would have to be looked at, the field is begun anew, and
    /// [`GoalField::advance`] goes on. Gives the number of cells that were looked at.
    pub(crate) fn repair_within(
        &mut self,
        clearance: &ClearanceMap,
        patch: Patch,
        most: u32,
    ) -> Result<u32, super::FieldError> {
        for &goal in &self.goals {
            if clearance.weights()[goal as usize] == 0 {
                let cell = clearance.cell(goal as usize);
                return Err(super::FieldError::GoalClosed { cell });
            }
        }
        if patch.is_empty() {
            return Ok(0);
        }
        let even = clearance.is_even() && clearance.hops().is_empty();
        let same_units = even == self.even && (!even || self.lightest == clearance.lightest());
        if !same_units || !self.is_done() {
            self.start(clearance);
            return Ok(0);
        }
        self.anchors.clear();
        self.looks_from = None;
        let looked_at = match clearance.lattice() {
            Lattice::Squares => self.mend(clearance, Eight { even: false }, patch, most),
            Lattice::Squares4 => self.mend(clearance, Four, patch, most),
            Lattice::Hexes => self.mend(clearance, Six, patch, most),
        };
        if looked_at > most {
            self.start(clearance);
        }
        Ok(looked_at)
    }

    /// Gives the number of cells that were looked at: if that is more than `most`, it is not done.
    fn mend(
        &mut self,
        clearance: &ClearanceMap,
        tiling: impl Tiling,
        patch: Patch,
        most: u32,
    ) -> u32 {
        let touched = patch.cells().filter_map(|cell| clearance.node(cell));
        let touched: Vec<usize> = touched.collect();
        let few = (self.left.len() / FEW).min(most as usize);
        let Some(orphans) = self.find_orphans(clearance, tiling, &touched, few) else {
            self.start(clearance);
            return few as u32;
        };
        self.frontier.clear(false, true, clearance.heaviest());
        // The neighbours of orphans, and the cells of the change, spread the new costs.
        let mut tellers = touched.clone();
        for &orphan in &orphans {
            tellers.extend(around(clearance, tiling, orphan).map(|(next, _)| next));
        }
        for &node in orphans.iter().chain(&touched) {
            tellers.extend(links_from(clearance, node).map(|(next, _)| next));
        }
        for node in tellers {
            if self.left[node] != FAR && clearance.weights()[node] > 0 {
                let left = u64::from(self.left[node]);
                self.frontier.push(left, node as u32, ANY as u32);
            }
        }
        let mut looked_at = (touched.len() + orphans.len()) as u32;
        while looked_at <= most
            && let Some((left, node)) = self.frontier.pop_smallest()
        {
            if left == u64::from(self.left[node as usize]) {
                relax(self, clearance, tiling, node as usize);
                looked_at += 1;
            }
        }
        looked_at
    }

    /// Marks all whose cost rests on nothing any more as out of reach. `None` where these are more than `most`.
    fn find_orphans(
        &mut self,
        clearance: &ClearanceMap,
        tiling: impl Tiling,
        touched: &[usize],
        most: usize,
    ) -> Option<Vec<usize>> {
        let mut suspects: BinaryHeap<Reverse<(u32, u32)>> = BinaryHeap::new();
        for &node in touched {
            if self.left[node] != FAR {
                suspects.push(Reverse((self.left[node], node as u32)));
            }
        }
        let mut orphans = Vec::new();
        while let Some(Reverse((left, node))) = suspects.pop() {
            let node = node as usize;
            if self.left[node] != left || self.is_supported(clearance, tiling, node) {
                continue;
            }
            self.left[node] = FAR;
            orphans.push(node);
            if orphans.len() > most {
                return None;
            }
            // All round it, since steps that led here may be gone.
            let offsets = offsets(clearance.stride());
            let beside = offsets.map(|offset| node.wrapping_add_signed(offset));
            let linked = links_to(clearance, node).map(|(from, _)| from);
            for next in beside.into_iter().chain(linked) {
                let known = self.left.get(next).copied().unwrap_or(FAR);
                if known != FAR && known > left {
                    suspects.push(Reverse((known, next as u32)));
                }
            }
        }
        Some(orphans)
    }

    /// Whether what is left from a node is what is left from another and the way there.
    fn is_supported(&self, clearance: &ClearanceMap, tiling: impl Tiling, node: usize) -> bool {
        let left = self.left[node];
        if clearance.weights()[node] == 0 {
            return false;
        }
        if left == 0 {
            return self.goals.contains(&(node as u32));
        }
        let rests_on = |next: usize, cost: u32| {
            self.left[next] != FAR && self.left[next].saturating_add(cost).min(FAR - 1) == left
        };
        around(clearance, tiling, node).any(|(next, step)| {
            rests_on(next, price(self.even, clearance, tiling, step, node, next))
        }) || links_from(clearance, node).any(|(next, cost)| rests_on(next, cost))
    }
}

/// The nodes that one can step to, with the steps.
fn around(
    clearance: &ClearanceMap,
    tiling: impl Tiling,
    node: usize,
) -> impl Iterator<Item = (usize, usize)> {
    let offsets = offsets(clearance.stride());
    let open = clearance.weights()[node] > 0;
    let steps = if open {
        tiling.ways_on(ANY, clearance.neighbours()[node])
    } else {
        0
    };
    (0..8)
        .filter(move |step| steps >> step & 1 == 1)
        .map(move |step| (node.wrapping_add_signed(offsets[step]), step))
}

/// Where links lead from a node, and what they cost.
fn links_from(clearance: &ClearanceMap, node: usize) -> impl Iterator<Item = (usize, u32)> + '_ {
    let hops = clearance.hops_from(node);
    hops.map(|(_, hop)| (hop.to as usize, in_fifths(hop.cost)))
}
