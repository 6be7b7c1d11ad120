//! Steering alone: each small function does what its name says, and nothing makes it give what is no number.

use core::f32::consts::{FRAC_PI_2, PI, TAU};
use proptest::prelude::*;
use yarrick::geom::{Vec2, angle};
use yarrick::motion::steering::{
    Drive, Driven, Moving, Round, Turning, Wander, Weave, arrive, blend_by_priority,
    blend_by_weight, drive, evade, flee, follow_path, keep_range, lead, orbit, pursue, seek,
    wander, weave,
};
use yarrick::rng::Stream;

const TICK_S: f32 = 0.05;

/// Walks from a point for so many seconds by what `wish` says, and gives all the places on the way.
fn walk(from: Vec2, seconds: u32, mut wish: impl FnMut(Vec2) -> Vec2) -> Vec<Vec2> {
    let mut at = from;
    let ticks = 0..seconds * 20;
    ticks
        .map(|_| {
            at += wish(at) * TICK_S;
            at
        })
        .collect()
}

fn anything() -> impl Strategy<Value = f32> {
    prop_oneof![
        6 => -50.0_f32..50.0,
        1 => Just(0.0),
        1 => prop_oneof![Just(f32::NAN), Just(f32::INFINITY), Just(f32::MAX), Just(-f32::MAX), Just(1e-30)],
    ]
}

fn any_point() -> impl Strategy<Value = Vec2> {
    (anything(), anything()).prop_map(|(x, y)| Vec2::new(x, y))
}

proptest! {
    #[test]
    fn no_wish_is_infinite_none_at_all_or_faster_than_asked(
        at in any_point(), target in any_point(), velocity in any_point(), a in anything(), b in anything(), speed in anything(),
    ) {
        let (me, them) = (Moving { at, velocity }, Moving { at: target, velocity });
        let how = Weave { amplitude_m: a, period_m: b, phase: a };
        let (mut leg, mut heading, mut turn) = (0, b, a);
        let stroll = Wander { turn_rate: a, bend_s: b };
        let wishes = [
            seek(at, target, speed),
            flee(at, target, speed),
            arrive(at, target, speed, a, b),
            keep_range(at, target, (a, b), a, speed),
            pursue(me, them, speed),
            evade(me, them, speed, a),
            weave(at, (target, velocity), &how, speed),
            orbit(at, target, a, Round::Left, speed),
            follow_path(at, &[target, velocity, at], &mut leg, a, speed),
            wander(&mut heading, &mut turn, &stroll, a, speed, 0.05),
            blend_by_weight(&[(a, velocity), (b, target)], speed),
            blend_by_priority(&[velocity, target, at], speed),
        ];
        for (k, wish) in wishes.iter().enumerate() {
            prop_assert!(wish.is_finite(), "{k}: {wish}");
            let most = if speed > 0.0 && speed.is_finite() { speed } else { 0.0 };
            if speed.is_nan() || speed <= 1e30 {
                prop_assert!(wish.length() <= most * 1.001 + 1e-3, "{k}: {wish} at {speed}");
            }
        }
    }

    #[test]
    fn nothing_drives_beyond_what_it_can(
        wishes in proptest::collection::vec((-9.0_f32..9.0, -9.0_f32..9.0), 1..60),
        speed in 0.5_f32..6.0, acceleration in 0.5_f32..20.0, braking in 0.5_f32..20.0, turn_rate in 0.3_f32..6.0,
        turning in 0..3, circle_m in 0.3_f32..4.0,
    ) {
        let turning = match turning {
            0 => Turning::Free,
            1 => Turning::OnTheSpot,
            _ => Turning::Driving { circle_m },
        };
        let how = Drive { speed, acceleration, braking, turn_rate, turning, ..Drive::default() };
        let mut now = Driven::default();
        for (x, y) in wishes {
            let next = drive(now, Vec2::new(x, y), None, &how, TICK_S);
            prop_assert!(next.velocity.length() <= speed * 1.001);
            let turned = angle::between(now.facing, next.facing).abs();
            prop_assert!(turned <= turn_rate * TICK_S + 1e-3);
            let change = (next.velocity.length() - now.velocity.length()).abs();
            prop_assert!(change <= acceleration.max(braking) * TICK_S + 1e-3);
            if turning != Turning::Free {
                let sideways = next.velocity.perp_dot(angle::direction(next.facing)).abs();
                prop_assert!(sideways < 1e-3, "it slides by {sideways}");
            }
            if let Turning::Driving { circle_m } = turning {
                prop_assert!(turned * circle_m <= next.velocity.length() * TICK_S + 1e-3, "turns on the spot");
            }
            now = next;
        }
    }

    #[test]
    fn one_that_is_led_is_met_there(
        gap in (-20.0_f32..20.0, -20.0_f32..20.0), velocity in (-4.0_f32..4.0, -4.0_f32..4.0), speed in 0.5_f32..8.0,
    ) {
        let quarry = Moving { at: gap.into(), velocity: velocity.into() };
        match lead(Vec2::ZERO, speed, quarry) {
            Some(point) => {
                let time = point.length() / speed;
                let there = quarry.at + quarry.velocity * time;
                prop_assert!(point.distance(there) < 0.02 * (1.0 + point.length()), "{point} and {there}");
            }
            None => prop_assert!(quarry.velocity.length() >= speed * 0.999, "a faster one always meets it"),
        }
    }
}

