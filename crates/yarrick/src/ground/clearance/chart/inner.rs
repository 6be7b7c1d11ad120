//! What it costs to get from gate to gate within a tract, and by which ways; and how much of that still holds after a
//! change.
//!
//! Where cells were closed, a way that does not touch the change is still the best. Where cells were opened, a way through
//! them costs at least what it costs to get to the nearest of them and on from the nearest of them; if that is more than the way
//! that is known, this is still the best.

use super::runs::Run;
use super::tile::Tile;
use crate::ground::clearance::repair::Change;
use crate::ground::clearance::tracts::SIDE;
use crate::ground::steps::STEPS;
use crate::ground::{ClearanceMap, Lattice};

/// Ways between the gates of a tract.
#[derive(Clone, Debug, Default, PartialEq)]
pub(super) struct Inner {
    /// The cells at which gates and links begin or end, as entries, by the part to which they belong.
    cells: Vec<u32>,
    /// For each cell, the index of its part in `parts`.
    part_of: Vec<u16>,
    parts: Vec<Part>,
    /// For each part, what it costs to get from each of its cells to each other, row by row.
    costs: Vec<u32>,
    /// In the same order, where the ways begin from each cell to those after it; and these, one after
    /// the other.
    ways_at: Vec<u32>,
    ways: Vec<Run>,
    /// Whether all of the tract was open: its ways are then straight ones, and no spread was needed.
    all_open: bool,
}

/// The cells of a tract that hang together within it, and at which gates and links begin or end.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub(super) struct Part {
    pub(super) first: u16,
    pub(super) count: u16,
    /// Where its costs begin.
    costs: u32,
    /// Whether only one gate or link touches it: a way that comes in by that goes no farther.
    pub(super) is_dead_end: bool,
}

impl Inner {
    /// Computes the tract that a tile has loaded. `cells` are the ends of its gates and links; a cell at which several end is given
    /// several times. After a change, what was known before is kept where it still holds.
    pub(super) fn find(
        clearance: &ClearanceMap,
        mut cells: Vec<u32>,
        change: Option<(Change, &Inner)>,
        tile: &mut Tile,
    ) -> Inner {
        let kept = change.and_then(|(change, before)| Kept::find(clearance, change, before, tile));
        let part_of = |cell: &u32| clearance.regions.part_of(*cell as usize);
        cells.sort_unstable_by_key(|cell| (part_of(cell), *cell));
        let all_parts: Vec<u16> = cells.iter().map(part_of).collect();
        let mut touching = all_parts.chunk_by(|a, b| a == b).map(<[u16]>::len);
        cells.dedup();
        let parts: Vec<u16> = cells.iter().map(part_of).collect();
        let mut inner = Inner {
            all_open: tile.is_all_open(),
            ..Inner::default()
        };
        for part in parts.chunk_by(|a, b| a == b) {
            let (number, first) = (inner.parts.len() as u16, inner.part_of.len());
            inner.parts.push(Part {
                first: first as u16,
                count: part.len() as u16,
                costs: inner.costs.len() as u32,
                is_dead_end: touching.next() == Some(1),
            });
            inner.part_of.extend(part.iter().map(|_| number));
            inner.add_ways(&cells[first..][..part.len()], kept.as_ref(), tile);
        }
        inner.cells = cells;
        inner
    }

    /// Adds what it costs to get from each of some cells to each other, row by row, and in the same order the ways from each to
    /// those after it. They must hang together.
    fn add_ways(&mut self, cells: &[u32], kept: Option<&Kept<'_>>, tile: &mut Tile) {
        let (count, first) = (cells.len(), self.costs.len());
        self.costs.resize(first + count * count, 0);
        self.ways_at.resize(first + count * count, 0);
        let known: Vec<Option<usize>> = cells
            .iter()
            .map(|cell| kept.and_then(|kept| kept.number_of(*cell)))
            .collect();
        for (k, &from) in cells.iter().enumerate() {
            let mut is_spread = false;
            for (other, &to) in cells.iter().enumerate().skip(k) {
                self.ways_at[first + k * count + other] = self.ways.len() as u32;
                let keep = |kept: &Kept<'_>, ways: &mut Vec<Run>| {
                    let ends = [from, to].map(|cell| tile.place_within(cell));
                    kept.add((known[k]?, known[other]?), ends, ways)
                };
                let cost = if self.all_open {
                    tile.add_straight((from, to), &mut self.ways)
                } else if let Some(cost) = kept.and_then(|kept| keep(kept, &mut self.ways)) {
                    cost
                } else {
                    if !core::mem::replace(&mut is_spread, true) {
                        tile.spread(&[from]);
                    }
                    tile.add_found(to, &mut self.ways)
                };
                // It costs the same there and back.
                self.costs[first + k * count + other] = cost;
                self.costs[first + other * count + k] = cost;
            }
        }
    }

    pub(super) fn cells(&self) -> &[u32] {
        &self.cells
    }

    pub(super) fn parts(&self) -> &[Part] {
        &self.parts
    }

    pub(super) fn part_of(&self, cell: u16) -> &Part {
        &self.parts[usize::from(self.part_of[usize::from(cell)])]
    }

    /// The number of the part to which a cell belongs, and what it costs to get from the cell to each of the part.
    pub(super) fn costs_from(&self, cell: u16) -> (u16, &[u32]) {
        let number = self.part_of[usize::from(cell)];
        let part = &self.parts[usize::from(number)];
        let row = usize::from(cell - part.first) * usize::from(part.count);
        let costs = &self.costs[part.costs as usize + row..][..usize::from(part.count)];
        (number, costs)
    }

    /// The cells of the part to which one belongs.
    pub(super) fn cells_with(&self, cell: u16) -> &[u32] {
        let part = self.part_of(cell);
        &self.cells[usize::from(part.first)..][..usize::from(part.count)]
    }

    /// What it costs at the most to get from one cell to another.
    pub(super) fn dearest(&self) -> u32 {
        self.costs.iter().copied().max().unwrap_or(0)
    }

    /// Where the cost of a pair of cells of one part stands, the first before the second, and where its way.
    fn pair(&self, (low, high): (u16, u16)) -> usize {
        let part = self.part_of(low);
        let [low, high] = [low, high].map(|cell| usize::from(cell - part.first));
        part.costs as usize + low * usize::from(part.count) + high
    }

    /// The way from a cell to another of the same part: adds the entries on it, both ends included.
    pub(super) fn add_way(&self, stride: usize, (from, to): (u16, u16), way: &mut Vec<u32>) {
        let ends = (from.min(to), from.max(to));
        let first = way.len();
        let mut at = self.cells[usize::from(ends.0)];
        way.push(at);
        let end = self.cells[usize::from(ends.1)];
        let mut runs = self.ways[self.ways_at[self.pair(ends)] as usize..].iter();
        while at != end
            && let Some(run) = runs.next()
        {
            run.follow(stride, &mut at, way);
        }
        if from > to {
            way[first..].reverse();
        }
    }
}

