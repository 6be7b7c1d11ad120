//! How cells tile the plane, and where one can step from each: the one place that knows squares
//! from hexagons.
//!
//! ```text
//!   squares            hexes: odd rows are shifted right by half a cell
//!   +---+---+           / \ / \
//!   |   |   |          |   |   |
//!   +---+---+         / \ / \ /
//!   |   |   |        |   |   |
//!   +---+---+         \ / \ /
//! ```
//!
//! A search sees either as rows of an array in which every step leads a fixed number of entries
//! on: rows of hexes are stored sheared, each pair of rows one entry farther to the left.

use super::Cell;
use crate::geom::{HALF_ROOT_3, Hexagon, Rect, Vec2};
use serde::{Deserialize, Serialize};

/// How the cells of a map lie, and where one can step from each.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Lattice {
    /// Squares that are left by their sides and their corners: eight neighbours. A diagonal step
    /// needs both cells beside it to be open.
    #[default]
    Squares,
    /// Squares that are left by their sides only: four neighbours.
    #[serde(rename = "squares-4")]
    Squares4,
    /// Hexagons with a corner at the top: six neighbours. Odd rows are shifted right by half a cell.
    Hexes,
}

/// The ground that a cell covers.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Outline {
    /// A square.
    Square(Rect),
    /// A hexagon.
    Hex(Hexagon),
}

impl Outline {
    /// Its corners, anticlockwise.
    #[must_use]
    pub fn corners(&self) -> Vec<Vec2> {
        match self {
            Outline::Square(Rect { min, max }) => {
                vec![*min, Vec2::new(max.x, min.y), *max, Vec2::new(min.x, max.y)]
            }
            Outline::Hex(hexagon) => hexagon.corners().to_vec(),
        }
    }

    /// The point of it that is nearest to `point`.
    #[must_use]
    pub fn nearest(&self, point: Vec2) -> Vec2 {
        match self {
            Outline::Square(rect) => rect.nearest(point),
            Outline::Hex(hexagon) => hexagon.nearest(point),
        }
    }

    /// The box round it.
    #[must_use]
    pub fn bounds(&self) -> Rect {
        match self {
            Outline::Square(rect) => *rect,
            Outline::Hex(hexagon) => hexagon.bounds(),
        }
    }

    /// Whether a disc touches it.
    #[must_use]
    pub fn touches_disc(&self, centre: Vec2, radius: f32) -> bool {
        self.nearest(centre).distance_squared(centre) <= radius * radius
    }
}

impl Lattice {
    /// All of them, each with the word for it in files.
    pub const WORDS: [(&'static str, Lattice); 3] = [
        ("squares", Lattice::Squares),
        ("squares-4", Lattice::Squares4),
        ("hexes", Lattice::Hexes),
    ];

    /// Whether its cells are squares.
    #[must_use]
    pub fn is_square(self) -> bool {
        self != Lattice::Hexes
    }

    /// The width and height of a map, in cell widths.
    pub(super) fn extent(self, width: u32, height: u32) -> Vec2 {
        let (width, height) = (width as f32, height as f32);
        match self {
            Lattice::Hexes => {
                let shift = if height > 1.0 { 0.5 } else { 0.0 };
                Vec2::new(
                    width + shift,
                    (height - 1.0) * HALF_ROOT_3 + 1.0 / HALF_ROOT_3,
                )
            }
            _ => Vec2::new(width, height),
        }
    }

    /// The middle of a cell, in cell widths.
    pub(super) fn centre(self, cell: Cell) -> Vec2 {
        match self {
            Lattice::Hexes => Vec2::new(
                cell.x as f32 + 0.5 + 0.5 * (cell.y & 1) as f32,
                cell.y as f32 * HALF_ROOT_3 + 0.5 / HALF_ROOT_3,
            ),
            _ => Vec2::new(cell.x as f32 + 0.5, cell.y as f32 + 0.5),
        }
    }

    /// The cell that holds a point, which is given in cell widths; on the map or not.
    pub(super) fn cell_at(self, point: Vec2) -> Cell {
        match self {
            Lattice::Hexes => {
                let row = ((point.y - 0.5 / HALF_ROOT_3) / HALF_ROOT_3).round() as i32;
                let in_row = |y: i32| {
                    let shift = 0.5 * (y & 1) as f32;
                    Cell::new((point.x - shift).floor() as i32, y)
                };
                // The cell whose middle is nearest; ties go up, as they do for squares.
                let distance = |cell: &Cell| self.centre(*cell).distance_squared(point);
                let rows = [row.saturating_add(1), row, row.saturating_sub(1)];
                let cells = rows.map(in_row).into_iter();
                cells
                    .min_by(|a, b| distance(a).total_cmp(&distance(b)))
                    .unwrap_or(Cell::new(0, 0))
            }
            _ => Cell::new(point.x.floor() as i32, point.y.floor() as i32),
        }
    }

    /// The ground that a cell covers, for cells of a width.
    pub(super) fn outline(self, cell: Cell, cell_m: f32) -> Outline {
        match self {
            Lattice::Hexes => Outline::Hex(Hexagon {
                centre: self.centre(cell) * cell_m,
                half: cell_m * 0.5,
            }),
            _ => {
                let min = Vec2::new(cell.x as f32, cell.y as f32) * cell_m;
                Outline::Square(Rect {
                    min,
                    max: min + Vec2::splat(cell_m),
                })
            }
        }
    }

    /// The cells that share a side with a cell, on the map or not.
    pub(crate) fn beside(self, cell: Cell) -> impl Iterator<Item = Cell> {
        let odd = cell.y & 1;
        let steps = match self {
            Lattice::Hexes => [
                (1, 0),
                (odd, 1),
                (odd - 1, 1),
                (-1, 0),
                (odd - 1, -1),
                (odd, -1),
            ],
            // The last two are left out.
            _ => [(1, 0), (0, 1), (-1, 0), (0, -1), (0, 0), (0, 0)],
        };
        let count = if self.is_square() { 4 } else { 6 };
        let steps = steps.into_iter().take(count);
        steps.map(move |(dx, dy)| Cell::new(cell.x + dx, cell.y + dy))
    }

    /// Number of entries by which the array of a map is wider than the map, from its number of rows.
    pub(super) fn shear(self, height: u32) -> i32 {
        match self {
            Lattice::Hexes => (height as i32 - 1) / 2,
            _ => 0,
        }
    }

    /// By how many entries a row is stored farther to the left than row 0.
    pub(super) fn shift(self, row: i32) -> i32 {
        match self {
            Lattice::Hexes => row >> 1,
            _ => 0,
        }
    }
}
