//! How far it is across each part of a large map: for ways that lead far over it.
//!
//! The map is cut into square *tracts*. Where one can step from one tract into the next, some of the
//! steps are *gates*; the cost of the way from each gate of a tract to each other one, within the
//! tract, is worked out once. A search that goes from gate to gate then looks at a hundredth of the
//! cells. (Botea, Müller and Schaeffer, 2004, with gates chosen by what hangs together within the
//! tracts on both sides.)
//!
//! ```text
//!   +--------+--------+        a, b: a gate. Every part of a tract from which one can step into a
//!   |      a·|·b      |        part of the next has at least one gate there, so that wherever
//!   |   tract|        |        there is a way, there is one by gates.
//!   +--------+--------+
//! ```

mod back;
mod frame;
mod gates;
mod inner;
mod later;
mod runs;
mod spread;
mod sweep;
mod tile;
mod tract;

use super::ClearanceMap;
use super::repair::Change;
use super::tracts::{SIDE, Tracts};
use crate::ground::Cell;
use crate::ground::steps::STEPS;
use inner::Inner;
pub(crate) use later::Task;
pub(crate) use spread::Spread;
use std::collections::BTreeSet;
pub(crate) use sweep::FAR;
pub(crate) use tile::Tile;
pub(crate) use tract::{Exit, Tract};

/// Maps with fewer tracts have no chart: there a search looks at few cells anyway.
const FEWEST_TRACTS: usize = 9;

/// Work of finding the ways out of a tract, in settled cells.
const EXITS_OF_A_TRACT: u32 = 20;

/// Tracts that count as one settled cell when all their cells are counted.
const COUNTED_A_CELL: u32 = 64;

/// The tracts of a map.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Chart {
    layout: Tracts,
    tracts: Vec<Tract>,
    /// For each tract, how many gate cells those before it have; at the end, how many there are.
    first: Vec<u32>,
    /// What it costs at the most to get from one cell of each tract to another and on by a gate, and the most of all.
    dearest_of: Vec<u64>,
    dearest: u64,
    /// What is left to work out after changes that touched many tracts. Until that is done, the chart is of no use.
    later: BTreeSet<Task>,
}

impl Chart {
    /// The chart of a clearance map, if that is large enough to be worth it.
    pub(super) fn of(clearance: &ClearanceMap) -> Option<Chart> {
        let layout = Tracts::of(clearance.stride, clearance.height);
        let count = layout.count() as usize;
        if count < FEWEST_TRACTS {
            return None;
        }
        let mut chart = Chart {
            layout,
            tracts: vec![Tract::default(); count],
            first: vec![0; count + 1],
            dearest_of: vec![0; count],
            dearest: 0,
            later: BTreeSet::new(),
        };
        let all: Vec<u32> = (0..layout.count()).collect();
        chart.work_out(clearance, &all, None);
        Some(chart)
    }

    /// Takes in that some cells of the clearance map have changed, or their steps. If these lie in more than
    /// `at_once` tracts, or something is left to do anyway, it only notes what is to be done, and [`Chart::finish`] does it. Gives the
    /// work, counted in cells that a search settles.
    pub(super) fn repair(
        &mut self,
        clearance: &ClearanceMap,
        change: Change,
        at_once: usize,
    ) -> u32 {
        let touched = change.touched;
        let mut changed = Vec::new();
        for y in touched.min.y..=touched.max.y {
            let ends = [touched.min.x, touched.max.x].map(|x| Cell::new(x, y));
            let [Some(low), Some(high)] = ends.map(|cell| clearance.node(cell)) else {
                continue;
            };
            changed.extend(self.tract_of(low)..=self.tract_of(high));
        }
        changed.sort_unstable();
        changed.dedup();
        if changed.len() > at_once || !self.later.is_empty() {
            self.put_off(clearance, &changed);
            return changed.len() as u32;
        }
        self.work_out(clearance, &changed, Some(change))
    }

