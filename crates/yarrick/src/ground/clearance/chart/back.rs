//! Ways back along the costs that a spread found.

use super::frame::STRIDE;
use super::sweep::FAR;
use crate::ground::Lattice;
use crate::ground::steps::{ANY, Eight, Four, Six, Tiling, offsets};

/// The costs of the cells of a tile from where a spread began, and what the cells are like.
#[derive(Clone, Copy)]
pub(super) struct Found<'a> {
    pub(super) lattice: Lattice,
    pub(super) costs: &'a [u32],
    pub(super) weights: &'a [u8],
    pub(super) neighbours: &'a [u8],
}

impl<'a> Found<'a> {
    /// The steps of a cheapest way from where the spread began to a cell, the last step first. Where several cost the same,
    /// it goes on in the same direction.
    pub(super) fn steps_back_from(self, cell: usize) -> impl Iterator<Item = u8> + 'a {
        let offsets = offsets(STRIDE);
        let (mut at, mut last) = (cell, 0);
        core::iter::from_fn(move || {
            let step = match self.lattice {
                Lattice::Squares => self.step_to(Eight { even: false }, at, last),
                Lattice::Squares4 => self.step_to(Four, at, last),
                Lattice::Hexes => self.step_to(Six, at, last),
            }?;
            at = at.wrapping_add_signed(-offsets[step]);
            last = step;
            Some(step as u8)
        })
    }

    /// A step by which a cell was reached at its cost; `None` for one where the spread began.
    fn step_to(self, tiling: impl Tiling, at: usize, last: usize) -> Option<usize> {
        let offsets = offsets(STRIDE);
        let leads_here = |step: &usize| {
            let before = at.wrapping_add_signed(-offsets[*step]);
            let slowness = u32::from(self.weights[before]) + u32::from(self.weights[at]);
            let cost = self.costs[before].checked_add(tiling.price(*step) as u32 * slowness);
            cost == Some(self.costs[at])
                && tiling.ways_on(ANY, self.neighbours[before]) >> step & 1 == 1
        };
        let is_known = self.costs[at] < FAR;
        let mut steps = core::iter::once(last).chain(0..ANY);
        steps.find(leads_here).filter(|_| is_known)
    }
}
