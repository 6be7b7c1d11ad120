//! Where a tile lies in the arrays of a clearance map.

use crate::ground::clearance::tracts::SIDE;
use crate::ground::steps::offsets;

/// Entries in a row of a tile, which has a rim of one entry.
pub(super) const STRIDE: usize = SIDE + 2;

/// The position of a tile.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct Frame {
    /// The column and row at which it begins.
    pub(super) corner: (i32, i32),
    /// Entries in a row of the clearance map.
    pub(super) stride: usize,
}

impl Frame {
    /// The index within the tile of an entry of the clearance map.
    pub(super) fn local(&self, cell: u32) -> usize {
        let (column, row) = (cell as usize % self.stride, cell as usize / self.stride);
        (row - self.corner.1 as usize) * STRIDE + column - self.corner.0 as usize
    }

    /// The entry of the clearance map at an index within the tile.
    pub(super) fn entry(&self, local: usize) -> u32 {
        let (column, row) = (local % STRIDE, local / STRIDE);
        ((row + self.corner.1 as usize) * self.stride + column + self.corner.0 as usize) as u32
    }

    /// The entries of the clearance map that one comes to by steps taken backwards from an index.
    pub(super) fn back_along(
        self,
        mut local: usize,
        steps: impl Iterator<Item = u8>,
    ) -> impl Iterator<Item = u32> {
        let offsets = offsets(STRIDE);
        steps.map(move |step| {
            local = local.wrapping_add_signed(-offsets[usize::from(step)]);
            self.entry(local)
        })
    }
}
