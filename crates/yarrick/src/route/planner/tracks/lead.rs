//! How a body is led onto a track, and off it.

use crate::geom::Vec2;
use crate::ground::{Chart, ClearanceMap};
use crate::route::reach::Footing;

/// Where a way begins and ends.
pub(super) struct Ends {
    pub(super) start: End,
    pub(super) goal: End,
    pub(super) to: Vec2,
    /// What the way costs at the least; `0` where links may be quicker than any way over the ground.
    pub(super) least: u64,
}

/// One end of a way.
pub(super) struct End {
    /// The cell there, as an entry, and its tract.
    pub(super) cell: u32,
    pub(super) tract: u32,
    /// The point between the end and the middle of that cell, if it takes one.
    pub(super) via: Option<Vec2>,
}

impl Ends {
    pub(super) fn new(
        clearance: &ClearanceMap,
        chart: &Chart,
        (from, end): (Footing, Footing),
        to: Vec2,
    ) -> Option<Ends> {
        let end_at = |footing: Footing| {
            let cell = clearance.node(footing.cell)?;
            Some(End {
                cell: cell as u32,
                tract: chart.tract_of(clearance, cell),
                via: footing.via,
            })
        };
        let (start, goal) = (end_at(from)?, end_at(end)?);
        let least = if clearance.hops().is_empty() {
            clearance.least_between(start.cell as usize, goal.cell as usize)
        } else {
            0
        };
        Some(Ends {
            start,
            goal,
            to,
            least,
        })
    }
}

/// A way onto a track, along it, and off it.
pub(super) struct Lead {
    /// The entries from where a body stands to the track, that on the track included, and its number there.
    pub(super) onto: Vec<u32>,
    pub(super) first: usize,
    /// The number of the entry where one leaves it, and the entries from the goal back to there.
    pub(super) last: usize,
    pub(super) off: Vec<u32>,
}

/// Cells that are written down which count as much as one that is settled.
const WRITTEN_A_CELL: usize = 8;

impl Lead {
    /// The work that it is to write it down, in cells.
    pub(super) fn written(&self) -> u32 {
        ((self.onto.len() + self.off.len()) / WRITTEN_A_CELL) as u32
    }
}
