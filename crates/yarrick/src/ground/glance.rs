//! Lines between the middles of cells that are near each other. Which cells a disc touches on its way depends on how far apart the
//! two are, and not on where on the map they lie: so it is worked out once, as the bits of a number, and compared with the bits of
//! the closed cells there.
//!
//! ```text
//!   . . # b     row 2     for a disc with a radius of less than half a cell from a to b, which lie three columns and two rows
//!   . x x .     row 1     apart: # and x are the cells that it touches besides those of the ends; others may be closed
//!   a # . .     row 0
//! ```

use super::clear::{SKIN_M, SLACK_M};
use super::layer::{SQUARE, squares_in_row};
use super::{Cell, GroundView};
use crate::geom::{Rect, Vec2, segment_point_distance_squared, segment_rect_distance_squared};

/// Number of cells from one end of a line to the other along a row or a column, at the most: of one, or of two squares.
const FARTHEST: usize = 2 * SQUARE - 1;

/// Number of columns or rows by which the ends of a line may lie apart, in both directions.
const APART: usize = 2 * FARTHEST + 1;

/// Maximum width and height of a map, in metres: beyond that, rounding moves lines by more than is allowed for.
const WIDEST_M: f32 = 4096.0;

/// A square lies nearer than its middle by something between these parts of its width: half of it, and half of its diagonal, with a
/// margin for rounding.
const BETWEEN: (f32, f32) = (0.499, 0.708);

/// Number of discs for which what they touch is kept.
const MOST_DISCS: usize = 8;

/// Whether a disc fits between the middles of cells that are near each other, told at a glance: for those who ask about many such lines.
///
/// It keeps what it has worked out for the last 8 discs, some 30 kB each.
///
/// ```
/// use yarrick::ground::{Cell, Glances, Ground, Terrain};
///
/// let ground = Ground::from_rows(1.0, &["....", ".#..", "...."], &[
///     ('.', Terrain::open("sand")), ('#', Terrain::closed("dyke"))])?;
/// let mut glances = Glances::default();
/// let mut look = |from, to| glances.look(ground.on_foot(), 0.4, from, to);
///
/// assert_eq!(look(Cell::new(0, 0), Cell::new(3, 0)), Some(true));
/// assert_eq!(look(Cell::new(0, 0), Cell::new(2, 2)), Some(false));
/// // Off the map: `line_is_clear` tells.
/// assert_eq!(look(Cell::new(0, 0), Cell::new(-1, 0)), None);
/// # Ok::<(), yarrick::ground::GroundError>(())
/// ```
#[derive(Clone, Debug, Default)]
pub struct Glances {
    discs: Vec<Disc>,
    /// The index of the disc in use.
    current: usize,
}

/// A disc, and what it touches.
#[derive(Clone, Debug)]
struct Disc {
    reach: f32,
    cell_m: f32,
    /// How many cells beyond its own it touches where it stands in the middle of one.
    margin: usize,
    /// By the rows and columns from one end of the line to the other: for the first square that the line lies in, and for the next.
    ways: Vec<[Touched; 2]>,
}

/// The cells of a square of 8 by 8 that a disc touches on its way, as bits, row by row from below.
#[derive(Clone, Copy, Debug, Default)]
struct Touched {
    /// The cells that it touches, with a margin for rounding.
    surely: u64,
    /// These, and the cells for which rounding decides. `0` if not computed yet.
    perhaps: u64,
}

impl Glances {
    /// Whether a disc can be moved straight from the middle of one cell to that of another without touching closed ground, as
    /// [`GroundView::line_is_clear`] tells. `None` where that has to be asked: the two are more than about fifteen columns or rows
    /// apart, or more than about seven of both, or near the rim of the map, or rounding decides; the disc has hardly any width; the
    /// cells are hexes; or the map is wider than 4 km.
    ///
    /// Costs the same for each line, but for the first of its kind.
    #[inline]
    #[must_use]
    pub fn look(
        &mut self,
        view: GroundView<'_>,
        radius: f32,
        from: Cell,
        to: Cell,
    ) -> Option<bool> {
        let disc = self.disc(view, radius);
        let margin = disc.margin;
        let (wide, high) = (from.x.abs_diff(to.x), from.y.abs_diff(to.y));
        let [wide, high] = [wide, high].map(|cells| cells as usize + 2 * margin);
        if wide.max(high) > FARTHEST || wide.min(high) >= SQUARE {
            return None;
        }
        let below = |a: i32, b: i32| a.min(b).saturating_sub(margin as i32);
        let low = Cell::new(below(from.x, to.x), below(from.y, to.y));
        let size = (wide + 1, high + 1);
        let first = view.closed_from(low, (size.0.min(SQUARE), size.1.min(SQUARE)))?;
        let next = if wide < SQUARE && high < SQUARE {
            0
        } else {
            let (low, size) = next_square(low, size);
            view.closed_from(low, size)?
        };
        let [here, there] = *disc.touched((to.x - from.x, to.y - from.y));
        let is_closed = first & here.surely | next & there.surely != 0;
        let is_open = first & here.perhaps | next & there.perhaps == 0;
        (is_closed || is_open).then_some(!is_closed)
    }

    #[inline]
    fn disc(&mut self, view: GroundView<'_>, radius: f32) -> &mut Disc {
        let cell_m = view.ground.cell_m;
        let far = view.ground.bounds().max;
        // Hexes are left to a closer look.
        let reach = if view.ground.lattice.is_square() && far.x.max(far.y) <= WIDEST_M {
            (radius - SKIN_M).max(0.0)
        } else {
            0.0
        };
        let is_it = |disc: &Disc| disc.reach == reach && disc.cell_m == cell_m;
        if !self.discs.get(self.current).is_some_and(is_it) {
            self.current = self.place_of(reach, cell_m);
        }
        &mut self.discs[self.current]
    }