#[test]
fn one_arrives_at_the_stand_off_and_stays() {
    let goal = Vec2::new(10.0, 0.0);
    let places = walk(Vec2::ZERO, 12, |at| arrive(at, goal, 2.0, 3.0, 1.5));
    let end = *places.last().unwrap();
    assert!((end.distance(goal) - 1.5).abs() < 0.02, "{end}");
    assert!(places.iter().all(|at| at.x <= 8.52), "it never runs past");
}

#[test]
fn a_hunter_that_leads_is_quicker_than_one_that_runs_after() {
    let runner = |k: usize| Moving {
        at: Vec2::new(10.0, 0.15 * k as f32),
        velocity: Vec2::new(0.0, 3.0),
    };
    let ticks = |leads: bool| {
        let mut at = Vec2::ZERO;
        (0..2000).find(|k| {
            let me = Moving {
                at,
                velocity: Vec2::ZERO,
            };
            at += if leads {
                pursue(me, runner(*k), 3.3)
            } else {
                seek(at, runner(*k).at, 3.3)
            } * TICK_S;
            at.distance(runner(k + 1).at) < 0.3
        })
    };
    let (led, after) = (ticks(true).unwrap(), ticks(false).unwrap_or(2000));
    assert!(led * 4 < after * 3, "{led} ticks against {after}");
}

#[test]
fn one_evades_where_the_hunter_will_be_and_not_where_it_is() {
    let hunter = Moving {
        at: Vec2::ZERO,
        velocity: Vec2::new(4.0, 0.0),
    };
    let me = Moving {
        at: Vec2::new(4.0, 1.0),
        velocity: Vec2::ZERO,
    };
    let away = evade(me, hunter, 2.0, 3.0);
    assert!(away.y > away.x.abs(), "it leaves the hunter's line: {away}");
    let ahead = Moving {
        at: Vec2::new(4.0, 0.0),
        velocity: Vec2::ZERO,
    };
    assert!(
        evade(ahead, hunter, 2.0, 0.5).x > 1.9,
        "on the line it runs ahead"
    );
}

#[test]
fn a_weave_has_its_amplitude_and_period() {
    let how = Weave {
        amplitude_m: 1.5,
        period_m: 8.0,
        phase: 0.0,
    };
    let line = (Vec2::ZERO, Vec2::new(100.0, 0.0));
    let places = walk(Vec2::ZERO, 40, |at| weave(at, line, &how, 2.0));
    let highest = places.iter().map(|at| at.y).fold(0.0, f32::max);
    let lowest = places.iter().map(|at| at.y).fold(0.0, f32::min);
    assert!(
        (highest - 1.5).abs() < 0.15 && (lowest + 1.5).abs() < 0.15,
        "{lowest} to {highest}"
    );
    let crossings: Vec<f32> = places
        .windows(2)
        .filter(|w| w[0].y < 0.0 && w[1].y >= 0.0)
        .map(|w| w[1].x)
        .collect();
    for pair in crossings.windows(2) {
        assert!((pair[1] - pair[0] - 8.0).abs() < 0.4, "{crossings:?}");
    }
    let later = Weave {
        phase: FRAC_PI_2,
        ..how
    };
    assert!(
        weave(Vec2::new(0.0, 1.5), line, &later, 2.0).y.abs() < 0.1,
        "it is farthest left"
    );
}

#[test]
fn an_orbit_is_found_from_inside_and_outside_and_kept() {
    for (from, round) in [(9.0, Round::Left), (0.5, Round::Right), (0.0, Round::Left)] {
        let places = walk(Vec2::new(from, 0.0), 30, |at| {
            orbit(at, Vec2::ZERO, 4.0, round, 2.0)
        });
        let settled = &places[300..];
        assert!(
            settled.iter().all(|at| (at.length() - 4.0).abs() < 0.2),
            "from {from}"
        );
        let turns: f32 = settled.windows(2).map(|w| w[0].angle_to(w[1])).sum();
        let expected = if round == Round::Left { 1.0 } else { -1.0 } * 2.0 * 15.0 / 4.0;
        assert!((turns - expected).abs() < 0.6, "{turns} against {expected}");
    }
}

