//! How a body joins a track, and leaves it.

use crate::geom::Vec2;
use crate::ground::{Chart, ClearanceMap};
use crate::route::reach::Footing;
use crate::route::work::WRITTEN_A_CELL;

/// The start and goal of a request.
pub(super) struct Ends {
    pub(super) start: End,
    pub(super) goal: End,
    pub(super) to: Vec2,
    /// The cost without obstacles, a lower bound; `0` where links may be quicker than the ground.
    pub(super) least: u64,
}

/// The start or the goal.
pub(super) struct End {
    /// The cell there, as an entry, and its tract.
    pub(super) cell: u32,
    pub(super) tract: u32,
    /// A point to walk to between the end and the centre of that cell, where there is no straight line.
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
                tract: chart.tract_of(cell),
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

/// The cells by which a body joins a track and leaves it.
pub(super) struct Lead {
    /// The entries from the start to the track, the one on the track included, and the index of that on the track.
    pub(super) onto: Vec<u32>,
    pub(super) first: usize,
    /// The index of the entry where the body leaves the track, and the entries from the goal back to it.
    pub(super) last: usize,
    pub(super) off: Vec<u32>,
}

impl Lead {
    /// The work of writing the cells down, in settled cells.
    pub(super) fn written(&self) -> u32 {
        (self.onto.len() + self.off.len()) as u32 / WRITTEN_A_CELL
    }
}
