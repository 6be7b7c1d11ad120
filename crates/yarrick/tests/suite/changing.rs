//! Worlds whose ground changes: ways that are cut, ways that open, buildings on heads, doors, links,
//! gaits.

use crate::doors::Doors as _;
use crate::flats::{Flats, KEEPERS, move_to};
use proptest::prelude::*;
use yarrick::ground::{Cell, Door, DoorId, Gait, GaitId, Link, Patch};
use yarrick::route::Shortfall;
use yarrick::world::{Doing, Event};
use yarrick::{
    Action, Command, Ground, Kind, Outcome, Side, SideId, Terrain, UnitId, Vec2, When, World,
    WorldSetup,
};

fn patch(x0: i32, y0: i32, x1: i32, y1: i32) -> impl Iterator<Item = Cell> {
    Patch::between(Cell::new(x0, y0), Cell::new(x1, y1)).cells()
}

/// The length of the way that a unit has before it, in metres.
fn way_left(flats: &Flats, unit: UnitId) -> f32 {
    let view = flats.world.unit(unit).unwrap();
    let mut at = view.position();
    let legs = view.way_ahead().iter().map(|point| {
        let leg = at.distance(*point);
        at = *point;
        leg
    });
    legs.sum()
}

#[test]
fn a_wall_that_goes_up_turns_at_once_those_whose_way_it_cuts_and_no_others() {
    let mut flats = Flats::open(30);
    let cut = flats.put("raker", KEEPERS, 2.5, 15.5);
    let other = flats.put("raker", KEEPERS, 2.5, 27.5);
    flats.order(&[cut], move_to(27.5, 15.5));
    flats.order(&[other], move_to(27.5, 27.5));
    flats.run(2.0);
    assert!(
        (way_left(&flats, cut) - 21.8).abs() < 0.5,
        "{}",
        way_left(&flats, cut)
    );
    flats.world.block(patch(12, 8, 13, 22));
    flats.run(0.05);
    assert_eq!(flats.world.unit(cut).unwrap().doing(), Doing::Going);
    assert!(way_left(&flats, cut) > 24.0, "{}", way_left(&flats, cut));
    let straight = flats.world.unit(other).unwrap().way_ahead().to_vec();
    assert_eq!(straight, [Vec2::new(27.5, 27.5)]);
    flats.run(30.0);
    assert_eq!(flats.outcomes(cut)[0].1, Outcome::Done);
}

#[test]
fn a_wall_that_comes_down_is_walked_through_by_those_who_gain() {
    let mut flats = Flats::open(30);
    let gains = flats.put("raker", KEEPERS, 2.5, 15.5);
    let stays = flats.put("raker", KEEPERS, 2.5, 1.5);
    flats.world.block(patch(12, 0, 13, 27));
    flats.order(&[gains], move_to(27.5, 15.5));
    flats.order(&[stays], move_to(2.5, 8.5));
    flats.run(1.0);
    assert!(way_left(&flats, gains) > 29.0);
    flats.world.unblock(patch(12, 14, 13, 16));
    flats.run(0.1);
    assert!(
        way_left(&flats, gains) < 24.5,
        "{}",
        way_left(&flats, gains)
    );
    flats.run(20.0);
    for unit in [gains, stays] {
        assert_eq!(flats.outcomes(unit)[0].1, Outcome::Done);
    }
}

#[test]
fn whoever_is_built_upon_walks_out_and_then_obeys() {
    let mut flats = Flats::open(20);
    let idle = flats.put("raker", KEEPERS, 8.5, 8.5);
    let busy = flats.put("warden", KEEPERS, 9.5, 9.5);
    flats.order(&[busy], move_to(2.5, 2.5));
    flats.run(0.2);
    flats.world.block(patch(6, 6, 11, 11));
    flats.run(0.1);
    flats.order(&[idle], move_to(17.5, 17.5));
    flats.run(20.0);
    for unit in [idle, busy] {
        assert_eq!(flats.outcomes(unit)[0].1, Outcome::Done, "{unit}");
    }
}

