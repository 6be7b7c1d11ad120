//! The ground as one gait finds it.

use super::layer::{SQUARE, squares_in_row};
use super::{Cell, GaitId, Ground};
use crate::geom::Vec2;

/// The ground as one gait finds it: what is open to it, and how fast it goes there. A view, to be
/// taken where it is needed.
#[derive(Clone, Copy, Debug)]
pub struct GroundView<'a> {
    pub(super) ground: &'a Ground,
    pub(super) gait: GaitId,
    /// The slowness of each cell, row by row from below; `0` is closed.
    pub(super) layer: &'a [u8],
    /// For each square of 8 by 8 cells one bit per cell, set if the cell is closed.
    pub(super) squares: &'a [u64],
}

impl<'a> GroundView<'a> {
    /// The map.
    #[must_use]
    pub fn ground(&self) -> &'a Ground {
        self.ground
    }

    /// Whose view it is.
    #[must_use]
    pub fn gait(&self) -> GaitId {
        self.gait
    }

    /// Whether the cell lies on the map and can be entered.
    #[must_use]
    pub fn is_open(&self, cell: Cell) -> bool {
        self.ground.index(cell).is_some_and(|at| self.layer[at] > 0)
    }

    /// Whether the cell lies on the map and cannot be entered.
    pub(crate) fn is_closed(&self, cell: Cell) -> bool {
        self.ground.contains(cell) && {
            let (x, y) = (cell.x as usize, cell.y as usize);
            let square = y / SQUARE * squares_in_row(self.ground.width as usize) + x / SQUARE;
            self.squares[square] >> (y % SQUARE * SQUARE + x % SQUARE) & 1 == 1
        }
    }

    /// How much slower than on plain ground the cell is crossed, in sixteenths: `16` is plain,
    /// `32` half as fast. What searches weigh cells by. `None` where it is closed.
    #[must_use]
    pub fn slowness(&self, cell: Cell) -> Option<u8> {
        let at = self.ground.index(cell)?;
        Some(self.layer[at]).filter(|slowness| *slowness > 0)
    }

    /// How fast one goes at a point, as a factor on one's own speed; `1` on plain ground, off the
    /// map, and where it is closed.
    #[must_use]
    pub fn speed_at(&self, point: Vec2) -> f32 {
        let Some(cell) = self.ground.cell_at(point) else {
            return 1.0;
        };
        let gait = &self.ground.gaits[usize::from(self.gait.0)];
        let terrain = self.ground.terrain(cell);
        let speed = terrain.and_then(|terrain| gait.speed_on(terrain));
        let speed = speed.unwrap_or(1.0);
        if gait.flies || gait.climb == 0.0 {
            speed
        } else {
            speed / (1.0 + gait.climb * self.ground.slope(cell))
        }
    }
}
