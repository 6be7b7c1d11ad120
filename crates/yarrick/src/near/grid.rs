//! A grid of positions, sorted by cell: a counting sort, as in cell lists of molecular dynamics.
//!
//! ```text
//!   starts  0     2  2     3          cell k owns sorted[starts[k] .. starts[k + 1]]
//!   sorted  p4 p7 |  | p1  | …        within a cell by number: ties by id
//! ```

use crate::geom::{Rect, Vec2};

/// The index of moving things. Rebuilding costs one pass over the positions and one over the
/// cells; its memory is reused.
#[derive(Clone, Debug, Default)]
pub struct Near {
    origin: Vec2,
    cell_m: f32,
    columns: u32,
    rows: u32,
    starts: Vec<u32>,
    numbers: Vec<u32>,
    places: Vec<Vec2>,
    /// The cell of each position, in the order given: workspace of the sort.
    cells: Vec<u32>,
}

impl Near {
    /// Takes in all positions anew. Those outside `bounds`, or not finite, are filed under the
    /// nearest cell of the rim and found there like any other.
    ///
    /// `cell_m` is best near the usual search radius. It is raised where the grid would have
    /// far more cells than there are positions.
    pub fn rebuild(&mut self, bounds: Rect, cell_m: f32, positions: &[Vec2]) {
        let size = bounds.size().max(Vec2::splat(1e-3));
        let most_cells = 4.0 * positions.len() as f32 + 1024.0;
        let cell_m = cell_m.max(1e-3).max((size.x * size.y / most_cells).sqrt());
        self.origin = bounds.min;
        self.cell_m = cell_m.max(size.max_element() / 30_000.0);
        self.columns = (size.x / self.cell_m).ceil().max(1.0) as u32;
        self.rows = (size.y / self.cell_m).ceil().max(1.0) as u32;
        self.sort(positions);
    }

    fn sort(&mut self, positions: &[Vec2]) {
        let count = self.columns as usize * self.rows as usize;
        self.starts.clear();
        self.starts.resize(count + 1, 0);
        self.cells.clear();
        for &position in positions {
            let cell = self.row(position.y) * self.columns + self.column(position.x);
            self.cells.push(cell);
            self.starts[cell as usize + 1] += 1;
        }
        let mut sum = 0;
        for start in &mut self.starts {
            sum += *start;
            *start = sum;
        }
        self.numbers.clear();
        self.numbers.resize(positions.len(), 0);
        self.places.clear();
        self.places.resize(positions.len(), Vec2::ZERO);
        // Filled from the back, so that each cell's end walks down to its start.
        for (number, &position) in positions.iter().enumerate().rev() {
            let end = &mut self.starts[self.cells[number] as usize + 1];
            *end -= 1;
            self.numbers[*end as usize] = number as u32;
            self.places[*end as usize] = position;
        }
        // Each end has become its own start: shift them back by one cell.
        self.starts.remove(0);
        self.starts.push(positions.len() as u32);
    }

    /// The numbers of all positions within `radius` of `centre`, the edge included: cell by
    /// cell, and within a cell in order of number.
    ///
    /// Costs in proportion to the cells and positions that the disc's box touches.
    pub fn within(&self, centre: Vec2, radius: f32) -> impl Iterator<Item = u32> + '_ {
        self.places_within(centre, radius).map(|(number, _)| number)
    }

    /// The same with their positions, which lie side by side here: to look at these first is faster than to look each
    /// up elsewhere.
    pub fn places_within(
        &self,
        centre: Vec2,
        radius: f32,
    ) -> impl Iterator<Item = (u32, Vec2)> + '_ {
        let reach = radius.max(0.0);
        self.filed_in(Rect::around(centre, reach))
            .filter(move |(_, place)| place.distance_squared(centre) <= reach * reach)
    }

    /// How many positions it has.
    #[must_use]
    pub fn len(&self) -> usize {
        self.numbers.len()
    }

    /// Whether it has none.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.numbers.is_empty()
    }

    /// The numbers of all positions in the box, the edge included, in the order of
    /// [`Near::within`].
    pub fn in_rect(&self, rect: Rect) -> impl Iterator<Item = u32> + '_ {
        self.filed_in(rect)
            .filter(move |(_, place)| rect.contains(*place))
            .map(|(number, _)| number)
    }

    /// Everything filed under the cells that the box touches.
    fn filed_in(&self, rect: Rect) -> impl Iterator<Item = (u32, Vec2)> + '_ {
        let rows = if self.numbers.is_empty() {
            0..0
        } else {
            self.row(rect.min.y)..self.row(rect.max.y) + 1
        };
        let (first, last) = (self.column(rect.min.x), self.column(rect.max.x));
        rows.flat_map(move |row| {
            let start = (row * self.columns + first) as usize;
            let end = (row * self.columns + last) as usize + 1;
            let span = self.starts[start] as usize..self.starts[end] as usize;
            let numbers = self.numbers[span.clone()].iter().copied();
            numbers.zip(self.places[span].iter().copied())
        })
    }

    fn column(&self, x: f32) -> u32 {
        // Casts saturate: what lies outside goes to the rim, NaN to the first cell.
        (((x - self.origin.x) / self.cell_m) as u32).min(self.columns.saturating_sub(1))
    }

    fn row(&self, y: f32) -> u32 {
        (((y - self.origin.y) / self.cell_m) as u32).min(self.rows.saturating_sub(1))
    }
}
