//! Rounding corners side by side.

use yarrick::Vec2;
use yarrick::motion::Corner;

#[test]
fn who_comes_alongside_rounds_a_corner_farther_out() {
    let corner = Corner::between(Vec2::ZERO, Vec2::new(5.0, 0.0), Vec2::new(5.0, -5.0)).unwrap();
    assert_eq!(corner.outward_of(Vec2::new(1.0, 0.0)), 0.0);
    assert_eq!(
        corner.outward_of(Vec2::new(1.0, -1.0)),
        0.0,
        "inside of the bend"
    );
    let out = corner.outward_of(Vec2::new(1.0, 2.0));
    let place = corner.at + corner.outward * out;
    assert!((place - Vec2::new(7.0, 2.0)).length() < 1e-4, "{place}");
    assert!(!corner.is_behind(Vec2::new(6.0, 2.0)) && corner.is_behind(Vec2::new(7.5, 1.0)));
}

#[test]
fn a_straight_way_has_no_corner() {
    assert_eq!(Corner::between(Vec2::ZERO, Vec2::X, Vec2::X * 2.0), None);
    assert_eq!(Corner::between(Vec2::ZERO, Vec2::ZERO, Vec2::X), None);
}
