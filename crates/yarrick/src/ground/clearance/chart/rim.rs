//! How large tracts are, and how the cells on their rims are numbered.

/// Cells on a side of a tract.
pub(crate) const SIDE: usize = 32;

/// In place of a cost: out of reach.
pub(crate) const FAR: u32 = u32::MAX;

/// The number of a cell on the rim of a tract, by its column and row within it.
pub(super) fn rim_index((x, y): (i32, i32)) -> usize {
    let side = SIDE as i32;
    let index = match (x, y) {
        (0, y) => y,
        (x, y) if x == side - 1 => side + y,
        (x, 0) => 2 * side + x,
        (x, _) => 3 * side + x,
    };
    index as usize
}