#[test]
fn a_unit_with_nowhere_to_go_gets_an_answer_and_nothing_hangs() {
    let mut flats = Flats::open(10);
    let unit = flats.put("raker", KEEPERS, 5.0, 5.0);
    flats.order(&[unit], move_to(8.0, 8.0));
    flats.run(0.5);
    flats.world.block(patch(0, 0, 9, 9));
    flats.run(2.0);
    flats.order(&[unit], move_to(2.0, 2.0));
    flats.run(2.0);
    assert!(matches!(flats.outcomes(unit)[1].1, Outcome::Failed { .. }));
    flats.world.unblock(patch(0, 0, 9, 9));
    flats.order(&[unit], move_to(2.0, 2.0));
    flats.run(10.0);
    assert_eq!(flats.outcomes(unit)[2].1, Outcome::Done);
}

/// A building with a footprint closes the ground under it as long as it stands, and is walked up to and
/// struck from the side from which one comes.
#[test]
fn a_building_is_walked_round_and_approached_from_where_one_comes() {
    let legend = [('.', Terrain::open("sand"))];
    let row = ".".repeat(24);
    let ground = Ground::from_rows(1.0, &[row.as_str(); 24], &legend).unwrap();
    let house = Kind::building("salthouse", Vec2::new(6.0, 4.0));
    let setup = WorldSetup {
        sides: vec![Side::new("keepers")],
        kinds: vec![Kind::walker("raker", 0.4, 2.0), house],
        ..WorldSetup::on(ground)
    };
    let mut world = World::new(setup).unwrap();
    let (raker, keepers) = (world.kind("raker").unwrap(), SideId(0));
    let house = world.kind("salthouse").unwrap();
    let house = world
        .spawn(house, keepers, Vec2::new(12.0, 12.0), 0.0)
        .unwrap();
    assert!(world.ground().is_blocked(Cell::new(9, 10)));
    assert!(!world.ground().is_blocked(Cell::new(8, 10)));
    for (from, side) in [
        (Vec2::new(2.0, 12.0), Vec2::new(-1.0, 0.0)),
        (Vec2::new(22.0, 12.5), Vec2::new(1.0, 0.0)),
        (Vec2::new(12.0, 22.0), Vec2::new(0.0, 1.0)),
    ] {
        let unit = world.put_in(raker, keepers, from);
        let action = Action::approach(house);
        let units = vec![unit];
        world
            .submit(Command {
                side: keepers,
                units,
                action,
                when: When::Now,
            })
            .unwrap();
        for _ in 0..300 {
            world.step();
        }
        let view = world.unit(unit).unwrap();
        assert!(!view.has_orders());
        let (block, at) = (world.unit(house).unwrap().block().unwrap(), view.position());
        assert!(block.distance(at) < 0.4 + 0.31, "{at}");
        assert!(
            (at - block.centre).dot(side) > 1.9,
            "{at} is not on the side that it came from"
        );
    }
    // Through the middle, once it is gone.
    world.remove(house);
    world.step();
    assert!(!world.ground().is_blocked(Cell::new(9, 10)));
}

/// A channel between two shores, with a sluice in it, a ferry over it, and those who walk, swim
/// and fly.
fn channel() -> World {
    let rows = ["......~~......"; 8];
    let legend = [
        ('.', Terrain::open("sand")),
        ('~', Terrain::closed("creek")),
    ];
    let ground = Ground::from_rows(1.0, &rows, &legend).unwrap();
    let ferry = Link {
        name: "ferry".to_owned(),
        from: Vec2::new(5.5, 6.5),
        to: Vec2::new(8.5, 6.5),
        cost_m: 3.0,
        both_ways: false,
        gaits: vec![GaitId(0)],
    };
    let dam = Door {
        name: "sluice".to_owned(),
        patch: Patch::between(Cell::new(9, 0), Cell::new(9, 7)),
        shut: false,
    };
    let swimmer = Gait::new("swimmer").at_speed("creek", 1.5);
    let ground = ground
        .with_gaits(vec![swimmer, Gait::flying("dunlin")])
        .unwrap()
        .with_links(vec![ferry])
        .unwrap()
        .with_doors(vec![dam])
        .unwrap();
    let kind = |name: &str, gait| Kind::walker(name, 0.4, 2.0).with_gait(GaitId(gait));
    let setup = WorldSetup {
        sides: vec![Side::new("keepers")],
        kinds: vec![kind("raker", 0), kind("lurker", 1), kind("dunlin", 2)],
        ..WorldSetup::on(ground)
    };
    World::new(setup).unwrap()
}

