//! The closed cells of a grid as bits, along rows or along columns: what lies ahead on a line is
//! found 64 cells at a time.
//!
//! ```text
//!   word 0            word 1
//!   ..##....#.....    ...          one line of a grid; 1 is closed
//!   ↑ bit 0            ↑ bit 64
//! ```

/// Closed cells as bits, line by line, and what stops a look along each line.
#[derive(Clone, Debug, PartialEq, Eq, Default)]
pub(crate) struct Lines {
    /// Words in a line.
    words: usize,
    closed: Vec<u64>,
    /// Closed cells and corners, looking ahead and looking back.
    ahead: Vec<u64>,
    back: Vec<u64>,
    /// How many corners there are, looking ahead: in each word, and in all.
    counted: Vec<u8>,
    corners: usize,
}

/// What stops a look along a line.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Stop {
    /// A closed cell.
    Closed(u32),
    /// An open cell behind which, on one side or the other, a closed cell ends: from here one can
    /// turn to where one could not before.
    Corner(u32),
}

impl Lines {
    /// Lines of cells, all of them closed.
    pub(crate) fn closed(lines: usize, cells: usize) -> Lines {
        // Beyond the last cell everything is closed, so that looking ends there.
        let words = cells / 64 + 1;
        let closed = vec![u64::MAX; words * lines];
        Lines {
            words,
            ahead: closed.clone(),
            back: closed.clone(),
            counted: vec![0; closed.len()],
            closed,
            corners: 0,
        }
    }

    /// Opens or closes a cell. The corners are not known until [`Lines::find_corners`].
    pub(crate) fn set(&mut self, line: usize, cell: usize, open: bool) {
        let word = &mut self.closed[line * self.words + cell / 64];
        let bit = 1 << (cell % 64);
        *word = if open { *word & !bit } else { *word | bit };
    }

    pub(crate) fn is_closed(&self, line: usize, cell: usize) -> bool {
        self.closed[line * self.words + cell / 64] >> (cell % 64) & 1 == 1
    }

    /// How many corners there are, looking ahead.
    pub(crate) fn corners(&self) -> usize {
        self.corners
    }

    /// Finds the corners anew of some lines and cells, both ends included. The first and the last
    /// line, and the first cell of each, must be closed.
    pub(crate) fn find_corners(&mut self, lines: (usize, usize), cells: (usize, usize)) {
        let last = self.closed.len() / self.words - 1;
        let words = cells.0 / 64..=(cells.1 / 64).min(self.words - 1);
        for line in lines.0.max(1)..=lines.1.min(last.saturating_sub(1)) {
            for word in words.clone() {
                self.find_corners_in(line, word);
            }
        }
    }

    fn find_corners_in(&mut self, line: usize, word: usize) {
        let at = line * self.words + word;
        let sides = [at - self.words, at + self.words];
        // A side is closed one cell back, and open here.
        let ahead = sides.map(|side| {
            let before = match word {
                0 => u64::MAX,
                _ => self.closed[side - 1],
            };
            !self.closed[side] & (self.closed[side] << 1 | before >> 63)
        });
        let back = sides.map(|side| {
            let before = if word + 1 == self.words {
                u64::MAX
            } else {
                self.closed[side + 1]
            };
            !self.closed[side] & (self.closed[side] >> 1 | before << 63)
        });
        let closed = self.closed[at];
        // A word that closes may hold stops of before.
        self.corners -= self.counted[at] as usize;
        self.ahead[at] = closed | ahead[0] | ahead[1];
        self.back[at] = closed | back[0] | back[1];
        self.counted[at] = (self.ahead[at] & !closed).count_ones() as u8;
        self.corners += self.counted[at] as usize;
    }

    /// What stops a look from a cell along its line to the end of it. The cell itself counts for
    /// nothing.
    pub(crate) fn look_ahead(&self, line: usize, from: u32) -> Stop {
        let mut at = line * self.words + from as usize / 64;
        // Shifting by 64 at once would be an error.
        let mut stops = self.ahead[at] & (u64::MAX << (from % 64) << 1);
        while stops == 0 {
            at += 1;
            stops = self.ahead[at];
        }
        self.stop(line, at, stops.trailing_zeros())
    }

    /// The same, to the beginning of the line.
    pub(crate) fn look_back(&self, line: usize, from: u32) -> Stop {
        let mut at = line * self.words + from as usize / 64;
        let mut stops = self.back[at] & ((1 << (from % 64)) - 1);
        while stops == 0 {
            at -= 1;
            stops = self.back[at];
        }
        self.stop(line, at, 63 - stops.leading_zeros())
    }

    fn stop(&self, line: usize, at: usize, bit: u32) -> Stop {
        let cell = (at - line * self.words) as u32 * 64 + bit;
        if self.closed[at] >> bit & 1 == 1 {
            Stop::Closed(cell)
        } else {
            Stop::Corner(cell)
        }
    }
}
