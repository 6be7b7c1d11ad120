//! The map: cells with a terrain class each, heights, doors, links and buildings.
//!
//! Cells are squares or hexagons (see [`Lattice`]) on a grid whose lower left corner is the origin;
//! `x` grows to the right and `y` upwards, so the *first* row of a drawn map has the *largest* `y`.
//! All that lies outside the map counts as closed.
//!
//! The types to know: [`Ground`] (the map), [`Terrain`] (what a class of ground is like), [`Gait`]
//! (what all this is to those on foot, to sledges, to swimmers) and [`ClearanceMap`] (where a body of some
//! radius fits, and which parts hang together).
//!
//! ```
//! use yarrick::geom::Vec2;
//! use yarrick::ground::{Ground, ClearanceMap, Terrain};
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
//! assert!(ClearanceMap::new(&ground, 0.4).connected(west, east));
//! assert!(!ClearanceMap::new(&ground, 0.8).connected(west, east));
//! # Ok::<(), yarrick::ground::GroundError>(())
//! ```
//!
//! It knows nothing of units: who stands where is the business of [`near`](crate::near).

mod build;
mod change;
mod clear;
mod clearance;
mod crossed;
mod error;
mod gait;
mod glance;
mod height;
mod lattice;
mod layer;
mod lines;
mod link;
mod parts;
mod patch;
mod sight;
pub(crate) mod steps;
mod terrain;
mod view;

pub use change::{Door, DoorId, MAX_DOORS};
pub use clear::SKIN_M;
pub(crate) use clear::Sight;
pub(crate) use clearance::{Chart, Crossing, Exit, FAR, Spread, Task, Tile, Tract};
pub use clearance::{ClearanceMap, Region, Repair};
pub(crate) use crossed::cells_crossed;
pub use error::{GroundError, MAX_CELLS_A_SIDE, MAX_TERRAINS};
pub use gait::{Gait, GaitId, MAX_GAITS};
pub use glance::Glances;
pub use lattice::{Lattice, Outline};
pub(crate) use lines::Stop;
pub use link::{Link, LinkId, MAX_LINK_COST_M, MAX_LINKS};
pub use patch::Patch;
pub use terrain::Terrain;
pub use view::GroundView;

use crate::geom::{Rect, Vec2};
use layer::Layer;
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

/// The map.
#[derive(Clone, Debug, PartialEq)]
pub struct Ground {
    lattice: Lattice,
    width: u32,
    height: u32,
    cell_m: f32,
    terrains: Vec<Terrain>,
    /// The terrain class of each cell, row by row from below.
    classes: Vec<u8>,
    /// Heights at the cell centres in metres; empty for a flat map.
    heights: Vec<f32>,
    /// The lowest and the highest of them.
    height_range: (f32, f32),
    /// The first is on foot.
    gaits: Vec<Gait>,
    doors: Vec<Door>,
    links: Vec<Link>,
    /// How many buildings stand on each cell, and how many shut doors; empty where there are none.
    blocks: Vec<u16>,
    shut: Vec<u16>,
    /// One for each gait, worked out from all of the above.
    layers: Vec<Layer>,
}

impl Ground {
    /// How its cells lie.
    #[must_use]
    pub fn lattice(&self) -> Lattice {
        self.lattice
    }

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

    /// The width of a cell in metres, which is also the distance between the middles of two that
    /// share a side.
    #[must_use]
    pub fn cell_m(&self) -> f32 {
        self.cell_m
    }

    /// The box that the map covers, in metres.
    #[must_use]
    pub fn bounds(&self) -> Rect {
        Rect {
            min: Vec2::ZERO,
            max: self.lattice.extent(self.width, self.height) * self.cell_m,
        }
    }

    /// The terrain classes of this map, in the order in which they were given.
    #[must_use]
    pub fn terrains(&self) -> &[Terrain] {
        &self.terrains
    }

    /// The gaits of this map; the first is on foot.
    #[must_use]
    pub fn gaits(&self) -> &[Gait] {
        &self.gaits
    }

    /// The gait of a name.
    #[must_use]
    pub fn gait(&self, name: &str) -> Option<GaitId> {
        let at = self.gaits.iter().position(|gait| gait.name == name);
        at.map(|at| GaitId(at as u8))
    }

