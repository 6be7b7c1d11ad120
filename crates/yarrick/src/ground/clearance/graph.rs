//! A clearance map as its regions see it.

use super::ClearanceMap;
use super::regions::Graph;
use crate::ground::Lattice;
use crate::ground::steps::offsets;

impl ClearanceMap {
    pub(super) fn graph(&self) -> Graph<'_> {
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
