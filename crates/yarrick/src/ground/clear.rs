//! Whether a body fits: discs and straight walks against closed ground.

use super::layer::{SQUARE, cells_of_square, squares_in_row};
use super::{Cell, Ground, GroundView, Lattice, Outline, Patch};
use crate::geom::{Rect, Vec2, segment_rect_distance_squared};

/// How far a body may reach into closed ground before it counts as touching it, in metres.
/// Rounding moves a unit that walks along a wall by far less; nobody can see it.
pub const SKIN_M: f32 = 1e-3;

/// More than rounding may change the distance of a cell from a line by, in metres, on lines of some kilometres.
pub(super) const SLACK_M: f32 = 2e-3;

/// Maximum number of cells in the box round a step that is checked as a whole before a closer look.
const STEP_CELLS: usize = 16;

/// Maximum number of cells of a box round a line that is checked as a whole.
const ALONG_CELLS: usize = 400;

impl<'a> GroundView<'a> {
    /// Whether a disc lies on the map and touches no closed cell.
    #[must_use]
    pub fn disc_is_clear(&self, centre: Vec2, radius: f32) -> bool {
        self.line_is_clear(centre, centre, radius)
    }

    /// Whether a disc can be moved straight from `a` to `b` without touching closed ground or
    /// leaving the map. Points that are not finite are never clear.
    ///
    /// Costs in proportion to the cells that the disc sweeps over.
    #[must_use]
    pub fn line_is_clear(&self, a: Vec2, b: Vec2, radius: f32) -> bool {
        self.look_along(a, b, radius) == Sight::Clear
    }

    /// What a disc meets that is moved straight from `a` to `b`.
    pub(crate) fn look_along(&self, a: Vec2, b: Vec2, radius: f32) -> Sight {
        let reach = (radius - SKIN_M).max(0.0);
        let room = self.ground.bounds().grown(-reach);
        if !(room.contains(a) && room.contains(b)) {
            return Sight::Rim;
        }
        if self.ground.lattice == Lattice::Hexes {
            return Sight::of(self.closed_hex(a, b, reach));
        }
        // Most steps that units take in a tick lie in a box of open cells: then nothing need be looked at closely.
        if self.box_is_open(Rect::from_corners(a, b).grown(reach), STEP_CELLS) {
            return Sight::Clear;
        }
        let sweep = Sweep::new(self.ground, a, b, reach);
        let side = SQUARE as i32;
        let (first, last) = (sweep.first_row / side, sweep.last_row / side);
        // From `a` on: most lines that are not clear meet a wall right ahead.
        Sight::of(if first == last {
            self.closed_in_rows(&sweep, (sweep.first_row, sweep.last_row))
        } else if a.y <= b.y {
            let mut bands = first..=last;
            bands.find_map(|band| self.closed_in_band(&sweep, band))
        } else {
            let mut bands = (first..=last).rev();
            bands.find_map(|band| self.closed_in_band(&sweep, band))
        })
    }

    /// The first closed cell that the sweep touches in one row of squares.
    fn closed_in_band(&self, sweep: &Sweep, band: i32) -> Option<Cell> {
        let ends = sweep.rows(band);
        if ends.0.abs_diff(ends.1) + 1 == SQUARE as u32 {
            let [one, other] = [ends.0, ends.1].map(|row| sweep.columns(row));
            let (first, last) = (one.0.min(other.0), one.1.max(other.1));
            let start = band as usize * squares_in_row(self.ground.width as usize);
            let square = |column: i32| start + column as usize / SQUARE;
            let squares = &self.squares[square(first)..=square(last)];
            if squares.iter().all(|closed| *closed == 0) {
                return None;
            }
        }
        self.closed_in_rows(sweep, ends)
    }

    /// The first closed cell that the sweep touches in a range of rows, both ends included, searched from the start of the sweep.
    fn closed_in_rows(&self, sweep: &Sweep, (first, last): (i32, i32)) -> Option<Cell> {
        if sweep.a.y <= sweep.b.y {
            (first..last + 1).find_map(|y| self.closed_in_row(sweep, y))
        } else {
            (first..last + 1)
                .rev()
                .find_map(|y| self.closed_in_row(sweep, y))
        }
    }

    /// Whether a closed cell stands in the way of a disc that is moved straight from `a` to `b`.
    pub(crate) fn stands_between(&self, cell: Cell, a: Vec2, b: Vec2, radius: f32) -> bool {
        touches(
            self.ground.outline(cell),
            (a, b),
            (radius - SKIN_M).max(0.0),
        )
    }

