//! Angles in radians, anticlockwise from +x, kept in `(-π, π]`.

use super::Vec2;
use core::f32::consts::{PI, TAU};

/// The angle of a direction, or `None` for a vector too short to have one.
#[must_use]
pub fn of(direction: Vec2) -> Option<f32> {
    (direction.length_squared() > 1e-12).then(|| libm::atan2f(direction.y, direction.x) + 0.0)
}

/// The unit vector that points at `angle`.
#[must_use]
pub fn direction(angle: f32) -> Vec2 {
    let (sin, cos) = libm::sincosf(angle);
    Vec2::new(cos, sin)
}

/// The same angle in `(-π, π]`. Angles that are not finite give `0`.
#[must_use]
pub fn wrap(angle: f32) -> f32 {
    if !angle.is_finite() {
        return 0.0;
    }
    // Most angles are less than a turn away, and the remainder is slow.
    let turned = if angle.abs() < TAU {
        angle
    } else {
        angle % TAU
    };
    let wrapped = if turned > PI {
        turned - TAU
    } else if turned <= -PI {
        turned + TAU
    } else {
        turned
    };
    wrapped + 0.0
}

/// The signed turn from `from` to `to` the short way round, in `(-π, π]`.
/// A half turn is anticlockwise.
#[must_use]
pub fn between(from: f32, to: f32) -> f32 {
    wrap(to - from)
}

/// Turns `from` towards `to` the short way round, by at most `limit` radians.
#[must_use]
pub fn turn_towards(from: f32, to: f32, limit: f32) -> f32 {
    let turn = between(from, to);
    if turn.abs() <= limit {
        wrap(to)
    } else {
        wrap(from + limit.max(0.0).copysign(turn))
    }
}

/// The angle a `fraction` of the way from `from` to `to`, the short way round.
#[must_use]
pub fn blend(from: f32, to: f32, fraction: f32) -> f32 {
    wrap(from + between(from, to) * fraction)
}
