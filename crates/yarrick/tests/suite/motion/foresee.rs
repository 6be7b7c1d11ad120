//! Giving way in time.

use proptest::prelude::*;
use yarrick::Vec2;
use yarrick::geom::Rect;
use yarrick::motion::{Course, Turns, Walkers, foresee};
use yarrick::near::Near;

const TICK_S: f32 = 0.05;

fn courses(at: &[Vec2], wanted: &[Vec2], left: &[f32]) -> Vec<Course> {
    let limits: Vec<f32> = wanted.iter().map(|wish| wish.length() * TICK_S).collect();
    let mut near = Near::default();
    near.rebuild(Rect::around(Vec2::ZERO, 20.0), 2.0, at);
    let walkers = Walkers {
        at,
        velocity: wanted,
        wanted,
        limits: &limits,
        radii: &vec![0.5; at.len()],
        widest: 0.5,
        fastest: 2.0,
        turns: Turns {
            remaining_m: left,
            groups: &vec![0; at.len()],
        },
        gather: &vec![false; at.len()],
        leg_m: &vec![f32::INFINITY; at.len()],
        held_up: &vec![false; at.len()],
        backs: &vec![false; at.len()],
        waiting: &[],
        sides: &vec![0; at.len()],
        tick_s: TICK_S,
        of_many_sizes: &[],
        bound: wanted,
    };
    (0..at.len() as u32)
        .map(|who| foresee(&walkers, &near, who, 2.0))
        .collect()
}

proptest! {
    #[test]
    fn a_look_at_the_nearest_gives_the_course_of_a_look_at_everybody(
        walkers in proptest::collection::vec(
            (-9.0_f32..9.0, -9.0_f32..9.0, -3.2_f32..3.2, 0.0_f32..4.0, 0.1_f32..0.8, 0_u64..4), 2..60),
    ) {
        let legs: Vec<f32> = walkers.iter().map(|walker| walker.3 * 4.0).collect();
        let held_up: Vec<bool> = walkers.iter().map(|walker| walker.5 > 1).collect();
        let at: Vec<Vec2> = walkers.iter().map(|(x, y, ..)| Vec2::new(*x, *y)).collect();
        let wanted = walkers.iter().map(|(_, _, heading, speed, ..)| {
            // Some stand.
            yarrick::geom::angle::direction(*heading) * (speed - 0.5).max(0.0)
        });
        let wanted: Vec<Vec2> = wanted.collect();
        let limits: Vec<f32> = wanted.iter().map(|wish| wish.length() * TICK_S).collect();
        let radii: Vec<f32> = walkers.iter().map(|walker| walker.4).collect();
        let groups: Vec<u64> = walkers.iter().map(|walker| walker.5).collect();
        let sides: Vec<u8> = groups.iter().map(|group| u8::from(*group == 3)).collect();
        let mut near = Near::default();
        near.rebuild(Rect::around(Vec2::ZERO, 10.0), 1.6, &at);
        let walkers = Walkers {
            at: &at,
            velocity: &wanted,
            wanted: &wanted,
            limits: &limits,
            radii: &radii,
            widest: radii.iter().copied().fold(0.0, f32::max),
            fastest: wanted.iter().map(|wish| wish.length()).fold(0.0, f32::max),
            turns: Turns { remaining_m: &vec![30.0; at.len()], groups: &groups },
            gather: &vec![false; at.len()],
            leg_m: &legs,
            held_up: &held_up,
            backs: &vec![false; held_up.len()],
            waiting: &[],
            sides: &sides,
            tick_s: TICK_S,
            of_many_sizes: &[],
            bound: &wanted,
        };
        // Bodies so wide and fast that everybody has to be looked at.
        let farther = Walkers { widest: 50.0, fastest: 500.0, ..walkers };
        for who in 0..at.len() as u32 {
            let course = foresee(&walkers, &near, who, 4.0);
            prop_assert_eq!(course, foresee(&farther, &near, who, 4.0));
        }
    }
}

#[test]
fn two_that_meet_head_on_step_to_opposite_sides_in_time() {
    let at = [Vec2::ZERO, Vec2::new(3.0, 0.0)];
    let found = courses(&at, &[Vec2::X, -Vec2::X], &[9.0, 9.0]);
    let (a, b) = (found[0].velocity, found[1].velocity);
    assert!(a.y < 0.0 && b.y > 0.0, "each to its own right: {a} and {b}");
    assert!((a.length() - 1.0).abs() < 1e-3, "at the same pace");
}

