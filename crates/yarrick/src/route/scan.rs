//! The order in which corners of a path are tested, to find the farthest one in sight with few tests.

use crate::ground::Cell;

/// Maximum number of tests in a row that find a corner out of sight, at first.
const GIVE_UP_AFTER: u32 = 4;

/// More looks in vain count as that many, so that the first that finds something counts.
const MOST_IN_VAIN: u32 = 32;

/// The state of the look from one corner for the farthest later corner in sight.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct Scan {
    /// Index of the farthest corner known to be in sight, counted from the next corner, which always is.
    beyond: usize,
    stage: Stage,
    /// How many looks before this one have found nothing beyond what was hidden; halved when one does. In mazes that is nearly all
    /// of them, so the more there were, the earlier it gives up.
    in_vain: u32,
    /// Number of looks before this one.
    looks: u32,
    /// The closed cells that hid corners last, the latest first. They hide most of the corners after it, too.
    pub(super) walls: [Option<Cell>; 2],
}

/// The corner tested next. Indices count from the corner that the look is from.
#[derive(Clone, Copy, Debug)]
enum Stage {
    /// A corner this many farther than the farthest in sight, but at least one. The step doubles while corners are in sight.
    Leaps(usize),
    /// Bisection between the farthest in sight and this one, which is hidden.
    Halves(usize),
    /// The corner with this index, after this many hidden ones in a row. The step doubles after each.
    Steps(usize, u32),
}

impl Default for Stage {
    fn default() -> Stage {
        Stage::Leaps(1)
    }
}

impl Scan {
    /// Goes on to the look from the next corner. Keeps the walls, which may hide corners from there, too.
    pub(super) fn begin_anew(&mut self) {
        let gave_up = matches!(self.stage, Stage::Steps(..));
        self.in_vain = (self.in_vain + u32::from(gave_up)).min(MOST_IN_VAIN);
        self.looks = self.looks.wrapping_add(1);
        self.beyond = 0;
        // Where hardly more than the next is in sight, the step doubles later.
        let is_narrow = self.in_vain >= GIVE_UP_AFTER;
        self.stage = Stage::Leaps(usize::from(!is_narrow));
    }

    /// How many tests in a row may find a corner out of sight: in the end one, and that in one of four looks.
    fn patience(&self) -> u32 {
        let less = GIVE_UP_AFTER.saturating_sub(self.in_vain);
        less.max(u32::from(self.looks.is_multiple_of(4)))
    }

    /// Stores a closed cell that hides a corner.
    pub(super) fn note_wall(&mut self, wall: Cell) {
        self.walls = [Some(wall), self.walls[0]];
    }

    /// The farthest corner in sight.
    pub(super) fn farthest(&self, at: usize) -> usize {
        at + 1 + self.beyond
    }

    /// The corner to test next, at most `last`; `None` when the look is over.
    pub(super) fn next(&self, at: usize, last: usize) -> Option<usize> {
        let farthest = self.farthest(at);
        let next = match self.stage {
            Stage::Leaps(wide) => (farthest + wide.max(1)).min(last),
            Stage::Halves(hidden) => farthest + (at + hidden - farthest) / 2,
            Stage::Steps(next, missed) if missed <= self.patience() => at + next,
            Stage::Steps(..) => return None,
        };
        (farthest < next && next <= last).then_some(next)
    }

    /// Stores whether a corner is in sight.
    pub(super) fn note(&mut self, at: usize, corner: usize, seen: bool) {
        let on = corner - at;
        if seen {
            self.beyond = on - 1;
            if matches!(self.stage, Stage::Steps(..)) {
                self.in_vain /= 2;
            }
        }
        self.stage = match self.stage {
            Stage::Leaps(wide) if seen => Stage::Leaps((wide * 2).max(1)),
            Stage::Steps(..) if seen => Stage::Leaps(1),
            Stage::Steps(next, missed) => Stage::Steps(next + (1 << (missed - 1)), missed + 1),
            Stage::Halves(hidden) if seen => Stage::Halves(hidden),
            Stage::Leaps(_) | Stage::Halves(_) => Stage::Halves(on),
        };
        if let Stage::Halves(hidden) = self.stage
            && hidden <= self.beyond + 2
        {
            self.stage = Stage::Steps(hidden + 1, 1);
        }
    }
}
