//! A* from corner to corner, for ground of one speed: jump points.
//!
//! Harabor and Grastien (2011), with blocks of cells looked at at once (2014), and without cutting
//! corners, which changes the rules: a diagonal step never passes a corner, so that only straight
//! ones come upon a turn, where a closed cell beside the way *ends*.
//!
//! ```text
//!   # # . .        going right along the lower line, a is reached by a diagonal step at no greater
//!   → → x →        cost as long as the cell above the one before is open; past the end of the
//!                  closed cells, x is the first from which one gets up there
//! ```
//!
//! Among ways of equal cost only the one that goes diagonally first is followed. Cost: in proportion
//! to the corners met, and to the cells between them by sixty-fourths.

use super::search::Nodes;
use crate::ground::steps::{ANY, DIAGONAL, STEPS, STRAIGHT, WAYS_ON, octile};
use crate::ground::{Cell, Crossing, Passage, Stop};
use core::cmp::Reverse;
use std::collections::BinaryHeap;

/// How many bits of a key name the node.
const NODE_BITS: u32 = 25;

/// The workspace.
#[derive(Clone, Debug, Default)]
pub(crate) struct Jumps {
    open: BinaryHeap<Reverse<u64>>,
    /// From where each node was reached.
    parents: Vec<u32>,
    ends: (usize, usize),
}

/// The grid, with the goal, in padded coordinates.
struct Field<'a> {
    lines: &'a Crossing,
    goal: (u32, u32),
}

/// A cell by padded column and row.
type At = (u32, u32);

impl Field<'_> {
    fn is_open(&self, (x, y): At) -> bool {
        !self.lines.rows.is_closed(y as usize, x as usize)
    }

    /// The next cell on a straight line at which there is something to decide: the goal, or a
    /// corner. `None` where the line ends before.
    fn jump_straight(&self, (x, y): At, step: (i32, i32)) -> Option<At> {
        let (gx, gy) = self.goal;
        let (lines, line, from, ahead) = match step {
            (dx, 0) => (&self.lines.rows, y, x, dx > 0),
            (_, dy) => (&self.lines.columns, x, y, dy > 0),
        };
        let stop = if ahead {
            lines.look_ahead(line as usize, from)
        } else {
            lines.look_back(line as usize, from)
        };
        let (goal_line, goal) = if step.1 == 0 { (gy, gx) } else { (gx, gy) };
        let (Stop::Closed(end) | Stop::Corner(end)) = stop;
        let passes_goal = goal_line == line
            && if ahead {
                from < goal && goal <= end
            } else {
                end <= goal && goal < from
            };
        let cell = match stop {
            _ if passes_goal => goal,
            Stop::Corner(cell) => cell,
            Stop::Closed(_) => return None,
        };
        Some(if step.1 == 0 { (cell, y) } else { (x, cell) })
    }

    /// The same on a diagonal line: the goal, or a cell from which a straight line leads to
    /// something. Counts the cells that it passes.
    fn jump_diagonal(&self, from: At, step: (i32, i32), passed: &mut u32) -> Option<At> {
        let mut at = from;
        loop {
            let beside = [moved(at, (step.0, 0)), moved(at, (0, step.1))];
            let next = moved(at, step);
            if !(self.is_open(next) && beside.into_iter().all(|cell| self.is_open(cell))) {
                return None;
            }
            at = next;
            *passed += 1;
            let leads_on = |step| self.jump_straight(at, step).is_some();
            if at == self.goal || leads_on((step.0, 0)) || leads_on((0, step.1)) {
                return Some(at);
            }
        }
    }

    /// Where the way to the goal turns that goes diagonally first and then straight, if all of it
    /// is open. No way can cost less.
    fn clear_run(&self, from: At) -> Option<At> {
        let (gx, gy) = self.goal;
        let (dx, dy) = (gx as i32 - from.0 as i32, gy as i32 - from.1 as i32);
        let step = (dx.signum(), dy.signum());
        let mut at = from;
        for _ in 0..dx.abs().min(dy.abs()) {
            let beside = [moved(at, (step.0, 0)), moved(at, (0, step.1))];
            at = moved(at, step);
            if !(self.is_open(at) && beside.into_iter().all(|cell| self.is_open(cell))) {
                return None;
            }
        }
        let rest = match (gx == at.0, gy == at.1) {
            (true, true) => return Some(at),
            (false, _) => (step.0, 0),
            (true, false) => (0, step.1),
        };
        let mut on = at;
        while on != self.goal {
            on = self.jump_straight(on, rest)?;
        }
        Some(at)
    }
}

fn moved((x, y): At, (dx, dy): (i32, i32)) -> At {
    (x.wrapping_add_signed(dx), y.wrapping_add_signed(dy))
}

