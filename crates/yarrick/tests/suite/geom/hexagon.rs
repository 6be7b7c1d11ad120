//! Hexagons against dense samples.

use proptest::prelude::*;
use yarrick::geom::{Hexagon, Vec2};

proptest! {
    #[test]
    fn the_distance_to_a_segment_equals_that_of_dense_samples(
        ax in -3.0_f32..3.0, ay in -3.0_f32..3.0, bx in -3.0_f32..3.0, by in -3.0_f32..3.0,
    ) {
        let hexagon = Hexagon { centre: Vec2::new(0.3, -0.2), half: 0.7 };
        let (a, b) = (Vec2::new(ax, ay), Vec2::new(bx, by));
        let sampled = (0..=2000).map(|k| a.lerp(b, k as f32 / 2000.0))
            .map(|at| hexagon.nearest(at).distance(at))
            .fold(f32::INFINITY, f32::min);
        let exact = hexagon.segment_distance_squared(a, b).sqrt();
        prop_assert!(exact <= sampled + 1e-5 && sampled <= exact + 0.005, "{} {}", exact, sampled);
    }
}