    #[cold]
    fn place_of(&mut self, reach: f32, cell_m: f32) -> usize {
        let is_it = |disc: &Disc| disc.reach == reach && disc.cell_m == cell_m;
        match self.discs.iter().position(is_it) {
            Some(known) => known,
            None if self.discs.len() < MOST_DISCS => {
                self.discs.push(Disc::new(reach, cell_m));
                self.discs.len() - 1
            }
            None => {
                let next = (self.current + 1) % MOST_DISCS;
                self.discs[next] = Disc::new(reach, cell_m);
                next
            }
        }
    }
}

/// A box of cells longer than a square covers two squares: returns the lowest cell of the second one, and the columns and rows of the
/// box that lie in it.
fn next_square(low: Cell, (wide, high): (usize, usize)) -> (Cell, (usize, usize)) {
    let by = SQUARE as i32;
    if wide > SQUARE {
        (Cell::new(low.x + by, low.y), (wide - SQUARE, high))
    } else {
        (Cell::new(low.x, low.y + by), (wide, high - SQUARE))
    }
}

impl Disc {
    fn new(reach: f32, cell_m: f32) -> Disc {
        // A disc of hardly any width is left to a closer look, as is a very wide one. Casts saturate.
        let margin = if reach > 2.0 * SLACK_M {
            ((reach + SLACK_M) / cell_m - 0.5).max(0.0).ceil() as usize
        } else {
            SQUARE
        };
        Disc {
            reach,
            cell_m,
            margin: margin.min(SQUARE),
            ways: vec![[Touched::default(); 2]; APART * APART],
        }
    }

    /// The cells that it touches when it moves by a number of columns and rows.
    #[inline]
    fn touched(&mut self, (columns, rows): (i32, i32)) -> &[Touched; 2] {
        let place = |off: i32| (off + FARTHEST as i32) as usize;
        let at = place(rows) * APART + place(columns);
        if self.ways[at][0].perhaps == 0 {
            self.ways[at] = self.work_out((columns, rows));
        }
        &self.ways[at]
    }

    #[cold]
    fn work_out(&self, (columns, rows): (i32, i32)) -> [Touched; 2] {
        let middle = |cells: i32| (cells as f32 + 0.5 + self.margin as f32) * self.cell_m;
        let end = |x: i32, y: i32| Vec2::new(middle(x.max(0)), middle(y.max(0)));
        let (from, to) = (end(-columns, -rows), end(columns, rows));
        let size = [columns, rows].map(|cells| cells.unsigned_abs() as usize + 1 + 2 * self.margin);
        let (next, _) = next_square(Cell::new(0, 0), (size[0], size[1].max(SQUARE)));
        let near_m = self.cell_m * BETWEEN.0 + (self.reach - SLACK_M);
        let far_m = self.cell_m * BETWEEN.1 + (self.reach + SLACK_M);
        let touches = |cell: Cell| {
            let min = Vec2::new(cell.x as f32, cell.y as f32) * self.cell_m;
            let middle = min + Vec2::splat(self.cell_m * 0.5);
            let apart = segment_point_distance_squared(from, to, middle);
            if apart >= far_m * far_m {
                return (false, false);
            }
            if apart <= near_m * near_m {
                return (true, true);
            }
            let cell = Rect::from_corners(min, min + Vec2::splat(self.cell_m));
            let gap = segment_rect_distance_squared(from, to, &cell).sqrt();
            (gap < self.reach - SLACK_M, gap < self.reach + SLACK_M)
        };
        [Cell::new(0, 0), next].map(|low| {
            let mut touched = Touched::default();
            for bit in 0..u64::BITS as i32 {
                let (x, y) = (low.x + bit % SQUARE as i32, low.y + bit / SQUARE as i32);
                let (surely, perhaps) = touches(Cell::new(x, y));
                touched.surely |= u64::from(surely) << bit;
                touched.perhaps |= u64::from(perhaps) << bit;
            }
            touched
        })
    }
}

impl GroundView<'_> {
    /// The closed cells of the square of 8 by 8 whose lower left cell is `low`, as bits, row by row from below. Only the first `wide`
    /// columns and `high` rows of it are needed; `None` if these do not all lie on the map.
    #[inline]
    fn closed_from(&self, low: Cell, (wide, high): (usize, usize)) -> Option<u64> {
        let (width, height) = (self.ground.width as usize, self.ground.height as usize);
        let (x, y) = (usize::try_from(low.x).ok()?, usize::try_from(low.y).ok()?);
        if x + wide > width || y + high > height {
            return None;
        }
        let in_row = squares_in_row(width);
        let at = y / SQUARE * in_row + x / SQUARE;
        let (right, up) = (x % SQUARE, y % SQUARE * SQUARE);
        // The cells of each row that are in the square to the left, after the shift.
        let left = u64::from(u8::MAX >> right) * u64::from_ne_bytes([1; SQUARE]);
        let row_of = |at: usize| {
            let next = if right + wide > SQUARE {
                self.squares[at + 1]
            } else {
                0
            };
            self.squares[at] >> right & left | next << (SQUARE - right) & !left
        };
        let lower = row_of(at) >> up;
        Some(if up + high * SQUARE > u64::BITS as usize {
            lower | row_of(at + in_row) << (u64::BITS as usize - up)
        } else {
            lower
        })
    }
}
