//! What a straight line over the ground costs.

use crate::geom::{Hexagon, Vec2};
use crate::ground::{Cell, GroundView, Lattice, cells_crossed};

/// The cost of a clear straight line, in metres times slowness.
pub(super) fn line_cost(view: GroundView<'_>, a: Vec2, b: Vec2) -> f32 {
    match view.ground().lattice() {
        Lattice::Hexes => {
            // Lines between middles run along the sides of hexes: the slower side counts.
            let aside = (b - a).normalize_or_zero().perp() * (view.ground().cell_m() * 1e-3);
            let cost = |aside: Vec2| cost_over_hexes(view, a + aside, b + aside);
            cost(aside).max(cost(-aside))
        }
        _ => cost_over_squares(view, a, b),
    }
}

fn slowness(view: GroundView<'_>, cell: Cell) -> f32 {
    f32::from(view.slowness(cell).unwrap_or(u8::MAX))
}

fn cost_over_squares(view: GroundView<'_>, a: Vec2, b: Vec2) -> f32 {
    let length = a.distance(b);
    let (mut cost, mut reached) = (0.0, 0.0_f32);
    for (cell, until) in cells_crossed(view.ground(), a, b) {
        cost += (until - reached) * length * slowness(view, cell);
        reached = until;
    }
    cost
}

/// From side to side of each hexagon.
fn cost_over_hexes(view: GroundView<'_>, a: Vec2, b: Vec2) -> f32 {
    let ground = view.ground();
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
        cost += (until - reached) * length * slowness(view, cell);
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
