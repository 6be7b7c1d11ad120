//! The regions in each square of 32 by 32 entries of a clearance map. Searches for a distant region look at squares first.

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
    /// An index for `count` entries, `stride` of them in a row, none of which belongs to a region yet.
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

    /// Moves an entry from one region to another; `0` is no region.
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

    /// Column and row of the lower left entry of each square that has an entry of a wanted region.
    pub(super) fn with(&self, is_wanted: impl Fn(u32) -> bool) -> Vec<(usize, usize)> {
        let squares = self.of.iter().enumerate();
        let found = squares.filter(|(_, held)| held.iter().any(|(label, _)| is_wanted(*label)));
        found
            .map(|(at, _)| (at % self.columns * SIDE, at / self.columns * SIDE))
            .collect()
    }
}
