//! Who is near whom in a flock: members sorted by cell, so that those of cells side by side lie in one run.
//!
//! ```text
//!   rows and columns of cells are counted round and round, as on a ring:    the cells round x, in five runs:
//!   so no flock is too far spread, and nothing grows with the distance        a a a a a a a a a
//!   between its members. Who lies in one cell by chance is told apart         b b b b b b b b b
//!   by its distance.                                                          c c c c x c c c c
//!                                                                             d d d d d d d d d
//!   A cell is a quarter of the view wide and half of it high.                 e e e e e e e e e
//! ```

use super::heed::LANES;
use crate::geom::{Vec2, Vec3};
use core::ops::Range;

/// How many columns and rows to either side a member sees into.
const COLUMNS_SEEN: i32 = 4;
const ROWS_SEEN: i32 = 2;

/// The fewest columns and rows: all that a member sees into must be different ones.
const LEAST_COLUMNS: u32 = 16;
const LEAST_ROWS: u32 = 8;

/// The most cells for each member.
const CELLS_EACH: u32 = 8;

/// How many runs the cells round one are in: those that go on beyond the end of a row are in two parts.
pub(super) const RUNS: usize = 2 * (2 * ROWS_SEEN as usize + 1);

/// The members of a flock in the order of their cells, as parallel lists: workspace.
#[derive(Clone, Debug, Default)]
pub(super) struct Cells {
    /// The columns and rows in a metre.
    density: Vec2,
    columns: u32,
    rows: u32,
    /// Where each cell begins, and the end of the last.
    starts: Vec<u32>,
    /// The cell of each member, by row of the flock.
    cell_of: Vec<u32>,
    /// The row in the flock of each, in the order of cells.
    pub(super) row: Vec<u32>,
    pub(super) x: Vec<f32>,
    pub(super) y: Vec<f32>,
    pub(super) z: Vec<f32>,
    pub(super) vx: Vec<f32>,
    pub(super) vy: Vec<f32>,
    pub(super) vz: Vec<f32>,
}

impl Cells {
    /// Sorts members that see so many metres far into cells: a counting sort, so that those of one cell stay in the
    /// order of their rows. Costs in proportion to their number.
    pub(super) fn rebuild(&mut self, view_m: f32, at: &[Vec3], velocity: &[Vec3]) {
        self.density = Vec2::new(COLUMNS_SEEN as f32, ROWS_SEEN as f32) / view_m;
        self.lay_out(at);
        self.starts.clear();
        self.starts.resize(self.len() as usize + 1, 0);
        self.cell_of.clear();
        for at in at {
            let cell = self.cell(
                floored(at.x * self.density.x),
                floored(at.y * self.density.y),
            );
            self.cell_of.push(cell);
            self.starts[cell as usize + 1] += 1;
        }
        for cell in 1..self.starts.len() {
            self.starts[cell] += self.starts[cell - 1];
        }
        self.row.clear();
        self.row.resize(at.len(), 0);
        for (row, &cell) in self.cell_of.iter().enumerate() {
            let slot = &mut self.starts[cell as usize];
            self.row[*slot as usize] = row as u32;
            *slot += 1;
        }
        // Each start has become the end of its cell, which is where the next begins.
        self.starts.rotate_right(1);
        self.starts[0] = 0;
        self.gather(at, velocity);
    }

    fn gather(&mut self, at: &[Vec3], velocity: &[Vec3]) {
        let rows = &self.row;
        let fill = |list: &mut Vec<f32>, value: &dyn Fn(usize) -> f32| {
            list.clear();
            list.extend(rows.iter().map(|row| value(*row as usize)));
            // Whole lanes can be read from any slot.
            list.extend([0.0; LANES]);
        };
        fill(&mut self.x, &|row| at[row].x);
        fill(&mut self.y, &|row| at[row].y);
        fill(&mut self.z, &|row| at[row].z);
        fill(&mut self.vx, &|row| velocity[row].x);
        fill(&mut self.vy, &|row| velocity[row].y);
        fill(&mut self.vz, &|row| velocity[row].z);
    }

    /// Chooses how many columns and rows there are: as many as the flock is wide and high, if that is not too many.
    fn lay_out(&mut self, at: &[Vec3]) {
        let least = at.iter().fold(Vec3::INFINITY, |least, at| least.min(*at));
        let most = at.iter().fold(Vec3::NEG_INFINITY, |most, at| most.max(*at));
        let spread = (most - least).truncate().max(Vec2::ZERO) * self.density + Vec2::ONE;
        let power = |cells: f32, least: u32| {
            let cells = cells.min(1e6) as u32 + 1;
            cells.next_power_of_two().max(least)
        };
        self.columns = power(spread.x, LEAST_COLUMNS);
        self.rows = power(spread.y, LEAST_ROWS);
        let enough = (at.len() as u32).saturating_mul(CELLS_EACH);
        while u64::from(self.columns) * u64::from(self.rows) > u64::from(enough.max(256)) {
            match self.columns / LEAST_COLUMNS >= self.rows / LEAST_ROWS {
                true => self.columns /= 2,
                false => self.rows /= 2,
            }
        }
    }

    fn cell(&self, column: i32, row: i32) -> u32 {
        let (column, row) = (
            column as u32 & (self.columns - 1),
            row as u32 & (self.rows - 1),
        );
        row * self.columns + column
    }

    /// The number of cells.
    pub(super) fn len(&self) -> u32 {
        self.columns * self.rows
    }

    /// The slots of a cell.
    pub(super) fn slots(&self, cell: u32) -> Range<usize> {
        self.starts[cell as usize] as usize..self.starts[cell as usize + 1] as usize
    }

    /// The slot and the cell of the member in a row of the flock.
    pub(super) fn place_of(&self, row: usize) -> (usize, u32) {
        let cell = self.cell_of[row];
        let mut slots = self.slots(cell);
        let slot = slots.find(|slot| self.row[*slot] as usize == row);
        (slot.unwrap_or_default(), cell)
    }

    /// The slots of a cell and of those round it, as runs; some are empty.
    pub(super) fn runs_round(&self, cell: u32) -> [Range<usize>; RUNS] {
        let (column, row) = ((cell % self.columns) as i32, (cell / self.columns) as i32);
        let last = self.columns as i32 - 1;
        let (from, to) = (column - COLUMNS_SEEN, column + COLUMNS_SEEN);
        let mut runs: [Range<usize>; RUNS] = core::array::from_fn(|_| 0..0);
        for (row, runs) in (row - ROWS_SEEN..).zip(runs.chunks_exact_mut(2)) {
            let slots = |from: i32, to: i32| {
                let (from, to) = (self.cell(from, row), self.cell(to, row));
                self.slots(from).start..self.slots(to).end
            };
            if from < 0 || to > last {
                // The ends of a row meet.
                runs.clone_from_slice(&[slots(from, last), slots(0, to)]);
            } else {
                runs[0] = slots(from, to);
            }
        }
        runs
    }
}

/// The next whole number that is not above: without a call, unlike the library's.
fn floored(value: f32) -> i32 {
    let whole = value as i32;
    whole - i32::from(whole as f32 > value)
}
