//! A clearance map as its regions see it.

use crate::ground::steps::offsets;
use crate::ground::{ClearanceMap, Lattice};

/// Where one can step from each entry of a clearance map.
pub(in crate::ground::clearance) struct Graph<'a> {
    pub(super) weights: &'a [u8],
    pub(super) steps: &'a [u8],
    pub(super) offsets: [isize; 8],
    /// Entries in a row.
    pub(super) stride: usize,
    /// Columns and rows without the rim.
    pub(super) size: (usize, usize),
    /// The steps that matter. On squares straight ones are enough: a diagonal one is allowed only
    /// where the two straight ones are.
    pub(super) counted: u8,
}

impl Graph<'_> {
    pub(super) fn is_open(&self, node: usize) -> bool {
        self.weights[node] > 0
    }

    /// The entries to which one can step from one.
    pub(in crate::ground::clearance) fn beside(
        &self,
        node: usize,
    ) -> impl Iterator<Item = usize> + '_ {
        let mut steps = self.steps[node] & self.counted;
        core::iter::from_fn(move || {
            (steps != 0).then(|| {
                let step = steps.trailing_zeros() as usize;
                steps &= steps - 1;
                node.wrapping_add_signed(self.offsets[step])
            })
        })
    }
}

impl ClearanceMap {
    pub(in crate::ground::clearance) fn graph(&self) -> Graph<'_> {
        let counted = match self.lattice {
            Lattice::Hexes => u8::MAX,
            _ => 0b1111,
        };
        Graph {
            weights: &self.weights,
            steps: &self.neighbours,
            offsets: offsets(self.stride),
            stride: self.stride,
            size: (self.stride - 2, self.height as usize),
            counted,
        }
    }
}
