//! Computes a clearance map, or recomputes the part of it that a change of the map affects.

use super::{ClearanceMap, fit};
use crate::ground::steps::{OF_HEXES, offsets};
use crate::ground::{Cell, Ground, Lattice, Patch};

/// What [`ClearanceMap::repair`] has done.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Repair {
    /// The cells that were looked at: no other differs from before.
    pub touched: Patch,
    /// Whether regions were cut in two, joined or added. Otherwise two cells outside of `touched` are connected if they were before.
    pub regrouped: bool,
    /// The work, counted in cells that a search settles in the same time.
    pub work: u32,
}

/// What a change of the map did to a clearance map.
#[derive(Clone, Copy, Debug)]
pub(super) struct Change {
    /// Both ends of every step that changed are among these.
    pub(super) touched: Patch,
    /// Whether any cells were opened, or are crossed faster than before, or any steps were opened; and the opposite.
    pub(super) opens: bool,
    pub(super) closes: bool,
}

/// Maximum number of tracts in which a change lies whose chart is worked out at once by [`ClearanceMap::repair_in_parts`].
const AT_ONCE: usize = 6;

/// Work of laying out two cells, of finding the parts of a tract, and of grouping or flooding two parts, in settled cells. Measured on maps
/// of 2048 by 2048 cells: 150 ns a cell, 10 µs a tract and 140 ns a part, where a search takes 95 ns for each cell that it settles.
const TWO_LAID_OUT: u32 = 3;
const PARTS_OF_A_TRACT: u32 = 100;
const TWO_FLOODED: u32 = 3;

impl ClearanceMap {
    /// Takes in that the map has changed in some cells: only what these touch is worked out anew, and
    /// the outcome equals a clearance map made from the changed map.
    ///
    /// Costs in proportion to the cells of the patch and those within the radius of it, and to the tracts of 32 by 32 cells in
    /// which they lie. Where the change cuts a region in two or joins two, the squares of 8 by 8 tracts that it touches are looked at,
    /// and all squares of the smaller part, but not their cells.
    pub fn repair(&mut self, ground: &Ground, patch: Patch) -> Repair {
        let mut repair = self.take_in(ground, patch, usize::MAX);
        repair.work = repair.work.saturating_add(self.finish(u32::MAX));
        repair
    }

    /// The same, but if the change lies in more than six tracts, what is worked out of them for long ways is left:
    /// [`ClearanceMap::finish`] does that. Everything else holds at once.
    pub fn repair_in_parts(&mut self, ground: &Ground, patch: Patch) -> Repair {
        self.take_in(ground, patch, AT_ONCE)
    }

    /// Takes in a change, but where it lies in more than `at_once` tracts, leaves the chart to be finished.
    fn take_in(&mut self, ground: &Ground, patch: Patch, at_once: usize) -> Repair {
        let patch = patch.clipped(self.width, self.height);
        if patch.is_empty() {
            return Repair {
                touched: patch,
                regrouped: false,
                work: 0,
            };
        }
        let span = fit::span(ground, self.radius);
        let touched = patch.grown(span).clipped(self.width, self.height);
        let (opens, closes) = self.lay_out(ground, touched);
        // The steps of the cells round them change as well.
        let touched = touched.grown(1).clipped(self.width, self.height);
        let mut work = touched.count() as u32 * TWO_LAID_OUT / 2;
        if !opens && !closes {
            return Repair {
                touched,
                regrouped: false,
                work,
            };
        }
        let mut regions = core::mem::take(&mut self.regions);
        let nodes = touched.cells().filter_map(|cell| self.node(cell));
        let mended = regions.repair(&self.graph(), nodes);
        self.regions = regions;
        work += mended.tracts * PARTS_OF_A_TRACT + mended.parts * TWO_FLOODED / 2;
        if let Some(mut chart) = self.chart.take() {
            let change = Change {
                touched,
                opens,
                closes,
            };
            work += chart.repair(self, change, at_once);
            self.chart = Some(chart);
        }
        // By a link one gets from where it begins, if that is open, to where it ends.
        let ends = self.hops.iter().flat_map(|hop| [hop.from, hop.to]);
        let mut cells = ends.map(|node| self.cell(node as usize));
        let regrouped = mended.regrouped || cells.any(|cell| touched.contains(cell));
        Repair {
            touched,
            regrouped,
            work,
        }
    }

