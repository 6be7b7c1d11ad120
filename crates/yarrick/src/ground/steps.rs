//! The steps from cell to cell, and what they cost: eight on squares, four of them where squares are
//! left by their sides only, six between hexes, whose rows are sheared so that they fit the same pattern:
//!
//! ```text
//!   5 1 4        5 1
//!   2 . 0        2 . 0      hexes: 4 and 6 are left out, and all cost the same
//!   6 3 7          3 7
//! ```

/// What a straight step costs, times the slowness of both its cells added up. On plain ground
/// (slowness 16) a cell's width costs `408 · 32`.
pub const STRAIGHT: u64 = 408;

/// What a diagonal step costs, times the slowness of both its cells. `577 / 408` is the square
/// root of two to within 2 parts in a million.
pub const DIAGONAL: u64 = 577;

/// The eight steps: four straight ones, then four diagonal ones. Diagonal `k` lies between
/// straight `k` and the one after it.
pub(crate) const STEPS: [(i32, i32); 8] = [
    (1, 0),
    (0, 1),
    (-1, 0),
    (0, -1),
    (1, 1),
    (-1, 1),
    (-1, -1),
    (1, -1),
];

/// The steps between hexes.
pub(crate) const OF_HEXES: [usize; 6] = [0, 1, 2, 3, 5, 7];

/// How far each step leads in an array of rows.
pub(crate) fn offsets(stride: usize) -> [isize; 8] {
    STEPS.map(|(x, y)| y as isize * stride as isize + x as isize)
}

/// The way of stepping on one kind of lattice, seen by column and row of the arrays of a clearance map.
pub(crate) trait Tiling: Copy {
    /// Which steps to go on with, as bits: from a cell reached by a step, or [`ANY`], by what the
    /// clearance map holds of its neighbours.
    fn ways_on(self, _by: usize, neighbours: u8) -> u8 {
        neighbours
    }

    /// What a step costs, times the slowness of both its cells.
    fn price(self, _step: usize) -> u64 {
        STRAIGHT
    }

    /// The same in fifths of a straight step, as fields count.
    fn fifths(self, _step: usize) -> u32 {
        5
    }

    /// The least that the way between two cells costs, times twice their slowness, by how many columns
    /// and rows lie between.
    fn estimate(self, dx: i32, dy: i32) -> u64;
}

/// Squares that are left by their corners, too.
#[derive(Clone, Copy)]
pub(crate) struct Eight {
    /// Whether all are of one speed, so that steps can be left out which lead nowhere cheaper.
    pub(crate) even: bool,
}

/// Squares that are left by their sides.
#[derive(Clone, Copy)]
pub(crate) struct Four;

/// Hexes.
#[derive(Clone, Copy)]
pub(crate) struct Six;

impl Tiling for Eight {
    fn ways_on(self, by: usize, neighbours: u8) -> u8 {
        // On ground of several speeds a way that turns late may be the cheaper one.
        WAYS_ON[if self.even { by } else { ANY }][usize::from(neighbours)]
    }

    fn price(self, step: usize) -> u64 {
        if step < 4 { STRAIGHT } else { DIAGONAL }
    }

    fn fifths(self, step: usize) -> u32 {
        if step < 4 { 5 } else { 7 }
    }

    fn estimate(self, dx: i32, dy: i32) -> u64 {
        octile(dx, dy)
    }
}

impl Tiling for Four {
    fn estimate(self, dx: i32, dy: i32) -> u64 {
        STRAIGHT * u64::from(dx.unsigned_abs() + dy.unsigned_abs())
    }
}

impl Tiling for Six {
    fn estimate(self, dx: i32, dy: i32) -> u64 {
        // Steps 5 and 7 make up for one column and one row of unlike signs at once.
        let (x, y) = (dx.unsigned_abs(), dy.unsigned_abs());
        let steps = if (dx < 0) == (dy < 0) {
            x + y
        } else {
            x.max(y)
        };
        STRAIGHT * u64::from(steps)
    }
}

/// The least that a way over `dx` columns and `dy` rows costs, for a slowness of one half: the octile
/// distance.
pub(crate) fn octile(dx: i32, dy: i32) -> u64 {
    let (dx, dy) = (dx.unsigned_abs(), dy.unsigned_abs());
    let (long, short) = (u64::from(dx.max(dy)), u64::from(dx.min(dy)));
    STRAIGHT * (long - short) + DIAGONAL * short
}

/// The steps to go on with from a cell, as a bit for each of [`STEPS`]: by the step that led there
/// ([`ANY`] for none), and by which of its eight neighbours are open.
pub(crate) static WAYS_ON: [[u8; 256]; 9] = ways_on();

/// In place of a step: all that can be taken count.
pub(crate) const ANY: usize = 8;

/// A diagonal step needs both cells beside it. Of ways that cost the same only the one that goes
/// diagonally first is followed: after a straight step one turns only where a closed cell beside
/// the way ends, after a diagonal one only along its axes. (Harabor and Grastien, 2011, for steps
/// that cut no corners.)
const fn ways_on() -> [[u8; 256]; 9] {
    let mut table = [[0; 256]; 9];
    let mut by = 0;
    while by <= ANY {
        let mut open = 0;
        while open < 256 {
            table[by][open] = possible(open as u8) & sensible(by, open as u8);
            open += 1;
        }
        by += 1;
    }
    table
}

const fn is_set(bits: u8, step: usize) -> bool {
    bits >> (step % 8) & 1 == 1
}

/// The steps that can be taken.
const fn possible(open: u8) -> u8 {
    let mut steps = open & 0b1111;
    let mut k = 0;
    while k < 4 {
        if is_set(open, k) && is_set(open, (k + 1) % 4) && is_set(open, k + 4) {
            steps |= 1 << (k + 4);
        }
        k += 1;
    }
    steps
}

/// The steps that no way of the same cost makes needless.
const fn sensible(by: usize, open: u8) -> u8 {
    if by == ANY {
        return u8::MAX;
    }
    if by >= 4 {
        // Diagonal k lies between straight k and the one after it.
        let k = by - 4;
        return 1 << by | 1 << k | 1 << ((k + 1) % 4);
    }
    let mut steps = 1 << by;
    // To the left: straight step `by + 1`, between it and straight on diagonal `by`, and behind it
    // diagonal `by + 1`. To the right the same the other way round.
    if !is_set(open, 4 + (by + 1) % 4) {
        steps |= 1 << ((by + 1) % 4) | 1 << (4 + by);
    }
    if !is_set(open, 4 + (by + 2) % 4) {
        steps |= 1 << ((by + 3) % 4) | 1 << (4 + (by + 3) % 4);
    }
    steps
}
