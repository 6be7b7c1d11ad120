//! The search on the square grid: eight neighbours, no cutting of corners, always a cheapest way.
//!
//! Which of two methods finds it depends on the ground alone: on ground of one speed with few
//! corners from corner to corner (`jump`), else from cell to cell (`cells`). Both give the same
//! cost; where several ways cost the same, they may name different ones.

use super::cells::Cells;
use super::jump::Jumps;
use super::nodes::Nodes;
use super::turns::Way;
use crate::ground::{Cell, ClearanceMap, Crossing, LinkId};

/// What a search found.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Found {
    /// The cost of the way from the middle of the first cell to that of the last: for each
    /// step, [`STRAIGHT`](super::STRAIGHT) or [`DIAGONAL`](super::DIAGONAL) times the slowness of
    /// its two cells added up; for each link as much as that of as many metres of plain ground.
    pub cost: u64,
    /// The work that it took: how many cells were settled, or on the way from corner to corner, how many would have been settled in the
    /// same time.
    pub settled: u32,
}

/// How far a search has come.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Progress {
    /// It has found a cheapest way.
    Found(Found),
    /// It is not done.
    UnderWay,
    /// There is no way.
    NoWay,
}

/// The search, and the workspace that it reuses.
#[derive(Clone, Debug, Default)]
pub struct Search {
    nodes: Nodes,
    by_cells: Cells,
    by_jumps: Jumps,
    /// Whether the search under way goes from corner to corner.
    jumps: bool,
    ends: (usize, usize),
    settled: u32,
    /// The cells of the way, as entries.
    nodes_on: Vec<u32>,
    links: Vec<(u32, LinkId)>,
}

impl Search {
    /// Finds a cheapest way between two cells. `None` where there is none, which costs nothing:
    /// the clearance map knows its regions.
    pub fn find(&mut self, clearance: &ClearanceMap, from: Cell, to: Cell) -> Option<Found> {
        self.find_any(clearance, from, &[to])
    }

    /// Finds a cheapest way from a cell to any of some others, in one search: the last of
    /// [`Search::cells`] is the one that it leads to. Those out of reach count for nothing. `None` where
    /// all are.
    pub fn find_any(&mut self, clearance: &ClearanceMap, from: Cell, to: &[Cell]) -> Option<Found> {
        if !self.begin_any(clearance, from, to) {
            return None;
        }
        match self.advance(clearance, u32::MAX) {
            Progress::Found(found) => Some(found),
            Progress::UnderWay | Progress::NoWay => None,
        }
    }

    /// Begins to look for a cheapest way between two cells; [`Search::advance`] goes on. Gives
    /// whether there is one.
    pub fn begin(&mut self, clearance: &ClearanceMap, from: Cell, to: Cell) -> bool {
        self.begin_any(clearance, from, &[to])
    }

    /// The same to any of some cells.
    pub fn begin_any(&mut self, clearance: &ClearanceMap, from: Cell, to: &[Cell]) -> bool {
        self.nodes_on.clear();
        self.links.clear();
        self.settled = 0;
        let reachable = to.iter().filter(|to| clearance.connected(from, **to));
        let mut goals = reachable.filter_map(|to| clearance.node(*to)).peekable();
        let (Some(start), Some(&first)) = (clearance.node(from), goals.peek()) else {
            return false;
        };
        self.ends = (start, first);
        let few_corners = clearance.lines().is_some_and(Crossing::has_few_corners);
        self.jumps = to.len() == 1 && few_corners;
        if self.jumps {
            self.by_jumps.begin(self.ends);
        } else {
            self.nodes.begin(clearance.weights().len());
            self.by_cells
                .begin(clearance, &mut self.nodes, start, goals);
        }
        true
    }

    /// Goes on with the search that was begun, until it is done or has settled `most` more
    /// cells; fewer than [`Search::least_step`] are not enough to stop it before. The clearance map must be the same, and unchanged.
    pub fn advance(&mut self, clearance: &ClearanceMap, most: u32) -> Progress {
        let lines = clearance.lines().filter(|_| self.jumps);
        let (reached, settled) = match lines {
            Some(lines) => self.by_jumps.advance(clearance, lines, most),
            None => self.by_cells.advance(clearance, &mut self.nodes, most),
        };
        self.settled = self.settled.saturating_add(settled);
        match reached {
            None => return Progress::UnderWay,
            Some(false) => return Progress::NoWay,
            Some(true) => {}
        }
        if !self.jumps {
            self.ends.1 = self.by_cells.goal();
        }
        self.trace(clearance);
        let cost = if self.jumps {
            self.by_jumps.cost() * 2 * u64::from(clearance.lightest())
        } else {
            self.nodes.cost(self.ends.1)
        };
        Progress::Found(Found {
            cost,
            settled: self.settled,
        })
    }

    /// The work that [`Search::advance`] may do on a clearance map, however small its budget: what cannot be
    /// divided.
    #[must_use]
    pub fn least_step(clearance: &ClearanceMap) -> u32 {
        if clearance.lines().is_some_and(Crossing::has_few_corners) {
            Jumps::most_of_a_step(clearance)
        } else {
            1
        }
    }

    /// The work of the search so far: see [`Found::settled`].
    #[must_use]
    pub fn settled_count(&self) -> u32 {
        self.settled
    }

    fn trace(&mut self, clearance: &ClearanceMap) {
        let mut leaps = Vec::new();
        if self.jumps {
            self.by_jumps.trace(clearance, &mut self.nodes_on);
        } else {
            self.by_cells
                .trace(clearance, &self.nodes, &mut self.nodes_on, &mut leaps);
        }
        self.nodes_on.reverse();
        let last = self.nodes_on.len() as u32 - 1;
        let links = leaps.into_iter().rev();
        self.links
            .extend(links.map(|(at, link)| (last - at, LinkId(link))));
    }

    /// The cells that the last search settled, in order of their rows. `clearance` must be the map of
    /// that search.
    pub fn settled<'a>(&'a self, clearance: &'a ClearanceMap) -> impl Iterator<Item = Cell> + 'a {
        let by_cells = self.nodes.settled(clearance.weights().len());
        let by_cells = by_cells.take_while(|_| !self.jumps);
        let by_jumps = if self.jumps {
            self.by_jumps.settled()
        } else {
            Vec::new()
        };
        by_cells.chain(by_jumps).map(|at| clearance.cell(at))
    }

    /// The cells of the way found last, from first to last. `clearance` must be the map of that search.
    pub fn cells<'a>(&'a self, clearance: &'a ClearanceMap) -> impl Iterator<Item = Cell> + 'a {
        let nodes = self.nodes_on.iter();
        nodes.map(|node| clearance.cell(*node as usize))
    }

    /// The way found last.
    pub(super) fn way(&self) -> Way<'_> {
        Way {
            nodes: &self.nodes_on,
            links: &self.links,
        }
    }

    /// The links of the way found last, each with the number of the cell to which it leads.
    #[must_use]
    pub fn links(&self) -> &[(u32, LinkId)] {
        &self.links
    }
}
