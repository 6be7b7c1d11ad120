//! Bodies that touch.

use yarrick::Vec2;
use yarrick::geom::Rect;
use yarrick::motion::{Bodies, Contacts, Turns};
use yarrick::near::Near;

/// Where bodies of half a metre get to with their steps, `left` telling who goes first.
fn moved(at: &[Vec2], steps: &[Vec2], left: &[f32], limits: &[f32]) -> Vec<Vec2> {
    moved_of(at, steps, (left, limits), vec![0; at.len()])
}

/// The same where they belong to several sides.
fn moved_of(
    at: &[Vec2],
    steps: &[Vec2],
    (left, limits): (&[f32], &[f32]),
    sides: Vec<u8>,
) -> Vec<Vec2> {
    let radii = vec![0.5; at.len()];
    let mut near = Near::default();
    near.rebuild(Rect::around(Vec2::ZERO, 10.0), 1.0, at);
    let bodies = Bodies {
        at,
        steps,
        radii: &radii,
        widest: 0.5,
        limits,
        farthest: 0.5,
        turns: Turns {
            remaining_m: left,
            groups: &vec![0; at.len()],
        },
        sides: &sides,
        oncoming: &vec![false; at.len()],
    };
    let mut contacts = Contacts::default();
    let all = vec![true; at.len()];
    for who in 0..at.len() as u32 {
        contacts.find(&bodies, &near, who, &all);
    }
    let mut given = steps.to_vec();
    contacts.solve(&mut given, |_, _| {});
    at.iter().zip(given).map(|(at, step)| *at + step).collect()
}

#[test]
fn two_bodies_share_their_overlap_and_end_beside_each_other() {
    let at = [Vec2::ZERO, Vec2::new(0.6, 0.0)];
    let moved = moved(&at, &[Vec2::ZERO; 2], &[0.0; 2], &[0.5; 2]);
    assert!((moved[0].distance(moved[1]) - 1.0).abs() < 0.01);
    assert!((moved[0].x + 0.2).abs() < 0.01, "both give half: {moved:?}");
}

#[test]
fn a_heap_in_one_point_falls_apart() {
    let mut at = vec![Vec2::ONE; 12];
    let still = vec![Vec2::ZERO; 12];
    for _ in 0..40 {
        at = moved(&at, &still, &[0.0; 12], &[0.5; 12]);
    }
    for (k, a) in at.iter().enumerate() {
        for b in &at[..k] {
            assert!(a.distance(*b) > 0.95, "{a} and {b}");
        }
    }
}

#[test]
fn who_goes_first_pushes_who_comes_behind_aside_and_not_the_other_way_round() {
    // The first heads up, and has the other beside its way.
    let at = [Vec2::ZERO, Vec2::new(0.5, 0.87)];
    let steps = [Vec2::new(0.0, 0.2), Vec2::new(-0.02, 0.02)];
    let first = moved(&at, &steps, &[1.0, 2.0], &[0.5; 2]);
    let last = moved(&at, &steps, &[2.0, 1.0], &[0.5; 2]);
    assert!(first[0].y > 0.17 && last[0].y < 0.12, "{first:?} {last:?}");
}

#[test]
fn who_stands_makes_room_for_its_own_and_not_for_others() {
    let at = [Vec2::ZERO, Vec2::new(1.0, 0.0)];
    let steps = [Vec2::new(0.3, 0.0), Vec2::ZERO];
    let limits = [0.5; 2];
    let own = moved_of(&at, &steps, (&[1.0; 2], &limits), vec![0, 0]);
    let other = moved_of(&at, &steps, (&[1.0; 2], &limits), vec![0, 1]);
    assert!(own[1].x > 1.02, "{own:?}");
    assert_eq!(other[1], at[1]);
    assert!(other[0].x.abs() < 1e-3, "{other:?}");
}

#[test]
fn what_cannot_be_moved_is_not() {
    let at = [Vec2::ZERO, Vec2::new(1.0, 0.0)];
    let steps = [Vec2::new(0.3, 0.0), Vec2::ZERO];
    let moved = moved(&at, &steps, &[1.0, 2.0], &[0.5, 0.0]);
    assert_eq!(moved[1], at[1]);
    assert!(moved[0].x.abs() < 1e-4, "{moved:?}");
}