fn send(world: &mut World, unit: UnitId, to: Vec2) {
    let command = Command {
        side: SideId(0),
        units: vec![unit],
        action: Action::move_to(to),
        when: When::Now,
    };
    world.submit(command).unwrap();
}

/// Where a unit of a kind gets to that is sent over the channel, and the places it came by.
fn crossing(world: &mut World, kind: &str, from: Vec2, to: Vec2) -> (Vec2, Vec<Vec2>) {
    let kind = world.kind(kind).unwrap();
    let unit = world.put_in(kind, SideId(0), from);
    send(world, unit, to);
    let mut trail = Vec::new();
    for _ in 0..400 {
        world.step();
        trail.push(world.unit(unit).unwrap().position());
    }
    world.remove(unit);
    world.step();
    (trail[trail.len() - 1], trail)
}

#[test]
fn walkers_take_the_ferry_swimmers_the_creek_and_neither_comes_back_alike() {
    let mut world = channel();
    let (west, east) = (Vec2::new(1.5, 1.5), Vec2::new(12.5, 1.5));
    let (end, trail) = crossing(&mut world, "raker", west, east);
    assert_eq!(end, east);
    assert!(
        trail
            .iter()
            .any(|at| (6.0..8.0).contains(&at.x) && (at.y - 6.5).abs() < 0.01)
    );
    let (end, trail) = crossing(&mut world, "lurker", west, east);
    assert_eq!(end, east);
    assert!(
        trail.iter().all(|at| (at.y - 1.5).abs() < 0.01),
        "it swims straight over"
    );
    // The ferry leads one way only.
    let (end, _) = crossing(&mut world, "raker", east, west);
    assert!(end.x > 8.0 && end.x < 8.6, "{end}");
}

#[test]
fn many_take_the_ferry_at_once_and_nobody_is_left_in_the_creek() {
    let mut world = channel();
    let kind = world.kind("raker").unwrap();
    let units: Vec<UnitId> = (0..8)
        .map(|k| {
            let at = Vec2::new(1.5 + (k % 4) as f32, 3.5 + (k / 4) as f32);
            world.spawn(kind, SideId(0), at, 0.0).unwrap()
        })
        .collect();
    let command = |units: &[UnitId], to: Vec2| Command {
        side: SideId(0),
        units: units.to_vec(),
        action: Action::move_to(to),
        when: When::Now,
    };
    world.submit(command(&units, Vec2::new(11.5, 4.5))).unwrap();
    let at = |world: &World, unit: UnitId| world.unit(unit).unwrap().position();
    let is_afloat = |world: &World, unit: UnitId| (6.0..8.0).contains(&at(world, unit).x);
    let mut turned = None;
    for _ in 0..1200 {
        world.step();
        // One is called back half way over, and the ground changes while others are on the ferry.
        let afloat = units.iter().find(|unit| is_afloat(&world, **unit));
        if let (None, Some(&unit)) = (turned, afloat) {
            turned = Some(unit);
            world.submit(command(&[unit], Vec2::new(9.5, 0.5))).unwrap();
            world.block([Cell::new(10, 6), Cell::new(10, 5)]);
        }
    }
    for &unit in &units {
        let end = at(&world, unit);
        assert!(world.ground().disc_is_clear(end, 0.4), "{end}");
        if Some(unit) != turned {
            assert!(
                end.x > 8.0 && end.distance(Vec2::new(11.5, 4.5)) < 3.0,
                "{end}"
            );
        }
    }
    let end = at(&world, turned.unwrap());
    assert!(
        end.x < 8.0 || end.distance(Vec2::new(9.5, 0.5)) < 0.1,
        "{end}"
    );
}

