//! Orders about other units: to follow them, and to walk up to them.

use crate::doors::Doors as _;
use crate::flats::{Flats, KEEPERS, NOBODY, TIDE, failed, move_to, patrol};
use yarrick::route::Shortfall;
use yarrick::world::{Doing, Failure};
use yarrick::{Action, Outcome, UnitId, Vec2, When};

fn follow(target: UnitId) -> Action {
    Action::follow(target)
}

fn approach(target: UnitId) -> Action {
    Action::approach(target)
}

/// The deepest overlap of any two units, in metres.
fn deepest_overlap(flats: &Flats) -> f32 {
    let units: Vec<UnitId> = flats.world.units().map(|unit| unit.id()).collect();
    let pairs = units
        .iter()
        .flat_map(|a| units.iter().map(move |b| (*a, *b)));
    let gaps = pairs.filter(|(a, b)| a < b).map(|(a, b)| flats.gap(a, b));
    -gaps.fold(0.0, f32::min)
}

#[test]
fn followers_keep_their_distance_and_do_not_push() {
    let mut flats = Flats::open(60);
    let sledge = flats.put("raker", KEEPERS, 20.0, 20.0);
    let troop: Vec<UnitId> = (0..12)
        .map(|k| {
            flats.put(
                "warden",
                KEEPERS,
                5.0 + (k % 4) as f32,
                17.0 + (k / 4) as f32,
            )
        })
        .collect();
    flats.order(&troop, follow(sledge));
    for _ in 0..300 {
        flats.run(0.05);
        assert_eq!(flats.at(sledge), Vec2::new(20.0, 20.0), "nobody pushes it");
    }
    let gaps: Vec<f32> = troop.iter().map(|unit| flats.gap(*unit, sledge)).collect();
    assert!(gaps.iter().all(|gap| (0.7..6.0).contains(gap)), "{gaps:?}");
    // In time they stand.
    assert!(
        troop
            .iter()
            .all(|unit| flats.world.unit(*unit).unwrap().doing() == Doing::Standing)
    );
    assert!(
        deepest_overlap(&flats) < 0.05,
        "{}",
        deepest_overlap(&flats)
    );

    flats.order(&[sledge], patrol(&[(50.0, 20.0), (50.0, 50.0)], false));
    let mut farthest = 0.0_f32;
    for _ in 0..1200 {
        flats.run(0.05);
        let gaps = troop.iter().map(|unit| flats.gap(*unit, sledge));
        farthest = farthest.max(gaps.fold(0.0, f32::max));
    }
    assert!(farthest < 9.0, "{farthest} m behind");
    assert!(troop.iter().all(|unit| flats.outcomes(*unit).is_empty()));
    flats.world.remove(sledge);
    flats.run(0.1);
    assert_eq!(flats.outcomes(troop[3]), [(1, failed(Failure::TargetGone))]);
}

#[test]
fn whom_one_follows_gets_through_its_followers() {
    let mut flats = Flats::open(30);
    let leader = flats.put("raker", KEEPERS, 15.0, 15.0);
    let troop: Vec<UnitId> = (0..8)
        .map(|k| {
            flats.put(
                "warden",
                KEEPERS,
                4.0 + (k % 2) as f32,
                11.0 + (k / 2) as f32 * 2.0,
            )
        })
        .collect();
    flats.order(&troop, follow(leader));
    flats.run(8.0);
    // Right through the middle of them.
    flats.order(&[leader], move_to(3.0, 15.0));
    flats.run(15.0);
    assert_eq!(flats.outcomes(leader), [(2, Outcome::Done)]);
}

#[test]
fn a_follower_waits_where_it_cannot_go_on_and_goes_round_when_it_can() {
    let mut flats = Flats::of(&[
        "......~.......",
        "......~.......",
        "......~.......",
        "......~.......",
        "..............",
    ]);
    let there = flats.put("raker", KEEPERS, 9.0, 3.5);
    let here = flats.put("warden", KEEPERS, 3.0, 3.5);
    flats.order(&[here], follow(there));
    flats.run(12.0);
    let gap = flats.gap(here, there);
    assert!(
        (0.5..2.5).contains(&gap),
        "it found the way round: {gap}, {}",
        flats.at(here)
    );

    let mut flats = Flats::of(&["......~.......", "......~.......", "......~......."]);
    let there = flats.put("raker", KEEPERS, 12.0, 1.5);
    let here = flats.put("warden", KEEPERS, 1.0, 1.5);
    flats.order(&[here], follow(there));
    flats.run(10.0);
    assert!(
        flats.at(here).x > 5.0,
        "as near as it gets: {}",
        flats.at(here)
    );
    assert!(flats.outcomes(here).is_empty());
}

