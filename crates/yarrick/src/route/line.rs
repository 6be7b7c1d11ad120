//! What a straight line over the ground costs.

use crate::geom::{Hexagon, Vec2};
use crate::ground::{Cell, Going, Lattice};

/// The cost of a clear straight line, in metres times slowness.
pub(super) fn line_cost(going: Going<'_>, a: Vec2, b: Vec2) -> f32 {
    match going.ground().lattice() {
        Lattice::Hexes => {
            // Lines between middles run along the sides of hexes: the slower side counts.
            let aside = (b - a).normalize_or_zero().perp() * (going.ground().cell_m() * 1e-3);
            let cost = |aside: Vec2| cost_over_hexes(going, a + aside, b + aside);
            cost(aside).max(cost(-aside))
        }
        _ => cost_over_squares(going, a, b),
    }
}

fn slowness(going: Going<'_>, cell: Cell) -> f32 {
    f32::from(going.slowness(cell).unwrap_or(u8::MAX))
}

/// From one grid line to the next (Amanatides and Woo, 1987).
fn cost_over_squares(going: Going<'_>, a: Vec2, b: Vec2) -> f32 {
    let ground = going.ground();
    let length = a.distance(b);
    let along = b - a;
    let cell_m = ground.cell_m();
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
    let mut steps_left = cell.x.abs_diff(last.x) + cell.y.abs_diff(last.y);
    let (mut cost, mut reached) = (0.0, 0.0_f32);
    loop {
        let leave = next_x.min(next_y).min(1.0).max(reached);
        let until = if steps_left == 0 { 1.0 } else { leave };
        cost += (until - reached) * length * slowness(going, cell);
        reached = until;
        if steps_left == 0 {
            return cost;
        }
        steps_left -= 1;
        if next_x < next_y {
            cell.x += if along.x > 0.0 { 1 } else { -1 };
            next_x += step_x;
        } else {
            cell.y += if along.y > 0.0 { 1 } else { -1 };
            next_y += step_y;
        }
    }
}

/// From side to side of each hexagon.
fn cost_over_hexes(going: Going<'_>, a: Vec2, b: Vec2) -> f32 {
    let ground = going.ground();
    let (length, along) = (a.distance(b), b - a);
    let half = ground.cell_m() * 0.5;
    let mut cell = ground.nearest_cell(a);
    let (mut cost, mut reached) = (0.0, 0.0_f32);
    // No straight line crosses more.
    let most = 2 * (ground.width() + ground.height()) + 4;
    for _ in 0..most {
        let from = a - ground.centre(cell);
        // The side by which the line leaves, and when.
        let leave = |side: Vec2| {
            let speed = along.dot(side);
            let gap = half * speed.signum() - from.dot(side);
            (gap / speed, side * speed.signum())
        };
        let crossed = Hexagon::SIDES
            .into_iter()
            .filter(|side| along.dot(*side) != 0.0);
        let first = crossed.map(leave).min_by(|x, y| x.0.total_cmp(&y.0));
        let until = first.map_or(1.0, |(t, _)| t).clamp(reached, 1.0);
        cost += (until - reached) * length * slowness(going, cell);
        reached = until;
        match first {
            Some((_, side)) if reached < 1.0 => {
                cell = ground.nearest_cell(ground.centre(cell) + side * ground.cell_m());
            }
            _ => break,
        }
    }
    cost
}