    /// The cells that are open to the body, and that an obstacle on some cells would close to it. `None` on hexes,
    /// where each step is looked at by itself.
    pub(crate) fn closed_by(&self, ground: &Ground, obstacle: &[Cell]) -> Option<Vec<Cell>> {
        if !ground.lattice().is_square() {
            return None;
        }
        if ground
            .gaits()
            .get(usize::from(self.gait.0))
            .is_some_and(|gait| gait.flies)
        {
            return Some(Vec::new());
        }
        let span = fit::span(ground, self.radius);
        let mut closed: Vec<Cell> = Vec::new();
        for &by in obstacle {
            let around = Patch::between(by, by)
                .grown(span)
                .clipped(self.width, self.height);
            closed.extend(around.cells().filter(|cell| {
                let away = (cell.x.abs_diff(by.x), cell.y.abs_diff(by.y));
                self.is_open(*cell) && fit::keeps_out(ground, self.radius, away)
            }));
        }
        closed.sort_unstable_by_key(|cell| (cell.y, cell.x));
        closed.dedup();
        Some(closed)
    }

    /// Works out weights, steps and corners where a patch of cells may have changed. Gives whether any cells or steps were opened,
    /// and whether any were closed: cells that are crossed faster or slower than before count, too.
    pub(super) fn lay_out(&mut self, ground: &Ground, patch: Patch) -> (bool, bool) {
        let (mut opens, mut closes) = (false, false);
        let view = ground.view(self.gait);
        let weights = fit::weights(view, self.radius, patch);
        for (cell, weight) in patch.cells().zip(weights) {
            let Some(at) = self.node(cell) else {
                continue;
            };
            let before = self.weights[at];
            // Of `0`, closed, this makes the largest number.
            let slowness = |weight: u8| weight.wrapping_sub(1);
            opens |= slowness(weight) < slowness(before);
            closes |= slowness(weight) > slowness(before);
            self.tally[usize::from(before)] -= u32::from(before > 0);
            self.tally[usize::from(weight)] += u32::from(weight > 0);
            self.weights[at] = weight;
            if let Some(lines) = &mut self.lines {
                lines.set((cell.x as usize + 1, cell.y as usize + 1), weight > 0);
            }
        }
        let present = |weight: &usize| self.tally[*weight] > 0;
        self.lightest = (1..256).find(present).unwrap_or(1) as u8;
        self.heaviest = (1..256).rev().find(present).unwrap_or(1) as u8;
        if let Some(lines) = &mut self.lines {
            let corner =
                |cell: Cell, by: i32| ((cell.x + 1 + by) as usize, (cell.y + 1 + by) as usize);
            lines.find_corners(corner(patch.min, -1), corner(patch.max, 1));
        }
        let (steps_open, steps_close) = self.find_neighbours(ground, patch);
        (opens || steps_open, closes || steps_close)
    }

    /// Gives whether any steps were opened, and whether any were closed.
    fn find_neighbours(&mut self, ground: &Ground, patch: Patch) -> (bool, bool) {
        let (mut opens, mut closes) = (false, false);
        for cell in patch.grown(1).clipped(self.width, self.height).cells() {
            let Some(at) = self.node(cell) else {
                continue;
            };
            let open = || open_neighbours(&self.weights, self.stride, at);
            let steps = match self.lattice {
                Lattice::Squares => open(),
                _ if self.weights[at] == 0 => 0,
                Lattice::Squares4 => open() & 0b1111,
                Lattice::Hexes => self.steps_from_hex(ground, cell, at),
            };
            let before = core::mem::replace(&mut self.neighbours[at], steps);
            opens |= steps & !before != 0;
            closes |= before & !steps != 0;
        }
        (opens, closes)
    }

    /// The steps to neighbouring hexes on which the body touches no corner.
    fn steps_from_hex(&self, ground: &Ground, cell: Cell, at: usize) -> u8 {
        let view = ground.view(self.gait);
        let span = fit::span(ground, self.radius);
        let around = Patch {
            min: cell,
            max: cell,
        }
        .grown(span);
        let all_open = around.cells().all(|cell| view.is_open(cell));
        let mut steps = 0;
        let offsets = offsets(self.stride);
        for k in OF_HEXES {
            let next = at.wrapping_add_signed(offsets[k]);
            if self.weights[next] == 0 {
                continue;
            }
            // From the lower entry, so that both directions have the same bits.
            let ends = [at.min(next), at.max(next)].map(|node| ground.centre(self.cell(node)));
            if all_open || view.line_is_clear(ends[0], ends[1], self.radius) {
                steps |= 1 << k;
            }
        }
        steps
    }
}

/// Which of the eight neighbours of an entry are open.
fn open_neighbours(weights: &[u8], stride: usize, at: usize) -> u8 {
    let around = offsets(stride);
    let bit = |(k, offset): (usize, &isize)| {
        let weight = weights.get(at.wrapping_add_signed(*offset));
        u8::from(weight.is_some_and(|weight| *weight > 0)) << k
    };
    around.iter().enumerate().map(bit).sum()
}
