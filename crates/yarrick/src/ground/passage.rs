//! Where a body of some radius fits, and which parts of the ground hang together for it.
//!
//! A cell is open to a body when a disc of its radius, put in the middle of the cell, touches
//! no closed ground. Then the body also fits all along every straight or diagonal step between
//! two such cells, as long as a diagonal step asks that both cells beside it be open too: of
//! all points of the step, one of the four centres is always the nearest to any closed cell.

use super::lines::Lines;
use super::{Cell, Ground, SKIN_M};
use crate::geom::Vec2;

/// A part of the ground within which a body can walk from everywhere to everywhere.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub struct Region(u32);

/// The ground as a body of some radius finds it.
#[derive(Clone, Debug, PartialEq)]
pub struct Passage {
    width: u32,
    height: u32,
    cell_m: f32,
    /// Slowness of each cell with a rim of one cell round the map; `0` is closed. The rim
    /// spares a search every test for the edge.
    weights: Vec<u8>,
    /// The region of each cell, rim included, numbered from 1; `0` is closed.
    regions: Vec<u32>,
    /// Which of the eight neighbours of each cell are open, rim included: a bit each, first to the
    /// right, above, to the left and below, then the corners between, in the same order.
    neighbours: Vec<u8>,
    lightest: u8,
    heaviest: u8,
    /// Closed cells as bits, along rows and along columns, rim included; empty on ground of
    /// several speeds.
    lines: Option<Crossing>,
}

/// The closed cells of a grid along both of its axes.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Crossing {
    pub(crate) rows: Lines,
    pub(crate) columns: Lines,
    /// Whether corners are so few that a search had better go from corner to corner.
    pub(crate) few_corners: bool,
}

/// A search goes from corner to corner where there are at most so many for a hundred open cells, or
/// for a hundred closed ones: where walls are long. Measured on maps of 512 by 512 cells, that is
/// six times as fast as going from cell to cell among rooms (15 and 116), half as fast again in a
/// maze (59 and 115), and slower in clutter (63 and 222).
const FEW_FOR_OPEN: usize = 30;
const FEW_FOR_CLOSED: usize = 160;

impl Passage {
    /// The largest radius that can be asked for, in cells.
    pub const MAX_RADIUS_CELLS: f32 = 16.0;

    /// The ground as a body of `radius` metres finds it. A radius that is not a number counts
    /// as 0, one above [`Passage::MAX_RADIUS_CELLS`] as that.
    ///
    /// Costs one pass over the map, times the radius in cells.
    #[must_use]
    pub fn new(ground: &Ground, radius: f32) -> Passage {
        let fits = cells_that_fit(ground, room_needed(ground, radius));
        let stride = ground.width as usize + 2;
        let mut weights = vec![0_u8; stride * (ground.height as usize + 2)];
        for (at, _) in fits.iter().enumerate().filter(|(_, fit)| **fit) {
            let (x, y) = (at % ground.width as usize, at / ground.width as usize);
            let terrain = &ground.terrains[usize::from(ground.classes[at])];
            weights[(y + 1) * stride + x + 1] = terrain.slowness();
        }
        let open = || weights.iter().copied().filter(|w| *w > 0);
        let lightest = open().min().unwrap_or(1);
        let heaviest = open().max().unwrap_or(1);
        let lines = (lightest == heaviest).then(|| Crossing::new(&weights, stride));
        Passage {
            width: ground.width,
            height: ground.height,
            cell_m: ground.cell_m,
            regions: label_regions(&weights, stride),
            neighbours: open_neighbours(&weights, stride),
            weights,
            lightest,
            heaviest,
            lines,
        }
    }

    /// Bodies with the same class share a passage: they fit into the same cells everywhere.
    #[must_use]
    pub fn class_of(ground: &Ground, radius: f32) -> u32 {
        room_needed(ground, radius)
    }

    /// Whether a body fits into the middle of the cell.
    #[must_use]
    pub fn is_open(&self, cell: Cell) -> bool {
        self.node(cell).is_some_and(|at| self.weights[at] > 0)
    }

