//! Following a path.

use proptest::prelude::*;
use yarrick::Vec2;
use yarrick::motion::{braked_speed, follow, way_left};

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