#[test]
fn nobody_turns_aside_beyond_the_end_of_the_way() {
    let at = [Vec2::ZERO, Vec2::new(3.0, 0.0)];
    let found = courses(&at, &[Vec2::X, -Vec2::X], &[0.1, 9.0]);
    assert_eq!(found[0].velocity, Vec2::X);
}

#[test]
fn a_body_straight_behind_a_slower_one_steps_aside_to_slide_past_it() {
    let slow = Vec2::new(0.4, 0.0);
    let behind = |off: f32, slow: Vec2| {
        let at = [Vec2::ZERO, Vec2::new(1.4, off)];
        courses(&at, &[Vec2::X, slow], &[9.0, 8.0])[0].velocity
    };
    assert!(behind(0.0, slow).y < -0.1);
    assert!(behind(-0.35, slow).y > 0.0, "the shorter way round");
    assert_eq!(behind(0.5, slow), Vec2::X, "it slides past");
    assert_eq!(behind(0.0, Vec2::X * 0.9), Vec2::X, "hardly slower");
}

#[test]
fn who_comes_up_behind_does_not_press() {
    let at = [Vec2::ZERO, Vec2::new(1.02, 0.0)];
    let slow = Vec2::new(0.2, 0.0);
    let found = courses(&at, &[Vec2::X, slow], &[5.0, 4.0]);
    assert!(
        found[0].velocity.x < 0.4 && found[0].queues,
        "{:?}",
        found[0]
    );
    assert_eq!(found[1].velocity, slow);
    assert!(!found[1].queues);
}

/// The speed of a body that stands behind another, ahead of it to its left and as good as touching it, and wants to go at 1 m/s.
fn speed_behind(ahead: Vec2, radii: [f32; 2], of_many_sizes: &[u64]) -> f32 {
    let at = [Vec2::ZERO, Vec2::new(0.2, radii[0] + radii[1])];
    let mut near = Near::default();
    near.rebuild(Rect::around(Vec2::ZERO, 20.0), 2.0, &at);
    let walkers = Walkers {
        at: &at,
        velocity: &[Vec2::ZERO, ahead],
        wanted: &[Vec2::X; 2],
        limits: &[2.0 * TICK_S; 2],
        radii: &radii,
        widest: radii[0].max(radii[1]),
        fastest: 1.0,
        turns: Turns {
            remaining_m: &[5.0, 4.0],
            groups: &[7; 2],
        },
        gather: &[false; 2],
        leg_m: &[f32::INFINITY; 2],
        held_up: &[false; 2],
        backs: &[],
        waiting: &[],
        sides: &[0; 2],
        tick_s: TICK_S,
        of_many_sizes,
        bound: &[Vec2::X; 2],
    };
    foresee(&walkers, &near, 0, 1.0).velocity.length()
}

#[test]
fn who_is_in_a_queue_goes_as_those_ahead_do_and_speeds_up_little_by_little() {
    let alike = [0.5, 0.5];
    let stands = speed_behind(Vec2::ZERO, alike, &[]);
    assert!(stands > 0.0 && stands <= TICK_S, "{stands}");
    let walks = speed_behind(Vec2::new(0.6, 0.0), alike, &[]);
    assert!((0.6..=0.6 + TICK_S).contains(&walks), "{walks}");
    assert!(
        speed_behind(Vec2::ZERO, [0.5, 0.8], &[]) > 0.9,
        "of other sizes"
    );
    assert!(
        speed_behind(Vec2::ZERO, alike, &[3, 7]) > 0.9,
        "in a group of many sizes"
    );
}

#[test]
fn who_wants_to_stand_stands_whoever_comes() {
    let at = [Vec2::ZERO, Vec2::new(1.5, 0.0)];
    let found = courses(&at, &[Vec2::ZERO, -Vec2::X], &[5.0, 4.0]);
    assert_eq!(found[0].velocity, Vec2::ZERO);
    assert!(found[1].velocity.y > 0.0, "the other goes round: {found:?}");
}
