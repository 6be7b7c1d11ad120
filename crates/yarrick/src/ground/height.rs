//! Heights between the cell centres.

use super::{Cell, Ground, Lattice};
use crate::geom::{HALF_ROOT_3, Vec2};

impl Ground {
    /// Whether the map has heights.
    #[must_use]
    pub fn has_heights(&self) -> bool {
        !self.heights.is_empty()
    }

    /// The lowest and the highest height, in metres.
    #[must_use]
    pub fn height_range(&self) -> (f32, f32) {
        self.height_range
    }

    /// The height at a point in metres, blended between the nearest cell centres of the row below
    /// and those of the row above. Off the map it is that of the rim; on a flat map it is `0`.
    #[must_use]
    pub fn height_at(&self, point: Vec2) -> f32 {
        if self.heights.is_empty() || point.is_nan() {
            return 0.0;
        }
        let scaled = point / self.cell_m;
        let row = match self.lattice {
            Lattice::Hexes => (scaled.y - 0.5 / HALF_ROOT_3) / HALF_ROOT_3,
            _ => scaled.y - 0.5,
        };
        let row = row.clamp(0.0, self.height as f32 - 1.0);
        let below = row as usize;
        let above = (below + 1).min(self.height as usize - 1);
        let v = row - below as f32;
        let lower = self.height_in_row(below, scaled.x);
        lower * (1.0 - v) + self.height_in_row(above, scaled.x) * v
    }

    /// The height on the line through the middles of a row, at some cell widths from the left.
    fn height_in_row(&self, row: usize, x: f32) -> f32 {
        let first = self.lattice.centre(Cell::new(0, row as i32)).x;
        let column = (x - first).clamp(0.0, self.width as f32 - 1.0);
        let left = column as usize;
        let right = (left + 1).min(self.width as usize - 1);
        let u = column - left as f32;
        let heights = &self.heights[row * self.width as usize..];
        heights[left] * (1.0 - u) + heights[right] * u
    }

    /// The steepest slope between a cell and those round it, in metres of height a metre; `0` off
    /// the map and on a flat one.
    #[must_use]
    pub fn slope(&self, cell: Cell) -> f32 {
        let Some(at) = self.index(cell).filter(|_| self.has_heights()) else {
            return 0.0;
        };
        let here = self.heights[at];
        let to = |other: Cell| self.index(other).map(|at| (self.heights[at] - here).abs());
        let sides = self.lattice.beside(cell).filter_map(to);
        let corners = [(1, 1), (-1, 1), (-1, -1), (1, -1)]
            .into_iter()
            .filter(|_| self.lattice == Lattice::Squares)
            .filter_map(|(dx, dy)| to(Cell::new(cell.x + dx, cell.y + dy)))
            .map(|rise| rise * core::f32::consts::FRAC_1_SQRT_2);
        sides.chain(corners).fold(0.0, f32::max) / self.cell_m
    }
}