/// What was known of a tract before a change, and how to tell what of it still holds.
struct Kept<'a> {
    before: &'a Inner,
    /// The cells that were known, in order, with their numbers.
    numbers: Vec<(u32, u16)>,
    /// The columns that the change touched, as bits, by row.
    touched: [u32; SIDE],
    closes: bool,
    /// What it costs to get from each of the cells to the nearest that the change touched, if it opened any.
    to_change: Vec<u32>,
}

impl Kept<'_> {
    /// `None` where nothing can be kept. The tile has loaded the tract as it is now.
    fn find<'a>(
        clearance: &ClearanceMap,
        change: Change,
        before: &'a Inner,
        tile: &mut Tile,
    ) -> Option<Kept<'a>> {
        // On squares with four directions, a straight way differs from the way of equal cost that a spread finds.
        let is_other = before.all_open && clearance.lattice != Lattice::Squares;
        if before.cells.is_empty() || is_other || tile.is_all_open() {
            return None;
        }
        let mut touched = [0_u32; SIDE];
        let mut seeds = Vec::new();
        for (row, column) in (0..SIDE).flat_map(|row| (0..SIDE).map(move |column| (row, column))) {
            let (left, below) = tile.corner();
            let place = (left + column as i32, below + row as i32);
            if change.touched.contains(clearance.cell_in(place))
                && let Some(node) = clearance.node_at(place)
            {
                touched[row] |= 1 << column;
                seeds.extend((clearance.weights[node] > 0).then_some(node as u32));
            }
        }
        let to_change = if change.opens && !seeds.is_empty() {
            tile.spread(&seeds);
            before.cells.iter().map(|cell| tile.cost(*cell)).collect()
        } else {
            Vec::new()
        };
        let mut numbers: Vec<(u32, u16)> = before.cells.iter().copied().zip(0..).collect();
        numbers.sort_unstable();
        Some(Kept {
            before,
            numbers,
            touched,
            closes: change.closes,
            to_change,
        })
    }

    /// The number that a cell had.
    fn number_of(&self, cell: u32) -> Option<usize> {
        let found = self.numbers.binary_search_by_key(&cell, |(cell, _)| *cell);
        found.ok().map(|at| usize::from(self.numbers[at].1))
    }

    /// Adds the way between two cells, given by the numbers that they had and by their columns and rows, if it still holds. Gives
    /// what it costs.
    fn add(
        &self,
        (from, to): (usize, usize),
        [start, end]: [(i32, i32); 2],
        ways: &mut Vec<Run>,
    ) -> Option<u32> {
        let before = self.before;
        if before.part_of[from] != before.part_of[to] {
            return None;
        }
        let pair = before.pair((from as u16, to as u16));
        let cost = before.costs[pair];
        if !self.to_change.is_empty()
            && self.to_change[from].saturating_add(self.to_change[to]) <= cost
        {
            return None;
        }
        let touches = |(column, row): (i32, i32)| {
            self.closes && self.touched[row as usize] >> column & 1 == 1
        };
        let first = ways.len();
        let mut runs = before.ways[before.ways_at[pair] as usize..].iter();
        let mut at = start;
        let mut holds = !touches(at);
        while holds
            && at != end
            && let Some(run) = runs.next()
        {
            let (dx, dy) = STEPS[run.step()];
            for _ in 0..run.count() {
                at = (at.0 + dx, at.1 + dy);
                holds &= !touches(at);
            }
            ways.push(*run);
        }
        holds &= at == end;
        if !holds {
            ways.truncate(first);
        }
        holds.then_some(cost)
    }
}