    /// The region that the cell belongs to; `None` where no body fits, or off the map.
    #[must_use]
    pub fn region(&self, cell: Cell) -> Option<Region> {
        self.node(cell)
            .map(|at| self.regions[at])
            .filter(|region| *region > 0)
            .map(Region)
    }

    /// Whether a body can walk from one cell to the other. Answered at once.
    #[must_use]
    pub fn connected(&self, a: Cell, b: Cell) -> bool {
        self.region(a)
            .is_some_and(|region| self.region(b) == Some(region))
    }

    /// The open cell whose middle is nearest to the point, among those that `fits` agrees to.
    /// Ties go to the lower row, then to the left.
    ///
    /// Looks at rings of cells of growing size, so it is quick where there is one near.
    #[must_use]
    pub fn nearest(&self, point: Vec2, fits: impl Fn(Cell) -> bool) -> Option<Cell> {
        if point.is_nan() {
            return None;
        }
        let scaled = (point / self.cell_m)
            .clamp(Vec2::ZERO, Vec2::new(self.width as f32, self.height as f32));
        let middle = Cell::new(
            (scaled.x as i32).min(self.width as i32 - 1),
            (scaled.y as i32).min(self.height as i32 - 1),
        );
        let mut best: Option<(f32, Cell)> = None;
        for ring in 0..=self.width.max(self.height) as i32 {
            let least = ring as f32 - 1.0;
            if best.is_some_and(|(distance, _)| least > 0.0 && distance < least * least) {
                break;
            }
            for cell in ring_of_cells(middle, ring) {
                if !self.is_open(cell) || !fits(cell) {
                    continue;
                }
                let centre = Vec2::new(cell.x as f32 + 0.5, cell.y as f32 + 0.5);
                let distance = centre.distance_squared(scaled);
                let better =
                    best.is_none_or(|(known, at)| (distance, cell.y, cell.x) < (known, at.y, at.x));
                if better {
                    best = Some((distance, cell));
                }
            }
        }
        best.map(|(_, cell)| cell)
    }

    /// Cells in a row of the padded arrays.
    pub(crate) fn stride(&self) -> usize {
        self.width as usize + 2
    }

    /// Slowness by padded index; `0` is closed.
    pub(crate) fn weights(&self) -> &[u8] {
        &self.weights
    }

    /// Which neighbours of each cell are open, by padded index: a bit each, first to the right,
    /// above, to the left and below, then the corners between, in the same order.
    pub(crate) fn neighbours(&self) -> &[u8] {
        &self.neighbours
    }

    /// The smallest slowness of any open cell.
    pub(crate) fn lightest(&self) -> u8 {
        self.lightest
    }

    /// The largest slowness of any open cell.
    pub(crate) fn heaviest(&self) -> u8 {
        self.heaviest
    }

    /// Whether all open cells are walked at the same speed.
    pub(crate) fn is_even(&self) -> bool {
        self.lightest == self.heaviest
    }

    /// Closed cells as bits; `None` on ground of several speeds.
    pub(crate) fn lines(&self) -> Option<&Crossing> {
        self.lines.as_ref()
    }

    /// The padded index of a cell on the map.
    pub(crate) fn node(&self, cell: Cell) -> Option<usize> {
        let inside =
            (0..self.width as i32).contains(&cell.x) && (0..self.height as i32).contains(&cell.y);
        inside.then(|| (cell.y as usize + 1) * self.stride() + cell.x as usize + 1)
    }

    /// The cell at a padded index.
    pub(crate) fn cell(&self, node: usize) -> Cell {
        let stride = self.stride();
        Cell::new((node % stride) as i32 - 1, (node / stride) as i32 - 1)
    }
}

