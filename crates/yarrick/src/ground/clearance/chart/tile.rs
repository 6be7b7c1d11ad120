//! One tract taken by itself: which of its cells hang together, and how far it is between them.

use super::back::Found;
use super::frame::{Frame, STRIDE};
use super::runs::Run;
use super::sweep::{AREA, Sweep};
use crate::ground::clearance::tracts::{OUT, SIDE};
use crate::ground::steps::{Eight, Four, STEPS, Six, Tiling};
use crate::ground::{ClearanceMap, Lattice};

/// Work of taking over a tract, in settled cells.
const LOADED_CELLS: u32 = 8;

/// Work of a way from one cell to another, in settled cells, and of one over open ground.
const WAY_CELLS: u32 = 2;
const STRAIGHT_CELLS: u32 = 1;

/// Fixed work of a spread, in settled cells. Each row that it looks at adds one.
const SPREAD_CELLS: u32 = 50;

/// A copy of a tract with nothing round it, and what the last spread in it found.
#[derive(Clone, Debug)]
pub(crate) struct Tile {
    lattice: Lattice,
    frame: Frame,
    weights: Box<[u8; AREA]>,
    /// As those of a clearance map, with no steps that lead out.
    neighbours: Box<[u8; AREA]>,
    lightest: u8,
    all_open: bool,
    sweep: Sweep,
    /// Whether `sweep` knows the cells that were taken over last.
    is_prepared: bool,
    /// The work so far, counted in cells that a search settles.
    work: u32,
}

impl Default for Tile {
    fn default() -> Tile {
        Tile {
            lattice: Lattice::default(),
            frame: Frame::default(),
            weights: Box::new([0; AREA]),
            neighbours: Box::new([0; AREA]),
            lightest: 1,
            all_open: false,
            sweep: Sweep::default(),
            is_prepared: false,
            work: 0,
        }
    }
}

impl Tile {
    /// Takes over the tract of a clearance map that begins at a column and row.
    pub(crate) fn load(&mut self, clearance: &ClearanceMap, corner: (i32, i32)) {
        self.lattice = clearance.lattice;
        self.is_prepared = false;
        self.work += LOADED_CELLS;
        self.frame = Frame {
            corner,
            stride: clearance.stride,
        };
        let columns = (clearance.stride as i32 - 2 - corner.0).clamp(0, SIDE as i32) as usize;
        let rows = (clearance.height as i32 - corner.1).clamp(0, SIDE as i32) as usize;
        if columns < SIDE || rows < SIDE {
            self.weights.fill(0);
            self.neighbours.fill(0);
        }
        for row in 0..rows {
            let theirs = (corner.1 as usize + row + 1) * clearance.stride + corner.0 as usize + 1;
            let ours = (row + 1) * STRIDE + 1;
            self.weights[ours..][..columns]
                .copy_from_slice(&clearance.weights[theirs..][..columns]);
            self.neighbours[ours..][..columns]
                .copy_from_slice(&clearance.neighbours[theirs..][..columns]);
            self.neighbours[ours] &= !OUT[2];
            self.neighbours[ours + SIDE - 1] &= !OUT[0];
        }
        for column in 1..=SIDE {
            self.neighbours[STRIDE + column] &= !OUT[3];
            self.neighbours[SIDE * STRIDE + column] &= !OUT[1];
        }
        // Of `0`, closed, this makes the largest number.
        let less_one = |lightest: u8, weight: &u8| lightest.min(weight.wrapping_sub(1));
        let lightest = self
            .weights
            .iter()
            .fold(u8::MAX, less_one)
            .wrapping_add(1)
            .max(1);
        let heaviest = self
            .weights
            .iter()
            .fold(lightest, |most, weight| most.max(*weight));
        self.lightest = lightest;
        let even_squares = lightest == heaviest && self.lattice.is_square();
        self.all_open = even_squares
            && self.weights.iter().filter(|weight| **weight > 0).count() == SIDE * SIDE;
    }

    /// Whether all cells are open, of one speed, and squares.
    pub(super) fn is_all_open(&self) -> bool {
        self.all_open
    }

    /// The column and row at which it begins.
    pub(super) fn corner(&self) -> (i32, i32) {
        self.frame.corner
    }

    /// The column and row of an entry within it.
    pub(super) fn place_within(&self, cell: u32) -> (i32, i32) {
        let local = self.frame.local(cell);
        ((local % STRIDE) as i32 - 1, (local / STRIDE) as i32 - 1)
    }

