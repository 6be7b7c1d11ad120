//! Everything that speaks against a building at some place.

use crate::geom::{Block, Vec2};
use crate::ground::{Cell, Ground, GroundView, Patch};

/// Two buildings may overlap by less than this, in metres: they stand wall to wall.
pub const WALL_TO_WALL_M: f32 = 1e-3;

/// Something that speaks against a building at some place.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Objection<Id> {
    /// A part of the footprint is off the map.
    OffTheMap,
    /// The footprint overlaps that of another building.
    Overlaps {
        /// The other building.
        building: Id,
    },
    /// The footprint covers closed ground.
    ClosedGround {
        /// The middle of a closed cell, in metres. There is one objection for each.
        at: Vec2,
    },
    /// A body touches the footprint.
    InTheWay {
        /// Whose body.
        body: Id,
    },
}

/// Everything that speaks against a footprint: the rim of the map, other buildings, closed cells, bodies, in this order.
/// They are worked out one by one as they are asked for, so that the first alone costs less than all.
///
/// `buildings` and `bodies` are the candidates near the footprint, each with its id; a body is given by its middle and
/// radius in metres. `view` is the ground for the gait to which it must be open.
///
/// Complexity: the buildings, the bodies, and the cells under the footprint.
pub fn objections<'a, Id: 'a>(
    view: GroundView<'a>,
    footprint: Block,
    buildings: impl IntoIterator<Item = (Id, Block)> + 'a,
    bodies: impl IntoIterator<Item = (Id, Vec2, f32)> + 'a,
) -> impl Iterator<Item = Objection<Id>> + 'a {
    let bounds = view.ground().bounds();
    let is_off = !footprint.corners().iter().all(|at| bounds.contains(*at));
    let inner = Block {
        half: footprint.half - Vec2::splat(WALL_TO_WALL_M),
        ..footprint
    };
    let overlapped = buildings
        .into_iter()
        .filter(move |(_, other)| inner.touches(other));
    let closed = cells_under(view.ground(), &footprint).filter(move |cell| !view.is_open(*cell));
    let touched = bodies
        .into_iter()
        .filter(move |(_, at, radius)| footprint.distance(*at) < *radius);
    is_off
        .then_some(Objection::OffTheMap)
        .into_iter()
        .chain(overlapped.map(|(building, _)| Objection::Overlaps { building }))
        .chain(closed.map(move |cell| {
            let at = view.ground().centre(cell);
            Objection::ClosedGround { at }
        }))
        .chain(touched.map(|(body, ..)| Objection::InTheWay { body }))
}

/// The cells that a footprint takes up: those whose middle it covers. A footprint narrower than a cell is widened to one
/// cell, so that nothing slips through a thin wall.
pub fn cells_under<'a>(ground: &'a Ground, block: &Block) -> impl Iterator<Item = Cell> + use<'a> {
    let least = Vec2::splat(ground.cell_m() * 0.5);
    let wide = Block {
        half: block.half.max(least),
        ..*block
    };
    let reach = Vec2::splat(wide.half.length());
    let low = ground.nearest_cell(wide.centre - reach);
    let high = ground.nearest_cell(wide.centre + reach);
    let cells = Patch::between(low, high).cells();
    cells.filter(move |cell| wide.distance(ground.centre(*cell)) <= 0.0)
}
