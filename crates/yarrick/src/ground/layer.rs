//! The ground as one gait finds it, laid out cell by cell, and in squares of cells for long looks.

use core::ops::RangeInclusive;

/// Cells on a side of a square.
pub(super) const SQUARE: usize = 8;

/// The slowness of the cells, and which of them are closed.
#[derive(Clone, Debug, Default, PartialEq)]
pub(super) struct Layer {
    /// The slowness of each cell, row by row from below; `0` is closed.
    pub(super) slowness: Vec<u8>,
    /// For each square of 8 by 8 cells one bit per cell, set if the cell is closed; squares and cells row by row from below. A long
    /// line then reads one number where it would read eight rows, which lie far apart in memory.
    pub(super) squares: Vec<u64>,
}

/// Squares in a row of a map of some width.
pub(super) fn squares_in_row(width: usize) -> usize {
    width.div_ceil(SQUARE)
}

impl Layer {
    pub(super) fn resize(&mut self, width: usize, height: usize) {
        self.slowness.resize(width * height, 0);
        let squares = squares_in_row(width) * height.div_ceil(SQUARE);
        self.squares.resize(squares, u64::MAX);
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
                let closed = rows.enumerate().flat_map(|(y, row)| {
                    let cells = row[ends.0..ends.1].iter().enumerate();
                    let closed = cells.filter(|(_, slowness)| **slowness == 0);
                    closed.map(move |(x, _)| 1_u64 << (y * SQUARE + x))
                });
                self.squares[row * squares_in_row(width) + column] =
                    closed.fold(0, |square, cell| square | cell);
            }
        }
    }
}

/// The bits of the cells of one square that lie within a range of columns and a range of rows of the map. The square is given by its
/// column and row among squares; ranges include both ends.
pub(super) fn cells_of_square(
    (column, row): (usize, usize),
    (columns, rows): ((usize, usize), (usize, usize)),
) -> u64 {
    const FIRST_COLUMN: u64 = u64::from_ne_bytes([1; SQUARE]);
    let ends = |at: usize, (first, last): (usize, usize)| {
        let low = at * SQUARE;
        (first.saturating_sub(low), (last - low).min(SQUARE - 1))
    };
    let (x, y) = (ends(column, columns), ends(row, rows));
    let in_row = u64::from(u8::MAX) << x.0 & u64::from(u8::MAX) >> (SQUARE - 1 - x.1);
    let in_rows = u64::MAX << (y.0 * SQUARE) & u64::MAX >> ((SQUARE - 1 - y.1) * SQUARE);
    (in_row * FIRST_COLUMN) & in_rows
}
