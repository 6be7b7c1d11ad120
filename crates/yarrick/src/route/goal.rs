//! What a way can be asked to lead to.

use super::reach::{cell_in_sight, end_at};
use crate::geom::{Block, Vec2, angle};
use crate::ground::{Cell, ClearanceMap, GroundView, Patch, Region};
use serde::{Deserialize, Serialize};
use smallvec::SmallVec;

/// What a way is to lead to.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub enum Goal {
    /// A point, or the nearest place to it that can be reached.
    Point(Vec2),
    /// The nearest of some points, by the way there: one search for all of them.
    Nearest(Vec<Vec2>),
    /// The nearest of some cells.
    Cells(Vec<Cell>),
    /// Within some metres of a point, from the body's middle. If that is more than 24 cells, places are looked for within 24 cells of
    /// the point, and of the place of the area that is nearest to the body; the way ends where it comes into the area.
    Within {
        /// The point.
        of: Vec2,
        /// How near.
        metres: f32,
    },
    /// Within range of a point, with nothing between that blocks sight. For ranges of more than 24 cells as for `Within`.
    InSight {
        /// The point.
        of: Vec2,
        /// How near, in metres.
        range_m: f32,
    },
    /// Up to a building: beside it, so that the edges are within a gap of each other.
    Beside {
        /// The ground that it covers.
        building: Block,
        /// The gap, in metres.
        gap_m: f32,
        /// Before which side, as the angle from its facing in radians: `0` is its front. The body's middle
        /// then lies beyond that side. `None` for any.
        side: Option<f32>,
    },
}

/// Cells from the middle of an area, and of a wide one from the place of it that is nearest to the body, that are looked at for where a
/// way may end. The way to them ends where it comes into the area, however large that is.
const MOST_REACH: f32 = 24.0;

/// Number of cells of an area that count as one settled cell; and the work of a line of sight from a cell to the middle of an area, in
/// settled cells.
const CELLS_A_CELL: u32 = 8;
const SIGHTS_A_CELL: u32 = 2;

/// Where a way may end: cells, and in each the point to stop at.
#[derive(Clone, Debug)]
pub(super) struct Ends {
    pub(super) cells: Vec<Cell>,
    points: Option<Vec<Vec2>>,
}

impl Goal {
    /// The point that stands for the goal where a single one is asked for.
    pub(super) fn middle(&self) -> Option<Vec2> {
        match self {
            Goal::Point(at) | Goal::Within { of: at, .. } | Goal::InSight { of: at, .. } => {
                Some(*at)
            }
            Goal::Beside { building, .. } => Some(building.centre),
            Goal::Nearest(points) => points.first().copied(),
            Goal::Cells(_) => None,
        }
    }

    /// Whether all its numbers are finite.
    pub(super) fn is_finite(&self) -> bool {
        match self {
            Goal::Point(at) => at.is_finite(),
            Goal::Nearest(points) => points.iter().all(|at| at.is_finite()),
            Goal::Cells(_) => true,
            Goal::Within { of, metres } => of.is_finite() && metres.is_finite(),
            Goal::InSight { of, range_m } => of.is_finite() && range_m.is_finite(),
            Goal::Beside {
                building,
                gap_m,
                side,
            } => {
                let lengths = [building.half.x, building.half.y, building.facing, *gap_m];
                building.centre.is_finite()
                    && lengths.into_iter().all(f32::is_finite)
                    && side.is_none_or(f32::is_finite)
            }
        }
    }

    /// Whether nothing is named at all.
    pub(super) fn is_empty(&self) -> bool {
        match self {
            Goal::Nearest(points) => points.is_empty(),
            Goal::Cells(cells) => cells.is_empty(),
            _ => false,
        }
    }

    /// Whether a body that stands at a point has come to the goal.
    #[must_use]
    pub fn is_met(&self, view: GroundView<'_>, radius: f32, at: Vec2) -> bool {
        let ground = view.ground();
        match self {
            Goal::Point(point) => at == *point,
            Goal::Nearest(points) => points.contains(&at),
            Goal::Cells(cells) => ground.cell_at(at).is_some_and(|cell| cells.contains(&cell)),
            Goal::Within { of, metres } => at.distance(*of) <= *metres,
            Goal::InSight { of, range_m } => at.distance(*of) <= *range_m && ground.sees(at, *of),
            Goal::Beside {
                building,
                gap_m,
                side,
            } => {
                building.distance(at) <= radius + gap_m
                    && side.is_none_or(|side| is_before(building, side, at))
            }
        }
    }

