//! Into which cells a body fits: how far each is from closed ground.

use crate::ground::{ClearanceMap, Ground, GroundView, Lattice, Patch, SKIN_M};

/// What bodies have in common that fit into the same cells: on squares the gap that they need, among
/// hexes the radius itself.
pub(super) fn class_of(ground: &Ground, radius: f32) -> u32 {
    match ground.lattice() {
        Lattice::Hexes => radius.max(0.0).to_bits(),
        _ => room_needed(ground, radius),
    }
}

/// Up to how many cells away a closed cell keeps the body out of one.
pub(super) fn span(ground: &Ground, radius: f32) -> i32 {
    (radius / ground.cell_m() * 1.2).ceil() as i32 + 1
}

/// The slowness of each cell of a patch of the map for a body of a radius, row by row from below;
/// `0` where it does not fit.
pub(super) fn weights(view: GroundView<'_>, radius: f32, patch: Patch) -> Vec<u8> {
    let mut weights: Vec<u8> = patch
        .cells()
        .map(|cell| view.slowness(cell).unwrap_or(0))
        .collect();
    if view.ground().lattice() == Lattice::Hexes {
        for (cell, weight) in patch.cells().zip(&mut weights) {
            if !view.disc_is_clear(view.ground().centre(cell), radius) {
                *weight = 0;
            }
        }
        return weights;
    }
    let room = room_needed(view.ground(), radius);
    if room > 1 {
        for (fits, weight) in cells_that_fit(view, room, patch)
            .into_iter()
            .zip(&mut weights)
        {
            if !fits {
                *weight = 0;
            }
        }
    }
    weights
}

/// The gap that a body needs between the middle of its cell and closed ground, as the square of
/// the distance in half cells.
///
/// From a cell's middle to a closed cell it is `a² + b²` with `a`, `b` in {0, 1, 3, 5 …}; the
/// smallest such number that is enough stands for every radius that needs it.
fn room_needed(ground: &Ground, radius: f32) -> u32 {
    let radius = if radius.is_nan() { 0.0 } else { radius };
    let halves = 2.0 * (radius - SKIN_M) / ground.cell_m();
    let halves = halves.clamp(0.0, 2.0 * ClearanceMap::MAX_RADIUS_CELLS);
    let enough = (halves * halves).max(1.0);
    let legs = || core::iter::once(0).chain((1..=33).step_by(2));
    legs()
        .flat_map(|a: u32| legs().map(move |b| a * a + b * b))
        .filter(|gap| *gap as f32 >= enough)
        .min()
        .unwrap_or(33 * 33)
}

/// Whether a closed cell keeps a body out of another cell, given their distance in columns and rows. Squares only.
pub(super) fn keeps_out(ground: &Ground, radius: f32, (columns, rows): (u32, u32)) -> bool {
    square_gap(columns) + square_gap(rows) < room_needed(ground, radius)
}

/// Which cells of a patch keep the gap, by two passes: up and down each column, then across each row.
fn cells_that_fit(view: GroundView<'_>, room: u32, patch: Patch) -> Vec<bool> {
    // Beyond this many cells nothing can be too near.
    let far = (1..).find(|d: &u32| square_gap(*d) >= room).unwrap_or(17);
    let ground = view.ground();
    let around = patch
        .grown(far as i32)
        .clipped(ground.width(), ground.height());
    let rows = rows_to_closed(view, around, far);
    let width = (around.max.x - around.min.x + 1) as usize;
    let on_map = |x: i32| (0..ground.width() as i32).contains(&x);
    let keeps_gap = |x: i32, y: i32| {
        let row = (y - around.min.y) as usize * width;
        (0..far as i32).all(|d| {
            let beside = square_gap(d as u32);
            [x - d, x + d].into_iter().all(|x| {
                if on_map(x) {
                    beside + square_gap(rows[row + (x - around.min.x) as usize]) >= room
                } else {
                    beside >= room
                }
            })
        })
    };
    let fits = |cell: crate::ground::Cell| view.is_open(cell) && keeps_gap(cell.x, cell.y);
    patch.cells().map(fits).collect()
}

/// The square of the distance, in half cells, from a cell's middle to a cell `d` rows away.
fn square_gap(d: u32) -> u32 {
    let halves = (2 * d).saturating_sub(1);
    halves * halves
}

/// For each cell of a patch, how many rows away the nearest closed cell of its column is, at most
/// `far`. Beyond the patch only what lies off the map is closed.
fn rows_to_closed(view: GroundView<'_>, patch: Patch, far: u32) -> Vec<u32> {
    let width = (patch.max.x - patch.min.x + 1) as usize;
    let mut rows: Vec<u32> = patch
        .cells()
        .map(|cell| if view.is_open(cell) { far } else { 0 })
        .collect();
    let top = view.ground().height() as i32 - 1;
    let beyond = |rim: bool| if rim { 1 } else { far };
    let (below, above) = (beyond(patch.min.y == 0), beyond(patch.max.y == top));
    for at in 0..rows.len() {
        let before = at.checked_sub(width).map_or(below, |at| rows[at] + 1);
        rows[at] = rows[at].min(before);
    }
    for at in (0..rows.len()).rev() {
        let before = rows.get(at + width).map_or(above, |row| row + 1);
        rows[at] = rows[at].min(before);
    }
    rows
}
