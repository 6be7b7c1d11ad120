//! The nearest cells to a point: by rings round the point, by all cells of a small region, or by tracts of the map.

use super::tracts::SIDE;
use super::{ClearanceMap, Region};
use crate::geom::{Rect, Vec2};
use crate::ground::Cell;
use std::collections::BTreeSet;

/// Number of cells up to which a search goes cell by cell. Beyond it the search goes by tracts.
const MOST_CELLS: usize = 1024;

/// Tracts, and cells in them, that take as long to look at as a cell near the point.
const LOOKED_A_CELL: u32 = 4;

/// The cell of least value so far. Ties go to the smaller second number, then to the lower row, then to the left.
struct Best<T> {
    found: Option<((f32, f32, Cell), T)>,
}

impl<T> Best<T> {
    fn least_m(&self) -> f32 {
        self.found
            .as_ref()
            .map_or(f32::INFINITY, |(known, _)| known.0)
    }

    fn offer(&mut self, cell: Cell, ((distance, then), what): ((f32, f32), T)) {
        let rank = |(distance, then, cell): (f32, f32, Cell)| (distance, then, cell.y, cell.x);
        let new = (distance, then, cell);
        let known = self.found.as_ref();
        if known.is_none_or(|(known, _)| rank(new) < rank(*known)) {
            self.found = Some((new, what));
        }
    }

    fn take(self) -> Option<(Cell, T)> {
        self.found.map(|((_, _, cell), what)| (cell, what))
    }
}

impl ClearanceMap {
    /// The open cell with the nearest centre to the point, among those for which `fits` returns true.
    /// Ties go to the lower row, then to the left.
    ///
    /// Looks at rings of cells of growing size, so it is quick where there is one near.
    #[must_use]
    pub fn nearest(&self, point: Vec2, fits: impl Fn(Cell) -> bool) -> Option<Cell> {
        self.nearest_within(point, usize::MAX, fits).ok()?
    }

    /// The same, unless it takes a look at more than about `most` cells.
    ///
    /// # Errors
    /// [`TooFar`] in that case.
    pub(crate) fn nearest_within(
        &self,
        point: Vec2,
        most: usize,
        fits: impl Fn(Cell) -> bool,
    ) -> Result<Option<Cell>, TooFar> {
        let extent = self.lattice.extent(self.width, self.height) * self.cell_m;
        let point = point.clamp(Vec2::ZERO, extent);
        let distance = |cell: Cell| (self.lattice.centre(cell) * self.cell_m).distance(point);
        let found = self.nearest_by(point, most, &mut |cell, _| {
            fits(cell).then(|| ((distance(cell), 0.0), cell))
        })?;
        Ok(found.map(|(cell, _)| cell))
    }

    /// The open cell of least value, and what `value` gave with that: a distance from the point in metres, at least as
    /// far as the nearest point of the cell, and a second number for ties. `value` also takes the least distance so far.
    /// Further ties go to the lower row, then to the left.
    ///
    /// Looks at rings of cells of growing size.
    ///
    /// # Errors
    /// [`TooFar`] where it would look at more than about `most` cells.
    pub(crate) fn nearest_by<T>(
        &self,
        point: Vec2,
        most: usize,
        value: &mut dyn FnMut(Cell, f32) -> Option<((f32, f32), T)>,
    ) -> Result<Option<(Cell, T)>, TooFar> {
        if point.is_nan() {
            return Ok(None);
        }
        let extent = self.lattice.extent(self.width, self.height);
        let scaled = (point / self.cell_m).clamp(Vec2::ZERO, extent);
        let middle = self.lattice.cell_at(scaled);
        let middle = Cell::new(
            middle.x.clamp(0, self.width as i32 - 1),
            middle.y.clamp(0, self.height as i32 - 1),
        );
        // Rows of hexes lie closer than their cells are wide.
        let pitch = if self.lattice.is_square() { 1.0 } else { 0.86 };
        let mut best = Best { found: None };
        let mut looked_at = 0;
        for ring in 0..=self.width.max(self.height) as i32 {
            let least_m = (ring as f32 - 1.0) * pitch * self.cell_m;
            if best.least_m() < least_m {
                break;
            }
            if looked_at > most {
                return Err(TooFar);
            }
            looked_at += 8 * ring as usize;
            for cell in ring_of_cells(middle, ring).filter(|cell| self.is_open(*cell)) {
                if let Some(found) = value(cell, best.least_m()) {
                    best.offer(cell, found);
                }
            }
        }
        Ok(best.take())
    }

