//! Spreading a field from its goals.
//!
//! Costs are whole numbers: 5 for a straight step and 7 for a diagonal one, times the slowness of
//! both cells on ground of several speeds. On ground of one speed eight buckets in a ring then hold all
//! that is under way, and steps are left out that lead nowhere cheaper (see `steps`), so that most
//! cells are looked at once.

use super::frontier::NODE_BITS;
use super::{FAR, FieldError, GoalField};
use crate::ground::steps::{ANY, Eight, Four, Six, Tiling, offsets};
use crate::ground::{Cell, ClearanceMap, Lattice};

impl GoalField {
    /// The field of some goals, over the whole map. `clearance` must be the same, or repaired and the
    /// field with it, whenever the field is asked.
    ///
    /// Costs a look or two at each cell that the goals can be reached from; takes 4 bytes a cell, and
    /// 4 more once [`GoalField::heading`] is asked.
    ///
    /// # Errors
    /// [`FieldError`] for no goals, or one that is closed.
    pub fn new(clearance: &ClearanceMap, goals: &[Cell]) -> Result<GoalField, FieldError> {
        let mut field = GoalField::begin(clearance, goals)?;
        field.advance(clearance, u32::MAX);
        Ok(field)
    }

    /// Goes on until all is known, or about `most` more cells are. Gives how many were settled.
    pub fn advance(&mut self, clearance: &ClearanceMap, most: u32) -> u32 {
        let settled = advance(self, clearance, most);
        self.settled = self.settled.saturating_add(settled);
        settled
    }
}

/// Goes on until all is known, or about `most` cells are settled. Gives how many were.
fn advance(field: &mut GoalField, clearance: &ClearanceMap, most: u32) -> u32 {
    match (field.even, clearance.lattice()) {
        (true, Lattice::Squares) => even(field, clearance, Eight { even: true }, most),
        (true, Lattice::Squares4) => even(field, clearance, Four, most),
        (true, Lattice::Hexes) => even(field, clearance, Six, most),
        (false, Lattice::Squares) => uneven(field, clearance, Eight { even: false }, most),
        (false, Lattice::Squares4) => uneven(field, clearance, Four, most),
        (false, Lattice::Hexes) => uneven(field, clearance, Six, most),
    }
}

/// A bucket after the other: no step costs as little as to lead back into the one that is being emptied.
fn even(field: &mut GoalField, clearance: &ClearanceMap, tiling: impl Tiling, most: u32) -> u32 {
    let offsets = offsets(clearance.stride());
    let neighbours = clearance.neighbours();
    let (left, frontier) = (&mut field.left[..], &mut field.frontier);
    let mut settled = 0;
    while frontier.count > 0 && settled < most {
        let slot = (frontier.at % 8) as usize;
        let mut bucket = core::mem::take(&mut frontier.ring[slot]);
        let here = frontier.at as u32;
        while settled < most {
            let Some(entry) = bucket.pop() else {
                break;
            };
            frontier.count -= 1;
            let (by, node) = (
                entry >> NODE_BITS,
                (entry & ((1 << NODE_BITS) - 1)) as usize,
            );
            if left[node] != here {
                continue;
            }
            settled += 1;
            let mut steps = tiling.ways_on(by as usize, neighbours[node]);
            while steps != 0 {
                let step = steps.trailing_zeros();
                steps &= steps - 1;
                let next = node.wrapping_add_signed(offsets[step as usize]);
                let cost = here + tiling.fifths(step as usize);
                if cost < left[next] {
                    left[next] = cost;
                    frontier.ring[(cost % 8) as usize].push(step << NODE_BITS | next as u32);
                    frontier.count += 1;
                }
            }
        }
        // What the budget did not reach for waits where it is.
        frontier.at += u64::from(bucket.is_empty());
        frontier.ring[slot] = bucket;
    }
    settled
}

fn uneven(field: &mut GoalField, clearance: &ClearanceMap, tiling: impl Tiling, most: u32) -> u32 {
    let mut settled = 0;
    while settled < most {
        let Some(node) = field.frontier.pop() else {
            break;
        };
        // A node that was reached again at less is spread from again, which changes nothing.
        settled += 1;
        field.frontier.at = u64::from(field.left[node as usize]);
        relax(field, clearance, tiling, node as usize);
    }
    settled
}

/// Offers what is left from a node to those from which one can step there.
pub(super) fn relax(
    field: &mut GoalField,
    clearance: &ClearanceMap,
    tiling: impl Tiling,
    node: usize,
) {
    let here = field.left[node];
    let offsets = offsets(clearance.stride());
    let mut steps = tiling.ways_on(ANY, clearance.neighbours()[node]);
    while steps != 0 {
        let step = steps.trailing_zeros() as usize;
        steps &= steps - 1;
        let next = node.wrapping_add_signed(offsets[step]);
        let cost = here.saturating_add(price(field.even, clearance, tiling, step, node, next));
        offer(field, next, cost);
    }
    for (from, cost) in links_to(clearance, node) {
        offer(field, from, here.saturating_add(cost));
    }
}

fn offer(field: &mut GoalField, next: usize, cost: u32) {
    // Costs end just below what stands for out of reach.
    let cost = cost.min(FAR - 1);
    if cost < field.left[next] {
        field.left[next] = cost;
        field
            .frontier
            .push(u64::from(cost), next as u32, ANY as u32);
    }
}

/// What a step between two nodes costs.
pub(super) fn price(
    even: bool,
    clearance: &ClearanceMap,
    tiling: impl Tiling,
    step: usize,
    a: usize,
    b: usize,
) -> u32 {
    let weights = clearance.weights();
    if even {
        tiling.fifths(step)
    } else {
        tiling.fifths(step) * (u32::from(weights[a]) + u32::from(weights[b]))
    }
}

/// From where links lead to a node, and what they cost.
pub(super) fn links_to(
    clearance: &ClearanceMap,
    node: usize,
) -> impl Iterator<Item = (usize, u32)> + '_ {
    let hops = clearance.hops().iter();
    hops.filter(move |hop| hop.to as usize == node && clearance.weights()[hop.from as usize] > 0)
        .map(|hop| (hop.from as usize, in_fifths(hop.cost)))
}

/// What a link costs in a field, by what it costs in searches.
pub(super) fn in_fifths(cost: u64) -> u32 {
    (cost * 5 / 408).clamp(1, u64::from(u32::MAX / 2)) as u32
}
