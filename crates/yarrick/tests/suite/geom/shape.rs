//! Boxes and segments against dense samples.

use proptest::prelude::*;
use yarrick::geom::{Rect, Vec2, segment_rect_distance_squared};

fn point() -> impl Strategy<Value = Vec2> {
    (-8.0_f32..8.0, -8.0_f32..8.0).prop_map(|(x, y)| Vec2::new(x, y))
}

proptest! {
    #[test]
    fn distance_to_a_box_equals_dense_sampling(
        a in point(), b in point(), c in point(), d in point(),
    ) {
        let rect = Rect::from_corners(c, d);
        let exact = segment_rect_distance_squared(a, b, &rect).sqrt();
        let sampled = (0..=2000)
            .map(|k| a.lerp(b, k as f32 / 2000.0))
            .map(|p| rect.nearest(p).distance(p))
            .fold(f32::INFINITY, f32::min);
        prop_assert!(exact <= sampled + 1e-4);
        prop_assert!(sampled - exact < 0.01, "{exact} against {sampled}");
    }

    #[test]
    fn a_box_is_the_same_from_any_pair_of_corners(a in point(), b in point(), p in point()) {
        let one = Rect::from_corners(a, b);
        let other = Rect::from_corners(Vec2::new(a.x, b.y), Vec2::new(b.x, a.y));
        prop_assert_eq!(one.contains(p), other.contains(p));
    }
}
