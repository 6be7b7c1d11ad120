//! What activities that steer a unit have in common: headings that are open, and going up to another.

use crate::geom::{Vec2, angle};
use crate::world::legs;
use crate::world::state::{State, Steer};
use core::f32::consts::PI;

/// How far ahead a steered unit looks for walls, in seconds of walking.
const LOOK_AHEAD_S: f32 = 0.6;

/// How many headings to either side are tried.
const HEADINGS: u32 = 8;

/// How much a heading counts that is off where a unit looks, beside one that is off where it wants to go: so that it does
/// not turn to and fro in a corner.
const KEEP_ON: f32 = 0.4;

/// The heading nearest to another, and to where a unit looks, in which it meets no wall soon; the same where all are shut.
pub(super) fn open_heading(state: &State, row: usize, heading: f32) -> f32 {
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    let ahead_m = state.top_speed(row) * LOOK_AHEAD_S + radius;
    let view = state.ground_view(row);
    let is_open = |heading: f32| {
        let to = at + angle::direction(heading) * ahead_m;
        view.line_is_clear(at, to, radius)
    };
    if is_open(heading) {
        return heading;
    }
    let step = PI / HEADINGS as f32;
    let headings = (1..=HEADINGS).flat_map(|k| {
        let off = k as f32 * step;
        [heading + off, heading - off]
    });
    let facing = state.units.facing[row];
    let cost = |other: f32| {
        let (off, turn) = (
            angle::between(heading, other),
            angle::between(facing, other),
        );
        off.abs() + KEEP_ON * turn.abs()
    };
    let open = headings.filter(|heading| is_open(*heading));
    let best = open.min_by(|a, b| cost(*a).total_cmp(&cost(*b)));
    best.unwrap_or(heading)
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
