//! Which of the steps from one tract into the next are gates.

use super::tile::Tile;
use crate::ground::clearance::tracts::SIDE;
use crate::ground::steps::{DIAGONAL, STEPS, STRAIGHT, offsets};
use crate::ground::{ClearanceMap, Lattice};

/// A step between two tracts, there and back.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Gate {
    /// Entries.
    pub(super) from: u32,
    pub(super) to: u32,
    pub(super) cost: u64,
}

/// Where the tracts lie to which a tract has the gates. Those behind it have theirs to it.
pub(super) const AHEAD: [(i32, i32); 4] = [(1, 0), (0, 1), (-1, 1), (1, 1)];

/// Cells from gate to gate on one stretch of a border that is open and crossed at one speed. They lie at
/// multiples of it along the border, so that they stay where they are when a stretch loses or gains a cell.
const SPACING: usize = 8;

/// Cells from the other gates beyond which the first and the last cell of a stretch are gates.
const SPACING_OF_END: usize = 4;

/// Gates of other stretches stand for a step if they lie nearer along the border than so many cells, and
/// it is no farther to walk there than so many, on either side.
const SPACING_APART: usize = 5;
const WALK_APART: u32 = 6;

/// A step that may become a gate.
struct Candidate {
    gate: Gate,
    /// How far along the border it lies.
    along: usize,
    /// The parts that it leads between.
    parts: (u16, u16),
    /// Which of the stretches of the border it belongs to, and whether it is its first or last step.
    stretch: usize,
    is_end: bool,
}

/// The gates from the tract that begins at a column and row to the one ahead: of those between the same two parts the cheap
/// ones, some way apart.
pub(super) fn find(
    clearance: &ClearanceMap,
    corner: (i32, i32),
    ahead: usize,
    tiles: &mut [Tile; 2],
) -> Vec<Gate> {
    let ahead = AHEAD[ahead];
    let side = SIDE as i32;
    let beyond = (corner.0 + ahead.0 * side, corner.1 + ahead.1 * side);
    let mut sides = Sides {
        clearance,
        corners: [corner, beyond],
        are_loaded: false,
        tiles,
    };
    let mut candidates = candidates(clearance, corner, ahead);
    find_stretches(&mut candidates);
    candidates.sort_by_key(|candidate| {
        let is_off_its_place = !candidate.along.is_multiple_of(SPACING);
        (candidate.gate.cost, is_off_its_place, candidate.along)
    });
    let mut chosen: Vec<Candidate> = Vec::new();
    for candidate in candidates {
        let stands_for_it = |other: &Candidate| stands_for(other, &candidate, &mut sides);
        if !chosen.iter().any(stands_for_it) {
            chosen.push(candidate);
        }
    }
    chosen.sort_by_key(|candidate| candidate.along);
    chosen.into_iter().map(|candidate| candidate.gate).collect()
}

fn find_stretches(candidates: &mut [Candidate]) {
    let mut stretch = 0;
    for k in 1..candidates.len() {
        let (before, here) = (&candidates[k - 1], &candidates[k]);
        let goes_on = here.along == before.along + 1
            && here.parts == before.parts
            && here.gate.cost == before.gate.cost;
        candidates[k - 1].is_end |= !goes_on;
        candidates[k].is_end = !goes_on || k + 1 == candidates.len();
        stretch += usize::from(!goes_on);
        candidates[k].stretch = stretch;
    }
}

/// Whether a gate is near enough to a step to stand for it.
fn stands_for(gate: &Candidate, step: &Candidate, sides: &mut Sides<'_>) -> bool {
    let apart = gate.along.abs_diff(step.along);
    if gate.parts != step.parts {
        return false;
    }
    if gate.stretch == step.stretch {
        return apart < if step.is_end { SPACING_OF_END } else { SPACING };
    }
    let most = step.gate.cost as u32 * WALK_APART;
    let ends = [
        (step.gate.from, gate.gate.from),
        (step.gate.to, gate.gate.to),
    ];
    apart < SPACING_APART
        && ends
            .into_iter()
            .zip(sides.tiles())
            .all(|((from, to), tile)| {
                tile.spread(&[from]);
                tile.cost(to) <= most
            })
}

/// The tracts on both sides of a border, looked into only where walks within them count.
struct Sides<'a> {
    clearance: &'a ClearanceMap,
    corners: [(i32, i32); 2],
    are_loaded: bool,
    tiles: &'a mut [Tile; 2],
}

impl Sides<'_> {
    fn tiles(&mut self) -> &mut [Tile; 2] {
        if !core::mem::replace(&mut self.are_loaded, true) {
            for (tile, corner) in self.tiles.iter_mut().zip(self.corners) {
                tile.load(self.clearance, corner);
            }
        }
        self.tiles
    }
}

/// All steps from one tract into the next: step by step, and for each in order along the border.
fn candidates(clearance: &ClearanceMap, corner: (i32, i32), ahead: (i32, i32)) -> Vec<Candidate> {
    let last = SIDE as i32 - 1;
    let offsets = offsets(clearance.stride);
    let mut candidates = Vec::new();
    for (step, (dx, dy)) in STEPS.into_iter().enumerate() {
        for along in 0..=last {
            let (x, y) = match ahead {
                (1, 0) => (last, along),
                (0, 1) => (along, last),
                (-1, _) if along == 0 => (0, last),
                (1, _) if along == 0 => (last, last),
                _ => break,
            };
            let beyond = (
                x + dx - ahead.0 * SIDE as i32,
                y + dy - ahead.1 * SIDE as i32,
            );
            let inside = (0..=last).contains(&beyond.0) && (0..=last).contains(&beyond.1);
            let node = clearance.node_at((corner.0 + x, corner.1 + y));
            let Some(node) = node.filter(|node| inside && can_go(clearance, *node, step)) else {
                continue;
            };
            let next = node.wrapping_add_signed(offsets[step]);
            let slowness = u64::from(clearance.weights[node]) + u64::from(clearance.weights[next]);
            let price = match clearance.lattice {
                Lattice::Squares if step >= 4 => DIAGONAL,
                _ => STRAIGHT,
            };
            candidates.push(Candidate {
                gate: Gate {
                    from: node as u32,
                    to: next as u32,
                    cost: price * slowness,
                },
                along: along as usize,
                parts: (
                    clearance.regions.part_of(node),
                    clearance.regions.part_of(next),
                ),
                stretch: 0,
                is_end: true,
            });
        }
    }
    candidates
}

/// Whether a step from an entry leads on. On squares diagonal ones are never the only way, so that they count
/// only where they slip between two slower cells.
fn can_go(clearance: &ClearanceMap, node: usize, step: usize) -> bool {
    let weights = &clearance.weights;
    let beside = |step: usize| node.wrapping_add_signed(offsets(clearance.stride)[step]);
    let possible = weights[node] > 0 && clearance.neighbours[node] >> step & 1 == 1;
    if !possible || step < 4 || clearance.lattice != Lattice::Squares {
        return possible;
    }
    let ends = weights[node].max(weights[beside(step)]);
    // Diagonal `k` lies between straight `k` and the one after it.
    [step - 4, (step - 3) % 4]
        .into_iter()
        .all(|side| weights[beside(side)] > ends)
}
