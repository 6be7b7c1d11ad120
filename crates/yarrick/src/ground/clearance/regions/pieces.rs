//! The parts of one tract, and where one can step from them into parts of the next; and the groups of them.

use super::graph::Graph;
use crate::ground::clearance::tracts::{OUT, SIDE, Tracts};
use crate::ground::steps::STEPS;

const AREA: usize = SIDE * SIDE;

/// A part of a tract, by its number in it, from 1.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord)]
pub(super) struct At {
    pub(super) tract: u32,
    pub(super) part: u16,
}

/// Entries that hang together within a tract.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct Part {
    /// The number of its group in the square of the tract.
    pub(super) group: u16,
    /// How many entries it has.
    pub(super) size: u32,
}

/// A group of parts, by its number in its square.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord)]
pub(super) struct Spot {
    pub(super) square: u32,
    pub(super) group: u16,
}

/// Parts that hang together within a square.
#[derive(Clone, Debug, Default)]
pub(super) struct Group {
    /// The number of the region that it belongs to; `0` as long as that is not known.
    pub(super) region: u32,
    /// How many entries it has.
    pub(super) size: u32,
    /// Those of its parts from which one can step out of the square.
    pub(super) exits: Vec<At>,
}

/// The parts of a tract, found anew.
pub(super) struct Found {
    pub(super) tract: u32,
    /// By part, the region of the first of its entries that had one; `0` for none.
    pub(super) regions: Vec<u32>,
    /// Whether entries at the rim of the tract belong to parts with other numbers than before.
    pub(super) rim_differs: bool,
    /// Whether there are other parts than before, or entries that stayed open belong to parts with other numbers.
    pub(super) differs: bool,
}

/// What a tract consists of.
#[derive(Clone, Debug, Default)]
pub(super) struct Pieces {
    /// The square in which the tract lies.
    pub(super) square: u32,
    pub(super) parts: Vec<Part>,
    /// From which part one can step into which part of another tract; each pair once, in order.
    doors: Vec<(u16, At)>,
}

impl Pieces {
    /// The parts of other tracts into which one can step from a part.
    pub(super) fn beside(&self, part: u16) -> impl Iterator<Item = At> + '_ {
        let first = self.doors.partition_point(|(from, _)| *from < part);
        let doors = self.doors[first..].iter();
        doors
            .take_while(move |(from, _)| *from == part)
            .map(|(_, to)| *to)
    }

    /// Finds again into which parts of other tracts one can step. `parts` holds the number of its part for each entry of the map. Gives
    /// whether the steps differ from those before.
    pub(super) fn find_doors(
        &mut self,
        graph: &Graph<'_>,
        (tracts, tract): (&Tracts, u32),
        parts: &[u16],
    ) -> bool {
        let before = core::mem::take(&mut self.doors);
        let first = tracts.first_node(tract);
        for (column, row) in rim() {
            let node = first + row * graph.stride + column;
            // Where a tract ends before, at the rim of the map, entries are closed or lie beyond it.
            if !is_on_map(graph, tracts.corner(tract), (column, row)) || parts[node] == 0 {
                continue;
            }
            let mut out = graph.steps[node] & graph.counted & leading_out(column, row);
            while out != 0 {
                let step = out.trailing_zeros() as usize;
                out &= out - 1;
                let (dx, dy) = STEPS[step];
                let aside = |k: usize, by: i32| match k as i32 + by {
                    ..0 => -1,
                    k => i32::from(k >= SIDE as i32),
                };
                let over = (aside(column, dx), aside(row, dy));
                let next = node.wrapping_add_signed(graph.offsets[step]);
                if let Some(tract) = tracts.neighbour(tract, over) {
                    let part = parts[next];
                    self.doors.push((parts[node], At { tract, part }));
                }
            }
        }
        self.doors.sort_unstable();
        self.doors.dedup();
        self.doors != before
    }
}

/// Whether a column and row of the tract that begins at a corner lies on the map.
fn is_on_map(graph: &Graph<'_>, corner: (i32, i32), (column, row): (usize, usize)) -> bool {
    let (columns, rows) = graph.size;
    corner.0 as usize + column < columns && corner.1 as usize + row < rows
}

/// The columns and rows of the cells along the rim of a tract.
fn rim() -> impl Iterator<Item = (usize, usize)> {
    let last = SIDE - 1;
    let rows = (0..SIDE).flat_map(move |column| [(column, 0), (column, last)]);
    rows.chain((1..last).flat_map(move |row| [(0, row), (last, row)]))
}

/// The steps that lead out of a tract from a column and row.
fn leading_out(column: usize, row: usize) -> u8 {
    let [right, up, left, down] = OUT;
    let last = SIDE - 1;
    let across = if column == last { right } else { 0 } | if column == 0 { left } else { 0 };
    let along = if row == last { up } else { 0 } | if row == 0 { down } else { 0 };
    across | along
}

/// The numbers of the parts of a tract by column and row, row by row, and how many parts there are. Parts are numbered from 1, in
/// the order of their first entries; `0` is closed.
pub(super) fn parts_of(graph: &Graph<'_>, (tracts, tract): (&Tracts, u32)) -> ([u16; AREA], u16) {
    let first = tracts.first_node(tract);
    let corner = tracts.corner(tract);
    let mut numbers = [0; AREA];
    let mut count = 0;
    let mut frontier: Vec<u16> = Vec::new();
    for start in 0..AREA {
        let (column, row) = (start % SIDE, start / SIDE);
        let is_new = numbers[start] == 0 && is_on_map(graph, corner, (column, row));
        if !is_new || !graph.is_open(first + row * graph.stride + column) {
            continue;
        }
        count += 1;
        numbers[start] = count;
        frontier.push(start as u16);
        while let Some(at) = frontier.pop() {
            let (column, row) = (usize::from(at) % SIDE, usize::from(at) / SIDE);
            let node = first + row * graph.stride + column;
            let mut steps = graph.steps[node] & graph.counted & !leading_out(column, row);
            while steps != 0 {
                let (dx, dy) = STEPS[steps.trailing_zeros() as usize];
                steps &= steps - 1;
                let next = (i32::from(at) + dx + dy * SIDE as i32) as usize;
                if numbers[next] == 0 {
                    numbers[next] = count;
                    frontier.push(next as u16);
                }
            }
        }
    }
    (numbers, count)
}
