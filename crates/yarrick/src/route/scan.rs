//! In which order corners of a path are looked at, to find the farthest one in sight with few looks.

use crate::ground::Cell;

/// How many looks in a row may find corners out of sight before looking farther is given up.
const GIVE_UP_AFTER: u32 = 4;

/// How far one has looked from a corner.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct Scan {
    /// How many corners on the farthest one lies that is in sight; the next one always is.
    beyond: usize,
    stage: Stage,
    /// The closed cells that hid corners last, the last one first: they hide most of those after it.
    pub(super) walls: [Option<Cell>; 2],
}

/// Which corner is looked at next.
#[derive(Clone, Copy, Debug)]
enum Stage {
    /// One so much farther; as long as all are in sight, twice as far each time.
    Leaps(usize),
    /// One between the farthest in sight and one that is not, so many corners on.
    Halves(usize),
    /// This one, after so many looks in a row at corners that were out of sight; after each of these one twice as far on.
    Steps(usize, u32),
}

impl Default for Stage {
    fn default() -> Stage {
        Stage::Leaps(1)
    }
}

impl Scan {
    /// A look from another corner: what hid corners from the last one may hide some from there, too.
    pub(super) fn anew(&self) -> Scan {
        Scan {
            walls: self.walls,
            ..Scan::default()
        }
    }

    /// Notes a closed cell that hides a corner.
    pub(super) fn note_wall(&mut self, wall: Cell) {
        self.walls = [Some(wall), self.walls[0]];
    }

    /// The farthest corner in sight.
    pub(super) fn farthest(&self, at: usize) -> usize {
        at + 1 + self.beyond
    }

    /// The corner that is to be looked at next, of those up to `last`; `None` where there is none.
    pub(super) fn next(&self, at: usize, last: usize) -> Option<usize> {
        let farthest = self.farthest(at);
        let next = match self.stage {
            Stage::Leaps(wide) => (farthest + wide).min(last),
            Stage::Halves(hidden) => farthest + (at + hidden - farthest) / 2,
            Stage::Steps(next, missed) if missed <= GIVE_UP_AFTER => at + next,
            Stage::Steps(..) => return None,
        };
        (farthest < next && next <= last).then_some(next)
    }

    /// Notes whether a corner is in sight.
    pub(super) fn note(&mut self, at: usize, corner: usize, seen: bool) {
        let on = corner - at;
        if seen {
            self.beyond = on - 1;
        }
        self.stage = match self.stage {
            Stage::Leaps(wide) if seen => Stage::Leaps(wide * 2),
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
