//! Keeping bodies out of closed ground.

use crate::geom::Vec2;
use crate::ground::{GroundView, Outline, SKIN_M};

/// How often a body in a corner is pushed out of the walls round it before it stays put.
const PUSHES: usize = 4;

/// Where a body gets to that wants to move from `from` to `to`: there, if the way is clear;
/// else along the wall as far as it can slide; else nowhere.
///
/// If `from` touches no closed ground, neither does the answer, nor the straight way to it.
#[must_use]
pub fn step_clear(view: GroundView<'_>, from: Vec2, to: Vec2, radius: f32) -> Vec2 {
    if view.line_is_clear(from, to, radius) {
        return to;
    }
    let beside = pushed_out(view, to, radius);
    let slides = [beside, Vec2::new(to.x, from.y), Vec2::new(from.x, to.y)];
    slides
        .into_iter()
        .find(|&slid| view.line_is_clear(from, slid, radius))
        .unwrap_or(from)
}

/// The point, moved out of the closed cells and back onto the map, the deepest first.
fn pushed_out(view: GroundView<'_>, point: Vec2, radius: f32) -> Vec2 {
    let reach = (radius - SKIN_M * 0.5).max(0.0);
    let room = view.ground().bounds().grown(-reach);
    let mut at = room.nearest(point);
    for _ in 0..PUSHES {
        let depth = |cell: &Outline| cell.nearest(at).distance_squared(at);
        let deepest = view
            .closed_cells_under(at, reach)
            .min_by(|a, b| depth(a).total_cmp(&depth(b)));
        let Some(cell) = deepest else {
            break;
        };
        let edge = cell.nearest(at);
        let gap = at.distance(edge);
        if gap <= 0.0 {
            // Its middle is inside: no side is known to be the way out.
            break;
        }
        at = room.nearest(edge + (at - edge) * (reach / gap));
    }
    at
}
