//! A* from corner to corner, for ground of one speed: jump points.
//!
//! Harabor and Grastien (2011), with blocks of cells looked at at once (2014), and without cutting
//! corners, which changes the rules: a diagonal step never passes a corner, so that only straight
//! ones come upon a turn, where a closed cell beside the way *ends*.
//!
//! ```text
//!   # # . .        view right along the lower line, a is reached by a diagonal step at no greater
//!   → → x →        cost as long as the cell above the one before is open; past the end of the
//!                  closed cells, x is the first from which one gets up there
//! ```
//!
//! Among ways of equal cost only the one that goes diagonally first is followed. Only corners are queued:
//! what is seen from a diagonal run follows the corner at which the run began (the pruning of turns of
//! 2014). Cost: in proportion to the corners met, to the cells passed diagonally, and to those passed
//! straight by sixty-fourths.

use super::known::{Known, NODE_BITS};
use crate::ground::steps::{ANY, DIAGONAL, STEPS, STRAIGHT, WAYS_ON, octile};
use crate::ground::{ClearanceMap, Crossing, Stop};
use core::cmp::Reverse;
use std::collections::BinaryHeap;

/// Cells after which a diagonal run is left off, to go on if nothing better is left.
const FAR: u32 = 32;

/// Work of settling a corner, in cells settled by a search from cell to cell. This and the next two were fitted to times measured in
/// clutter of many densities, and doubled: in a world, where eight searches take turns, they take twice as long.
const CELLS_A_CORNER: u32 = 4;

/// Number of cells on a diagonal, looking to both sides from each, that count as one settled cell.
const SWEPT_A_CELL: u32 = 1;

/// Number of cells on the open run to the goal that count as one settled cell.
const RUN_A_CELL: u32 = 4;

/// The workspace.
#[derive(Clone, Debug, Default)]
pub(crate) struct Jumps {
    open: BinaryHeap<Reverse<u64>>,
    known: Known,
    ends: (usize, usize),
}

/// The grid, with the goal, in padded coordinates.
struct Field<'a> {
    lines: &'a Crossing,
    stride: usize,
    goal: At,
}

/// A cell by padded column and row.
type At = (u32, u32);

impl Field<'_> {
    fn node(&self, (x, y): At) -> usize {
        y as usize * self.stride + x as usize
    }

    fn place(&self, node: usize) -> At {
        ((node % self.stride) as u32, (node / self.stride) as u32)
    }

    /// Whether a diagonal step leads on from a cell: read from lines of bits, which are nearer at hand than the
    /// neighbours of each cell.
    fn opens(&self, at: At, (dx, dy): (i32, i32)) -> bool {
        [(dx, 0), (0, dy), (dx, dy)].into_iter().all(|step| {
            let (x, y) = moved(at, step);
            !self.lines.rows.is_closed(y as usize, x as usize)
        })
    }

    /// The least that is left from a place to the goal.
    fn left(&self, (x, y): At) -> u64 {
        let (gx, gy) = self.goal;
        octile(gx as i32 - x as i32, gy as i32 - y as i32)
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

    /// Whether the way to the goal is open that goes diagonally first and then straight. No way can
    /// cost less. Counts the cells that it passes diagonally.
    fn has_clear_run(&self, from: At, passed: &mut u32) -> bool {
        let (gx, gy) = self.goal;
        let (dx, dy) = (gx as i32 - from.0 as i32, gy as i32 - from.1 as i32);
        let mut at = from;
        if dx != 0 && dy != 0 {
            let step = (dx.signum(), dy.signum());
            for _ in 0..dx.abs().min(dy.abs()) {
                if !self.opens(at, step) {
                    return false;
                }
                at = moved(at, step);
                *passed += 1;
            }
        }
        let rest = match (gx == at.0, gy == at.1) {
            (true, true) => return true,
            (false, _) => (dx.signum(), 0),
            (true, false) => (0, dy.signum()),
        };
        while at != self.goal {
            let Some(next) = self.jump_straight(at, rest) else {
                return false;
            };
            at = next;
        }
        true
    }
}

fn moved((x, y): At, (dx, dy): (i32, i32)) -> At {
    (x.wrapping_add_signed(dx), y.wrapping_add_signed(dy))
}

impl Jumps {
    /// Begins to look for a cheapest way between two open cells, given as entries.
    pub(super) fn begin(&mut self, ends: (usize, usize)) {
        self.ends = ends;
        self.open.clear();
        self.known.begin();
        self.known.reach(ends.0, 0, ANY as u8, 0);
        // What is left is not pushed: it is the only one.
        self.push(0, ends.0);
    }

    /// What one step may count as, at the most: a diagonal run to the goal, and four that are left off.
    pub(super) fn most_of_a_step(clearance: &ClearanceMap) -> u32 {
        let rows = clearance.weights().len() / clearance.stride();
        let run = rows.min(clearance.stride()) as u32;
        CELLS_A_CORNER + 4 * FAR / SWEPT_A_CELL + run / RUN_A_CELL
    }

