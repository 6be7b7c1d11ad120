//! The result of a spread within a tract, kept while the tile is used for other tracts.

use super::back::Found;
use super::frame::Frame;
use super::tile::Tile;
use crate::ground::Lattice;

/// The costs of the cells of a tract.
#[derive(Clone, Debug)]
pub(crate) struct Spread {
    frame: Frame,
    lattice: Lattice,
    costs: Box<[u32]>,
    weights: Box<[u8]>,
    neighbours: Box<[u8]>,
}

impl Spread {
    /// A copy of the result of the last spread in a tile.
    pub(crate) fn of(tile: &Tile) -> Spread {
        let found = tile.found();
        Spread {
            frame: tile.frame(),
            lattice: found.lattice,
            costs: found.costs.into(),
            weights: found.weights.into(),
            neighbours: found.neighbours.into(),
        }
    }

    /// The cost of a cell of the tract; [`FAR`](super::FAR) if it cannot be reached.
    pub(crate) fn cost(&self, cell: u32) -> u32 {
        self.costs[self.frame.local(cell)]
    }

    /// Appends the way from a cell of the tract back to where the spread began, as entries, that of the cell included.
    pub(crate) fn add_way_back(&self, cell: u32, way: &mut Vec<u32>) {
        let found = Found {
            lattice: self.lattice,
            costs: &self.costs,
            weights: &self.weights,
            neighbours: &self.neighbours,
        };
        let first = self.frame.local(cell);
        way.push(self.frame.entry(first));
        way.extend(self.frame.back_along(first, found.steps_back_from(first)));
    }
}
