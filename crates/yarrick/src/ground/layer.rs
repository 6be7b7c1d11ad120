//! The ground as one gait finds it, laid out cell by cell, and in squares of cells for long looks.

use core::ops::RangeInclusive;

/// Cells on a side of a square.
pub(super) const SQUARE: usize = 8;

/// The slowness of the cells, and which squares of them are all open.
#[derive(Clone, Debug, Default, PartialEq)]
pub(super) struct Layer {
    /// The slowness of each cell, row by row from below; `0` is closed.
    pub(super) slowness: Vec<u8>,
    /// For each square of 8 by 8 cells, row by row from below, `0` if one of its cells is closed. A look across a large map
    /// then reads one byte where it would read eight, each from a place of its own in memory.
    pub(super) squares: Vec<u8>,
}

/// Squares in a row of a map of some width.
pub(super) fn squares_in_row(width: usize) -> usize {
    width.div_ceil(SQUARE)
}

impl Layer {
    pub(super) fn resize(&mut self, width: usize, height: usize) {
        self.slowness.resize(width * height, 0);
        let squares = squares_in_row(width) * height.div_ceil(SQUARE);
        self.squares.resize(squares, 0);
    }

    /// Takes in that the slowness of the cells in some columns and rows, of a map of that width, has changed.
    pub(super) fn changed(
        &mut self,
        width: usize,
        columns: RangeInclusive<i32>,
        rows: RangeInclusive<i32>,
    ) {
        if columns.is_empty() || rows.is_empty() {
            return;
        }
        let square = |at: &i32| *at as usize / SQUARE;
        for row in square(rows.start())..=square(rows.end()) {
            for column in square(columns.start())..=square(columns.end()) {
                let ends = (column * SQUARE, ((column + 1) * SQUARE).min(width));
                let rows = self.slowness.chunks(width).skip(row * SQUARE).take(SQUARE);
                let is_open = rows
                    .flat_map(|row| &row[ends.0..ends.1])
                    .all(|slowness| *slowness > 0);
                self.squares[row * squares_in_row(width) + column] = u8::from(is_open);
            }
        }
    }
}
