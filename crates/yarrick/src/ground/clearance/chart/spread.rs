//! The result of a spread within a tract, kept while the tile is used for other tracts.

use super::frame::{Frame, STRIDE};
use super::tile::Tile;
use crate::ground::steps::{ANY, STEPS};

/// The costs of the cells of a tract, and the steps by which they were reached.
#[derive(Clone, Debug)]
pub(crate) struct Spread {
    frame: Frame,
    costs: Box<[u32]>,
    by: Box<[u8]>,
}

impl Spread {
    /// A copy of the result of the last spread in a tile.
    pub(crate) fn of(tile: &Tile) -> Spread {
        let (costs, by) = tile.found();
        Spread {
            frame: tile.frame(),
            costs: costs.into(),
            by: by.into(),
        }
    }

    /// The cost of a cell of the tract; [`FAR`](super::FAR) if it cannot be reached.
    pub(crate) fn cost(&self, cell: u32) -> u32 {
        self.costs[self.frame.local(cell)]
    }

    /// Appends the way from a cell of the tract back to where the spread began, as entries, that of the cell included.
    pub(crate) fn add_way_back(&self, cell: u32, way: &mut Vec<u32>) {
        let mut at = self.frame.local(cell);
        loop {
            way.push(self.frame.entry(at));
            let by = usize::from(self.by[at]);
            if by == ANY {
                break;
            }
            let (dx, dy) = STEPS[by];
            at = at.wrapping_add_signed(-(dy as isize * STRIDE as isize + dx as isize));
        }
    }
}
