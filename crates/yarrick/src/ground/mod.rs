//! The map: square cells with a terrain class each, and heights.
//!
//! Cells lie on a grid whose lower left corner is the origin; `x` grows to the right and `y`
//! upwards, so the *first* row of a drawn map has the *largest* `y`. All that lies outside the
//! map counts as closed.
//!
//! The types to know: [`Ground`] (the map), [`Terrain`] (what a class of ground is like) and
//! [`Passage`] (where a body of some radius fits, and which parts hang together).
//!
//! ```
//! use yarrick::geom::Vec2;
//! use yarrick::ground::{Ground, Passage, Terrain};
//!
//! let ground = Ground::from_rows(
//!     1.0,
//!     &["..~..",
//!       "..~..",
//!       "....."],
//!     &[('.', Terrain::open("sand")), ('~', Terrain::closed("creek"))],
//! )?;
//! assert_eq!(ground.terrain_at(Vec2::new(2.5, 2.5)).unwrap().name, "creek");
//!
//! // A body 0.4 m in radius walks round the end of the creek; one of 0.8 m does not fit.
//! let west = ground.cell_at(Vec2::new(0.5, 2.5)).unwrap();
//! let east = ground.cell_at(Vec2::new(4.5, 2.5)).unwrap();
//! assert!(Passage::new(&ground, 0.4).connected(west, east));
//! assert!(!Passage::new(&ground, 0.8).connected(west, east));
//! # Ok::<(), yarrick::ground::GroundError>(())
//! ```
//!
//! It knows nothing of units: who stands where is the business of [`near`](crate::near).

mod build;
mod clear;
mod height;
mod lines;
mod passage;
mod terrain;

pub use build::{GroundError, MAX_CELLS_A_SIDE, MAX_TERRAINS};
pub use clear::SKIN_M;
pub(crate) use lines::Stop;
pub(crate) use passage::Crossing;
pub use passage::{Passage, Region};
pub use terrain::Terrain;

use crate::geom::{Rect, Vec2};
use serde::{Deserialize, Serialize};

/// A cell of the map by column and row; `(0, 0)` is the lower left one.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
pub struct Cell {
    /// The column, from the left.
    pub x: i32,
    /// The row, from below.
    pub y: i32,
}

impl Cell {
    /// The cell in column `x` and row `y`.
    #[must_use]
    pub const fn new(x: i32, y: i32) -> Cell {
        Cell { x, y }
    }
}

/// The map. It does not change once it is built.
#[derive(Clone, Debug, PartialEq)]
pub struct Ground {
    width: u32,
    height: u32,
    cell_m: f32,
    terrains: Vec<Terrain>,
    /// The terrain class of each cell, row by row from below.
    classes: Vec<u8>,
    /// Whether each cell can be walked on; the classes' own answer, laid out for speed.
    open: Vec<bool>,
    /// Heights at the cell centres in metres; empty for a flat map.
    heights: Vec<f32>,
    /// The lowest and the highest of them.
    height_range: (f32, f32),
}

impl Ground {
    /// How many cells the map is wide.
    #[must_use]
    pub fn width(&self) -> u32 {
        self.width
    }

    /// How many cells the map is high.
    #[must_use]
    pub fn height(&self) -> u32 {
        self.height
    }

    /// The side of a cell, in metres.
    #[must_use]
    pub fn cell_m(&self) -> f32 {
        self.cell_m
    }

    /// The box that the map covers, in metres.
    #[must_use]
    pub fn bounds(&self) -> Rect {
        Rect {
            min: Vec2::ZERO,
            max: Vec2::new(self.width as f32, self.height as f32) * self.cell_m,
        }
    }

    /// The terrain classes of this map, in the order in which they were given.
    #[must_use]
    pub fn terrains(&self) -> &[Terrain] {
        &self.terrains
    }

    /// The cell that holds the point, or `None` off the map. A point on the line between two
    /// cells belongs to the upper or the right one.
    #[must_use]
    pub fn cell_at(&self, point: Vec2) -> Option<Cell> {
        let scaled = point / self.cell_m;
        let inside = scaled.x >= 0.0
            && scaled.y >= 0.0
            && scaled.x < self.width as f32
            && scaled.y < self.height as f32;
        inside.then(|| Cell::new(scaled.x as i32, scaled.y as i32))
    }

    /// The cell nearest to the point: its own, or the one on the rim for a point off the map.
    #[must_use]
    pub fn nearest_cell(&self, point: Vec2) -> Cell {
        let scaled = point / self.cell_m;
        Cell::new(
            (scaled.x as i32).clamp(0, self.width as i32 - 1),
            (scaled.y as i32).clamp(0, self.height as i32 - 1),
        )
    }

    /// The middle of a cell, in metres.
    #[must_use]
    pub fn centre(&self, cell: Cell) -> Vec2 {
        Vec2::new(cell.x as f32 + 0.5, cell.y as f32 + 0.5) * self.cell_m
    }

    /// The box that a cell covers, in metres.
    #[must_use]
    pub fn cell_rect(&self, cell: Cell) -> Rect {
        let min = Vec2::new(cell.x as f32, cell.y as f32) * self.cell_m;
        Rect {
            min,
            max: min + Vec2::splat(self.cell_m),
        }
    }

    /// Whether the cell lies on the map.
    #[must_use]
    pub fn contains(&self, cell: Cell) -> bool {
        (0..self.width as i32).contains(&cell.x) && (0..self.height as i32).contains(&cell.y)
    }

    /// The terrain of a cell, or `None` off the map.
    #[must_use]
    pub fn terrain(&self, cell: Cell) -> Option<&Terrain> {
        self.index(cell)
            .map(|at| &self.terrains[usize::from(self.classes[at])])
    }

    /// The terrain under a point, or `None` off the map.
    #[must_use]
    pub fn terrain_at(&self, point: Vec2) -> Option<&Terrain> {
        self.cell_at(point).and_then(|cell| self.terrain(cell))
    }

    /// Whether the cell lies on the map and can be walked on.
    #[must_use]
    pub fn is_open(&self, cell: Cell) -> bool {
        self.index(cell).is_some_and(|at| self.open[at])
    }

    /// How much slower than on plain ground the cell is walked, in sixteenths: `16` is plain,
    /// `32` half as fast. What searches weigh cells by. `None` where it is closed.
    #[must_use]
    pub fn slowness(&self, cell: Cell) -> Option<u8> {
        let at = self.index(cell)?;
        self.open[at].then(|| self.terrains[usize::from(self.classes[at])].slowness())
    }

    fn index(&self, cell: Cell) -> Option<usize> {
        self.contains(cell)
            .then(|| cell.y as usize * self.width as usize + cell.x as usize)
    }
}