#[test]
fn two_that_follow_each_other_come_together_and_stand() {
    let mut flats = Flats::open(30);
    let a = flats.put("warden", KEEPERS, 3.0, 10.0);
    let b = flats.put("warden", KEEPERS, 25.0, 10.0);
    flats.order(&[a], follow(b));
    flats.order(&[b], follow(a));
    flats.run(15.0);
    let gap = flats.gap(a, b);
    assert!((0.5..2.5).contains(&gap), "{gap}");
    assert!(
        [a, b]
            .iter()
            .all(|unit| flats.world.unit(*unit).unwrap().doing() == Doing::Standing)
    );
}

#[test]
fn an_approach_ends_beside_its_target_and_the_crowd_stands_round_it() {
    let mut flats = Flats::open(40);
    let pan = flats.put("pan", NOBODY, 25.0, 20.0);
    let rakers: Vec<UnitId> = (0..20)
        .map(|k| {
            flats.put(
                "raker",
                KEEPERS,
                4.0 + (k % 5) as f32,
                18.0 + (k / 5) as f32,
            )
        })
        .collect();
    flats.order(&rakers, approach(pan));
    flats.run(40.0);
    let beside = rakers
        .iter()
        .filter(|unit| flats.gap(**unit, pan) <= 0.4)
        .count();
    assert!(beside >= 5, "{beside} stand beside it");
    for raker in &rakers {
        match flats.outcomes(*raker)[..] {
            [(1, Outcome::Done)] => {}
            [(1, Outcome::CameShort { why, by_m })] => {
                assert_eq!(why, Shortfall::Crowded);
                assert!(by_m < 4.0, "{by_m}");
            }
            ref other => panic!("{other:?}"),
        }
    }
    assert!(deepest_overlap(&flats) < 0.05);
}

#[test]
fn an_approach_to_what_lies_beyond_a_creek_comes_short_and_says_so() {
    let mut flats = Flats::of(&["......~.......", "......~.......", "......~......."]);
    let pan = flats.put("pan", NOBODY, 9.0, 1.5);
    let raker = flats.put("raker", KEEPERS, 1.0, 1.5);
    flats.order(&[raker], approach(pan));
    flats.run(10.0);
    let [(1, Outcome::CameShort { why, by_m })] = flats.outcomes(raker)[..] else {
        panic!("{:?}", flats.outcomes(raker));
    };
    assert_eq!(why, Shortfall::CutOff);
    assert!((2.0..3.0).contains(&by_m), "{by_m}");
    // From there no way leads nearer at all.
    flats.order(&[raker], approach(pan));
    flats.run(0.5);
    let why = Failure::NoWay(Shortfall::CutOff);
    assert_eq!(flats.outcomes(raker).last(), Some(&(2, failed(why))));
}

#[test]
fn an_approach_to_what_is_faster_gives_up_in_the_end() {
    let mut flats = Flats::open(120);
    let raker = flats.put("raker", KEEPERS, 5.0, 60.0);
    let runner = flats.put("pilferer", TIDE, 15.0, 60.0);
    let round = patrol(&[(110.0, 60.0), (110.0, 5.0)], true);
    flats.command(TIDE, &[runner], round, When::Now);
    flats.order(&[raker], approach(runner));
    flats.run(30.0);
    assert_eq!(flats.outcomes(raker), [(1, failed(Failure::GotAway))]);
}

#[test]
fn a_foe_can_be_followed_but_strikes_its_shadow() {
    let mut flats = Flats::open(40);
    let hulk = flats.put("hulk", TIDE, 20.0, 20.0);
    let spy = flats.put("raker", KEEPERS, 10.0, 20.0);
    flats.order(&[spy], follow(hulk));
    flats.run(6.0);
    // The hulk's arm is shorter than the distance that a follower keeps.
    assert!(flats.lives(spy) && flats.gap(spy, hulk) < 2.5);
}
