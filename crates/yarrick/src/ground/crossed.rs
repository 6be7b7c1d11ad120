//! The cells of squares that a straight line crosses.

use super::{Cell, Ground};
use crate::geom::Vec2;

/// The cells from one point to another, in order, each with the part of the line at which that leaves it:
/// from one grid line to the next (Amanatides and Woo, 1987). Both points must lie on the map, which must be of
/// squares. By rounding a line that runs along the edge of a cell may be taken to go through it.
pub(crate) fn cells_crossed(
    ground: &Ground,
    a: Vec2,
    b: Vec2,
) -> impl Iterator<Item = (Cell, f32)> + use<> {
    let along = b - a;
    let cell_m = ground.cell_m;
    let (mut cell, last) = (ground.nearest_cell(a), ground.nearest_cell(b));
    let axis = |from: f32, step: f32, at: i32| {
        let edge = if step > 0.0 { at + 1 } else { at } as f32 * cell_m;
        if step == 0.0 {
            (f32::INFINITY, f32::INFINITY)
        } else {
            ((edge - from) / step, cell_m / step.abs())
        }
    };
    let (mut next_x, step_x) = axis(a.x, along.x, cell.x);
    let (mut next_y, step_y) = axis(a.y, along.y, cell.y);
    let mut steps_left = Some(cell.x.abs_diff(last.x) + cell.y.abs_diff(last.y));
    let mut reached = 0.0_f32;
    core::iter::from_fn(move || {
        let left = steps_left?;
        let here = cell;
        steps_left = left.checked_sub(1);
        if left == 0 {
            return Some((here, 1.0));
        }
        reached = next_x.min(next_y).min(1.0).max(reached);
        if next_x < next_y {
            cell.x += if along.x > 0.0 { 1 } else { -1 };
            next_x += step_x;
        } else {
            cell.y += if along.y > 0.0 { 1 } else { -1 };
            next_y += step_y;
        }
        Some((here, reached))
    })
}