#[test]
fn a_path_is_followed_to_its_end_though_it_crosses_itself() {
    let path = [
        (0.0, 0.0),
        (10.0, 0.0),
        (10.0, 8.0),
        (4.0, 8.0),
        (4.0, -6.0),
    ]
    .map(Vec2::from);
    let mut leg = 0;
    let places = walk(Vec2::new(0.0, 0.3), 25, |at| {
        follow_path(at, &path, &mut leg, 0.8, 2.0)
    });
    let passes = |point: Vec2| places.iter().any(|at| at.distance(point) < 0.8);
    assert!(path.iter().all(|corner| passes(*corner)));
    assert!(places.last().unwrap().distance(path[4]) < 0.05 && leg == 3);
}

#[test]
fn a_range_is_kept_from_both_sides_without_trembling() {
    for from in [1.0, 20.0, 7.0] {
        let places = walk(Vec2::new(from, 0.0), 15, |at| {
            keep_range(at, Vec2::ZERO, (6.0, 8.0), 1.0, 2.0)
        });
        let end = places[places.len() - 1];
        assert!((5.9..=8.1).contains(&end.x), "{end}");
        assert!(end.distance(places[places.len() - 2]) < 0.01);
    }
}

#[test]
fn a_stroll_has_bends_and_no_corners_and_repeats() {
    let stroll = |seed: u64| {
        let mut stream = Stream::new(seed, "stroll");
        let (mut heading, mut turn) = (0.0, 0.0);
        let how = Wander {
            turn_rate: 1.5,
            bend_s: 1.0,
        };
        walk(Vec2::ZERO, 30, |_| {
            wander(
                &mut heading,
                &mut turn,
                &how,
                stream.between(-1.0, 1.0),
                1.0,
                TICK_S,
            )
        })
    };
    let places = stroll(4);
    assert_eq!(places, stroll(4));
    assert_ne!(places, stroll(5));
    let ways: Vec<Vec2> = places.windows(2).map(|w| w[1] - w[0]).collect();
    let turns = ways.windows(2).map(|w| w[0].angle_to(w[1]).abs() / TICK_S);
    assert!(turns.fold(0.0, f32::max) <= 1.51, "no corner");
    let bends = ways.iter().map(|way| angle::of(*way).unwrap());
    assert!(
        bends.fold(0.0, |most: f32, bend| most.max(bend.abs())) > 1.0,
        "it bends"
    );
}

#[test]
fn what_comes_first_wins_and_weights_share() {
    let (first, second) = (Vec2::new(-1.5, 0.0), Vec2::new(0.0, 2.0));
    assert_eq!(
        blend_by_priority(&[first, second], 2.0),
        Vec2::new(-1.5, 0.5)
    );
    assert_eq!(
        blend_by_weight(&[(1.0, first), (3.0, second), (-1.0, Vec2::ONE)], 9.0),
        Vec2::new(-0.375, 1.5)
    );
    assert_eq!(blend_by_weight(&[(0.0, first)], 9.0), Vec2::ZERO);
}

#[test]
fn one_backs_away_while_it_looks_ahead() {
    let how = Drive {
        speed: 2.0,
        turn_rate: TAU,
        ..Drive::default()
    };
    let mut now = Driven {
        velocity: Vec2::ZERO,
        facing: PI * 0.9,
    };
    for _ in 0..20 {
        now = drive(now, Vec2::new(-1.0, 0.0), Some(0.0), &how, TICK_S);
    }
    assert!(now.velocity.x < -0.99 && now.facing.abs() < 1e-3, "{now:?}");
    let wheels = Drive {
        turning: Turning::OnTheSpot,
        ..how
    };
    let mut now = Driven::default();
    for _ in 0..20 {
        now = drive(now, Vec2::new(-1.0, 0.0), Some(0.0), &wheels, TICK_S);
    }
    assert!(
        now.velocity.x < -0.99 && now.facing.abs() < 1e-3,
        "it rolls back: {now:?}"
    );
}

#[test]
fn a_sledge_backs_to_turn_round_and_a_body_on_feet_turns_on_the_spot() {
    let way = |turning: Turning| {
        let how = Drive {
            speed: 2.0,
            acceleration: 3.0,
            braking: 3.0,
            turn_rate: 2.0,
            turning,
            ..Drive::default()
        };
        let (mut at, mut now, mut farthest) = (Vec2::ZERO, Driven::default(), 0.0_f32);
        for _ in 0..400 {
            now = drive(now, seek(at, Vec2::new(-8.0, 0.0), 2.0), None, &how, TICK_S);
            at += now.velocity * TICK_S;
            farthest = farthest.max(at.x.max(at.y.abs()));
            if at.distance(Vec2::new(-8.0, 0.0)) < 0.3 {
                return Some(farthest);
            }
        }
        None
    };
    assert!(way(Turning::OnTheSpot).unwrap() < 0.2);
    assert!(way(Turning::Free).unwrap() < 0.2);
    let swung = way(Turning::Driving { circle_m: 1.0 }).unwrap();
    assert!((0.5..6.0).contains(&swung), "it needs room: {swung}");
}
