//! Walking along a path, and coming to a stop at its end.

use crate::geom::Vec2;

/// Where a body gets to that walks `distance` metres from `position` along the points of
/// `path`, of which `path[*next]` is the next. What is left of the distance at a corner is
/// walked on behind it, so the length of the legs does not matter. Stops at the last point;
/// `*next` is then the length of the path.
#[must_use]
pub fn follow(position: Vec2, path: &[Vec2], next: &mut u32, distance: f32) -> Vec2 {
    let mut at = position;
    let mut left = distance.max(0.0);
    while let Some(&point) = path.get(*next as usize) {
        let gap = at.distance(point);
        if gap > left {
            return at + (point - at) * (left / gap);
        }
        left -= gap;
        at = point;
        *next += 1;
    }
    at
}

/// The metres left to walk from `position` along `path[next..]`. Costs one look per point.
#[must_use]
pub fn way_left(position: Vec2, path: &[Vec2], next: u32) -> f32 {
    let mut at = position;
    let mut left = 0.0;
    for &point in path.iter().skip(next as usize) {
        left += at.distance(point);
        at = point;
    }
    left
}

/// The speed at which a body can still stop `left` metres ahead when it slows by `braking`
/// metres a second squared, at most `top`; both in metres a second. A higher `braking` keeps
/// it fast for longer. `left` shrinks to nothing within a finite number of steps, as the speed
/// falls with its square root.
#[must_use]
pub fn braked_speed(left: f32, top: f32, braking: f32) -> f32 {
    (2.0 * braking.max(0.0) * left.max(0.0)).sqrt().min(top)
}
