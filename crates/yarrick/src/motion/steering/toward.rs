//! To a point, and away from one.

use super::{along, sound};
use crate::geom::Vec2;
use crate::motion::braked_speed;

/// The velocity straight to `target` at full `speed`, in metres a second: a body that keeps to it runs through. Zero at
/// the target itself.
#[must_use]
pub fn seek(at: Vec2, target: Vec2, speed: f32) -> Vec2 {
    along(target - at, speed)
}

/// The velocity straight away from `threat` at full `speed`, in metres a second. Zero where they are in one place.
#[must_use]
pub fn flee(at: Vec2, threat: Vec2, speed: f32) -> Vec2 {
    along(at - threat, speed)
}

/// The velocity to `target` of one that stops there, or `stand_off_m` metres short of it, braking at `braking` metres a
/// second squared; with an infinite `braking` it comes at full speed to the end. Who is nearer already stays.
///
/// For an object of some size, `stand_off_m` is its radius, plus one's own, plus the gap to keep.
#[must_use]
pub fn arrive(at: Vec2, target: Vec2, speed: f32, braking: f32, stand_off_m: f32) -> Vec2 {
    let left = at.distance(target) - stand_off_m.max(0.0);
    if left > 0.0 && speed > 0.0 {
        along(target - at, braked_speed(left, speed, braking))
    } else {
        Vec2::ZERO
    }
}

/// The velocity of one that stays between `nearest_m` and `farthest_m` of a point: away from it when too near, to it
/// when too far, and zero in between. It slows down over `soft_m` metres before the range, so that nobody trembles at
/// its edge.
///
/// If the range has no inside, its middle is kept.
#[must_use]
pub fn keep_range(
    at: Vec2,
    point: Vec2,
    (nearest_m, farthest_m): (f32, f32),
    soft_m: f32,
    speed: f32,
) -> Vec2 {
    let middle = (nearest_m + farthest_m) * 0.5;
    let (nearest, farthest) = (nearest_m.min(middle), farthest_m.max(middle));
    let distance = at.distance(point);
    // Above zero: too far.
    let out = (distance - farthest).max(0.0) - (nearest - distance).max(0.0);
    let part = match soft_m > 0.0 {
        true => (out / soft_m).clamp(-1.0, 1.0),
        false if out == 0.0 => 0.0,
        false => out.signum(),
    };
    sound((point - at).normalize_or_zero() * (speed.max(0.0) * part))
}