    /// The most work that it takes to find the cells in which a way may end, counted in cells that a search settles.
    pub(super) fn work_of_ends(&self, view: GroundView<'_>) -> u32 {
        let cells = |reach_m: f32| {
            let wide = (reach_m / view.ground().cell_m()).clamp(0.0, 4096.0) as u32 * 2 + 3;
            wide * wide
        };
        let most_m = MOST_REACH * view.ground().cell_m();
        // Of a wide area, two parts.
        let of_area = |reach_m: f32| cells(reach_m.min(most_m)) * (1 + u32::from(reach_m > most_m));
        match self {
            Goal::Point(_) => 0,
            Goal::Nearest(points) => points.len() as u32,
            Goal::Cells(cells) => cells.len() as u32 / CELLS_A_CELL,
            Goal::Within { metres, .. } => of_area(*metres) / CELLS_A_CELL,
            Goal::Beside {
                building, gap_m, ..
            } => cells(building.half.length() + gap_m) / CELLS_A_CELL,
            // A look for each cell.
            Goal::InSight { range_m, .. } => of_area(*range_m) * SIGHTS_A_CELL,
        }
    }

    /// The open cells in which a way may end.
    pub(super) fn ends(
        &self,
        view: GroundView<'_>,
        clearance: &ClearanceMap,
        (radius, from): (f32, Vec2),
    ) -> Ends {
        let ground = view.ground();
        let most_m = MOST_REACH * ground.cell_m();
        let around = |at: Vec2, reach: f32| {
            let reach = Vec2::splat(reach.max(0.0));
            let (low, high) = (
                ground.nearest_cell(at - reach),
                ground.nearest_cell(at + reach),
            );
            let patch = Patch::between(low, high).grown(1);
            patch.clipped(ground.width(), ground.height()).cells()
        };
        let met = |cell: &Cell| {
            clearance.is_open(*cell) && self.is_met(view, radius, ground.centre(*cell))
        };
        let area = |cells: &mut dyn Iterator<Item = Cell>| Ends {
            cells: cells.filter(met).collect(),
            points: None,
        };
        match self {
            Goal::Point(at) => Ends::at_points(view, clearance, radius, core::slice::from_ref(at)),
            Goal::Nearest(points) => Ends::at_points(view, clearance, radius, points),
            Goal::Cells(cells) => area(&mut cells.iter().copied()),
            Goal::Within { of, metres: reach } | Goal::InSight { of, range_m: reach } => {
                let rim = *of + (from - *of).clamp_length_max(*reach);
                let beyond = around(rim, most_m).filter(|_| *reach > most_m);
                area(&mut around(*of, reach.min(most_m)).chain(beyond))
            }
            Goal::Beside {
                building, gap_m, ..
            } => area(&mut around(
                building.centre,
                building.half.length() + radius + gap_m,
            )),
        }
    }
}

/// Whether a point lies beyond one side of a box.
fn is_before(building: &Block, side: f32, at: Vec2) -> bool {
    let turned = angle::direction(side);
    let reach = (turned * building.half).abs().element_sum();
    (at - building.centre).dot(angle::direction(building.facing + side)) >= reach
}

impl Ends {
    /// A point in a cell.
    pub(super) fn at_point(cell: Cell, point: Vec2) -> Ends {
        Ends {
            cells: vec![cell],
            points: Some(vec![point]),
        }
    }

    fn at_points(
        view: GroundView<'_>,
        clearance: &ClearanceMap,
        radius: f32,
        points: &[Vec2],
    ) -> Ends {
        let mut cells = Vec::new();
        let mut ends = Vec::new();
        for point in points {
            let own = view.ground().cell_at(*point);
            let own = own.filter(|cell| clearance.is_open(*cell));
            let cell = own.or_else(|| cell_in_sight(view, clearance, radius, *point, |_| true));
            if let Some(cell) = cell {
                let (cell, end) = end_at(view, clearance, radius, (cell, *point), |_| true);
                cells.push(cell);
                ends.push(end);
            }
        }
        Ends {
            cells,
            points: Some(ends),
        }
    }

    /// The parts of the ground in which they lie, each once.
    pub(super) fn regions(&self, clearance: &ClearanceMap) -> SmallVec<[Region; 4]> {
        let regions = self.cells.iter().filter_map(|cell| clearance.region(*cell));
        let mut regions: SmallVec<[Region; 4]> = regions.collect();
        regions.sort_unstable();
        regions.dedup();
        regions
    }

    /// Where to stop in the cell that was reached. In an area that is its middle; the way is cut short
    /// where it comes into the area.
    pub(super) fn point(&self, view: GroundView<'_>, cell: Cell) -> Vec2 {
        let known = self.cells.iter().position(|end| *end == cell);
        let point = known.and_then(|at| self.points.as_ref().map(|points| points[at]));
        point.unwrap_or_else(|| view.ground().centre(cell))
    }

    /// Whether a way may end anywhere in an area, and not only at points.
    pub(super) fn is_area(&self) -> bool {
        self.points.is_none()
    }
}
