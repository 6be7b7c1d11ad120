//! Where to aim so that a projectile meets a target that moves.

use crate::geom::Vec2;

/// The point at which a projectile of `speed` metres a second, fired at `from`, meets a target that is at `target` and
/// goes on with `velocity`, in metres a second. The target itself where it cannot be caught up with.
///
/// Solves `|target + velocity t - from| = speed t` for the smallest `t` above 0.
///
/// ```
/// use yarrick::combat::lead;
/// use yarrick::geom::Vec2;
///
/// let target = Vec2::new(3.0, 0.0);
/// assert_eq!(lead(Vec2::ZERO, 5.0, target, Vec2::new(0.0, 4.0)), Vec2::new(3.0, 4.0));
/// assert_eq!(lead(Vec2::ZERO, 5.0, target, Vec2::new(6.0, 0.0)), target, "it gets away");
/// ```
#[must_use]
pub fn lead(from: Vec2, speed: f32, target: Vec2, velocity: Vec2) -> Vec2 {
    let gap = target - from;
    let (a, b, c) = (
        velocity.length_squared() - speed * speed,
        gap.dot(velocity),
        gap.length_squared(),
    );
    // a t² + 2 b t + c = 0, in a form that is exact where a is near 0.
    let root = (b * b - a * c).max(0.0).sqrt();
    let t = [c / (root - b), -c / (root + b)];
    let soonest = t.into_iter().filter(|t| *t > 0.0 && t.is_finite());
    let soonest = soonest.fold(f32::INFINITY, f32::min);
    if b * b < a * c || soonest == f32::INFINITY {
        return target;
    }
    target + velocity * soonest
}
