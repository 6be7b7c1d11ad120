//! How orders end: where units look, how near they come, how far they keep, and what is struck on the ground.

use crate::doors::Doors as _;
use crate::flats::{Flats, KEEPERS, TIDE};
use yarrick::combat::{Flight, Weapon};
use yarrick::world::{Finish, Refusal};
use yarrick::{
    Action, Event, Ground, Kind, KindId, Outcome, Side, SideId, Terrain, UnitId, Vec2, World,
    WorldSetup,
};

fn finish(x: f32, y: f32, facing: Option<f32>, within_m: f32) -> Action {
    Action::Move {
        to: Vec2::new(x, y),
        finish: Finish { facing, within_m },
    }
}

#[test]
fn a_group_looks_where_its_move_says() {
    let mut flats = Flats::open(30);
    let wardens: Vec<UnitId> = (0..4)
        .map(|k| flats.put("warden", KEEPERS, 4.0, 4.0 + 1.2 * k as f32))
        .collect();
    flats.order(&wardens, finish(20.0, 15.0, Some(-1.0), 0.0));
    flats.run(20.0);
    for unit in &wardens {
        assert_eq!(flats.outcomes(*unit), [(1, Outcome::Done)]);
        let facing = flats.world.unit(*unit).unwrap().facing();
        assert!((facing + 1.0).abs() < 0.05, "{facing}");
    }
}

#[test]
fn a_move_within_some_metres_ends_there() {
    for within_m in [0.0, 2.0, 5.0] {
        let mut flats = Flats::open(30);
        let warden = flats.put("warden", KEEPERS, 4.0, 15.0);
        flats.order(&[warden], finish(20.0, 15.0, None, within_m));
        flats.run(15.0);
        assert_eq!(flats.outcomes(warden), [(1, Outcome::Done)]);
        let off_m = flats.at(warden).distance(Vec2::new(20.0, 15.0));
        assert!(
            (off_m - within_m).abs() < 0.15,
            "{off_m} m for {within_m} m"
        );
    }
}

#[test]
fn a_follower_keeps_the_gap_that_its_order_says() {
    for gap_m in [0.5, 3.0, 6.0] {
        let mut flats = Flats::open(40);
        let leader = flats.put("raker", KEEPERS, 10.0, 20.0);
        let warden = flats.put("warden", KEEPERS, 3.0, 20.0);
        flats.order(&[leader], finish(30.0, 20.0, None, 0.0));
        flats.order(
            &[warden],
            Action::Follow {
                target: leader,
                gap_m,
            },
        );
        flats.run(30.0);
        let kept_m = flats.gap(warden, leader);
        assert!(
            (gap_m - 0.1..gap_m + 1.1).contains(&kept_m),
            "{kept_m} m for {gap_m} m"
        );
    }
}

#[test]
fn the_ground_is_struck_until_told_otherwise() {
    let mut flats = Flats::open(40);
    let slinger = flats.put("slinger", KEEPERS, 5.0, 20.0);
    let at = Vec2::new(20.0, 20.0);
    flats.order(&[slinger], Action::AttackGround { at });
    flats.run(12.0);
    let gap_m = flats.at(slinger).distance(at) - 0.4;
    assert!((5.0..6.0).contains(&gap_m), "{gap_m}");
    assert!(flats.outcomes(slinger).is_empty());
    // Nobody stands there yet; then somebody does.
    let hulk = flats.put("hulk", TIDE, 20.0, 20.0);
    flats.run(5.0);
    assert!(flats.health(hulk) < 120.0);
    flats.order(&[slinger], Action::Stop);
    flats.run(0.1);
    assert_eq!(flats.outcomes(slinger).len(), 2);
    let raker = flats.put("raker", KEEPERS, 5.0, 5.0);
    flats.order(&[raker], Action::AttackGround { at });
    flats.run(0.1);
    let refused = flats.events.iter().any(|event| {
        matches!(
            event,
            Event::Refused {
                why: Refusal::CannotStrike,
                ..
            }
        )
    });
    assert!(refused);
}

#[test]
fn projectiles_come_down_at_the_point() {
    let flight = Flight {
        speed: 10.0,
        reach_m: 12.0,
    };
    let sling = Weapon {
        range_m: 8.0,
        damage: 5.0,
        cooldown_s: 1.0,
        flight: Some(flight),
        ..Weapon::PLAIN
    };
    let row = ".".repeat(30);
    let ground =
        Ground::from_rows(1.0, &[row.as_str(); 20], &[('.', Terrain::open("sand"))]).unwrap();
    let mut world = World::new(WorldSetup {
        sides: vec![Side::new("keepers"), Side::new("tide")],
        kinds: vec![
            Kind::walker("thrower", 0.4, 2.0).armed(sling),
            Kind::walker("hulk", 0.9, 1.0),
        ],
        ..WorldSetup::on(ground)
    })
    .unwrap();
    let put = |world: &mut World, kind: u16, side: u8, x: f32| {
        world.put_in(KindId(kind), SideId(side), Vec2::new(x, 10.0))
    };
    let thrower = put(&mut world, 0, 0, 4.0);
    let (before, behind) = (put(&mut world, 1, 1, 11.0), put(&mut world, 1, 1, 14.0));
    let at = Vec2::new(11.9, 10.0);
    world.order(SideId(0), thrower, Action::AttackGround { at });
    let mut fired = 0;
    for _ in 0..100 {
        let events = world.step().iter();
        fired += events
            .filter(|event| matches!(event, Event::FiredAtGround { .. }))
            .count();
    }
    assert!(fired >= 3, "{fired}");
    assert!(world.unit(before).unwrap().health() < world.unit(behind).unwrap().health());
}

#[test]
fn numbers_that_make_no_sense_are_refused() {
    let mut flats = Flats::open(20);
    let warden = flats.put("warden", KEEPERS, 4.0, 4.0);
    let raker = flats.put("raker", KEEPERS, 8.0, 8.0);
    let wrong = [
        finish(9.0, 9.0, Some(f32::NAN), 0.0),
        finish(9.0, 9.0, None, -1.0),
        finish(9.0, 9.0, None, f32::INFINITY),
        Action::Follow {
            target: raker,
            gap_m: f32::NAN,
        },
        Action::AttackGround { at: Vec2::NAN },
    ];
    for action in wrong {
        flats.order(&[warden], action);
    }
    let events = flats.run(0.1);
    let refused = events
        .iter()
        .filter(|event| matches!(event, Event::Refused { .. }));
    assert_eq!(refused.count(), 5);
}
