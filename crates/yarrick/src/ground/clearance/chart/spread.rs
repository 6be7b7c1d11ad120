//! What a spread within a tract found, kept when the tile is used for others.

use super::tile::{STRIDE, Tile};
use crate::ground::steps::{ANY, STEPS};

/// What it costs to get to the cells of a tract, and the ways there.
#[derive(Clone, Debug)]
pub(crate) struct Spread {
    corner: (i32, i32),
    stride: usize,
    costs: Box<[u32]>,
    by: Box<[u8]>,
}

impl Spread {
    /// Keeps what the last spread in a tile found.
    pub(crate) fn of(tile: &Tile) -> Spread {
        let (corner, stride) = tile.lies_at();
        let (costs, by) = tile.found();
        Spread {
            corner,
            stride,
            costs: costs.into(),
            by: by.into(),
        }
    }

    /// What it costs to get to a cell of the tract; [`FAR`](super::FAR) where one cannot.
    pub(crate) fn cost(&self, cell: u32) -> u32 {
        self.costs[self.local(cell)]
    }

    /// Adds the way to a cell of the tract, from there back to where it began, as entries; the first of them is the cell.
    pub(crate) fn add_way_back(&self, cell: u32, way: &mut Vec<u32>) {
        let mut at = self.local(cell);
        loop {
            way.push(self.entry(at));
            let by = usize::from(self.by[at]);
            if by == ANY {
                break;
            }
            let (dx, dy) = STEPS[by];
            at = at.wrapping_add_signed(-(dy as isize * STRIDE as isize + dx as isize));
        }
    }

    fn local(&self, cell: u32) -> usize {
        let (column, row) = (cell as usize % self.stride, cell as usize / self.stride);
        (row - self.corner.1 as usize) * STRIDE + column - self.corner.0 as usize
    }

    fn entry(&self, local: usize) -> u32 {
        let (column, row) = (local % STRIDE, local / STRIDE);
        ((row + self.corner.1 as usize) * self.stride + column + self.corner.0 as usize) as u32
    }
}
