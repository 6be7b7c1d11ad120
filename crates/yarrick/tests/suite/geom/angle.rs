//! Angles.

use core::f32::consts::PI;
use yarrick::geom::Vec2;
use yarrick::geom::angle::{of, turn_towards, wrap};

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