impl Crossing {
    fn new(weights: &[u8], stride: usize) -> Crossing {
        let height = weights.len() / stride;
        let mut rows = Lines::closed(height, stride);
        let mut columns = Lines::closed(stride, height);
        let open = weights
            .iter()
            .enumerate()
            .filter(|(_, weight)| **weight > 0);
        let mut count = 0;
        for (at, _) in open {
            rows.open(at / stride, at % stride);
            columns.open(at % stride, at / stride);
            count += 1;
        }
        let corners = rows.find_corners() + columns.find_corners();
        let closed = (stride - 2) * (height - 2) - count;
        Crossing {
            rows,
            columns,
            few_corners: corners * 100 <= (count * FEW_FOR_OPEN).max(closed * FEW_FOR_CLOSED),
        }
    }
}

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

/// The gap that a body needs between the middle of its cell and closed ground, as the square of
/// the distance in half cells.
///
/// From a cell's middle to a closed cell it is `a² + b²` with `a`, `b` in {0, 1, 3, 5 …}; the
/// smallest such number that is enough stands for every radius that needs it.
fn room_needed(ground: &Ground, radius: f32) -> u32 {
    let radius = if radius.is_nan() { 0.0 } else { radius };
    let halves = 2.0 * (radius - SKIN_M) / ground.cell_m;
    let halves = halves.clamp(0.0, 2.0 * Passage::MAX_RADIUS_CELLS);
    let enough = (halves * halves).max(1.0);
    let legs = || core::iter::once(0).chain((1..=33).step_by(2));
    legs()
        .flat_map(|a: u32| legs().map(move |b| a * a + b * b))
        .filter(|gap| *gap as f32 >= enough)
        .min()
        .unwrap_or(33 * 33)
}

/// Which cells keep the gap, by two passes: up and down each column, then across each row.
fn cells_that_fit(ground: &Ground, room: u32) -> Vec<bool> {
    if room <= 1 {
        return ground.open.clone();
    }
    let (width, height) = (ground.width as usize, ground.height as usize);
    // Beyond this many cells nothing can be too near.
    let far = (1..).find(|d: &u32| square_gap(*d) >= room).unwrap_or(17);
    let columns = rows_to_closed(ground, far);
    let mut fits = vec![false; width * height];
    for y in 0..height {
        for x in 0..width {
            let at = y * width + x;
            fits[at] = ground.open[at]
                && (0..far as usize).all(|d| {
                    let beside = square_gap(d as u32);
                    let keeps = |column: Option<usize>| match column {
                        Some(x) => beside + square_gap(columns[y * width + x]) >= room,
                        None => beside >= room,
                    };
                    keeps(x.checked_sub(d)) && keeps(Some(x + d).filter(|x| *x < width))
                });
        }
    }
    fits
}

/// The square of the distance, in half cells, from a cell's middle to a cell `d` rows away.
fn square_gap(d: u32) -> u32 {
    let halves = (2 * d).saturating_sub(1);
    halves * halves
}

/// For each cell, how many rows away the nearest closed cell of its column is, at most `far`.
fn rows_to_closed(ground: &Ground, far: u32) -> Vec<u32> {
    let (width, height) = (ground.width as usize, ground.height as usize);
    let mut rows = vec![0_u32; width * height];
    let step = |rows: &mut [u32], at: usize, before: Option<usize>, first: bool| {
        let reached = before.map_or(1, |b| (rows[b] + 1).min(far));
        let known = if first { far } else { rows[at] };
        rows[at] = if ground.open[at] {
            reached.min(known)
        } else {
            0
        };
    };
    for at in 0..rows.len() {
        step(&mut rows, at, at.checked_sub(width), true);
    }
    for at in (0..rows.len()).rev() {
        let above = Some(at + width).filter(|above| *above < width * height);
        step(&mut rows, at, above, false);
    }
    rows
}

fn open_neighbours(weights: &[u8], stride: usize) -> Vec<u8> {
    let stride = stride as isize;
    let around = [
        1,
        stride,
        -1,
        -stride,
        stride + 1,
        stride - 1,
        -stride - 1,
        1 - stride,
    ];
    let bits = |at: usize| {
        let bit = |(k, offset): (usize, &isize)| {
            let weight = weights.get(at.wrapping_add_signed(*offset));
            u8::from(weight.is_some_and(|weight| *weight > 0)) << k
        };
        around.iter().enumerate().map(bit).sum()
    };
    (0..weights.len()).map(bits).collect()
}

