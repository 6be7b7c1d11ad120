//! Buildings: the footprint is what closes ground, what is picked, and what ranges are measured to.

use crate::changes::make;
use crate::flats::{Flats, KEEPERS, TIDE, move_to};
use proptest::prelude::*;
use yarrick::combat::Weapon;
use yarrick::geom::{Block, angle};
use yarrick::world::{Change, Footprint, NoRoom, Rank, Refusal};
use yarrick::{Action, Ground, Kind, Side, Terrain, UnitId, Vec2, When, World, WorldSetup};

fn world(kinds: Vec<Kind>, ground: Ground) -> World {
    World::new(WorldSetup {
        sides: vec![Side::new("keepers"), Side::new("tide")],
        kinds,
        ..WorldSetup::on(ground)
    })
    .unwrap()
}

fn open(width: usize, height: usize) -> Ground {
    let rows = vec![".".repeat(width); height];
    let rows: Vec<&str> = rows.iter().map(String::as_str).collect();
    Ground::from_rows(1.0, &rows, &[('.', Terrain::open("sand"))]).unwrap()
}

#[test]
fn a_building_comes_in_only_where_its_whole_footprint_has_room() {
    let mut flats = Flats::of(&[
        "....................",
        "....................",
        "..............####..",
        "....................",
        "....................",
        "....................",
        "....................",
        "....................",
    ]);
    let store = Kind::building("store", Vec2::new(6.0, 4.0));
    flats.world = world(vec![store], flats.world.ground().clone());
    let store = flats.world.kind("store").unwrap();
    let mut spawn = |x, y, facing| {
        let change = Change::Spawn {
            kind: store,
            side: KEEPERS,
            at: Vec2::new(x, y),
            facing,
        };
        make(&mut flats, change)
    };
    // Flush with the rim is on the map; turned there, it is not.
    assert!(spawn(3.0, 2.0, 0.0).is_ok());
    let first = NoRoom::Occupied {
        by: UnitId::from_parts(0, 1),
    };
    let dyke = NoRoom::ClosedGround {
        at: Vec2::new(14.5, 5.5),
    };
    for (x, y, facing, why) in [
        (2.9, 2.0, 0.0, NoRoom::OffTheMap),
        (17.1, 2.0, 0.0, NoRoom::OffTheMap),
        (17.0, 2.0, 0.5, NoRoom::OffTheMap),
        (8.0, 2.0, 0.0, first),
        (8.95, 2.0, 0.0, first),
        (14.0, 4.5, 0.0, dyke),
    ] {
        assert_eq!(spawn(x, y, facing), Err(Refusal::NoRoom(why)));
    }
    assert!(spawn(9.0, 2.0, 0.0).is_ok(), "side by side");
}

#[test]
fn a_refusal_names_the_building_that_is_in_the_way() {
    let mut world = world(
        vec![Kind::building("store", Vec2::splat(4.0))],
        open(20, 20),
    );
    let store = world.kind("store").unwrap();
    world
        .spawn(store, KEEPERS, Vec2::new(5.0, 5.0), 0.0)
        .unwrap();
    let mut refused = |x| {
        let at = Vec2::new(x, 5.0);
        world
            .spawn(store, KEEPERS, at, 0.3)
            .unwrap_err()
            .to_string()
    };
    assert_eq!(
        refused(8.0),
        "there is no room for \"store\" at (8, 5): unit 0v1 stands there"
    );
    assert_eq!(
        refused(19.0),
        "there is no room for \"store\" at (19, 5): that is off the map"
    );
}

/// Without a footprint a building is the square round its radius, whose corners reach farther than the radius.
#[test]
fn a_building_without_a_footprint_is_found_and_struck_at_its_corner() {
    let hut = Kind {
        rank: Rank::Building,
        ..Kind::walker("hut", 4.0, 0.0)
    };
    let sling = Weapon {
        range_m: 1.0,
        damage: 4.0,
        cooldown_s: 1.0,
        ..Weapon::PLAIN
    };
    let slinger = Kind::walker("slinger", 0.3, 2.0).armed(sling);
    let mut world = world(vec![hut, slinger], open(24, 24));
    let (hut, slinger) = (world.kind("hut").unwrap(), world.kind("slinger").unwrap());
    let hut = world.spawn(hut, TIDE, Vec2::splat(10.0), 0.0).unwrap();
    let at = Vec2::splat(14.7);
    let slinger = world.spawn(slinger, KEEPERS, at, 0.0).unwrap();
    let found = world.units_within(Vec2::splat(14.1), 0.2);
    assert_eq!(found.map(|unit| unit.id()).collect::<Vec<_>>(), [hut]);
    world.step();
    let health = |world: &World| world.unit(hut).unwrap().health();
    let whole = health(&world);
    for _ in 0..60 {
        world.step();
    }
    assert_eq!(world.unit(slinger).unwrap().position(), at, "it stands");
    assert!(
        health(&world) < whole,
        "the slinger is in range and strikes"
    );
}