impl Jumps {
    /// Begins to look for a cheapest way between two open cells, given as entries. Costs in `nodes`
    /// are for a slowness of one half.
    pub(super) fn begin(&mut self, passage: &Passage, nodes: &mut Nodes, ends: (usize, usize)) {
        self.ends = ends;
        self.open.clear();
        if self.parents.len() < passage.weights().len() {
            self.parents.resize(passage.weights().len(), 0);
        }
        nodes.reach(ends.0, 0, ANY as u8);
        self.push(left(passage, ends.0, ends.1), ends.0);
    }

    /// How many cells one step may look at, at the most: four diagonal runs.
    pub(super) fn most_of_a_step(passage: &Passage) -> u32 {
        let rows = passage.weights().len() / passage.stride();
        4 * rows.min(passage.stride()) as u32
    }

    /// Goes on until the goal or the end is reached, or `most` cells are looked at, but for the first step. Gives whether
    /// the goal was reached, if that is known by then, and how many cells were looked at.
    pub(super) fn advance(
        &mut self,
        passage: &Passage,
        lines: &Crossing,
        nodes: &mut Nodes,
        most: u32,
    ) -> (Option<bool>, u32) {
        let stride = passage.stride();
        let (_, goal) = self.ends;
        let place = |node: usize| ((node % stride) as u32, (node / stride) as u32);
        let node = |(x, y): At| y as usize * stride + x as usize;
        let field = Field {
            lines,
            goal: place(goal),
        };
        let mut count = 0_u32;
        let step = Jumps::most_of_a_step(passage);
        while count == 0 || count.saturating_add(step) <= most {
            let Some(Reverse(key)) = self.open.pop() else {
                return (Some(false), count);
            };
            let at = (key & ((1 << NODE_BITS) - 1)) as usize;
            if !nodes.settle(at) {
                continue;
            }
            count += 1;
            if at == goal {
                return (Some(true), count);
            }
            let here = place(at);
            if let Some(turn) = field.clear_run(here) {
                // Nothing that is left can cost less than this is bound to.
                let turn = node(turn);
                self.walk(nodes, stride, at, turn);
                self.walk(nodes, stride, turn, goal);
                return (Some(true), count);
            }
            let by = usize::from(nodes.step(at));
            let mut ways_on = WAYS_ON[by][usize::from(passage.neighbours()[at])];
            while ways_on != 0 {
                let step = ways_on.trailing_zeros() as usize;
                ways_on &= ways_on - 1;
                let found = match step {
                    0..4 => field.jump_straight(here, STEPS[step]),
                    _ => field.jump_diagonal(here, STEPS[step], &mut count),
                };
                let Some(next) = found.map(node) else {
                    continue;
                };
                if self.walk(nodes, stride, at, next) {
                    self.push(nodes.cost(next) + left(passage, next, goal), next);
                }
            }
        }
        (None, count)
    }

    /// Notes the way from one node to another on one straight or diagonal line. Gives whether it is
    /// better than any known so far.
    fn walk(&mut self, nodes: &mut Nodes, stride: usize, from: usize, to: usize) -> bool {
        if from == to {
            return false;
        }
        let (dx, dy) = (
            (to % stride) as i32 - (from % stride) as i32,
            (to / stride) as i32 - (from / stride) as i32,
        );
        let step = (dx.signum(), dy.signum());
        let per_cell = if dx == 0 || dy == 0 {
            STRAIGHT
        } else {
            DIAGONAL
        };
        let cells = u64::from(dx.unsigned_abs().max(dy.unsigned_abs()));
        let number = STEPS.iter().position(|known| *known == step).unwrap_or(0);
        let better = nodes.reach(to, nodes.cost(from) + per_cell * cells, number as u8);
        if better {
            self.parents[to] = from as u32;
        }
        better
    }

    /// The cells of the way, from last to first.
    pub(super) fn trace(&self, passage: &Passage, nodes: &Nodes, way: &mut Vec<Cell>) {
        let (start, mut at) = self.ends;
        while at != start {
            let parent = self.parents[at] as usize;
            let (dx, dy) = STEPS[usize::from(nodes.step(at))];
            let (mut cell, end) = (passage.cell(at), passage.cell(parent));
            while cell != end {
                way.push(cell);
                cell = Cell::new(cell.x - dx, cell.y - dy);
            }
            at = parent;
        }
        way.push(passage.cell(start));
    }

    /// Keys order by estimated total, then by node: ties by id.
    fn push(&mut self, total: u64, node: usize) {
        // The largest map has fewer than 2^25 cells, and the longest way on it costs less than 2^34.
        self.open.push(Reverse(total << NODE_BITS | node as u64));
    }
}

/// The least that is left between two entries.
fn left(passage: &Passage, from: usize, to: usize) -> u64 {
    let (from, to) = (passage.place(from), passage.place(to));
    octile(to.0 - from.0, to.1 - from.1)
}
