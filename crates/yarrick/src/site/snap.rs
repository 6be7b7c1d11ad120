//! Where a plan that follows the pointer lies.

use crate::geom::{Vec2, angle};
use crate::ground::Ground;
use core::f32::consts::{FRAC_PI_2, TAU};

/// The middle of a footprint of `size_m` metres along its facing and across it, near `at`, so that its sides lie on the
/// borders of cells; a side that is no whole number of cells long is rounded to one, but to one at least. On hexes: the
/// middle of the cell. A facing that is no quarter turn counts as the nearest one.
///
/// Near the rim the footprint stays on the map, if the map is as large as it is.
#[must_use]
pub fn snapped(ground: &Ground, size_m: Vec2, facing: f32, at: Vec2) -> Vec2 {
    let bounds = ground.bounds();
    if !ground.lattice().is_square() {
        return ground.centre(ground.nearest_cell(at));
    }
    let quarters = (angle::wrap(facing) / FRAC_PI_2).round() as i32;
    let size_m = if quarters % 2 == 0 {
        size_m
    } else {
        Vec2::new(size_m.y, size_m.x)
    };
    let cell_m = ground.cell_m();
    let half = (size_m / cell_m).round().max(Vec2::ONE) * (cell_m * 0.5);
    let at = at.min(bounds.max - half).max(bounds.min + half);
    ((at - half) / cell_m).round() * cell_m + half
}

/// A facing turned by some steps, of which `steps_a_turn` make a whole turn, anticlockwise; it comes to lie on a whole
/// step. With no steps a turn it stays as it is.
///
/// ```
/// use core::f32::consts::FRAC_PI_4;
/// use yarrick::site::turned;
///
/// assert_eq!(turned(0.1, 1, 8), FRAC_PI_4);
/// assert_eq!(turned(0.0, -1, 8), -FRAC_PI_4);
/// ```
#[must_use]
pub fn turned(facing: f32, by: i32, steps_a_turn: u16) -> f32 {
    if steps_a_turn == 0 {
        return angle::wrap(facing);
    }
    let steps = i64::from(steps_a_turn);
    let step = TAU / f32::from(steps_a_turn);
    let now = (angle::wrap(facing) / step).round() as i64;
    let after = (now + i64::from(by)).rem_euclid(steps);
    // By the shorter way, so that a turn back is exactly the negative of one there.
    let after = if after * 2 > steps {
        after - steps
    } else {
        after
    };
    angle::wrap(after as f32 * step)
}
