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

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn the_way_walked_does_not_depend_on_the_legs(
            legs in proptest::collection::vec(0.0_f32..0.4, 1..40), step in 0.01_f32..0.6,
        ) {
            let mut x = 0.0;
            let path: Vec<Vec2> = legs.iter().map(|leg| { x += leg; Vec2::new(x, 0.0) }).collect();
            let (mut at, mut next, mut walked) = (Vec2::ZERO, 0, 0.0_f32);
            while (next as usize) < path.len() {
                at = follow(at, &path, &mut next, step);
                walked = (walked + step).min(x);
                prop_assert!((at.x - walked).abs() < 1e-3, "{} against {walked}", at.x);
                prop_assert!((way_left(at, &path, next) - (x - walked)).abs() < 1e-3);
            }
        }
    }

    #[test]
    fn a_body_that_brakes_comes_to_its_end_in_finite_time() {
        let (mut left, mut ticks) = (10.0_f32, 0);
        while left > 0.0 {
            left = (left - braked_speed(left, 2.0, 3.0) * 0.05).max(0.0);
            ticks += 1;
            assert!(ticks < 200, "{left} m are left after {ticks} ticks");
        }
        assert!(ticks > 100, "it cannot be faster than its top speed");
    }
}
