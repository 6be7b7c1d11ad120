//! Whether one stands beside a building, or behind a wall beside it.

use super::cells_under;
use crate::geom::{Block, Vec2};
use crate::ground::GroundView;

/// Whether closed ground lies between a point and the nearest point of a footprint, other than the cells that the building
/// itself closes: a wall, behind which one cannot work at the building.
///
/// Complexity: the cells in between, times those under the footprint.
#[must_use]
pub fn is_walled_off(view: GroundView<'_>, footprint: &Block, from: Vec2) -> bool {
    let ground = view.ground();
    let to = footprint.nearest(from);
    let looks = (from.distance(to) / ground.cell_m() * 4.0).ceil().max(1.0) as u32;
    let is_closed = |k| {
        let cell = ground.cell_at(from.lerp(to, k as f32 / looks as f32));
        cell.filter(|cell| !view.is_open(*cell))
    };
    // The last point lies on the footprint's own edge, which may be the corner of a closed cell.
    let mut closed = (0..looks).filter_map(is_closed);
    closed.any(|cell| !cells_under(ground, footprint).any(|own| own == cell))
}