/// The radius of a building that closes ground plays no part: not in its size, and not in who gives way to it.
#[test]
fn a_wide_radius_does_not_keep_units_off_a_long_building() {
    let mut wall = Kind::building("long wall", Vec2::new(10.0, 1.0));
    wall.body.radius_m = 2.0;
    let mut flats = Flats::open(20);
    flats.world = world(vec![wall, Kind::walker("raker", 0.4, 2.0)], open(20, 20));
    let (wall, raker) = (
        flats.world.kind("long wall").unwrap(),
        flats.world.kind("raker").unwrap(),
    );
    flats
        .world
        .spawn(wall, KEEPERS, Vec2::new(10.0, 9.5), 0.0)
        .unwrap();
    let raker = flats
        .world
        .spawn(raker, KEEPERS, Vec2::new(2.0, 10.5), 0.0)
        .unwrap();
    flats.order(&[raker], move_to(18.0, 10.5));
    // Straight along the wall, half a metre from it.
    for _ in 0..200 {
        flats.world.step();
        let at = flats.world.unit(raker).unwrap().position();
        assert!((at.y - 10.5).abs() < 0.01, "it is pushed to {at}");
    }
    assert!(flats.world.unit(raker).unwrap().position().x > 17.9);
}

#[test]
fn a_building_of_which_only_the_radius_is_known_is_a_square() {
    let tower = Kind {
        rank: Rank::Building,
        ..Kind::walker("tower", 1.0, 0.0)
    };
    let mut world = world(vec![tower, Kind::walker("raker", 0.4, 2.0)], open(9, 9));
    let (tower, raker) = (world.kind("tower").unwrap(), world.kind("raker").unwrap());
    let middle = Vec2::new(4.0, 4.0);
    let tower = world.spawn(tower, KEEPERS, middle, 0.0).unwrap();
    let block = world.unit(tower).unwrap().block().unwrap();
    assert_eq!((block.centre, block.half), (middle, Vec2::ONE));
    let corner = Vec2::new(3.5, 3.5);
    assert!(
        world.spawn(raker, KEEPERS, corner, 0.0).is_err(),
        "it is closed"
    );
    assert!(world.can_reach(raker, Vec2::new(1.0, 1.0), corner).is_err());
}

#[test]
fn a_building_turns_about_its_position_and_is_where_its_footprint_is() {
    let footprint = Footprint {
        size_m: Vec2::new(4.0, 2.0),
        offset_m: Vec2::new(3.0, 0.0),
    };
    let mill = Kind {
        footprint: Some(footprint),
        ..Kind::building("mill", footprint.size_m)
    };
    let sling = Weapon {
        range_m: 1.0,
        damage: 1.0,
        cooldown_s: 1.0,
        ..Weapon::PLAIN
    };
    let kinds = vec![mill, Kind::walker("nipper", 0.5, 2.0).armed(sling)];
    let mut world = world(kinds, open(20, 20));
    let mill = world.kind("mill").unwrap();
    let north = std::f32::consts::FRAC_PI_2;
    let mill = world
        .spawn(mill, KEEPERS, Vec2::new(10.0, 6.0), north)
        .unwrap();
    let block = world.unit(mill).unwrap().block().unwrap();
    assert!(block.centre.distance(Vec2::new(10.0, 9.0)) < 1e-5);
    assert_eq!(world.pick(KEEPERS, Vec2::new(10.0, 10.5), 0.0), Some(mill));
    assert_eq!(world.pick(KEEPERS, Vec2::new(10.0, 6.0), 0.0), None);
    // A foe comes up to its edge, not to its position.
    let nipper = world.kind("nipper").unwrap();
    let nipper = world
        .spawn(nipper, TIDE, Vec2::new(10.0, 16.0), 0.0)
        .unwrap();
    let mut flats = Flats::open(4);
    flats.world = world;
    flats.command(TIDE, &[nipper], Action::Attack { target: mill }, When::Now);
    flats.run(6.0);
    let at = flats.world.unit(nipper).unwrap().position();
    assert!((11.0..12.6).contains(&at.y), "it strikes from {at}");
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 60, failure_persistence: None, ..ProptestConfig::default() })]

    /// However thin a wall is and however it is turned: nobody walks through it.
    #[test]
    fn nobody_slips_through_a_thin_wall(
        thick in 0.05..1.5_f32,
        facing in 0.0..3.2_f32,
        x in 9.0..11.0_f32,
        y in 9.0..11.0_f32,
        radius in 0.1..0.4_f32,
    ) {
        let long = 7.0;
        let wall = Kind::building("wall", Vec2::new(long, thick));
        let mut flats = Flats::open(4);
        flats.world = world(vec![wall, Kind::walker("raker", radius, 4.0)], open(20, 20));
        let (wall, raker) = (
            flats.world.kind("wall").unwrap(),
            flats.world.kind("raker").unwrap(),
        );
        let middle = Vec2::new(x, y);
        flats.world.spawn(wall, KEEPERS, middle, facing).unwrap();
        let across = angle::direction(facing).perp() * 4.0;
        let raker = flats.world.spawn(raker, KEEPERS, middle - across, 0.0).unwrap();
        let to = middle + across;
        flats.order(&[raker], move_to(to.x, to.y));
        // The middle line of the wall, a little shorter than it is.
        let line = Block { centre: middle, half: Vec2::new(long * 0.5 - 1.0, 0.0), facing };
        for _ in 0..160 {
            flats.world.step();
            let at = flats.world.unit(raker).unwrap().position();
            prop_assert!(line.distance(at) > radius * 0.5, "it is in the wall at {}", at);
        }
        prop_assert!(flats.world.unit(raker).unwrap().position().distance(to) < 0.2);
    }
}
