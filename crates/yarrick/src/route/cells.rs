//! A* from cell to cell, for every kind of ground.
//!
//! Hart, Nilsson and Raphael (1968), with whole-number costs, so that ways of equal length tie
//! exactly; among those, the one taken up last is gone on with first. On squares a diagonal step
//! needs both cells beside it to be open:
//!
//! ```text
//!   . b        a → d only if b and c are open
//!   a c
//! ```
//!
//! Where there are links, the estimate takes the shorter of two: straight to the goal, and straight
//! to a link and on from there.
//!
//! Cost: in proportion to the cells settled; the queue is a ring of [`buckets`](super::buckets). A
//! search can be left off at any cell and gone on with later.

use super::detour::Detours;
use super::nodes::Nodes;
use super::queue::Queue;
use crate::ground::steps::{ANY, DIAGONAL, Eight, Four, STEPS, Six, Tiling, offsets};
use crate::ground::{ClearanceMap, Lattice};

/// The search, and the workspace that it reuses.
#[derive(Clone, Debug, Default)]
pub(super) struct Cells {
    queue: Queue,
    detours: Detours,
    start: usize,
    /// Sorted.
    goals: Vec<u32>,
    /// The goal that was reached.
    goal: usize,
}

impl Cells {
    /// Begins to look for a cheapest way from an open cell to any of some others, given as entries.
    pub(super) fn begin(
        &mut self,
        clearance: &ClearanceMap,
        nodes: &mut Nodes,
        start: usize,
        goals: impl Iterator<Item = usize>,
    ) {
        self.start = start;
        self.goals.clear();
        self.goals.extend(goals.map(|goal| goal as u32));
        self.goals.sort_unstable();
        match clearance.lattice() {
            Lattice::Squares => self.begin_on(eight(clearance), clearance, nodes),
            Lattice::Squares4 => self.begin_on(Four, clearance, nodes),
            Lattice::Hexes => self.begin_on(Six, clearance, nodes),
        }
    }

    /// The goal that was reached.
    pub(super) fn goal(&self) -> usize {
        self.goal
    }

    /// Goes on until the goal or the end is reached, or `most` cells are settled. Gives whether the
    /// goal was reached, if that is known by then, and how many cells were settled.
    pub(super) fn advance(
        &mut self,
        clearance: &ClearanceMap,
        nodes: &mut Nodes,
        most: u32,
    ) -> (Option<bool>, u32) {
        match clearance.lattice() {
            Lattice::Squares => self.advance_on(eight(clearance), clearance, nodes, most),
            Lattice::Squares4 => self.advance_on(Four, clearance, nodes, most),
            Lattice::Hexes => self.advance_on(Six, clearance, nodes, most),
        }
    }

    fn begin_on(&mut self, tiling: impl Tiling, clearance: &ClearanceMap, nodes: &mut Nodes) {
        let least = 2 * u64::from(clearance.lightest());
        let dearest = DIAGONAL * 2 * u64::from(clearance.heaviest());
        // A step may lead away from the goal by as much as it costs at the least.
        let span = clearance
            .hops()
            .is_empty()
            .then_some(dearest + DIAGONAL * least);
        self.queue.clear(span);
        self.detours.find(clearance, tiling, &self.goals);
        let left = self.detours.estimate(tiling, clearance.place(self.start));
        nodes.reach(self.start, 0, ANY as u8);
        self.queue.push(left, self.start as u32);
    }

    fn advance_on(
        &mut self,
        tiling: impl Tiling,
        clearance: &ClearanceMap,
        nodes: &mut Nodes,
        most: u32,
    ) -> (Option<bool>, u32) {
        let mut settled = 0;
        while settled < most {
            let Some(at) = self.queue.pop() else {
                return (Some(false), settled);
            };
            let at = at as usize;
            if !nodes.settle(at) {
                continue;
            }
            settled += 1;
            if self.is_goal(at) {
                self.goal = at;
                return (Some(true), settled);
            }
            self.spread(tiling, clearance, nodes, at);
            if !clearance.hops().is_empty() {
                self.leap(tiling, clearance, nodes, at);
            }
        }
        (None, settled)
    }

    fn is_goal(&self, node: usize) -> bool {
        match self.goals[..] {
            [goal] => goal as usize == node,
            _ => self.goals.binary_search(&(node as u32)).is_ok(),
        }
    }

    /// Offers the cost of a settled node to its neighbours.
    #[inline]
    fn spread(
        &mut self,
        tiling: impl Tiling,
        clearance: &ClearanceMap,
        nodes: &mut Nodes,
        at: usize,
    ) {
        let (x, y) = clearance.place(at);
        let weights = clearance.weights();
        let offsets = offsets(clearance.stride());
        let (here, weight) = (nodes.cost(at), u64::from(weights[at]));
        let by = usize::from(nodes.step(at)).min(ANY);
        let mut steps = tiling.ways_on(by, clearance.neighbours()[at]);
        while steps != 0 {
            let step = steps.trailing_zeros() as usize;
            steps &= steps - 1;
            let next = at.wrapping_add_signed(offsets[step]);
            let cost = here + tiling.price(step) * (weight + u64::from(weights[next]));
            if nodes.reach(next, cost, step as u8) {
                let (dx, dy) = STEPS[step];
                let left = self.detours.estimate(tiling, (x + dx, y + dy));
                self.queue.push(cost + left, next as u32);
            }
        }
    }

    /// Offers it to where links lead from there.
    fn leap(
        &mut self,
        tiling: impl Tiling,
        clearance: &ClearanceMap,
        nodes: &mut Nodes,
        at: usize,
    ) {
        for (number, hop) in clearance.hops_from(at) {
            let (next, cost) = (hop.to as usize, nodes.cost(at) + hop.cost);
            if nodes.reach_by_link(next, cost, number as u16) {
                let left = self.detours.estimate(tiling, clearance.place(next));
                self.queue.push(cost + left, next as u32);
            }
        }
    }

    /// The cells of the way, from last to first, and at which of them a link was taken: the number of
    /// the cell to which it leads, counted in the same way, and of the link.
    pub(super) fn trace(
        &self,
        clearance: &ClearanceMap,
        nodes: &Nodes,
        way: &mut Vec<u32>,
        leaps: &mut Vec<(u32, u16)>,
    ) {
        let offsets = offsets(clearance.stride());
        let mut at = self.goal;
        while at != self.start {
            way.push(at as u32);
            at = match nodes
                .link(at)
                .map(|number| clearance.hops()[usize::from(number)])
            {
                Some(hop) => {
                    leaps.push((way.len() as u32 - 1, hop.link));
                    hop.from as usize
                }
                None => at.wrapping_add_signed(-offsets[usize::from(nodes.step(at))]),
            };
        }
        way.push(self.start as u32);
    }
}

fn eight(clearance: &ClearanceMap) -> Eight {
    let even = clearance.is_even() && clearance.hops().is_empty();
    Eight { even }
}