    /// [`ClearanceMap::nearest_by`] among the cells of a region and of the regions that its links lead to, with the number of
    /// cells and squares looked at. `from` is a point in the region or near it.
    ///
    /// Starts with rings of cells round the point. After `MOST_CELLS` cells it goes on with all cells of the regions, if they
    /// are small, else with the tracts of the map that the regions lie in, the nearest first.
    pub(crate) fn nearest_led_to<T>(
        &self,
        point: Vec2,
        (from, region): (Vec2, Region),
        value: &mut dyn FnMut(Cell, f32) -> Option<((f32, f32), T)>,
    ) -> Option<(Cell, T, u32)> {
        let regions = self.led_to(region);
        let size = self.cells_in(&regions);
        let is_led_to = |cell: Cell| {
            let region = self.region(cell);
            region.is_some_and(|region| regions.contains(&region))
        };
        let mut looked_at = 0;
        let mut of_regions = |cell, best_m| {
            looked_at += 1;
            is_led_to(cell).then(|| value(cell, best_m)).flatten()
        };
        if let Ok(found) = self.nearest_by(point, size.min(MOST_CELLS), &mut of_regions) {
            return found.map(|(cell, what)| (cell, what, looked_at));
        }
        let mut best = Best { found: None };
        if size <= MOST_CELLS
            && let Ok(Some(start)) =
                self.nearest_within(from, size, |cell| self.region(cell) == Some(region))
        {
            for cell in self.cells_led_to(start) {
                if let Some(found) = of_regions(cell, best.least_m()) {
                    best.offer(cell, found);
                }
            }
        } else {
            looked_at += self.nearest_by_tracts(point, &regions, value, &mut best);
        }
        let (cell, what) = best.take()?;
        Some((cell, what, looked_at))
    }

    /// Offers the cells of some regions, tract by tract, as long as one of a tract may be the best. Gives the number of
    /// cells and tracts looked at.
    fn nearest_by_tracts<T>(
        &self,
        point: Vec2,
        regions: &[Region],
        value: &mut dyn FnMut(Cell, f32) -> Option<((f32, f32), T)>,
        best: &mut Best<T>,
    ) -> u32 {
        let (tracts, mut looked_at) = self.regions.tracts_of(regions);
        let away = |corner| self.bounds_of(corner).nearest(point).distance(point);
        let mut tracts: Vec<(f32, (i32, i32))> = tracts
            .into_iter()
            .map(|corner| (away(corner), corner))
            .collect();
        tracts.sort_by(|a, b| a.0.total_cmp(&b.0).then(a.1.cmp(&b.1)));
        let side = SIDE as i32;
        let end = (self.stride as i32 - 2, self.height as i32);
        for (away_m, (first_column, first_row)) in tracts {
            if away_m > best.least_m() {
                break;
            }
            for row in first_row..end.1.min(first_row + side) {
                for column in first_column..end.0.min(first_column + side) {
                    looked_at += 1;
                    let place = (column, row);
                    let region = self.regions.of_place(self.entry_at(place), place);
                    if region.is_some_and(|region| regions.contains(&region)) {
                        let cell = self.cell_in(place);
                        if let Some(found) = value(cell, best.least_m()) {
                            best.offer(cell, found);
                        }
                    }
                }
            }
        }
        looked_at as u32 / LOOKED_A_CELL
    }

    /// A box round all cells of a tract, in metres.
    fn bounds_of(&self, (column, row): (i32, i32)) -> Rect {
        let last = SIDE as i32 - 1;
        let corners = [(0, 0), (last, 0), (0, last), (last, last)];
        let [first, others @ ..] = corners.map(|(right, up)| {
            let cell = self.cell_in((column + right, row + up));
            self.lattice.centre(cell) * self.cell_m
        });
        Rect::round(first, &others).grown(self.cell_m)
    }

    /// How many cells some regions have together.
    pub(crate) fn cells_in(&self, regions: &[Region]) -> usize {
        let sizes = regions.iter().map(|region| self.regions.size(*region));
        sizes.sum()
    }

    /// All cells to which one can walk from a cell, links included, itself first. Costs in proportion to their number.
    pub(crate) fn cells_led_to(&self, start: Cell) -> Vec<Cell> {
        let graph = self.graph();
        let mut reached: Vec<usize> = self.node(start).into_iter().collect();
        let mut known: BTreeSet<usize> = reached.iter().copied().collect();
        let mut done = 0;
        while let Some(&at) = reached.get(done) {
            done += 1;
            let hops = self.hops_from(at).map(|(_, hop)| hop.to as usize);
            for next in graph.beside(at).chain(hops) {
                if known.insert(next) {
                    reached.push(next);
                }
            }
        }
        reached.into_iter().map(|node| self.cell(node)).collect()
    }
}

/// A search for the nearest cell was given up, since it would have had to look at too many.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct TooFar;

/// The cells at `ring` steps from the middle, counted as a king moves, off the map or not.
fn ring_of_cells(middle: Cell, ring: i32) -> impl Iterator<Item = Cell> {
    let rows = [-ring, ring];
    let sides = -ring + 1..ring;
    let full = rows
        .into_iter()
        .take(if ring == 0 { 1 } else { 2 })
        .flat_map(move |dy| (-ring..=ring).map(move |dx| (dx, dy)));
    full.chain(sides.flat_map(move |dy| [(-ring, dy), (ring, dy)]))
        .map(move |(dx, dy)| Cell::new(middle.x + dx, middle.y + dy))
}