    /// Adds the way between two cells where all is open. Gives what it costs.
    pub(super) fn add_straight(&mut self, (from, to): (u32, u32), ways: &mut Vec<Run>) -> u32 {
        self.work += STRAIGHT_CELLS;
        ways.extend(self.runs_straight(from, to));
        self.cost_straight(from, to)
    }

    /// Adds the way that the last spread, from one cell, found to another. Gives what it costs.
    pub(super) fn add_found(&mut self, to: u32, ways: &mut Vec<Run>) -> u32 {
        self.work += WAY_CELLS;
        let steps = self.found().steps_back_from(self.frame.local(to));
        Run::add_back(steps, ways);
        self.cost(to)
    }

    /// What it costs to get from one cell to another where all is open.
    fn cost_straight(&self, from: u32, to: u32) -> u32 {
        let apart = self.apart(from, to);
        let least = match self.lattice {
            Lattice::Squares4 => Four.estimate(apart.0, apart.1),
            _ => Eight { even: true }.estimate(apart.0, apart.1),
        };
        least as u32 * 2 * u32::from(self.lightest)
    }

    /// The way from one cell to another where all is open: diagonally first, then straight on.
    fn runs_straight(&self, from: u32, to: u32) -> impl Iterator<Item = Run> {
        let (dx, dy) = self.apart(from, to);
        let across = match self.lattice {
            Lattice::Squares4 => 0,
            _ => dx.abs().min(dy.abs()),
        };
        let (sx, sy) = (dx.signum(), dy.signum());
        let legs = [
            ((sx, sy), across),
            ((sx, 0), dx.abs() - across),
            ((0, sy), dy.abs() - across),
        ];
        let legs = legs.into_iter().filter(|(_, count)| *count > 0);
        legs.filter_map(|(step, count)| {
            let step = STEPS.iter().position(|known| *known == step)?;
            Some(Run::new(step as u8, count as u8))
        })
    }

    fn apart(&self, from: u32, to: u32) -> (i32, i32) {
        let place = |cell: u32| {
            let cell = self.frame.local(cell) as i32;
            (cell % STRIDE as i32, cell / STRIDE as i32)
        };
        let (from, to) = (place(from), place(to));
        (to.0 - from.0, to.1 - from.1)
    }

    /// Works out what it costs to get to each cell from the nearest of some, within the tile. All are entries of the
    /// clearance map. Returns the work, counted in cells that a search settles: at most some 700.
    pub(crate) fn spread(&mut self, from: &[u32]) -> u32 {
        self.spread_from(from.iter().map(|cell| (*cell, 0)))
    }

    /// The same from cells with a cost of their own.
    pub(crate) fn spread_from(&mut self, seeds: impl Iterator<Item = (u32, u32)>) -> u32 {
        if !self.is_prepared {
            self.prepare();
        }
        let frame = self.frame;
        let rows = self
            .sweep
            .run(seeds.map(|(cell, cost)| (frame.local(cell), cost)));
        self.work += SPREAD_CELLS + rows;
        SPREAD_CELLS + rows
    }

    /// The work that was done with the tile, counted in cells that a search settles.
    pub(super) fn work(&self) -> u32 {
        self.work
    }

    fn prepare(&mut self) {
        let (weights, neighbours) = (&self.weights, &self.neighbours);
        match self.lattice {
            Lattice::Squares => {
                let tiling = Eight { even: false };
                self.sweep.prepare(tiling, weights, neighbours);
            }
            Lattice::Squares4 => self.sweep.prepare(Four, weights, neighbours),
            Lattice::Hexes => self.sweep.prepare(Six, weights, neighbours),
        }
        self.is_prepared = true;
    }

    pub(super) fn frame(&self) -> Frame {
        self.frame
    }

    /// The result of the last spread.
    pub(super) fn found(&self) -> Found<'_> {
        Found {
            lattice: self.lattice,
            costs: self.sweep.costs(),
            weights: &self.weights[..],
            neighbours: &self.neighbours[..],
        }
    }

    /// What the last spread found that it costs to get to a cell; [`FAR`](super::FAR) where one cannot.
    pub(crate) fn cost(&self, cell: u32) -> u32 {
        self.sweep.cost(self.frame.local(cell))
    }

    /// The way that the last spread found to a cell, from there back to where it began, as entries; the
    /// first of them is the cell.
    pub(crate) fn back_from(&self, cell: u32) -> impl Iterator<Item = u32> + '_ {
        let steps = self.found().steps_back_from(self.frame.local(cell));
        core::iter::once(cell).chain(self.frame.back_along(self.frame.local(cell), steps))
    }
}

