//! A* from cell to cell, for ground of several speeds and for clutter.
//!
//! Hart, Nilsson and Raphael (1968), with the octile distance as estimate and whole-number
//! costs, so that ways of equal length tie exactly; among those, the one taken up last is gone on
//! with first. A diagonal step needs both cells beside it to be open:
//!
//! ```text
//!   . b        a → d only if b and c are open
//!   a c
//! ```
//!
//! Cost: in proportion to the cells settled; the queue is a ring of [`buckets`](super::buckets).

use super::buckets::Buckets;
use super::search::{Nodes, Settled};
use super::steps::{ANY, DIAGONAL, STEPS, STRAIGHT, WAYS_ON, octile, offsets};
use crate::ground::{Cell, Passage};

/// Finds a cheapest way between two open cells, as padded indices, and leaves its steps in
/// `nodes`. `None` where there is none.
pub(super) fn find(
    passage: &Passage,
    nodes: &mut Nodes,
    queue: &mut Buckets,
    (start, goal): (usize, usize),
) -> Option<Settled> {
    let least = 2 * u64::from(passage.lightest());
    let dearest = DIAGONAL * 2 * u64::from(passage.heaviest());
    // A step may lead away from the goal by as much as it costs at the least.
    queue.clear(dearest + DIAGONAL * least);
    let to = passage.cell(goal);
    let estimate = |cell: Cell| octile(cell, to) * least;
    nodes.reach(start, 0, 0);
    queue.push(estimate(passage.cell(start)), start as u32);
    let mut settled = 0;
    while let Some(at) = queue.pop() {
        let at = at as usize;
        if !nodes.settle(at) {
            continue;
        }
        settled += 1;
        if at == goal {
            return Some(Settled { count: settled });
        }
        let by = (at != start).then(|| nodes.step(at));
        spread(passage, nodes, queue, (at, by), estimate);
    }
    None
}

/// Offers the cost of a settled node, reached by a step, to its neighbours.
fn spread(
    passage: &Passage,
    nodes: &mut Nodes,
    queue: &mut Buckets,
    (at, by): (usize, Option<u8>),
    estimate: impl Fn(Cell) -> u64,
) {
    let cell = passage.cell(at);
    let weights = passage.weights();
    let offsets = offsets(passage.stride());
    let (here, weight) = (nodes.cost(at), u64::from(weights[at]));
    // On ground of several speeds a way that turns late may be the cheaper one.
    let by = match by {
        Some(step) if passage.is_even() => usize::from(step),
        _ => ANY,
    };
    let mut steps = WAYS_ON[by][usize::from(passage.neighbours()[at])];
    while steps != 0 {
        let step = steps.trailing_zeros() as usize;
        steps &= steps - 1;
        let next = at.wrapping_add_signed(offsets[step]);
        let per_weight = if step < 4 { STRAIGHT } else { DIAGONAL };
        let cost = here + per_weight * (weight + u64::from(weights[next]));
        if nodes.reach(next, cost, step as u8) {
            let (dx, dy) = STEPS[step];
            let left = estimate(Cell::new(cell.x + dx, cell.y + dy));
            queue.push(cost + left, next as u32);
        }
    }
}

/// The cells of the way to `goal`, from last to first.
pub(super) fn trace(
    passage: &Passage,
    nodes: &Nodes,
    (start, goal): (usize, usize),
    way: &mut Vec<Cell>,
) {
    let offsets = offsets(passage.stride());
    let mut at = goal;
    while at != start {
        way.push(passage.cell(at));
        at = at.wrapping_add_signed(-offsets[usize::from(nodes.step(at))]);
    }
    way.push(passage.cell(start));
}