    /// The ground as a gait finds it; as on foot where there is no such gait.
    #[must_use]
    pub fn view(&self, gait: GaitId) -> GroundView<'_> {
        let known = usize::from(gait.0) < self.layers.len();
        let gait = if known { gait } else { GaitId::default() };
        let layer = &self.layers[usize::from(gait.0)];
        GroundView {
            ground: self,
            gait,
            layer: &layer.slowness,
            squares: &layer.squares,
        }
    }

    /// The ground as it is on foot.
    #[must_use]
    pub fn on_foot(&self) -> GroundView<'_> {
        self.view(GaitId::default())
    }

    /// The cell that holds the point, or `None` off the map. A point on the line between two
    /// cells belongs to the upper or the right one.
    #[must_use]
    pub fn cell_at(&self, point: Vec2) -> Option<Cell> {
        let scaled = point / self.cell_m;
        let cell = match self.lattice {
            Lattice::Hexes => self.lattice.cell_at(scaled),
            // A cast would take what lies below 0 for 0. Nothing is below or above what is no number.
            _ if scaled.x >= 0.0 && scaled.y >= 0.0 => Cell::new(scaled.x as i32, scaled.y as i32),
            _ => return None,
        };
        (point.is_finite() && self.contains(cell)).then_some(cell)
    }

    /// The cell nearest to the point: its own, or one on the rim for a point off the map.
    #[must_use]
    pub fn nearest_cell(&self, point: Vec2) -> Cell {
        let cell = match self.lattice {
            Lattice::Hexes => self.lattice.cell_at(point / self.cell_m),
            // Casts saturate, and all below 0 is clamped.
            _ => {
                let scaled = point / self.cell_m;
                Cell::new(scaled.x as i32, scaled.y as i32)
            }
        };
        Cell::new(
            cell.x.clamp(0, self.width as i32 - 1),
            cell.y.clamp(0, self.height as i32 - 1),
        )
    }

    /// The middle of a cell, in metres.
    #[must_use]
    pub fn centre(&self, cell: Cell) -> Vec2 {
        self.lattice.centre(cell) * self.cell_m
    }

    /// The ground that a cell covers.
    #[must_use]
    pub fn outline(&self, cell: Cell) -> Outline {
        self.lattice.outline(cell, self.cell_m)
    }

    /// The box round a cell, in metres.
    #[must_use]
    pub fn cell_rect(&self, cell: Cell) -> Rect {
        self.outline(cell).bounds()
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
        self.on_foot().is_open(cell)
    }

    /// [`GroundView::slowness`] on foot.
    #[must_use]
    pub fn slowness(&self, cell: Cell) -> Option<u8> {
        self.on_foot().slowness(cell)
    }

    /// [`GroundView::disc_is_clear`] on foot.
    #[must_use]
    pub fn disc_is_clear(&self, centre: Vec2, radius: f32) -> bool {
        self.on_foot().disc_is_clear(centre, radius)
    }

    /// [`GroundView::line_is_clear`] on foot.
    #[must_use]
    pub fn line_is_clear(&self, a: Vec2, b: Vec2, radius: f32) -> bool {
        self.on_foot().line_is_clear(a, b, radius)
    }

    fn index(&self, cell: Cell) -> Option<usize> {
        self.contains(cell)
            .then(|| cell.y as usize * self.width as usize + cell.x as usize)
    }

    /// How slow a cell is for a gait that goes at some speed on its terrain, in sixteenths.
    fn slowness_for(&self, gait: &Gait, cell: Cell, at: usize, speed: Option<f32>) -> u8 {
        let Some(speed) = speed else {
            return 0;
        };
        let mut slowness = 16.0 / speed;
        if !gait.flies {
            let holds = |counts: &[u16]| counts.get(at).is_some_and(|count| *count > 0);
            let shut = holds(&self.shut);
            if holds(&self.blocks) || (shut && !gait.opens_doors) {
                return 0;
            }
            if shut {
                slowness *= 2.0;
            }
            if gait.steepest.is_finite() || gait.climb > 0.0 {
                let slope = self.slope(cell);
                if slope > gait.steepest {
                    return 0;
                }
                slowness *= 1.0 + gait.climb * slope;
            }
        }
        // Casts saturate; nothing open may come to 0.
        ((slowness + 0.5) as u8).clamp(1, SLOWEST)
    }
}

/// The largest slowness of any cell; slower ground counts as this slow.
const SLOWEST: u8 = 240;
