//! The cells of a way that goes from gate to gate, and its mending: where it goes through a gate although a
//! cheaper way leads past it, it is led past.

use crate::ground::steps::{Tiling, offsets};
use crate::ground::{ClearanceMap, LinkId, Tile};
use crate::route::work::WRITTEN_A_CELL;

/// Columns and rows round a gate that are searched for a cheaper way.
const REACH: i32 = 12;

/// A way, and the workspace to mend it.
#[derive(Clone, Debug, Default)]
pub(super) struct Way {
    /// Entries, from first to last.
    nodes: Vec<u32>,
    /// The links on it, each with the number of the cell to which it leads.
    links: Vec<(u32, LinkId)>,
    /// The first cell after the last link.
    after_link: usize,
    /// Made when it is first needed: one for each search takes memory and time.
    window: Option<Box<Tile>>,
    spare: Vec<u32>,
}

impl Way {
    pub(super) fn clear(&mut self) {
        self.nodes.clear();
        self.links.clear();
        self.after_link = 0;
    }

    pub(super) fn nodes(&self) -> &[u32] {
        &self.nodes
    }

    pub(super) fn links(&self) -> &[(u32, LinkId)] {
        &self.links
    }

    /// Adds what `leg` writes down. Gives the work that it was, counted in cells.
    pub(super) fn add(&mut self, leg: impl FnOnce(&mut Vec<u32>)) -> u32 {
        let before = self.nodes.len();
        leg(&mut self.nodes);
        (self.nodes.len() - before) as u32 / WRITTEN_A_CELL
    }

    /// Goes on by a link from the last cell.
    pub(super) fn add_link(&mut self, link: LinkId) {
        self.after_link = self.nodes.len();
        self.links.push((self.after_link as u32, link));
    }

    /// Looks for a cheaper way past a gate, which leads to the cell with a number. Gives how many cells it
    /// looked at, and by how much the way has become cheaper.
    pub(super) fn mend(
        &mut self,
        tiling: impl Tiling,
        clearance: &ClearanceMap,
        at: usize,
    ) -> (u32, u64) {
        if at <= self.after_link || at >= self.nodes.len() {
            return (0, 0);
        }
        let place = |node: u32| clearance.place(node as usize);
        let (x, y) = place(self.nodes[at]);
        let is_near = |node: &&u32| {
            let (column, row) = place(**node);
            (column - x).abs() <= REACH && (row - y).abs() <= REACH
        };
        let before = self.nodes[self.after_link..at].iter().rev();
        let first = at - before.take_while(is_near).count();
        let after = self.nodes[at..].iter();
        let last = at + after.take_while(is_near).count() - 1;
        let (from, to) = (self.nodes[first], self.nodes[last]);
        let known = self.cost_between(tiling, clearance, first, last);
        let (from_place, to_place) = (place(from), place(to));
        let apart = (to_place.0 - from_place.0, to_place.1 - from_place.1);
        let least = tiling.estimate(apart.0, apart.1) * 2 * u64::from(clearance.lightest());
        if known <= least {
            return (0, 0);
        }
        let corner = ((x - REACH).max(0), (y - REACH).max(0));
        let window = self.window.get_or_insert_default();
        window.load(clearance, corner);
        let settled = window.spread(&[from]);
        let found = u64::from(window.cost(to));
        if found >= known {
            return (settled, 0);
        }
        self.spare.clear();
        self.spare.extend(window.back_from(to));
        let found_way = self.spare.iter().rev().copied();
        self.nodes.splice(first..=last, found_way);
        (settled, known - found)
    }

    /// What the way costs between two of its cells, given by number.
    fn cost_between(
        &self,
        tiling: impl Tiling,
        clearance: &ClearanceMap,
        first: usize,
        last: usize,
    ) -> u64 {
        let weights = clearance.weights();
        let offsets = offsets(clearance.stride());
        let cost = |pair: &[u32]| {
            let [a, b] = [pair[0] as usize, pair[1] as usize];
            let step = offsets
                .iter()
                .position(|offset| a.wrapping_add_signed(*offset) == b);
            let slowness = u64::from(weights[a]) + u64::from(weights[b]);
            tiling.price(step.unwrap_or(0)) * slowness
        };
        self.nodes[first..=last].windows(2).map(cost).sum()
    }
}
