//! Lines of sight.

use super::{Cell, Ground, Lattice};
use crate::geom::Vec2;

impl Ground {
    /// Whether one sees from one point to another: no cell between them has terrain that blocks sight.
    /// The cells of the two points themselves hide nothing: one sees out of reed, and what stands at
    /// its edge. Points that are not finite are never seen.
    ///
    /// Costs in proportion to the cells between.
    #[must_use]
    pub fn sees(&self, from: Vec2, to: Vec2) -> bool {
        if !(from.is_finite() && to.is_finite()) {
            return false;
        }
        let (first, last) = (self.nearest_cell(from), self.nearest_cell(to));
        // So many looks that none of the cells crossed is left out by more than a corner.
        let per_cell = if self.lattice == Lattice::Hexes {
            6.0
        } else {
            4.0
        };
        let looks = (from.distance(to) / self.cell_m * per_cell).ceil().max(1.0) as u32;
        let mut before: Option<Cell> = None;
        (0..=looks).all(|k| {
            let at = from.lerp(to, k as f32 / looks as f32);
            let cell = self.cell_at(at);
            if cell == before || cell == Some(first) || cell == Some(last) {
                return true;
            }
            before = cell;
            let terrain = cell.and_then(|cell| self.terrain(cell));
            terrain.is_none_or(|terrain| !terrain.blocks_sight)
        })
    }
}
