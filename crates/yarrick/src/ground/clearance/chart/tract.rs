//! A tract of a chart: its gates, and how far it is from each to the others.

use super::gates::Gate;
use super::inner::{Inner, Part};

/// A part of the map, and how far it is across it.
#[derive(Clone, Debug, Default, PartialEq)]
pub(crate) struct Tract {
    /// The gates to the tracts right of it, above, above to the left and above to the right.
    pub(super) ahead: [Vec<Gate>; 4],
    /// How far it is from gate to gate.
    pub(super) inner: Inner,
    /// By the part from which they lead.
    exits: Vec<Exit>,
    /// For each part, where its exits begin and end.
    exits_at: Vec<(u16, u16)>,
}

/// A way out of a tract: over a gate, or by a link.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Exit {
    /// From which of the cells of the tract, and which of its part that is.
    pub(crate) from: u16,
    pub(crate) from_in_part: u16,
    /// To which of the cells of which tract.
    pub(crate) to: u16,
    pub(crate) tract: u32,
    /// The place of that cell: its column and row.
    pub(crate) place: (i32, i32),
    pub(crate) cost: u64,
    /// Whether one gets no farther than the part of the tract to which it leads.
    pub(crate) is_dead_end: bool,
    /// The number of the hop that it is, if it is one.
    pub(crate) hop: Option<u16>,
}

impl Tract {
    /// The cells at which gates and links begin or end, as entries, in order.
    pub(crate) fn cells(&self) -> &[u32] {
        self.inner.cells()
    }

    /// What it costs to get from one of the cells to each cell of its part, and the ways out of that, with
    /// the number of the first.
    pub(crate) fn ways_on(&self, cell: u16) -> (&[u32], (&[Exit], u16)) {
        let (number, costs) = self.inner.costs_from(cell);
        let (first, end) = self.exits_at[usize::from(number)];
        let exits = &self.exits[usize::from(first)..usize::from(end)];
        (costs, (exits, first))
    }

    /// The way from a cell to another of the same part: adds the entries on it, both ends included.
    pub(crate) fn add_way(&self, stride: usize, ends: (u16, u16), way: &mut Vec<u32>) {
        self.inner.add_way(stride, ends, way);
    }

    /// The cells of the part to which one belongs.
    pub(crate) fn cells_with(&self, cell: u16) -> &[u32] {
        self.inner.cells_with(cell)
    }

    /// A way out by its number.
    pub(crate) fn exit(&self, number: u16) -> &Exit {
        &self.exits[usize::from(number)]
    }

    /// The part of a cell.
    pub(super) fn part_of(&self, cell: u16) -> &Part {
        self.inner.part_of(cell)
    }

    /// Takes over the ways out. Gives what it costs at the most to get from one cell to another and on by a gate.
    pub(super) fn take_exits(&mut self, mut exits: Vec<Exit>) -> u64 {
        exits.sort_by_key(|exit| exit.from);
        let before = |cell: u16| exits.partition_point(|exit| exit.from < cell) as u16;
        let parts = self.inner.parts().iter();
        let ends = parts.map(|part| (before(part.first), before(part.first + part.count)));
        self.exits_at = ends.collect();
        let gates = exits.iter().filter(|exit| exit.hop.is_none());
        let out = gates.map(|exit| exit.cost).max().unwrap_or(0);
        self.exits = exits;
        u64::from(self.inner.dearest()) + out
    }

    /// The number of a cell, given as an entry.
    pub(super) fn number_of(&self, cell: u32) -> Option<u16> {
        let found = self.inner.cells().iter().position(|known| *known == cell);
        found.map(|k| k as u16)
    }
}
