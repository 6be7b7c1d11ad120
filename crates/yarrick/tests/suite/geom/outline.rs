//! Outlines of zones.

use proptest::prelude::*;
use yarrick::geom::{Outline, OutlineError, Vec2};

fn polygon(points: &[(f32, f32)]) -> Outline {
    Outline::Polygon {
        points: points.iter().map(|&point| point.into()).collect(),
    }
}

proptest! {
    #[test]
    fn a_box_drawn_as_a_polygon_is_as_deep(x in -5.0_f32..5.0, y in -5.0_f32..5.0) {
        let half_m = Vec2::new(3.0, 1.5);
        let drawn = polygon(&[(-3.0, -1.5), (3.0, -1.5), (3.0, 1.5), (-3.0, 1.5)]);
        let (a, b) = (Outline::Box { half_m }.edge(Vec2::new(x, y)), drawn.edge(Vec2::new(x, y)));
        prop_assert!((a.depth_m - b.depth_m).abs() < 1e-4, "{a:?} {b:?}");
    }

    #[test]
    fn a_step_inward_leads_deeper(x in -6.0_f32..6.0, y in -6.0_f32..6.0) {
        let bay = polygon(&[(-4.0, -4.0), (4.0, -4.0), (4.0, 4.0), (0.0, 0.5), (-4.0, 4.0)]);
        let at = Vec2::new(x, y);
        let edge = bay.edge(at);
        if edge.depth_m < 0.3 {
            let farther = bay.edge(at + edge.inward * 0.02);
            prop_assert!(farther.depth_m > edge.depth_m, "{edge:?} {farther:?}");
        }
    }
}

#[test]
fn the_largest_circle_in_a_right_angle_is_found() {
    // A triangle with sides 3, 4 and 5 holds a circle of radius 1.
    let found = polygon(&[(0.0, 0.0), (4.0, 0.0), (0.0, 3.0)]).inradius_m();
    assert!((0.99..=1.0001).contains(&found), "{found}");
}

#[test]
fn what_has_no_inside_is_refused() {
    let line = polygon(&[(0.0, 0.0), (1.0, 1.0), (2.0, 2.0)]);
    assert_eq!(line.check(), Err(OutlineError::NoInside));
    assert_eq!(
        polygon(&[(0.0, 0.0), (1.0, 0.0)]).check(),
        Err(OutlineError::TooFewPoints)
    );
    let circle = |radius_m| Outline::Circle { radius_m }.check();
    assert_eq!(circle(0.0), Err(OutlineError::NoInside));
    assert_eq!(circle(-1.0), Err(OutlineError::NoInside));
    assert_eq!(circle(f32::NAN), Err(OutlineError::NotFinite));
    assert_eq!(circle(2.0), Ok(()));
}
