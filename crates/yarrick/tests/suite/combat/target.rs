//! The choice of a target.

use proptest::prelude::*;
use yarrick::Vec2;
use yarrick::combat::foremost_target;
use yarrick::geom::Rect;
use yarrick::near::Near;

proptest! {
    #[test]
    fn the_target_is_what_sorting_all_of_them_puts_first(
        bodies in proptest::collection::vec((0_u8..20, 0_u8..20, 0_u8..3), 0..60),
        reach in 0.0_f32..15.0,
    ) {
        let positions: Vec<Vec2> = bodies
            .iter()
            .map(|(x, y, _)| Vec2::new(f32::from(*x), f32::from(*y)))
            .collect();
        let mut near = Near::default();
        near.rebuild(Rect::from_corners(Vec2::ZERO, Vec2::splat(20.0)), 2.0, &positions);
        let at = Vec2::new(9.0, 11.0);
        // The third of each is its preference; 2 is not to be struck. Ids run backwards.
        let worth = |k: u32| {
            let gap = positions[k as usize].distance(at);
            let preference = bodies[k as usize].2;
            (preference < 2).then_some((preference, gap, u32::MAX - k))
        };
        let found = foremost_target(&near, at, reach, worth);
        let mut all: Vec<u32> = (0..bodies.len() as u32)
            .filter(|k| positions[*k as usize].distance(at) <= reach && worth(*k).is_some())
            .collect();
        all.sort_by(|a, b| worth(*a).partial_cmp(&worth(*b)).unwrap());
        prop_assert_eq!(found, all.first().copied());
    }
}
