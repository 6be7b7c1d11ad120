//! Oriented boxes against dense samples.

use proptest::prelude::*;
use yarrick::geom::{Block, Rect, Vec2, angle};

proptest! {
    #[test]
    fn touching_equals_dense_sampling(
        x in -4.0_f32..4.0, y in -4.0_f32..4.0, facing in -7.0_f32..7.0,
        half in (0.1_f32..3.0, 0.1_f32..3.0),
        a in (-4.0_f32..4.0, -4.0_f32..4.0), b in (-4.0_f32..4.0, -4.0_f32..4.0),
    ) {
        let block = Block { centre: Vec2::new(x, y), half: half.into(), facing };
        let rect = Rect::from_corners(a.into(), b.into());
        let nearest = (0..61 * 61)
            .map(|k| Vec2::new((k % 61) as f32, (k / 61) as f32) / 60.0)
            .map(|part| rect.min + rect.size() * part)
            .map(|point| block.distance(point))
            .fold(f32::INFINITY, f32::min);
        // Between samples lies at most half a step.
        let step = rect.size().max_element() / 60.0;
        if block.touches_rect(&rect) {
            prop_assert!(nearest <= step, "{}", nearest);
        } else {
            prop_assert!(nearest > 0.0);
        }
    }
}

proptest! {
    #[test]
    fn the_gap_of_two_boxes_equals_dense_sampling_from_either_side(
        x in -6.0_f32..6.0, y in -6.0_f32..6.0, facing in (-7.0_f32..7.0, -7.0_f32..7.0),
        half in (0.1_f32..3.0, 0.1_f32..3.0), other in (0.1_f32..3.0, 0.1_f32..3.0),
    ) {
        let a = Block { centre: Vec2::new(x, y), half: half.into(), facing: facing.0 };
        let b = Block { centre: Vec2::ZERO, half: other.into(), facing: facing.1 };
        prop_assert_eq!(a.gap(&b), b.gap(&a));
        let along = angle::direction(b.facing);
        let nearest = (0..41 * 41)
            .map(|k| Vec2::new((k % 41) as f32, (k / 41) as f32) / 20.0 - Vec2::ONE)
            .map(|part| b.half * part)
            .map(|at| along * at.x + along.perp() * at.y)
            .map(|point| a.distance(point))
            .fold(f32::INFINITY, f32::min);
        let step = b.half.max_element() / 10.0;
        prop_assert!(a.gap(&b) <= nearest + 1e-4, "{} {}", a.gap(&b), nearest);
        prop_assert!(nearest <= a.gap(&b) + step, "{} {}", a.gap(&b), nearest);
        prop_assert_eq!(a.gap(&b) == 0.0, a.touches(&b));
    }
}

#[test]
fn corners_turn_with_the_facing() {
    let block = Block {
        centre: Vec2::new(5.0, 5.0),
        half: Vec2::new(2.0, 1.0),
        facing: core::f32::consts::FRAC_PI_2,
    };
    assert!(block.corners()[0].distance(Vec2::new(4.0, 7.0)) < 1e-5);
    assert!((block.distance(Vec2::new(5.0, 9.0)) - 2.0).abs() < 1e-5);
    assert_eq!(block.distance(Vec2::new(5.5, 6.5)), 0.0);
}
