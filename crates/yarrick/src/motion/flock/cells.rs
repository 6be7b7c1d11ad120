//! Who is near whom in a flock: members sorted by cell, so that those of cells side by side lie in one run.
//!
//! ```text
//!   rows and columns of cells are counted round and round, as on a ring:    the cells round x, in five runs:
//!   so no flock is too far spread, and nothing grows with the distance        a a a a a a a a a
//!   between its members. Members in one cell by accident are kept apart         b b b b b b b b b
//!   by its distance.                                                          c c c c x c c c c
//!                                                                             d d d d d d d d d
//!   A cell is a quarter of the view wide and half of it high.                 e e e e e e e e e
//! ```

use super::body::Body;
use super::lanes::LANES;
use crate::geom::Vec2;
use core::ops::Range;

/// How many columns and rows to either side a member sees into.
const COLUMNS_SEEN: u32 = 4;
const ROWS_SEEN: u32 = 2;

/// How many columns those may be apart that look round together. With what they see they must not meet themselves
/// round the ring.
const COLUMNS_TOGETHER: u32 = 6;

/// The fewest columns and rows: all that are seen into must be different ones.
const LEAST_COLUMNS: u32 = 16;
const LEAST_ROWS: u32 = 8;

/// The most cells for each member.
const CELLS_EACH: u32 = 8;

/// Cells are larger by this part than they need to be: rounding puts nobody who is seen into a cell too far off.
const SLACK: f32 = 1e-3;

/// No group goes on beyond a multiple of this many slots: threads that take whole ones find the same groups.
pub(super) const CHUNK: usize = 64;

/// How many runs the cells round one are in: those that go on beyond the end of a row are in two parts.
const RUNS: usize = 2 * (2 * ROWS_SEEN as usize + 1);

/// Where each cell begins in a list of members in the order of their cells.
#[derive(Clone, Debug, Default)]
pub(super) struct Cells {
    /// The lowest coordinates of any member, and the columns and rows in a metre.
    corner: Vec2,
    density: Vec2,
    columns: u32,
    rows: u32,
    /// Where each cell begins, and the end of the last.
    starts: Vec<u32>,
}

impl Cells {
    /// Lays cells out for members that see so many metres far, tells each its cell, and keeps room for as many as are in
    /// each. Costs in proportion to their number.
    pub(super) fn count(&mut self, bodies: &mut [Body], view_m: f32) {
        self.lay_out(bodies, view_m);
        self.starts.clear();
        self.starts
            .resize((self.columns * self.rows) as usize + 1, 0);
        for body in bodies {
            // None is below zero: what is cut off is what lies beyond the point.
            let place = (body.flat_at() - self.corner) * self.density;
            let column = place.x as u32 & (self.columns - 1);
            let row = place.y as u32 & (self.rows - 1);
            body.cell = row * self.columns + column;
            self.starts[body.cell as usize + 1] += 1;
        }
        let mut before = 0;
        for start in &mut self.starts {
            before += *start;
            *start = before;
        }
    }

    /// The next free slot of a cell, which is taken.
    pub(super) fn take_slot(&mut self, cell: u32) -> usize {
        let next = &mut self.starts[cell as usize];
        *next += 1;
        *next as usize - 1
    }

    /// To be called when all slots are taken: each start has become the end of its cell, which is where the next begins.
    pub(super) fn close(&mut self) {
        self.starts.rotate_right(1);
        self.starts[0] = 0;
    }

    /// Chooses how many columns and rows there are: as many as the flock is wide and high, if that is not too many.
    fn lay_out(&mut self, bodies: &[Body], view_m: f32) {
        let places = bodies.iter().map(Body::flat_at);
        let (least, most) = places
            .fold((Vec2::INFINITY, Vec2::NEG_INFINITY), |(least, most), at| {
                (least.min(at), most.max(at))
            });
        let extent = (most - least).max(Vec2::ZERO);
        let tight = Vec2::new(COLUMNS_SEEN as f32, ROWS_SEEN as f32) / view_m;
        let slack = SLACK + (extent * tight).max_element() * f32::EPSILON;
        self.corner = least;
        self.density = tight / (1.0 + slack);
        let spread = extent * self.density + Vec2::ONE;
        let power = |cells: f32, least: u32| {
            let cells = cells.min(1e6) as u32 + 1;
            cells.next_power_of_two().max(least)
        };
        self.columns = power(spread.x, LEAST_COLUMNS);
        self.rows = power(spread.y, LEAST_ROWS);
        let enough = (bodies.len() as u32).saturating_mul(CELLS_EACH);
        while u64::from(self.columns) * u64::from(self.rows) > u64::from(enough.max(256)) {
            if self.columns / LEAST_COLUMNS >= self.rows / LEAST_ROWS {
                self.columns /= 2;
            } else {
                self.rows /= 2;
            }
        }
    }

    /// Those who look round together from some slot on: side by side in a row of cells, at most as many as there are
    /// lanes.
    pub(super) fn together(&self, bodies: &[Body], from: usize) -> Range<usize> {
        let end = (from + LANES)
            .min(from / CHUNK * CHUNK + CHUNK)
            .min(bodies.len());
        let bodies = &bodies[from..end];
        let first = bodies[0].cell;
        // Slots are in the order of cells.
        let last = (first + COLUMNS_TOGETHER).min(first | (self.columns - 1));
        let count = bodies.iter().take_while(|body| body.cell <= last).count();
        from..from + count
    }

    /// The slots of all that some, side by side in a row, could see, as runs; some are empty.
    ///
    /// Along the ring they come in the same order for everybody, whoever looks round with it.
    pub(super) fn runs_round(&self, bodies: &[Body]) -> [Range<usize>; RUNS] {
        let (first, last) = (bodies[0].cell, bodies[bodies.len() - 1].cell);
        let (mask, row) = (self.columns - 1, first >> self.columns.trailing_zeros());
        let from = (first & mask).wrapping_sub(COLUMNS_SEEN) & mask;
        let to = (last & mask).wrapping_add(COLUMNS_SEEN) & mask;
        let mut runs: [Range<usize>; RUNS] = core::array::from_fn(|_| 0..0);
        for (k, runs) in runs.chunks_exact_mut(2).enumerate() {
            let row = (row + k as u32).wrapping_sub(ROWS_SEEN) & (self.rows - 1);
            let starts = &self.starts[(row * self.columns) as usize..][..=self.columns as usize];
            let slots = |from: u32, to: u32| {
                starts[from as usize] as usize..starts[to as usize + 1] as usize
            };
            if from <= to {
                runs[0] = slots(from, to);
            } else {
                // The ends of a row meet.
                runs.clone_from_slice(&[slots(from, mask), slots(0, to)]);
            }
        }
        runs
    }
}