    /// Works out some tracts, given in order, or after a change what has changed with them. Gives the work.
    fn work_out(
        &mut self,
        clearance: &ClearanceMap,
        changed: &[u32],
        change: Option<Change>,
    ) -> u32 {
        let mut stale = changed.to_vec();
        let mut tiles = [Tile::default(), Tile::default()];
        for (tract, ahead) in self.borders_of(changed) {
            let to = self.neighbour(tract, gates::AHEAD[ahead]);
            let found = to.map(|_| gates::find(clearance, self.corner(tract), ahead, &mut tiles));
            let found = found.unwrap_or_default();
            let known = &mut self.tracts[tract as usize].ahead[ahead];
            if *known != found {
                *known = found;
                stale.extend([Some(tract), to].into_iter().flatten());
            }
        }
        stale.sort_unstable();
        stale.dedup();
        for &tract in &stale {
            self.find_costs(clearance, (tract, change), &mut tiles[0]);
        }
        self.count_cells(&stale);
        let around = self.with_those_around(clearance, &stale);
        for &tract in &around {
            self.find_exits(clearance, tract);
        }
        self.dearest = self.dearest_of.iter().copied().max().unwrap_or(0);
        let with_tiles: u32 = tiles.iter().map(Tile::work).sum();
        with_tiles
            + around.len() as u32 * EXITS_OF_A_TRACT
            + self.tracts.len() as u32 / COUNTED_A_CELL
    }

    /// The borders that some tracts have with others, each by the tract that it lies ahead of.
    fn borders_of(&self, tracts: &[u32]) -> Vec<(u32, usize)> {
        let mut borders = Vec::new();
        for &tract in tracts {
            for (k, (dx, dy)) in gates::AHEAD.into_iter().enumerate() {
                borders.push((tract, k));
                let behind = self.neighbour(tract, (-dx, -dy));
                borders.extend(behind.map(|behind| (behind, k)));
            }
        }
        borders.sort_unstable();
        borders.dedup();
        borders
    }

    fn find_costs(
        &mut self,
        clearance: &ClearanceMap,
        (tract, change): (u32, Option<Change>),
        tile: &mut Tile,
    ) {
        let mut cells: Vec<u32> = Vec::new();
        for (k, (dx, dy)) in gates::AHEAD.into_iter().enumerate() {
            let ahead = &self.tracts[tract as usize].ahead[k];
            cells.extend(ahead.iter().map(|gate| gate.from));
            if let Some(behind) = self.neighbour(tract, (-dx, -dy)) {
                let behind = &self.tracts[behind as usize].ahead[k];
                cells.extend(behind.iter().map(|gate| gate.to));
            }
        }
        let hops = clearance.hops.iter().flat_map(|hop| [hop.from, hop.to]);
        cells.extend(hops.filter(|cell| {
            clearance.weights[*cell as usize] > 0 && self.tract_of(*cell as usize) == tract
        }));
        tile.load(clearance, self.corner(tract));
        let inner = &mut self.tracts[tract as usize].inner;
        let before = core::mem::take(inner);
        let change = change.map(|change| (change, &before));
        *inner = Inner::find(clearance, cells, change, tile);
    }

    fn find_exits(&mut self, clearance: &ClearanceMap, tract: u32) {
        let exits = self.exits_of(clearance, tract);
        self.dearest_of[tract as usize] = self.tracts[tract as usize].take_exits(exits);
    }

    /// Updates the running totals of cells in `first`. Only stale tracts are counted: to look at every tract would take longer than
    /// the rest of the repair.
    fn count_cells(&mut self, stale: &[u32]) {
        let mut stale = stale.iter().copied().peekable();
        let (mut before, mut count) = (0, 0);
        for (tract, end) in (0..).zip(&mut self.first[1..]) {
            let known = *end - core::mem::replace(&mut before, *end);
            let is_stale = stale.next_if_eq(&tract).is_some();
            count += if is_stale {
                self.tracts[tract as usize].cells().len() as u32
            } else {
                known
            };
            *end = count;
        }
    }

