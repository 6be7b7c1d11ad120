//! The squares into which a clearance map is cut, for its regions and for its chart.

/// Entries on a side of a tract.
pub(crate) const SIDE: usize = 32;

/// Tracts on a side of a square of tracts.
const SQUARE: u32 = 8;

/// The steps that lead out of a tract to the right, above, to the left and below, as bits.
pub(super) const OUT: [u8; 4] = [
    1 | 1 << 4 | 1 << 7,
    1 << 1 | 1 << 4 | 1 << 5,
    1 << 2 | 1 << 5 | 1 << 6,
    1 << 3 | 1 << 6 | 1 << 7,
];

/// How the tracts lie: row by row, those at the right and at the top smaller than the others.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub(crate) struct Tracts {
    /// Entries in a row of the arrays of the map.
    stride: u32,
    columns: u32,
    rows: u32,
}

impl Tracts {
    /// The tracts of a map whose arrays have `stride` entries in a row, with a rim of one entry round `height` rows.
    pub(super) fn of(stride: usize, height: u32) -> Tracts {
        Tracts {
            stride: stride as u32,
            columns: (stride - 2).div_ceil(SIDE) as u32,
            rows: height.div_ceil(SIDE as u32),
        }
    }

    pub(super) fn count(&self) -> u32 {
        self.columns * self.rows
    }

    /// The tract of an entry on the map.
    pub(super) fn of_node(&self, node: usize) -> u32 {
        let (column, row) = (node as u32 % self.stride, node as u32 / self.stride);
        self.at((column as i32 - 1, row as i32 - 1))
    }

    /// The tract of a column and row on the map.
    pub(super) fn at(&self, (column, row): (i32, i32)) -> u32 {
        let side = SIDE as u32;
        row as u32 / side * self.columns + column as u32 / side
    }

    /// The column and row at which a tract begins.
    pub(super) fn corner(&self, tract: u32) -> (i32, i32) {
        let side = SIDE as u32;
        let (column, row) = (tract % self.columns, tract / self.columns);
        ((column * side) as i32, (row * side) as i32)
    }

    /// The entry at the corner of a tract.
    pub(super) fn first_node(&self, tract: u32) -> usize {
        let (column, row) = self.corner(tract);
        (row as usize + 1) * self.stride as usize + column as usize + 1
    }

    /// How many squares of tracts there are.
    pub(super) fn squares(&self) -> u32 {
        self.columns.div_ceil(SQUARE) * self.rows.div_ceil(SQUARE)
    }

    /// The square in which a tract lies.
    pub(super) fn square_of(&self, tract: u32) -> u32 {
        let (column, row) = (tract % self.columns, tract / self.columns);
        row / SQUARE * self.columns.div_ceil(SQUARE) + column / SQUARE
    }

    /// The tracts of a square, in order.
    pub(super) fn in_square(&self, square: u32) -> impl Iterator<Item = u32> + use<> {
        let across = self.columns.div_ceil(SQUARE);
        let (column, row) = (square % across * SQUARE, square / across * SQUARE);
        let (columns, rows) = (self.columns, self.rows);
        (row..rows.min(row + SQUARE)).flat_map(move |row| {
            (column..columns.min(column + SQUARE)).map(move |column| row * columns + column)
        })
    }

    /// The tract beside one.
    pub(super) fn neighbour(&self, tract: u32, (dx, dy): (i32, i32)) -> Option<u32> {
        let column = (tract % self.columns).checked_add_signed(dx)?;
        let row = (tract / self.columns).checked_add_signed(dy)?;
        (column < self.columns && row < self.rows).then(|| row * self.columns + column)
    }
}
