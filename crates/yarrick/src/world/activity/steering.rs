//! What activities that steer a unit have in common: headings that are open, and going up to another.

use crate::geom::{Vec2, angle};
use crate::world::legs;
use crate::world::state::{State, Steer};
use core::f32::consts::PI;

/// How far ahead a steered unit looks for walls, in seconds of walking.
const LOOK_AHEAD_S: f32 = 0.6;

/// How many headings to either side are tried.
const HEADINGS: u32 = 8;

/// The heading nearest to another in which a unit meets no wall soon; the same where all are shut.
pub(super) fn open_heading(state: &State, row: usize, heading: f32) -> f32 {
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    let ahead_m = state.top_speed(row) * LOOK_AHEAD_S + radius;
    let view = state.ground_view(row);
    let is_open = |heading: f32| {
        let to = at + angle::direction(heading) * ahead_m;
        view.line_is_clear(at, to, radius)
    };
    let step = PI / HEADINGS as f32;
    let headings = (0..=HEADINGS).flat_map(|k| {
        let off = k as f32 * step;
        [heading + off, heading - off]
    });
    headings
        .into_iter()
        .find(|heading| is_open(*heading))
        .unwrap_or(heading)
}

/// Steers a unit in a direction at its speed, times a part.
pub(super) fn steer_towards(state: &mut State, row: usize, heading: f32, looks: Option<f32>) {
    let heading = open_heading(state, row, heading);
    let wish = angle::direction(heading) * state.top_speed(row);
    legs::steer(
        state,
        row,
        Steer {
            wish,
            looks,
            acceleration: None,
        },
    );
}

/// The heading from a unit to a point, in radians; where it stands there already, where it looks.
pub(super) fn heading_to(state: &State, row: usize, to: Vec2) -> f32 {
    let off = angle::of(to - state.units.position[row]);
    off.unwrap_or(state.units.facing[row])
}
