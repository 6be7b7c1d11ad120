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

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_turn_takes_the_short_way_across_the_half_turn() {
        let turned = turn_towards(3.0, -3.0, 0.1);
        assert!((turned - 3.1).abs() < 1e-6, "{turned}");
        assert!((turn_towards(3.0, -3.0, 1.0) - -3.0).abs() < 1e-6);
    }

    #[test]
    fn wrapping_keeps_the_half_open_range() {
        for k in -50..50 {
            let wrapped = wrap(k as f32 * 0.7);
            assert!(wrapped > -PI && wrapped <= PI, "{k}: {wrapped}");
        }
        assert!((wrap(-PI) - PI).abs() < 1e-6);
        assert!(wrap(f32::NAN) == 0.0 && wrap(f32::INFINITY) == 0.0);
    }

    #[test]
    fn a_vector_too_short_to_point_has_no_angle() {
        assert_eq!(of(Vec2::ZERO), None);
        assert_eq!(of(Vec2::new(1.0, -0.0)).map(f32::to_bits), Some(0));
    }
}
