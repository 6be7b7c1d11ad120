//! How a single unit walks, tick by tick and between ticks.

use crate::flats::{Flats, KEEPERS, move_to};
use yarrick::Vec2;
use yarrick::world::Doing;

#[test]
fn a_lone_walker_keeps_its_speed_round_corners_and_slows_only_at_the_end() {
    let mut flats = Flats::of(&[
        "....................",
        "..............####..",
        "..............#..#..",
        "..............####..",
        "....................",
        "....................",
    ]);
    let unit = flats.put("warden", KEEPERS, 13.4, 3.5);
    let goal = Vec2::new(18.6, 3.5);
    flats.order(&[unit], move_to(goal.x, goal.y));
    let mut speeds = Vec::new();
    let mut legs = 0;
    for _ in 0..200 {
        flats.run(0.05);
        let view = flats.world.unit(unit).unwrap();
        legs = legs.max(view.way_ahead().len());
        if view.doing() == Doing::Going && view.position().distance(goal) > 0.8 {
            speeds.push(view.velocity().length());
        }
    }
    assert!(legs > 2, "the way has corners");
    // On a corner the way is longer than the straight line that the velocity is taken from.
    assert!(
        speeds.iter().all(|v| (1.4..2.001).contains(v)),
        "{speeds:?}"
    );
    let steady = speeds.iter().filter(|v| (**v - 2.0).abs() < 0.01).count();
    assert!(steady + legs >= speeds.len(), "{speeds:?}");
}

#[test]
fn poses_between_ticks_lie_on_the_way() {
    let mut flats = Flats::open(20);
    let unit = flats.put("warden", KEEPERS, 1.0, 1.0);
    flats.order(&[unit], move_to(12.0, 1.0));
    flats.run(0.5);
    let start = flats.at(unit);
    flats.run(0.05);
    let end = flats.at(unit);
    let middle = flats.world.pose(unit, 0.5).unwrap().position;
    assert!((middle - (start + end) * 0.5).length() < 1e-5);
    assert_eq!(flats.world.pose(unit, -3.0).unwrap().position, start);
    assert_eq!(flats.world.pose(unit, f32::NAN).unwrap().position, end);
}
