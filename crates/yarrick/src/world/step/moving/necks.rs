//! Narrow places: a unit backs out of one for another with right of way, and does not enter one through which another comes.

use crate::geom::Vec2;
use crate::ground::GroundView;
use crate::world::state::{Moves, State};

/// Maximum distance to the wall on each side of a unit in a narrow place, in its radii.
const NARROW_RADII: f32 = 6.0;

/// Distances ahead of a unit that backs off at which the place may be narrow, in its radii.
pub(super) const NARROW_AHEAD_RADII: [f32; 2] = [1.0, 2.0];

/// Whether there are walls on both sides of a unit that goes in a direction, or of a point some radii ahead of it.
pub(super) fn is_narrow(state: &State, row: usize, (ahead, radii): (Vec2, f32)) -> bool {
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    let ahead = ahead.normalize_or_zero();
    let aside = ahead.perp() * NARROW_RADII * radius;
    let at = at + ahead * (radii * radius);
    let view = state.ground_view(row);
    !view.line_is_clear(at, at + aside, radius) && !view.line_is_clear(at, at - aside, radius)
}

/// A meeting with an oncoming body.
#[derive(Clone, Copy, Debug)]
pub(super) struct Meeting {
    /// The row of the other.
    pub(super) other: u32,
    /// In how many seconds they touch.
    pub(super) after_s: f32,
}

/// Distances beyond the meeting point at which a unit looks for a neck, in its radii. A neck is longer than two, as seen by the middle of the
/// body.
const LOOKS_RADII: [f32; 3] = [0.0, 2.0, LAST_LOOK_RADII];
const LAST_LOOK_RADII: f32 = 4.0;

/// Whether a unit waits instead of entering a neck in which, or behind which, it would meet another unit of its side. A unit in the neck
/// goes first; if both are outside, the one whose group set out first.
pub(super) fn waits_before_a_neck(
    state: &State,
    moves: &Moves,
    (row, wishes): (usize, &[Vec2]),
    meeting: Meeting,
) -> bool {
    let units = &state.units;
    let other = meeting.other as usize;
    if moves.side[row] != moves.side[other] || moves.backs[row] {
        return false;
    }
    let turns = moves.turns();
    let ahead = wishes[row].normalize_or_zero();
    let neck = |at: Vec2, (row, ahead): (usize, Vec2), other: usize| {
        let view = state.ground_view(row);
        is_neck(view, (at, ahead), (units.radius[row], units.radius[other]))
    };
    let met_at = units.position[row] + wishes[row] * meeting.after_s;
    let is_neck_ahead = || {
        LOOKS_RADII.into_iter().any(|radii| {
            let at = met_at + ahead * (radii * units.radius[row]);
            neck(at, (row, ahead), other)
        })
    };
    let is_other_in_neck = || {
        let their_way = wishes[other].normalize_or_zero();
        neck(units.position[other], (other, their_way), row)
    };
    // In most places there are no walls, and one check is enough.
    let last = met_at + ahead * (LAST_LOOK_RADII * units.radius[row]);
    let reach = units.radius[row] + 2.0 * units.radius[other];
    let view = state.ground_view(row);
    !view.is_open_along(units.position[row], last, reach)
        && (turns.set_out_before(other, row) || is_other_in_neck())
        && is_neck_ahead()
        && !neck(units.position[row], (row, ahead), other)
}

/// Whether a passage is too narrow for two bodies side by side: one that goes through a point in a direction, and another. Both radii are
/// given.
fn is_neck(
    view: GroundView<'_>,
    (at, ahead): (Vec2, Vec2),
    (radius, other_radius): (f32, f32),
) -> bool {
    let aside = ahead.perp() * (2.0 * other_radius);
    // The room may be on the left, on the right, or partly on each side.
    let has_room =
        |left: f32| view.line_is_clear(at + aside * left, at + aside * (left - 1.0), radius);
    view.disc_is_clear(at, radius) && ![0.5, 0.0, 1.0, 0.25, 0.75].into_iter().any(has_room)
}
