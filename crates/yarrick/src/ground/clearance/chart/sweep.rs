//! The cheapest costs from some cells to all cells of a tile, row by row.
//!
//! ```text
//!   r+1   . . . .        A row takes the best of what the row below it offers, straight on and diagonally, and then
//!         ^\^/^          passes that on to its left and right. All rows upwards, then all rows downwards, and again,
//!   r     . . . .        as long as something changes: a row whose neighbour has not changed is left out.
//! ```
//!
//! A cell of a row does not depend on the one before it until costs are passed on sideways, so a compiler can
//! work on several at a time. On open ground two passes suffice; each turn of a way from up to down or back takes one more. A
//! queue of buckets takes five times as long on 32 by 32 cells.

use super::frame::STRIDE;
use crate::ground::clearance::tracts::SIDE;
use crate::ground::steps::{ANY, STEPS, Tiling};

/// In place of a cost: out of reach.
pub(crate) const FAR: u32 = u32::MAX;

/// Cells of a tile.
pub(super) const AREA: usize = STRIDE * STRIDE;

/// In place of a cost while sweeping, and more than any way within a tile costs. Twice as much fits in an `i32`.
const CLOSED: u32 = 1 << 29;

/// Seeds that cost more are left out: a way within a tile costs at most 302 million more.
const MOST_SEED: u32 = 1 << 27;

type Row = [u32; STRIDE];
type Rows = Box<[Row; STRIDE]>;

/// The costs found last, and those of the steps between neighbouring cells.
#[derive(Clone, Debug)]
pub(super) struct Sweep {
    /// What the steps cost that lead from each cell to the right, up, and diagonally up: the same as back.
    right: Rows,
    up: Rows,
    up_right: Rows,
    up_left: Rows,
    costs: Rows,
}

impl Default for Sweep {
    fn default() -> Sweep {
        let closed = || Box::new([[CLOSED; STRIDE]; STRIDE]);
        Sweep {
            right: closed(),
            up: closed(),
            up_right: closed(),
            up_left: closed(),
            costs: Box::new([[FAR; STRIDE]; STRIDE]),
        }
    }
}

impl Sweep {
    /// Prepares for the cells of a tile, given by their slowness and the steps that lead from them.
    pub(super) fn prepare(
        &mut self,
        tiling: impl Tiling,
        weights: &[u8; AREA],
        neighbours: &[u8; AREA],
    ) {
        let edges = [
            (&mut self.right, 0),
            (&mut self.up, 1),
            (&mut self.up_right, 4),
            (&mut self.up_left, 5),
        ];
        let mut steps = [0; AREA];
        for (steps, (weight, neighbours)) in steps.iter_mut().zip(weights.iter().zip(neighbours)) {
            // Closed cells may have open neighbours.
            *steps = tiling.ways_on(ANY, *neighbours) * u8::from(*weight > 0);
        }
        for (rows, step) in edges {
            let price = tiling.price(step) as u32;
            let (dx, dy) = STEPS[step];
            let offset = (dy * STRIDE as i32 + dx) as usize;
            for row in 1..=SIDE {
                let first = row * STRIDE;
                let inner = first + 1..first + 1 + SIDE;
                let ends = weights[inner.clone()]
                    .iter()
                    .zip(&weights[inner.start + offset..][..SIDE]);
                let taken = steps[inner].iter().zip(ends);
                for (cost, (steps, (from, to))) in rows[row][1..=SIDE].iter_mut().zip(taken) {
                    let open = price * (u32::from(*from) + u32::from(*to));
                    *cost = if steps >> step & 1 == 1 { open } else { CLOSED };
                }
            }
        }
    }

