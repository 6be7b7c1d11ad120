//! Projectiles: no speed skips a thin target, the first in the path is hit, and each ends once.

use proptest::prelude::*;
use yarrick::combat::{Flight, Flown, Projectile};
use yarrick::geom::{Rect, Vec2, first_touch_of_disc};
use yarrick::near::Near;

const TICK_S: f32 = 0.05;

fn map() -> Rect {
    Rect::from_corners(Vec2::ZERO, Vec2::splat(40.0))
}

fn index(at: &[Vec2]) -> Near {
    let mut near = Near::default();
    near.rebuild(map(), 2.0, at);
    near
}

/// Flies until the end, at most so many ticks. Gives what came of it, and the ticks.
fn flown(mut shot: Projectile, discs: &[(Vec2, f32)], most: u32) -> (Flown, u32) {
    let at: Vec<Vec2> = discs.iter().map(|(at, _)| *at).collect();
    let near = index(&at);
    for tick in 1..=most {
        let flown = shot.fly(TICK_S, map(), &near, 2.0, |number, from, step| {
            let (centre, radius) = discs[number as usize];
            Some((first_touch_of_disc(from, step, centre, radius)?, number))
        });
        if flown != Flown::On {
            return (flown, tick);
        }
    }
    (Flown::On, most)
}

/// The first disc in the path, by small steps along it, and how far off it is.
fn plainly(from: Vec2, to: Vec2, reach_m: f32, discs: &[(Vec2, f32)]) -> Option<(u32, f32)> {
    let ahead = (to - from).normalize();
    (0..=(reach_m * 200.0) as u32).find_map(|k| {
        let far = k as f32 / 200.0;
        let at = from + ahead * far;
        let hit = discs
            .iter()
            .position(|(centre, radius)| at.distance(*centre) <= *radius);
        hit.map(|number| (number as u32, far))
    })
}

proptest! {
    #[test]
    fn no_speed_skips_a_target_and_the_first_is_hit(
        discs in proptest::collection::vec((0.0_f32..40.0, 0.0_f32..40.0, 0.05_f32..2.0), 0..40),
        from in (1.0_f32..39.0, 1.0_f32..39.0), to in (1.0_f32..39.0, 1.0_f32..39.0),
        speed in prop_oneof![0.5_f32..20.0, 20.0_f32..2000.0], reach_m in 0.1_f32..60.0,
    ) {
        let discs: Vec<(Vec2, f32)> = discs.iter().map(|(x, y, r)| (Vec2::new(*x, *y), *r)).collect();
        let (from, to) = (Vec2::from(from), Vec2::from(to));
        let Some(shot) = Projectile::towards(from, to, Flight { speed, reach_m }) else {
            return Ok(());
        };
        let (end, _) = flown(shot, &discs, 10_000);
        // The small steps miss a graze that is shorter than they are: then only the end itself is checked.
        let expected = plainly(from, to, reach_m, &discs);
        match (end, expected) {
            (Flown::Hit { number, at }, Some((plain, far))) if number == plain => {
                prop_assert!((at.distance(from) - far).abs() < 0.02, "{at} {far}");
            }
            (Flown::Hit { number, at }, _) => {
                let (centre, radius) = discs[number as usize];
                prop_assert!((at.distance(centre) - radius).abs() < 0.01);
                prop_assert!(expected.is_none_or(|(_, far)| at.distance(from) <= far + 0.01));
            }
            (Flown::Spent { at }, expected) => {
                prop_assert!((at.distance(from) - reach_m).abs() < 0.01);
                prop_assert!(expected.is_none_or(|(_, far)| far > reach_m - 0.01), "{expected:?}");
            }
            (Flown::OffTheMap, expected) => {
                let left = |far| !map().contains(from + (to - from).normalize() * (far + 0.01));
                prop_assert!(expected.is_none_or(|(_, far)| left(far)), "{expected:?}");
            }
            (Flown::On, _) => prop_assert!(false, "it flies for ever"),
        }
    }
}

#[test]
fn a_shot_is_spent_at_the_end_of_its_reach_and_gone_off_the_map() {
    let flight = Flight {
        speed: 10.0,
        reach_m: 4.0,
    };
    let from = Vec2::new(20.0, 20.0);
    let east = Projectile::towards(from, Vec2::new(21.0, 20.0), flight).unwrap();
    let (end, ticks) = flown(east, &[], 100);
    let Flown::Spent { at } = end else {
        panic!("{end:?}")
    };
    assert!(
        (at - Vec2::new(24.0, 20.0)).length() < 1e-4 && ticks == 8,
        "{at} after {ticks}"
    );
    let from = Vec2::new(39.0, 20.0);
    let out = Projectile::towards(from, Vec2::new(40.0, 20.0), flight).unwrap();
    assert_eq!(flown(out, &[], 100).0, Flown::OffTheMap);
}

#[test]
fn of_two_that_are_touched_at_once_the_lower_id_is_hit() {
    let discs = [(Vec2::new(10.0, 10.5), 1.0), (Vec2::new(10.0, 9.5), 1.0)];
    let flight = Flight {
        speed: 100.0,
        reach_m: 30.0,
    };
    let shot = Projectile::towards(Vec2::new(2.0, 10.0), Vec2::new(9.0, 10.0), flight).unwrap();
    let near = index(&[discs[0].0, discs[1].0]);
    for ids in [[7, 3], [3, 7]] {
        let mut shot = shot;
        let mut end = Flown::On;
        while end == Flown::On {
            end = shot.fly(TICK_S, map(), &near, 1.0, |number, from, step| {
                let (centre, radius) = discs[number as usize];
                let part = first_touch_of_disc(from, step, centre, radius)?;
                Some((part, ids[number as usize]))
            });
        }
        let Flown::Hit { number, .. } = end else {
            panic!("{end:?}")
        };
        assert_eq!(ids[number as usize], 3);
    }
}

#[test]
fn what_has_no_direction_or_no_numbers_flies_nowhere() {
    let flight = Flight {
        speed: 10.0,
        reach_m: 4.0,
    };
    assert_eq!(Projectile::towards(Vec2::ONE, Vec2::ONE, flight), None);
    assert_eq!(Projectile::towards(Vec2::NAN, Vec2::ONE, flight), None);
    let (endless, back) = (f32::INFINITY, -1.0);
    for (speed, reach_m) in [(10.0, endless), (10.0, back), (0.0, 4.0), (f32::NAN, 4.0)] {
        let flight = Flight { speed, reach_m };
        assert_eq!(Projectile::towards(Vec2::ONE, Vec2::ZERO, flight), None);
    }
    for velocity in [Vec2::ZERO, Vec2::splat(f32::INFINITY), Vec2::NAN] {
        let shot = Projectile {
            position: Vec2::ONE,
            velocity,
            left_m: 5.0,
        };
        assert_eq!(flown(shot, &[], 2).0, Flown::Spent { at: Vec2::ONE });
    }
}
