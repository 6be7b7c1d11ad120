//! Which regions lie in each square of 32 by 32 entries: so that what lies far off is found by a look at squares first.

/// Entries to a side of a square.
pub(super) const SIDE: usize = 32;

/// How many entries of each region every square holds.
#[derive(Clone, Debug, Default)]
pub(super) struct Squares {
    /// Entries and squares in a row.
    stride: usize,
    columns: usize,
    /// The numbers of the regions in each square, and how many entries each has there.
    of: Vec<Vec<(u32, u32)>>,
}

impl Squares {
    /// Of a map with so many entries, and so many in a row, that belong to no region.
    pub(super) fn new(count: usize, stride: usize) -> Squares {
        let stride = stride.max(1);
        let columns = stride.div_ceil(SIDE);
        let rows = count.div_ceil(stride).div_ceil(SIDE);
        Squares {
            stride,
            columns,
            of: vec![Vec::new(); columns * rows],
        }
    }

    /// Takes in that an entry has gone over from one region to another; `0` is none.
    pub(super) fn relabel(&mut self, node: usize, before: u32, then: u32) {
        let (column, row) = (node % self.stride, node / self.stride);
        let square = &mut self.of[row / SIDE * self.columns + column / SIDE];
        if before > 0
            && let Some(at) = square.iter().position(|(label, _)| *label == before)
        {
            square[at].1 -= 1;
            if square[at].1 == 0 {
                square.swap_remove(at);
            }
        }
        if then > 0 {
            match square.iter_mut().find(|(label, _)| *label == then) {
                Some((_, count)) => *count += 1,
                None => square.push((then, 1)),
            }
        }
    }

    pub(super) fn len(&self) -> usize {
        self.of.len()
    }

    /// The squares that hold entries of a region that is looked for, by the column and the row of the entry at their lower left.
    pub(super) fn with(&self, is_looked_for: impl Fn(u32) -> bool) -> Vec<(usize, usize)> {
        let squares = self.of.iter().enumerate();
        let found = squares.filter(|(_, held)| held.iter().any(|(label, _)| is_looked_for(*label)));
        found
            .map(|(at, _)| (at % self.columns * SIDE, at / self.columns * SIDE))
            .collect()
    }
}
