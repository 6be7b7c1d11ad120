//! A* on the square grid: eight neighbours, no cutting of corners.
//!
//! Hart, Nilsson and Raphael (1968), with the octile distance as estimate and whole-number
//! costs, so that ways of equal length tie exactly; among those, the one nearer to the goal is
//! taken up first. A diagonal step needs both cells beside it to be open:
//!
//! ```text
//!   . b        a → d only if b and c are open
//!   a c
//! ```
//!
//! Cost: `O(n log n)` in the cells settled.

use crate::ground::{Cell, Passage};
use core::cmp::Reverse;
use std::collections::BinaryHeap;

/// What a straight step costs, times the slowness of both its cells added up. On plain ground
/// (slowness 16) a cell's width costs `408 · 32`.
pub const STRAIGHT: u64 = 408;

/// What a diagonal step costs, times the slowness of both its cells. `577 / 408` is the square
/// root of two to within 2 parts in a million.
pub const DIAGONAL: u64 = 577;

/// What a search found.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Found {
    /// The cost of the way from the middle of the first cell to that of the last: for each
    /// step, [`STRAIGHT`] or [`DIAGONAL`] times the slowness of its two cells added up.
    pub cost: u64,
    /// How many cells were settled.
    pub settled: u32,
}

/// The search, and the workspace that it reuses.
#[derive(Clone, Debug, Default)]
pub struct Search {
    nodes: Vec<Node>,
    /// Marks the nodes that this search has touched, so that none need be cleared.
    run: u32,
    open: BinaryHeap<Reverse<u128>>,
    cells: Vec<Cell>,
}

#[derive(Clone, Copy, Debug, Default)]
struct Node {
    cost: u64,
    run: u32,
    /// The step that led here, as an index into [`STEPS`].
    step: u8,
    settled: bool,
}

/// The eight steps: four straight ones, then four diagonal ones.
const STEPS: [(i32, i32); 8] = [
    (1, 0),
    (0, 1),
    (-1, 0),
    (0, -1),
    (1, 1),
    (-1, 1),
    (-1, -1),
    (1, -1),
];

impl Search {
    /// Finds a cheapest way between two cells. `None` where there is none, which costs nothing:
    /// the passage knows its regions.
    pub fn find(&mut self, passage: &Passage, from: Cell, to: Cell) -> Option<Found> {
        self.cells.clear();
        if !passage.connected(from, to) {
            return None;
        }
        let (start, goal) = (passage.node(from)?, passage.node(to)?);
        self.begin(passage.weights().len());
        self.nodes[start] = Node {
            cost: 0,
            run: self.run,
            step: 0,
            settled: false,
        };
        self.push(0, estimate(passage, from, to), start);
        let mut settled = 0;
        while let Some(Reverse(key)) = self.open.pop() {
            let at = key as u32 as usize;
            if core::mem::replace(&mut self.nodes[at].settled, true) {
                continue;
            }
            settled += 1;
            if at == goal {
                self.trace(passage, start, goal);
                return Some(Found {
                    cost: self.nodes[goal].cost,
                    settled,
                });
            }
            self.spread(passage, at, to);
        }
        None
    }

    /// The cells of the way found last, from first to last.
    #[must_use]
    pub fn cells(&self) -> &[Cell] {
        &self.cells
    }

    fn begin(&mut self, count: usize) {
        self.open.clear();
        if self.nodes.len() < count {
            self.nodes.resize(count, Node::default());
        }
        self.run = self.run.wrapping_add(1);
        if self.run == 0 {
            self.nodes.fill(Node::default());
            self.run = 1;
        }
    }

    /// Offers the settled node's cost to its neighbours.
    fn spread(&mut self, passage: &Passage, at: usize, to: Cell) {
        let weights = passage.weights();
        let offsets = step_offsets(passage.stride());
        let neighbour = |step: usize| at.wrapping_add_signed(offsets[step]);
        let open: [bool; 4] = core::array::from_fn(|step| weights[neighbour(step)] > 0);
        let (here, weight) = (self.nodes[at].cost, u64::from(weights[at]));
        for step in 0..8 {
            let next = neighbour(step);
            let allowed = match step {
                0..4 => open[step],
                // Diagonal k lies between straight k and the one after it.
                _ => open[step - 4] && open[(step - 3) % 4] && weights[next] > 0,
            };
            if !allowed {
                continue;
            }
            let per_weight = if step < 4 { STRAIGHT } else { DIAGONAL };
            let cost = here + per_weight * (weight + u64::from(weights[next]));
            let node = &mut self.nodes[next];
            if node.run == self.run && node.cost <= cost {
                continue;
            }
            *node = Node {
                cost,
                run: self.run,
                step: step as u8,
                settled: false,
            };
            self.push(cost, estimate(passage, passage.cell(next), to), next);
        }
    }

    /// Keys order by estimated total, then by what is left, then by node: ties by id.
    fn push(&mut self, cost: u64, left: u64, node: usize) {
        // 48 bits hold the cost of the longest way on the largest map fifty times over.
        let total = u128::from(cost + left) << 80;
        let left = u128::from(left) << 32;
        self.open.push(Reverse(total | left | node as u128));
    }

    fn trace(&mut self, passage: &Passage, start: usize, goal: usize) {
        let offsets = step_offsets(passage.stride());
        let mut at = goal;
        while at != start {
            self.cells.push(passage.cell(at));
            at = at.wrapping_add_signed(-offsets[usize::from(self.nodes[at].step)]);
        }
        self.cells.push(passage.cell(start));
        self.cells.reverse();
    }
}

fn step_offsets(stride: usize) -> [isize; 8] {
    STEPS.map(|(x, y)| y as isize * stride as isize + x as isize)
}

/// The least that the way between two cells can cost: the octile distance over the fastest
/// ground of the map.
fn estimate(passage: &Passage, a: Cell, b: Cell) -> u64 {
    let (dx, dy) = (a.x.abs_diff(b.x), a.y.abs_diff(b.y));
    let (long, short) = (u64::from(dx.max(dy)), u64::from(dx.min(dy)));
    (STRAIGHT * (long - short) + DIAGONAL * short) * 2 * u64::from(passage.lightest())
}