#[cfg(test)]
mod tests {
    use super::super::FAR;
    use super::*;
    use crate::ground::steps::offsets;
    use crate::ground::{Ground, Terrain};
    use proptest::collection::vec;
    use proptest::prelude::*;
    use proptest::sample::Index;
    use std::collections::BTreeMap;

    /// A map of a little more than a tract, of cells from 0 to 99: some are closed, and some slow.
    fn clearance(
        lattice: Lattice,
        (width, height): (u32, u32),
        cells: &[u8],
        (closed, slow): (u8, u8),
    ) -> ClearanceMap {
        let class = |cell: &u8| match *cell {
            cell if cell < closed => 1,
            cell if cell < closed + slow => 2,
            _ => 0,
        };
        let classes = cells.iter().take((width * height) as usize).map(class);
        let terrains = vec![
            Terrain::open("sand"),
            Terrain::closed("dyke"),
            Terrain::open("mud").with_speed(0.4),
        ];
        let ground = Ground::new(width, height, 1.0, terrains, classes.collect()).unwrap();
        ClearanceMap::new(&ground.with_lattice(lattice), 0.4)
    }

    /// The open entries of the tract that begins at a column and row.
    fn open_entries(clearance: &ClearanceMap, corner: (i32, i32)) -> Vec<u32> {
        let side = SIDE as i32;
        let within = |from: i32, end: i32| from..(from + side).min(end);
        let rows = within(corner.1, clearance.height as i32);
        let columns = within(corner.0, clearance.stride as i32 - 2);
        let entries = rows.flat_map(|row| columns.clone().map(move |column| (column, row)));
        let entry = |(column, row)| (row + 1) as usize * clearance.stride + column as usize + 1;
        let open = entries.map(entry).filter(|at| clearance.weights[*at] > 0);
        open.map(|at| at as u32).collect()
    }

    /// What it costs to get to each of some entries from the seeds by way of these, worked out in the plainest way.
    fn costs(clearance: &ClearanceMap, open: &[u32], seeds: &[(u32, u32)]) -> BTreeMap<u32, u32> {
        let mut costs: BTreeMap<u32, u32> = open.iter().map(|at| (*at, FAR)).collect();
        for (at, cost) in seeds {
            let known = costs.get_mut(at).unwrap();
            *known = (*known).min(*cost);
        }
        let offsets = offsets(clearance.stride);
        loop {
            let mut is_done = true;
            for &at in open {
                let ways = clearance.steps_from(at as usize);
                let cost = costs[&at];
                for step in (0..8).filter(|step| cost < FAR && ways >> step & 1 == 1) {
                    let next = (at as usize).wrapping_add_signed(offsets[step]) as u32;
                    let cost = cost + clearance.step_cost(at as usize, step) as u32;
                    let known = costs.get_mut(&next).filter(|known| cost < **known);
                    if let Some(known) = known {
                        (*known, is_done) = (cost, false);
                    }
                }
            }
            if is_done {
                return costs;
            }
        }
    }

    proptest! {
        #![proptest_config(ProptestConfig { cases: 150, failure_persistence: None, ..ProptestConfig::default() })]

        #[test]
        fn a_spread_gives_the_costs_of_relaxing_every_step_over_and_over(
            lattice in 0..3_usize,
            size in (34..42_u32, 33..41_u32),
            cells in vec(0..100_u8, 42 * 41),
            shares in (0..50_u8, prop_oneof![Just(0), Just(30_u8)]),
            corner in prop_oneof![Just((0, 0)), Just((1, 0)), Just((0, 1))],
            seeds in vec((any::<Index>(), 0..90_000_u32), 1..4),
        ) {
            let lattice = [Lattice::Squares, Lattice::Squares4, Lattice::Hexes][lattice];
            let clearance = clearance(lattice, size, &cells, shares);
            let corner = (corner.0 * SIDE as i32, corner.1 * SIDE as i32);
            let open = open_entries(&clearance, corner);
            prop_assume!(!open.is_empty());
            let seeded = |(at, cost): &(Index, u32)| (open[at.index(open.len())], *cost);
            let seeds: Vec<(u32, u32)> = seeds.iter().map(seeded).collect();
            let mut tile = Tile::default();
            tile.load(&clearance, corner);
            tile.spread_from(seeds.iter().copied());
            for (at, cost) in costs(&clearance, &open, &seeds) {
                prop_assert_eq!(tile.cost(at), cost, "{:?}, {}", lattice, at);
                if cost < FAR {
                    let first = tile.back_from(at).last();
                    prop_assert!(seeds.iter().any(|(seed, _)| Some(*seed) == first), "the way to {}", at);
                }
            }
        }
    }
}