    /// Works out the costs from the nearest of some cells, each with a cost of its own. Returns the number of rows that were
    /// looked at.
    pub(super) fn run(&mut self, seeds: impl Iterator<Item = (usize, u32)>) -> u32 {
        self.costs.fill([CLOSED; STRIDE]);
        // Rows that have changed since they were last offered to the row above, and to the row below.
        let (mut up, mut down) = (0_u64, 0_u64);
        for (at, cost) in seeds.filter(|(_, cost)| *cost <= MOST_SEED) {
            let (row, column) = (at / STRIDE, at % STRIDE);
            let known = &mut self.costs[row][column];
            *known = cost.min(*known);
            up |= 1 << row;
        }
        let mut looked_at = up.count_ones();
        for row in (1..=SIDE).filter(|row| up >> row & 1 == 1) {
            pass_on(&mut self.costs[row], &self.right[row]);
        }
        down |= up;
        while up | down != 0 {
            for row in 2..=SIDE {
                if up >> (row - 1) & 1 == 1 {
                    looked_at += 1;
                    if self.offer_up(row) {
                        (up, down) = (up | 1 << row, down | 1 << row);
                    }
                }
            }
            up = 0;
            for row in (1..SIDE).rev() {
                if down >> (row + 1) & 1 == 1 {
                    looked_at += 1;
                    if self.offer_down(row) {
                        (up, down) = (up | 1 << row, down | 1 << row);
                    }
                }
            }
            down = 0;
        }
        for cost in self.costs.as_flattened_mut() {
            *cost = if *cost >= CLOSED { FAR } else { *cost };
        }
        looked_at
    }

    /// Lets a row take what the one below offers. Returns whether that changes it.
    fn offer_up(&mut self, row: usize) -> bool {
        let (below, above) = self.costs.split_at_mut(row);
        let (from, to) = (&below[row - 1], &mut above[0]);
        let [up, right, left] =
            [&self.up, &self.up_right, &self.up_left].map(|rows| &rows[row - 1]);
        let mut new = *to;
        take(&mut new, (inner(from), inner(up)));
        take(&mut new, (to_the_left(from), to_the_left(right)));
        take(&mut new, (to_the_right(from), to_the_right(left)));
        settle(to, new, &self.right[row])
    }

    /// Lets a row take what the one above offers. Returns whether that changes it.
    fn offer_down(&mut self, row: usize) -> bool {
        let (below, above) = self.costs.split_at_mut(row + 1);
        let (from, to) = (&above[0], &mut below[row]);
        let [up, right, left] = [&self.up, &self.up_right, &self.up_left].map(|rows| &rows[row]);
        let mut new = *to;
        take(&mut new, (inner(from), inner(up)));
        take(&mut new, (to_the_right(from), inner(right)));
        take(&mut new, (to_the_left(from), inner(left)));
        settle(to, new, &self.right[row])
    }

    /// What it costs to get to a cell: [`FAR`] where one cannot.
    pub(super) fn cost(&self, at: usize) -> u32 {
        self.costs.as_flattened()[at]
    }

    pub(super) fn costs(&self) -> &[u32] {
        self.costs.as_flattened()
    }
}

/// The entries of a row without those at its ends, and those to the left and right of these.
fn inner(row: &Row) -> &[u32] {
    &row[1..][..SIDE]
}

fn to_the_left(row: &Row) -> &[u32] {
    &row[..SIDE]
}

fn to_the_right(row: &Row) -> &[u32] {
    &row[2..][..SIDE]
}

/// Lets a row take costs with those of the steps to it, where that is less.
fn take(row: &mut Row, (costs, steps): (&[u32], &[u32])) {
    let offers = costs.iter().zip(steps).map(|(cost, step)| cost + step);
    for (known, offer) in row[1..][..SIDE].iter_mut().zip(offers) {
        *known = less(*known, offer);
    }
}

/// The smaller one of two numbers that fit in an `i32`: these can be compared several at a time on all processors.
fn less(a: u32, b: u32) -> u32 {
    if (a as i32) < (b as i32) { a } else { b }
}

/// Passes costs on to the left and right, and puts them in place of a row. Returns whether they differ.
fn settle(row: &mut Row, mut new: Row, right: &Row) -> bool {
    let differ = new.iter().zip(row.iter()).map(|(new, known)| new ^ known);
    if differ.fold(0, |all, bits| all | bits) == 0 {
        return false;
    }
    pass_on(&mut new, right);
    *row = new;
    true
}

fn pass_on(row: &mut Row, right: &Row) {
    let (mut ahead, mut back) = (CLOSED, CLOSED);
    let (mut from_left, mut from_right) = (*row, *row);
    // Both ways at once: neither waits for the other.
    for k in 0..SIDE {
        ahead = less(row[1 + k], ahead + right[k]);
        from_left[1 + k] = ahead;
        back = less(row[SIDE - k], back + right[SIDE - k]);
        from_right[SIDE - k] = back;
    }
    for (known, (left, right)) in row.iter_mut().zip(from_left.iter().zip(&from_right)) {
        *known = less(*left, *right);
    }
}
