//! Rectangles of cells.

use super::Cell;
use serde::{Deserialize, Serialize};

/// A rectangle of cells, by rows and columns. It may be empty.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Patch {
    /// The lower left cell.
    pub min: Cell,
    /// The upper right cell, which belongs to it.
    pub max: Cell,
}

impl Patch {
    /// No cells.
    pub const EMPTY: Patch = Patch {
        min: Cell::new(i32::MAX, i32::MAX),
        max: Cell::new(i32::MIN, i32::MIN),
    };

    /// The rectangle between two opposite cells, in any order.
    #[must_use]
    pub fn between(a: Cell, b: Cell) -> Patch {
        Patch {
            min: Cell::new(a.x.min(b.x), a.y.min(b.y)),
            max: Cell::new(a.x.max(b.x), a.y.max(b.y)),
        }
    }

    /// Whether it has no cells.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.min.x > self.max.x || self.min.y > self.max.y
    }

    /// Whether a cell belongs to it.
    #[must_use]
    pub fn contains(&self, cell: Cell) -> bool {
        (self.min.x..=self.max.x).contains(&cell.x) && (self.min.y..=self.max.y).contains(&cell.y)
    }

    /// The smallest rectangle that holds this one and a cell.
    #[must_use]
    pub fn with(&self, cell: Cell) -> Patch {
        self.joined(&Patch {
            min: cell,
            max: cell,
        })
    }

    /// The smallest rectangle that holds both.
    #[must_use]
    pub fn joined(&self, other: &Patch) -> Patch {
        Patch {
            min: Cell::new(self.min.x.min(other.min.x), self.min.y.min(other.min.y)),
            max: Cell::new(self.max.x.max(other.max.x), self.max.y.max(other.max.y)),
        }
    }

    /// The rectangle, grown by `by` cells on every side. An empty one stays empty.
    #[must_use]
    pub fn grown(&self, by: i32) -> Patch {
        if self.is_empty() {
            return *self;
        }
        let (low, high) = (|x: i32| x.saturating_sub(by), |x: i32| x.saturating_add(by));
        Patch {
            min: Cell::new(low(self.min.x), low(self.min.y)),
            max: Cell::new(high(self.max.x), high(self.max.y)),
        }
    }

    /// The part of it that lies on a map of `width` by `height` cells.
    #[must_use]
    pub fn clipped(&self, width: u32, height: u32) -> Patch {
        Patch {
            min: Cell::new(self.min.x.max(0), self.min.y.max(0)),
            max: Cell::new(
                self.max.x.min(width as i32 - 1),
                self.max.y.min(height as i32 - 1),
            ),
        }
    }

    /// How many cells it has.
    #[must_use]
    pub fn count(&self) -> usize {
        if self.is_empty() {
            return 0;
        }
        let side = |low: i32, high: i32| high.abs_diff(low) as usize + 1;
        side(self.min.x, self.max.x) * side(self.min.y, self.max.y)
    }

    /// Its cells, row by row from below.
    pub fn cells(&self) -> impl Iterator<Item = Cell> + Clone + use<> {
        let patch = *self;
        let columns = move |y| (patch.min.x..=patch.max.x).map(move |x| Cell::new(x, y));
        (patch.min.y..=patch.max.y).flat_map(columns)
    }
}