    /// Goes on until the goal or the end is reached, or as much is done as settling `most` cells, but for the first step. Gives whether
    /// the goal was reached, if that is known by then, and the work.
    pub(super) fn advance(
        &mut self,
        clearance: &ClearanceMap,
        lines: &Crossing,
        most: u32,
    ) -> (Option<bool>, u32) {
        let (_, goal) = self.ends;
        let mut field = Field {
            lines,
            stride: clearance.stride(),
            goal: (0, 0),
        };
        field.goal = field.place(goal);
        let mut count = 0_u32;
        let step = Jumps::most_of_a_step(clearance);
        while count == 0 || count.saturating_add(step) <= most {
            let Some(Reverse(key)) = self.open.pop() else {
                return (Some(false), count);
            };
            let at = (key & ((1 << NODE_BITS) - 1)) as usize;
            if !self.known.settle(at) {
                continue;
            }
            count += CELLS_A_CORNER;
            if at == goal {
                return (Some(true), count);
            }
            let here = field.place(at);
            let (cost, by, _) = self.known.reached(at);
            let mut run = 0;
            let is_clear = field.has_clear_run(here, &mut run);
            count += run / RUN_A_CELL;
            if is_clear {
                // Nothing that is left can cost less than this is bound to.
                let cost = cost + field.left(here);
                self.known.reach(goal, cost, ANY as u8, at as u32);
                return (Some(true), count);
            }
            let mut ways_on = WAYS_ON[usize::from(by)][usize::from(clearance.neighbours()[at])];
            while ways_on != 0 {
                let step = ways_on.trailing_zeros() as usize;
                ways_on &= ways_on - 1;
                match step {
                    0..4 => self.look_along(&field, (at, cost), here, step),
                    _ => count += self.sweep(&field, (at, cost), step) / SWEPT_A_CELL,
                }
            }
        }
        (None, count)
    }

    /// Notes what a straight line leads to from a place on the way from a node, at the cost there.
    fn look_along(&mut self, field: &Field<'_>, (from, cost): (usize, u64), at: At, step: usize) {
        if let Some(next) = field.jump_straight(at, STEPS[step]) {
            let cells = u64::from(at.0.abs_diff(next.0) + at.1.abs_diff(next.1));
            self.note(field, from, (next, cost + STRAIGHT * cells, step));
        }
    }

    /// Goes diagonally from a node, and looks along both straight lines from each cell on the way:
    /// what they lead to follows the node itself, so that turns need not be looked at again. Leaves off
    /// after [`FAR`] cells, to go on only if nothing better is left. Gives how many it passed.
    fn sweep(&mut self, field: &Field<'_>, (from, cost): (usize, u64), step: usize) -> u32 {
        let (mut at, mut cost) = (field.place(from), cost);
        for passed in 0..FAR {
            if !field.opens(at, STEPS[step]) {
                return passed;
            }
            at = moved(at, STEPS[step]);
            cost += DIAGONAL;
            if at == field.goal {
                self.note(field, from, (at, cost, step));
                return passed + 1;
            }
            // Diagonal `k` lies between straight `k` and the one after it.
            for beside in [step - 4, (step - 3) % 4] {
                self.look_along(field, (from, cost), at, beside);
            }
        }
        self.note(field, from, (at, cost, step));
        FAR
    }

    /// Notes that a cell is reached from a node at a cost, by a last step.
    fn note(&mut self, field: &Field<'_>, from: usize, (at, cost, step): (At, u64, usize)) {
        let node = field.node(at);
        if self.known.reach(node, cost, step as u8, from as u32) {
            self.push(cost + field.left(at), node);
        }
    }

    /// What the way that was found costs where the slowness is one half.
    pub(super) fn cost(&self) -> u64 {
        let (cost, ..) = self.known.reached(self.ends.1);
        cost
    }

    /// The nodes that the last search settled, in order.
    pub(super) fn settled(&self) -> Vec<usize> {
        self.known.settled()
    }

    /// The cells of the way, from last to first.
    pub(super) fn trace(&self, clearance: &ClearanceMap, way: &mut Vec<u32>) {
        let stride = clearance.stride() as i32;
        let (start, mut at) = self.ends;
        while at != start {
            let (_, _, parent) = self.known.reached(at);
            let parent = parent as usize;
            let (here, end) = (clearance.place(at), clearance.place(parent));
            let (dx, dy) = (end.0 - here.0, end.1 - here.1);
            let (far, both) = (dx.abs().max(dy.abs()), dx.abs().min(dy.abs()));
            // Diagonally first and then straight: backwards the straight part comes first.
            let straight = if dx.abs() > dy.abs() {
                dx.signum()
            } else {
                dy.signum() * stride
            };
            let diagonal = dx.signum() + dy.signum() * stride;
            let mut node = at as u32;
            for k in 0..far {
                way.push(node);
                let step = if k < far - both { straight } else { diagonal };
                node = node.wrapping_add_signed(step);
            }
            at = parent;
        }
        way.push(start as u32);
    }

    /// Keys order by estimated total, then by node: ties by id.
    fn push(&mut self, total: u64, node: usize) {
        // The largest map has fewer than 2^25 cells, and the longest way on it costs less than 2^34.
        self.open.push(Reverse(total << NODE_BITS | node as u64));
    }
}