    /// Tracts, those round them, and those from which links may lead to them, each once.
    fn with_those_around(&self, clearance: &ClearanceMap, tracts: &[u32]) -> Vec<u32> {
        let around = |tract: &u32| {
            let tract = *tract;
            let around = STEPS.into_iter();
            around.filter_map(move |to| self.neighbour(tract, to))
        };
        let hops = clearance.hops.iter();
        let linked = hops.map(|hop| self.tract_of(hop.from as usize));
        let mut all: Vec<u32> = tracts.iter().flat_map(around).collect();
        all.extend(tracts.iter().copied().chain(linked));
        all.sort_unstable();
        all.dedup();
        all
    }

    /// The ways out of a tract.
    fn exits_of(&self, clearance: &ClearanceMap, number: u32) -> Vec<Exit> {
        let tract = &self.tracts[number as usize];
        let exit = |from: u32, to: u32, cost: u64, hop: Option<u16>| {
            let tract = self.tract_of(to as usize);
            let place = clearance.place(to as usize);
            let ends = [(number, from), (tract, to)]
                .map(|(tract, cell)| self.tracts[tract as usize].number_of(cell));
            let [Some(from), Some(to)] = ends else {
                return None;
            };
            let part = self.tracts[number as usize].part_of(from);
            Some(Exit {
                from,
                from_in_part: from - part.first,
                to,
                tract,
                place,
                cost,
                is_dead_end: self.tracts[tract as usize].part_of(to).is_dead_end,
                hop,
            })
        };
        let mut exits = Vec::new();
        for (k, (dx, dy)) in gates::AHEAD.into_iter().enumerate() {
            let ahead = tract.ahead[k].iter();
            exits.extend(ahead.filter_map(|gate| exit(gate.from, gate.to, gate.cost, None)));
            if let Some(behind) = self.neighbour(number, (-dx, -dy)) {
                let behind = self.tracts[behind as usize].ahead[k].iter();
                exits.extend(behind.filter_map(|gate| exit(gate.to, gate.from, gate.cost, None)));
            }
        }
        for (k, hop) in clearance.hops.iter().enumerate() {
            if self.tract_of(hop.from as usize) == number {
                exits.extend(exit(hop.from, hop.to, hop.cost, Some(k as u16)));
            }
        }
        exits
    }

    /// The tract in which an entry lies.
    pub(crate) fn tract_of(&self, node: usize) -> u32 {
        self.layout.of_node(node)
    }

    /// The tract of a column and row, both on the map.
    pub(crate) fn tract_at(&self, place: (i32, i32)) -> u32 {
        self.layout.at(place)
    }

    pub(crate) fn tract_count(&self) -> u32 {
        self.layout.count()
    }

    /// The open cells at the rim of a tract, as entries.
    pub(crate) fn rim_of(&self, clearance: &ClearanceMap, tract: u32) -> Vec<u32> {
        let (x, y) = self.corner(tract);
        let last = SIDE as i32 - 1;
        let mut rim = Vec::new();
        for (row, column) in (0..=last).flat_map(|row| (0..=last).map(move |column| (row, column)))
        {
            let at_rim = [row, column].iter().any(|k| *k == 0 || *k == last);
            let inside =
                x + column < clearance.stride as i32 - 2 && y + row < clearance.height as i32;
            if at_rim && inside {
                let node = (y + row + 1) as usize * clearance.stride + (x + column + 1) as usize;
                rim.extend((clearance.weights[node] > 0).then_some(node as u32));
            }
        }
        rim
    }

    /// The column and row at which a tract begins.
    pub(crate) fn corner(&self, tract: u32) -> (i32, i32) {
        self.layout.corner(tract)
    }

    pub(crate) fn neighbour(&self, tract: u32, step: (i32, i32)) -> Option<u32> {
        self.layout.neighbour(tract, step)
    }

    pub(crate) fn tract(&self, number: u32) -> &Tract {
        &self.tracts[number as usize]
    }

    /// What it costs at the most to cross a tract from gate to gate and go on into the next.
    pub(crate) fn dearest(&self) -> u64 {
        self.dearest
    }

    /// The number, among those of all tracts, of the first cell of one.
    pub(crate) fn first(&self, tract: u32) -> u32 {
        self.first[tract as usize]
    }

    /// How many cells all tracts have at which gates and links begin or end.
    pub(crate) fn count(&self) -> usize {
        self.first.last().copied().unwrap_or(0) as usize
    }
}