    /// Whether a box lies on the map, has at most `most_cells` cells, and all of them are open. `false` does not mean that
    /// one of them is closed: it may be too large a box, or a map of hexes.
    pub(crate) fn box_is_open(&self, rect: Rect, most_cells: usize) -> bool {
        let ground = self.ground;
        let bounds = ground.bounds();
        if !ground.lattice.is_square() || !bounds.contains(rect.min) || !bounds.contains(rect.max) {
            return false;
        }
        let per_m = 1.0 / ground.cell_m;
        let (low, high) = (rect.min * per_m, rect.max * per_m);
        // Where a side of the box is the rim of the map, the last cell ends there.
        let (x1, y1) = (
            (high.x as usize).min(ground.width as usize - 1),
            (high.y as usize).min(ground.height as usize - 1),
        );
        let (x0, y0) = ((low.x as usize).min(x1), (low.y as usize).min(y1));
        if (x1 - x0 + 1).saturating_mul(y1 - y0 + 1) > most_cells {
            return false;
        }
        for row in y0 / SQUARE..=y1 / SQUARE {
            let start = row * squares_in_row(ground.width as usize);
            for column in x0 / SQUARE..=x1 / SQUARE {
                let closed = self.squares[start + column];
                let within = ((x0, x1), (y0, y1));
                if closed != 0 && closed & cells_of_square((column, row), within) != 0 {
                    return false;
                }
            }
        }
        true
    }

    fn closed_in_row(&self, sweep: &Sweep, y: i32) -> Option<Cell> {
        let (first, last) = sweep.columns(y);
        let (row, first, last) = (y as usize, first as usize, last as usize);
        let start = row / SQUARE * squares_in_row(self.ground.width as usize);
        for column in first / SQUARE..=last / SQUARE {
            let square = self.squares[start + column];
            let mut closed = square >> (row % SQUARE * SQUARE) & u64::from(u8::MAX);
            if column == first / SQUARE {
                closed &= u64::MAX << (first % SQUARE);
            }
            if column == last / SQUARE {
                closed &= (2 << (last % SQUARE)) - 1;
            }
            // The columns cover the sweep generously, so a closed cell is looked at exactly.
            while closed != 0 {
                let x = column * SQUARE + closed.trailing_zeros() as usize;
                let cell = Cell::new(x as i32, y);
                if touches(self.ground.outline(cell), (sweep.a, sweep.b), sweep.reach) {
                    return Some(cell);
                }
                closed &= closed - 1;
            }
        }
        None
    }

    /// The same among hexes, where the rim of the map is a zigzag of cells that are not there.
    fn closed_hex(&self, a: Vec2, b: Vec2, reach: f32) -> Option<Cell> {
        let mut cells = self.hexes_round(a, b, reach);
        cells
            .find(|cell| !self.is_open(*cell) && touches(self.ground.outline(*cell), (a, b), reach))
    }

    /// The hexes that a disc may touch on its way, on the map or beside it.
    fn hexes_round(&self, a: Vec2, b: Vec2, reach: f32) -> impl Iterator<Item = Cell> + use<> {
        let cell_m = self.ground.cell_m;
        let cell = |point: Vec2| Lattice::Hexes.cell_at(point / cell_m);
        let low = a.min(b) - Vec2::splat(reach + cell_m * 0.6);
        let high = a.max(b) + Vec2::splat(reach + cell_m * 0.6);
        let across = (b - a).normalize_or_zero().perp();
        // From the line, as far as the disc and half a cell from corner to corner reach.
        let near = reach + cell_m * 0.6;
        Patch::between(cell(low), cell(high))
            .cells()
            .filter(move |at| {
                let centre = Lattice::Hexes.centre(*at) * cell_m;
                across == Vec2::ZERO || (centre - a).dot(across).abs() <= near
            })
    }

    /// Whether a quick check finds only open cells round a disc. `false` does not mean that the disc touches a closed one.
    pub(crate) fn is_in_the_open(&self, centre: Vec2, radius: f32) -> bool {
        self.box_is_open(Rect::around(centre, radius), STEP_CELLS)
    }

    /// Whether a quick check finds only open cells within `reach` of a line. `false` does not mean that there are closed ones.
    pub(crate) fn is_open_along(&self, from: Vec2, to: Vec2, reach: f32) -> bool {
        if self.ground.lattice.is_square() {
            return self.box_is_open(Rect::from_corners(from, to).grown(reach), ALONG_CELLS);
        }
        let radius = from.distance(to) * 0.5 + reach;
        let mut closed = self.closed_cells_under(from.midpoint(to), radius);
        closed.next().is_none()
    }

    /// The closed cells that a disc touches. The straight rim of a map of squares is left out; among hexes, where it is a
    /// zigzag, the cells beyond it count as closed.
    pub(crate) fn closed_cells_under(
        &self,
        centre: Vec2,
        radius: f32,
    ) -> impl Iterator<Item = Outline> + 'a {
        let view = *self;
        let reach = Vec2::splat(radius);
        let cells = if view.ground.lattice.is_square() {
            let cell = |point| view.ground.nearest_cell(point);
            Patch::between(cell(centre - reach), cell(centre + reach))
        } else {
            let cell = |point: Vec2| Lattice::Hexes.cell_at(point / view.ground.cell_m);
            // Rows of hexes overlap by a part of a cell.
            Patch::between(cell(centre - reach), cell(centre + reach)).grown(1)
        };
        cells
            .cells()
            .filter(move |&cell| !view.is_open(cell))
            .map(move |cell| view.ground.outline(cell))
            .filter(move |outline| outline.touches_disc(centre, radius))
    }
}

