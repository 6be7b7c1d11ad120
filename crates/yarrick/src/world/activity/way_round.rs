//! The way round a deposit to a slot on its other side: deposits are bodies, which routes do not go round, and those who
//! work there make a wall with it.
//!
//! ```text
//!        via ·   · · ·
//!          ·  w ───    ·      from o to the slot s: not through the deposit D or the
//!      o → · w  │D│  s  ·     workers w, but from point to point of a ring outside them
//!          ·    ───    ·
//! ```

use crate::geom::{Vec2, angle, segment_point_distance_squared};

/// How deep the straight way may touch others, in metres: what giving way does by itself.
const TOUCH_M: f32 = 0.05;

/// From one point of the ring to the next at most, in radians.
const STEP: f32 = 0.7;

/// How far outside the workers the ring lies, in metres.
const MARGIN_M: f32 = 0.2;

/// The next point of the way from one point to a slot round the middle of a deposit, for a body of a radius in metres; `None`
/// where the straight way is free. `others` are the slots where others stand.
pub(super) fn way_round(
    (from, slot, middle): (Vec2, Vec2, Vec2),
    radius_m: f32,
    mut others: impl Iterator<Item = Vec2>,
) -> Option<Vec2> {
    let passes = |at: Vec2, within_m: f32| {
        let most_m = (within_m - TOUCH_M).max(0.0);
        segment_point_distance_squared(from, slot, at) < most_m * most_m
    };
    let slot_m = slot.distance(middle);
    let is_blocked =
        passes(middle, slot_m - TOUCH_M) || others.any(|at| passes(at, 2.0 * radius_m));
    if !is_blocked {
        return None;
    }
    let (now, end) = (angle::of(from - middle)?, angle::of(slot - middle)?);
    let turn = angle::wrap(end - now);
    // Somebody stands right before the slot: there is no way round that.
    if turn.abs() < STEP * 0.25 {
        return None;
    }
    let ring_m = slot_m + 2.0 * radius_m + MARGIN_M;
    Some(middle + angle::direction(now + turn.clamp(-STEP, STEP)) * ring_m)
}
