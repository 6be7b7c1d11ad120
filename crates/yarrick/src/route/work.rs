//! The unit of work: a cell that a search settles. What else is done counts as the number of cells that would have taken as
//! long.

/// Cells written down that count as one settled cell.
pub(super) const WRITTEN_A_CELL: u32 = 8;

/// Cells on tested lines that count as one settled cell.
pub(super) const LOOKED_A_CELL: u32 = 16;