/// What is met on a straight line.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Sight {
    /// Nothing.
    Clear,
    /// This closed cell, among others.
    Closed(Cell),
    /// The rim of the map.
    Rim,
}

impl Sight {
    fn of(closed: Option<Cell>) -> Sight {
        closed.map_or(Sight::Clear, Sight::Closed)
    }
}

/// Whether a disc touches a closed cell on its way.
fn touches(outline: Outline, (a, b): (Vec2, Vec2), reach: f32) -> bool {
    let gap = match outline {
        Outline::Square(rect) => {
            if let Some(known) = touches_at_a_glance(&rect, (a, b), reach) {
                return known;
            }
            segment_rect_distance_squared(a, b, &rect)
        }
        Outline::Hex(hexagon) => hexagon.segment_distance_squared(a, b),
    };
    !(gap > 0.0 && gap >= reach * reach)
}

/// Whether a disc touches a square on its way, where the distance of the square from the whole line tells.
///
/// ```text
///   ------------------------->     the distance of the middle from the line, less what the square takes up across it, is that
///         c-----+                  of the corner c that is nearest to the line; if the point of the line next to c lies between
///         | mid |                  the ends, this is the distance of the square from the segment
///         +-----+
/// ```
fn touches_at_a_glance(square: &Rect, (a, b): (Vec2, Vec2), reach: f32) -> Option<bool> {
    let along = b - a;
    let middle = (square.min + square.max) * 0.5 - a;
    let half = (square.max.x - square.min.x) * 0.5;
    // Distances across the line and points along it, times its length.
    let (length, aside) = (along.length_squared(), along.perp_dot(middle));
    let gap = aside.abs() - half * (along.x.abs() + along.y.abs());
    let within = |distance: f32, most_m: f32| distance * distance < most_m * most_m * length;
    if gap > 0.0 && !within(gap, reach + SLACK_M) {
        return (length > 0.0).then_some(false);
    }
    let next = if within(aside, half) {
        // The line leads past the middle within the square.
        middle
    } else {
        let side = half * aside.signum();
        middle
            + Vec2::new(
                side.copysign(side * along.y),
                -side.copysign(side * along.x),
            )
    };
    let on = along.dot(next);
    let is_near = if gap < 0.0 {
        !within(gap, SLACK_M)
    } else {
        reach > SLACK_M && within(gap, reach - SLACK_M)
    };
    (is_near && 0.0 < on && on < length).then_some(true)
}

/// A disc on its way from `a` to `b`, and the rows of cells it comes over.
#[derive(Clone, Copy)]
struct Sweep {
    a: Vec2,
    b: Vec2,
    reach: f32,
    first_row: i32,
    last_row: i32,
    cell_m: f32,
    per_m: f32,
    last_column: i32,
    /// The lowest and the highest x of the line, and how far it goes along x for each metre along y.
    low_x: f32,
    high_x: f32,
    lean: f32,
    is_level: bool,
}

impl Sweep {
    fn new(ground: &Ground, a: Vec2, b: Vec2, reach: f32) -> Sweep {
        let row = |y: f32| ground.nearest_cell(Vec2::new(0.0, y)).y;
        let rise = b.y - a.y;
        Sweep {
            a,
            b,
            reach,
            first_row: row(a.y.min(b.y) - reach),
            last_row: row(a.y.max(b.y) + reach),
            cell_m: ground.cell_m,
            per_m: 1.0 / ground.cell_m,
            last_column: ground.width as i32 - 1,
            low_x: a.x.min(b.x),
            high_x: a.x.max(b.x),
            lean: (b.x - a.x) / rise,
            is_level: rise.abs() <= 1e-6,
        }
    }

    /// The first and the last row of the sweep that lie in a row of squares.
    fn rows(&self, band: i32) -> (i32, i32) {
        let side = SQUARE as i32;
        let (first, last) = (band * side, band * side + side - 1);
        (self.first_row.max(first), self.last_row.min(last))
    }

    /// The first and last column that the sweep can touch in a row: that of the part of the
    /// line within reach of the row, widened by the reach.
    #[inline]
    fn columns(&self, row: i32) -> (i32, i32) {
        let low = row as f32 * self.cell_m - self.reach;
        let high = low + self.cell_m + 2.0 * self.reach;
        let at = |y: f32| self.a.x + (y - self.a.y) * self.lean;
        let (u, v) = if self.is_level {
            // A line along the rows lies in all its columns at once.
            (self.low_x, self.high_x)
        } else {
            (at(low), at(high))
        };
        let from = u.min(v).clamp(self.low_x, self.high_x);
        let to = u.max(v).clamp(self.low_x, self.high_x);
        let wide = self.reach + SKIN_M;
        // Casts saturate, and round towards zero.
        let column = |x: f32| ((x * self.per_m) as i32).clamp(0, self.last_column);
        (column(from - wide), column(to + wide))
    }
}