/// Numbers the connected parts by flooding each from its first cell. Straight steps are enough:
/// a diagonal one is allowed only where the two straight ones are.
fn label_regions(weights: &[u8], stride: usize) -> Vec<u32> {
    let mut regions = vec![0_u32; weights.len()];
    let mut frontier = Vec::new();
    let mut count = 0;
    for start in 0..weights.len() {
        if weights[start] == 0 || regions[start] != 0 {
            continue;
        }
        count += 1;
        regions[start] = count;
        frontier.push(start);
        while let Some(at) = frontier.pop() {
            for next in [at - 1, at + 1, at - stride, at + stride] {
                if weights[next] > 0 && regions[next] == 0 {
                    regions[next] = count;
                    frontier.push(next);
                }
            }
        }
    }
    regions
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::ground::Terrain;
    use proptest::prelude::*;

    fn ground(cells: &[bool], width: u32) -> Ground {
        let terrains = vec![Terrain::open("sand"), Terrain::closed("dyke")];
        let mut classes: Vec<u8> = cells.iter().map(|&closed| u8::from(closed)).collect();
        classes[0] = 0;
        let height = cells.len() as u32 / width;
        Ground::new(width, height, 2.0, terrains, classes).unwrap()
    }

    proptest! {
        #[test]
        fn a_cell_is_open_exactly_where_the_disc_is_clear(
            cells in proptest::collection::vec(proptest::bool::weighted(0.08), 12 * 14),
            radius in 0.0_f32..7.0,
        ) {
            let ground = ground(&cells, 14);
            let passage = Passage::new(&ground, radius);
            for k in 0..12 * 14 {
                let cell = Cell::new(k % 14, k / 14);
                let clear = ground.disc_is_clear(ground.centre(cell), radius);
                prop_assert_eq!(passage.is_open(cell), clear, "{:?} at radius {}", cell, radius);
            }
        }

        #[test]
        fn every_step_between_open_cells_is_clear(
            cells in proptest::collection::vec(proptest::bool::weighted(0.1), 10 * 10),
            radius in 0.0_f32..5.0,
        ) {
            let ground = ground(&cells, 10);
            let passage = Passage::new(&ground, radius);
            for k in 0..100 {
                let (x, y) = (k % 10, k / 10);
                let square = [(0, 0), (1, 0), (0, 1), (1, 1)].map(|(dx, dy)| Cell::new(x + dx, y + dy));
                if square.into_iter().all(|cell| passage.is_open(cell)) {
                    let [a, b, c, d] = square.map(|cell| ground.centre(cell));
                    prop_assert!(ground.line_is_clear(a, b, radius));
                    prop_assert!(ground.line_is_clear(a, d, radius));
                    prop_assert!(ground.line_is_clear(b, c, radius));
                }
            }
        }

        #[test]
        fn the_nearest_cell_is_that_of_a_plain_scan(
            cells in proptest::collection::vec(proptest::bool::weighted(0.9), 9 * 11),
            x in -3.0_f32..25.0, y in -3.0_f32..25.0,
        ) {
            let ground = ground(&cells, 11);
            let passage = Passage::new(&ground, 0.5);
            let point = Vec2::new(x, y).clamp(Vec2::ZERO, ground.bounds().max);
            let plain = (0..99).map(|k| Cell::new(k % 11, k / 11))
                .filter(|&cell| passage.is_open(cell))
                .map(|cell| ground.centre(cell).distance(point))
                .fold(f32::INFINITY, f32::min);
            let found = passage.nearest(Vec2::new(x, y), |_| true).unwrap();
            prop_assert!((ground.centre(found).distance(point) - plain).abs() < 1e-4);
        }
    }
}