#[test]
fn whoever_is_kept_from_its_place_by_what_has_closed_since_says_so() {
    let mut world = channel();
    let kind = world.kind("lurker").unwrap();
    let at = Vec2::new(1.5, 1.5);
    let unit = world.spawn(kind, SideId(0), at, 0.0).unwrap();
    send(&mut world, unit, Vec2::new(12.5, 1.5));
    let mut outcomes = Vec::new();
    for tick in 0..400 {
        if tick == 20 {
            world.set_door(DoorId(0), true);
        }
        for event in world.step() {
            if let Event::Ended { outcome, .. } = event {
                outcomes.push(*outcome);
            }
        }
    }
    let by_m = Vec2::new(12.5, 1.5).distance(world.unit(unit).unwrap().position());
    let why = Shortfall::CutOff;
    assert_eq!(outcomes, [Outcome::CameShort { why, by_m }]);
    assert!(by_m > 3.0);
}

#[test]
fn a_shut_door_keeps_out_all_that_do_not_fly() {
    let mut world = channel();
    let (west, east) = (Vec2::new(1.5, 1.5), Vec2::new(12.5, 1.5));
    world.set_door(DoorId(0), true);
    world.set_door(DoorId(7), true);
    let answers = world.step().to_vec();
    let refused = |event: &Event| {
        matches!(
            event,
            Event::ChangeRefused {
                why: yarrick::world::Refusal::NoSuchDoor,
                ..
            }
        )
    };
    assert_eq!(answers.iter().filter(|event| refused(event)).count(), 1);
    let (end, _) = crossing(&mut world, "lurker", west, east);
    assert!(end.x < 9.0, "{end}");
    let (end, trail) = crossing(&mut world, "dunlin", west, east);
    assert_eq!(end, east);
    assert!(trail.iter().all(|at| (at.y - 1.5).abs() < 0.01));
    world.set_door(DoorId(0), false);
    let (end, _) = crossing(&mut world, "lurker", west, east);
    assert_eq!(end, east);
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 40, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn however_the_ground_changes_nobody_walks_through_walls_or_stands_for_ever(
        changes in proptest::collection::vec(
            (any::<bool>(), (0_i32..24, 0_i32..24), (0_i32..5, 0_i32..5)), 1..30,
        ),
        goals in proptest::collection::vec((0.5_f32..23.5, 0.5_f32..23.5), 6),
    ) {
        let mut flats = Flats::open(24);
        let units: Vec<UnitId> = (0..6)
            .map(|k| flats.put("raker", KEEPERS, 3.0 + 3.0 * k as f32, 3.0))
            .collect();
        for (unit, (x, y)) in units.iter().zip(goals) {
            flats.order(&[*unit], move_to(x, y));
        }
        let mut trapped = std::collections::BTreeSet::new();
        for (up, (x, y), (w, h)) in changes {
            if up { flats.world.block(patch(x, y, x + w, y + h)) } else { flats.world.unblock(patch(x, y, x + w, y + h)) }
            for _ in 0..6 {
                let before: Vec<_> = flats.world.units().map(|u| (u.id(), u.position())).collect();
                flats.run(0.05);
                for (id, from) in before {
                    // A unit that was free stays free, unless something is built upon it.
                    if flats.world.ground().disc_is_clear(from, 0.4) { trapped.remove(&id) } else { trapped.insert(id) };
                    let at = flats.at(id);
                    let clear = flats.world.ground().line_is_clear(from, at, 0.4);
                    prop_assert!(clear || trapped.contains(&id), "{id} from {from} to {at}");
                }
            }
        }
        flats.world.unblock((0..8).flat_map(|_| patch(0, 0, 23, 23)));
        flats.run(90.0);
        for unit in units {
            prop_assert_eq!(flats.outcomes(unit).len(), 1);
        }
    }
}
