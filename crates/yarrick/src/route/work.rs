//! The unit of work: a cell that a search settles. What else is done counts as the number of cells that would have taken as
//! long.

/// Cells written down that count as one settled cell.
pub(super) const WRITTEN_A_CELL: u32 = 8;

/// Cells on tested lines that count as one settled cell.
pub(super) const LOOKED_A_CELL: u32 = 32;

/// Cells on tested lines as which each test counts, besides those on its line.
pub(super) const LOOK: u32 = 64;

/// Cells on tested lines as which a test counts whose result is told at a glance.
pub(super) const GLANCE: u32 = 16;

/// Cells of a way that count as one settled cell when its turns are read.
pub(super) const SCANNED_A_CELL: u32 = 32;

/// Cells of a way as which each turn counts.
pub(super) const TURN: u32 = 12;

/// Cells of a field that count as one settled cell when it is worked out.
pub(crate) const SPREAD_A_CELL: u32 = 2;

/// Cells of a map that count as one settled cell when a field is begun.
pub(crate) const BEGUN_A_CELL: u32 = 64;

/// Cells, and corners, read from a field that count as one settled cell.
pub(super) const READ_A_CELL: u32 = 4;
pub(super) const CORNERS_A_CELL: u32 = 2;
