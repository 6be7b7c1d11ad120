//! Commands and what comes of them: every accepted order ends in exactly one outcome.

use crate::doors::Doors as _;
use yarrick::route::Shortfall;
use yarrick::world::{Doing, Failure, MAX_QUEUED, OrderNo, Refusal};
use yarrick::{
    Action, Command, Event, Ground, Kind, Outcome, Side, SideId, Spot, Terrain, UnitId, Vec2, When,
    World, WorldSetup,
};

const KEEPERS: SideId = SideId(0);
const TIDE: SideId = SideId(1);

/// A flat with a pocket in the east that no way leads to.
fn world() -> World {
    let rows = [
        "....................",
        "..............####..",
        "..............#..#..",
        "..............####..",
        "....................",
        "....................",
    ];
    let legend = [('.', Terrain::open("sand")), ('#', Terrain::closed("dyke"))];
    let ground = Ground::from_rows(1.0, &rows, &legend).unwrap();
    World::new(WorldSetup {
        sides: vec![Side::new("keepers"), Side::new("tide")],
        kinds: vec![
            Kind::walker("raker", 0.4, 2.0),
            Kind::walker("salthouse", 0.4, 0.0),
        ],
        ..WorldSetup::on(ground)
    })
    .unwrap()
}

fn raker(world: &mut World, side: SideId, x: f32, y: f32) -> UnitId {
    let kind = world.kind("raker").unwrap();
    world.put_in(kind, side, Vec2::new(x, y))
}

fn command(units: &[UnitId], action: Action, queued: bool) -> Command {
    let when = if queued { When::Afterwards } else { When::Now };
    Command {
        side: KEEPERS,
        units: units.to_vec(),
        action,
        when,
    }
}

fn to(x: f32, y: f32) -> Action {
    Action::move_to(Vec2::new(x, y))
}

fn refusals(events: &[Event]) -> Vec<Refusal> {
    let refused = events.iter().filter_map(|event| match event {
        Event::Refused { why, .. } => Some(*why),
        _ => None,
    });
    refused.collect()
}

fn endings(events: &[Event]) -> Vec<(OrderNo, Outcome)> {
    let ended = events.iter().filter_map(|event| match event {
        Event::Ended { order, outcome, .. } => Some((*order, *outcome)),
        _ => None,
    });
    ended.collect()
}

/// Steps for so many seconds and gives all that happened.
fn run(world: &mut World, seconds: f32) -> Vec<Event> {
    let ticks = (seconds / world.tick_s()) as u32;
    (0..ticks).flat_map(|_| world.step().to_vec()).collect()
}

#[test]
fn a_new_order_replaces_the_old_one_cleanly() {
    let mut world = world();
    let unit = raker(&mut world, KEEPERS, 1.0, 1.0);
    world
        .submit(command(&[unit], to(12.0, 1.0), false))
        .unwrap();
    run(&mut world, 1.0);
    let before = world.unit(unit).unwrap().position();
    world.submit(command(&[unit], to(1.0, 4.0), false)).unwrap();
    let events = run(&mut world, 10.0);
    assert_eq!(
        endings(&events),
        [
            (OrderNo(1), Outcome::Replaced { by: OrderNo(2) }),
            (OrderNo(2), Outcome::Done)
        ]
    );
    assert!(before.x > 2.0, "it had set out: {before}");
    assert_eq!(world.unit(unit).unwrap().position(), Vec2::new(1.0, 4.0));
}

#[test]
fn queued_orders_are_carried_out_one_after_another_without_a_halt_between() {
    let mut world = world();
    let unit = raker(&mut world, KEEPERS, 1.0, 1.0);
    world.submit(command(&[unit], to(6.0, 1.0), false)).unwrap();
    world.submit(command(&[unit], to(11.0, 1.0), true)).unwrap();
    let mut slowest = f32::INFINITY;
    let mut outcomes = Vec::new();
    for tick in 0..200 {
        outcomes.extend(endings(world.step()));
        let unit = world.unit(unit).unwrap();
        if tick > 1 && unit.position().x < 9.0 {
            slowest = slowest.min(unit.velocity().length());
        }
    }
    let done = [(OrderNo(1), Outcome::Done), (OrderNo(2), Outcome::Done)];
    assert_eq!(outcomes, done);
    assert!(slowest > 1.9, "it slowed to {slowest} m/s on the way");
}

#[test]
fn stop_ends_all_orders_and_the_walk() {
    let mut world = world();
    let unit = raker(&mut world, KEEPERS, 1.0, 1.0);
    world
        .submit(command(&[unit], to(12.0, 1.0), false))
        .unwrap();
    world.submit(command(&[unit], to(12.0, 4.0), true)).unwrap();
    run(&mut world, 1.0);
    world.submit(command(&[unit], Action::Stop, false)).unwrap();
    let events = world.step().to_vec();
    let by = OrderNo(3);
    assert_eq!(
        endings(&events),
        [
            (OrderNo(1), Outcome::Replaced { by }),
            (OrderNo(2), Outcome::Replaced { by }),
            (OrderNo(3), Outcome::Done)
        ]
    );
    let at = world.unit(unit).unwrap().position();
    run(&mut world, 1.0);
    assert_eq!(world.unit(unit).unwrap().position(), at);
    assert_eq!(world.unit(unit).unwrap().doing(), Doing::Standing);
}

#[test]
fn an_interrupted_order_is_gone_on_with_afterwards() {
    let mut world = world();
    let unit = raker(&mut world, KEEPERS, 1.0, 1.0);
    world.submit(command(&[unit], to(9.0, 1.0), false)).unwrap();
    run(&mut world, 1.0);
    let first = Command {
        when: When::First,
        ..command(&[unit], to(3.0, 4.0), false)
    };
    world.submit(first).unwrap();
    let events = run(&mut world, 10.0);
    let done = |number| (OrderNo(number), Outcome::Done);
    assert_eq!(endings(&events), [done(2), done(1)]);
    assert_eq!(world.unit(unit).unwrap().position(), Vec2::new(9.0, 1.0));
}

#[test]
fn one_order_can_be_cancelled_and_the_others_kept() {
    let mut world = world();
    let unit = raker(&mut world, KEEPERS, 1.0, 1.0);
    for (x, queued) in [(6.0, false), (9.0, true), (12.0, true)] {
        world.submit(command(&[unit], to(x, 1.0), queued)).unwrap();
    }
    run(&mut world, 0.5);
    let cancel = |order| {
        command(
            &[unit],
            Action::Cancel {
                order: OrderNo(order),
            },
            false,
        )
    };
    // The one in the middle, then the one being carried out, then one that is gone.
    for order in [2, 1, 1] {
        world.submit(cancel(order)).unwrap();
    }
    let events = run(&mut world, 10.0);
    assert_eq!(
        endings(&events),
        [
            (OrderNo(2), Outcome::Replaced { by: OrderNo(4) }),
            (OrderNo(4), Outcome::Done),
            (OrderNo(1), Outcome::Replaced { by: OrderNo(5) }),
            (OrderNo(5), Outcome::Done),
            (OrderNo(3), Outcome::Done),
        ]
    );
    assert_eq!(refusals(&events), [Refusal::NoSuchOrder]);
    assert_eq!(world.unit(unit).unwrap().position(), Vec2::new(12.0, 1.0));
}

#[test]
fn a_patrol_goes_to_and_fro_until_it_is_cancelled() {
    let mut world = world();
    let units = [1.0, 2.5].map(|y| raker(&mut world, KEEPERS, 1.0, y));
    let to = Vec2::new(7.0, 1.5);
    world
        .submit(command(
            &units,
            Action::Patrol {
                points: vec![to],
                round: false,
            },
            false,
        ))
        .unwrap();
    world
        .submit(command(&units, Action::move_to(Vec2::new(2.0, 0.5)), true))
        .unwrap();
    let mut turns = 0;
    let mut heading = 1.0;
    for _ in 0..800 {
        assert!(endings(world.step()).is_empty(), "it goes on and on");
        let velocity = world.unit(units[0]).unwrap().velocity();
        if velocity.x * heading < -0.5 {
            heading = -heading;
            turns += 1;
        }
    }
    assert!(
        (11..=14).contains(&turns),
        "{turns} turns in 40 s on a leg of 6 m at 2 m/s"
    );
    let order = OrderNo(1);
    world
        .submit(command(&units, Action::Cancel { order }, false))
        .unwrap();
    let ended = endings(&run(&mut world, 15.0));
    let done = (OrderNo(2), Outcome::Done);
    assert_eq!(ended.iter().filter(|ending| **ending == done).count(), 2);
}

#[test]
fn worlds_that_will_go_on_differently_have_different_checksums() {
    let checksum = |action: Action, start: f32, leaver: bool| {
        let mut world = world();
        let unit = raker(&mut world, KEEPERS, start, 1.0);
        let other = raker(&mut world, KEEPERS, 5.0, 4.5);
        if leaver {
            world.remove(other);
        }
        world.step();
        world.submit(command(&[unit], action, false)).unwrap();
        world.step();
        world.checksum()
    };
    let goal = Vec2::new(12.0, 1.0);
    let go = checksum(Action::move_to(goal), 1.0, false);
    let patrol = checksum(
        Action::Patrol {
            points: vec![goal],
            round: false,
        },
        1.0,
        false,
    );
    assert_ne!(go, patrol, "one will come back");
    assert_eq!(go, checksum(Action::move_to(goal), 1.0, false));

    // Standing alike, but about other things.
    let standing = |action: Action| {
        let mut world = world();
        let unit = raker(&mut world, KEEPERS, 5.0, 1.0);
        raker(&mut world, KEEPERS, 6.5, 1.0);
        world.submit(command(&[unit], action, false)).unwrap();
        world.step();
        world.checksum()
    };
    let target = UnitId::from_parts(1, 1);
    let mut all = [
        standing(Action::Stop),
        standing(Action::Hold),
        standing(Action::follow(target)),
        standing(Action::Guard {
            ward: Spot::Unit(target),
        }),
    ];
    all.sort_unstable();
    assert!(all.windows(2).all(|pair| pair[0] != pair[1]), "{all:x?}");

    // The same units in the same places; in one world a slot is free to be used again.
    let lonely = |others: u32| {
        let mut world = world();
        raker(&mut world, KEEPERS, 1.0, 1.0);
        for _ in 0..others {
            let other = raker(&mut world, KEEPERS, 9.0, 4.5);
            world.remove(other);
        }
        for _ in 0..10 {
            world.step();
        }
        world.checksum()
    };
    assert_ne!(lonely(0), lonely(1), "the next unit will have another id");
    assert_ne!(lonely(1), lonely(2));
    assert_ne!(
        checksum(Action::Stop, 1.0, false),
        checksum(Action::Stop, 1.0, true)
    );
}

#[test]
fn a_patrol_to_where_no_way_leads_nearer_fails() {
    let mut world = world();
    let unit = raker(&mut world, KEEPERS, 13.3, 3.5);
    let to = Vec2::new(15.5, 3.5);
    world
        .submit(command(
            &[unit],
            Action::Patrol {
                points: vec![to],
                round: false,
            },
            false,
        ))
        .unwrap();
    let why = Failure::NoWay(Shortfall::CutOff);
    assert_eq!(
        endings(world.step()),
        [(OrderNo(1), Outcome::Failed { why })]
    );
}

#[test]
fn a_walled_off_goal_is_approached_and_then_refused_as_no_nearer() {
    let mut world = world();
    let unit = raker(&mut world, KEEPERS, 1.0, 3.0);
    world
        .submit(command(&[unit], to(15.5, 3.5), false))
        .unwrap();
    let events = run(&mut world, 15.0);
    let [(_, Outcome::CameShort { why, by_m })] = endings(&events)[..] else {
        panic!("{events:?}");
    };
    assert_eq!(why, Shortfall::CutOff);
    assert!((1.3..2.2).contains(&by_m), "{by_m}");
    world
        .submit(command(&[unit], to(15.5, 3.5), false))
        .unwrap();
    let why = Failure::NoWay(Shortfall::CutOff);
    let failed = Outcome::Failed { why };
    assert_eq!(endings(world.step()), [(OrderNo(2), failed)]);
}

#[test]
fn what_cannot_be_obeyed_is_refused_and_changes_nothing() {
    let mut world = world();
    let unit = raker(&mut world, KEEPERS, 1.0, 1.0);
    let foe = raker(&mut world, TIDE, 3.0, 1.0);
    let dead = raker(&mut world, KEEPERS, 5.0, 1.0);
    let kind = world.kind("salthouse").unwrap();
    let house = world
        .spawn(kind, KEEPERS, Vec2::new(8.0, 1.0), 0.0)
        .unwrap();
    world.remove(dead);
    run(&mut world, 0.1);
    world.remove(dead);
    let again = world.step().to_vec();
    let why = Refusal::NoSuchUnit;
    assert!(matches!(again[0], Event::ChangeRefused { why: found, .. } if found == why));
    let mut untouched = world.clone();

    let nowhere = UnitId::from_parts(900, 1);
    let mut foreign = command(&[unit], to(5.0, 5.0), false);
    foreign.side = SideId(7);
    for (wrong, why) in [
        (command(&[dead], to(5.0, 5.0), false), Refusal::NoSuchUnit),
        (
            command(&[nowhere], to(5.0, 5.0), false),
            Refusal::NoSuchUnit,
        ),
        (command(&[foe], to(5.0, 5.0), false), Refusal::NotYours),
        (command(&[house], to(5.0, 5.0), false), Refusal::CannotMove),
        (command(&[], Action::Stop, false), Refusal::NoUnits),
        (
            command(&[unit], to(f32::NAN, 5.0), false),
            Refusal::BadPoint,
        ),
        (
            command(&[unit], to(5.0, f32::INFINITY), true),
            Refusal::BadPoint,
        ),
        (foreign, Refusal::NoSuchSide),
    ] {
        world.submit(wrong).unwrap();
        let events = world.step().to_vec();
        assert_eq!(refusals(&events), [why]);
        assert_eq!(events.len(), 1, "{events:?}");
        untouched.step();
        assert_eq!(world.checksum(), untouched.checksum(), "{why}");
    }
}

#[test]
fn a_stale_id_never_names_the_unit_that_came_after() {
    let mut world = world();
    let old = raker(&mut world, KEEPERS, 1.0, 1.0);
    world.remove(old);
    world.step();
    let new = raker(&mut world, KEEPERS, 1.0, 1.0);
    assert_eq!(old.parts().0, new.parts().0, "the slot is used again");
    assert!(world.unit(old).is_none() && world.unit(new).is_some());
    assert!(world.pose(old, 0.5).is_none());
}

#[test]
fn a_unit_that_leaves_ends_its_orders_as_lost() {
    let mut world = world();
    let unit = raker(&mut world, KEEPERS, 1.0, 1.0);
    let other = raker(&mut world, KEEPERS, 3.0, 3.0);
    world
        .submit(command(&[unit, other], to(12.0, 1.0), false))
        .unwrap();
    world.submit(command(&[unit], to(12.0, 4.0), true)).unwrap();
    run(&mut world, 0.5);
    world.remove(unit);
    let events = world.step().to_vec();
    let lost = Outcome::UnitLost;
    assert_eq!(endings(&events), [(OrderNo(1), lost), (OrderNo(2), lost)]);
    assert!(events.contains(&Event::Gone { unit }));
    assert_eq!(
        endings(&run(&mut world, 10.0)),
        [(OrderNo(1), Outcome::Done)]
    );
}

#[test]
fn a_queue_takes_so_many_orders_and_no_more() {
    let mut world = world();
    let unit = raker(&mut world, KEEPERS, 1.0, 1.0);
    for _ in 0..MAX_QUEUED + 3 {
        world.submit(command(&[unit], to(12.0, 1.0), true)).unwrap();
    }
    assert_eq!(refusals(world.step()), [Refusal::QueueFull; 3]);
    assert_eq!(world.unit(unit).unwrap().orders().len(), MAX_QUEUED);
}

#[test]
fn a_thousand_orders_in_one_tick_leave_the_last_one() {
    let mut world = world();
    let units: Vec<UnitId> = (0..10)
        .map(|k| raker(&mut world, KEEPERS, 1.0 + k as f32, 1.0))
        .collect();
    for k in 0..1000 {
        let x = 1.0 + (k % 18) as f32;
        world.submit(command(&units, to(x, 4.5), false)).unwrap();
    }
    let events = world.step().to_vec();
    assert_eq!(endings(&events).len(), 9990);
    let last = world.units().all(|unit| unit.orders().len() == 1);
    assert!(
        last && world
            .units()
            .all(|unit| unit.current_order().unwrap().number() == OrderNo(1000))
    );
    assert_eq!(endings(&run(&mut world, 30.0)).len(), 10);
}

#[test]
fn the_order_of_sides_does_not_depend_on_whose_command_came_first() {
    let both = |keepers_first: bool| {
        let mut world = world();
        let ours = raker(&mut world, KEEPERS, 1.0, 1.0);
        let theirs = raker(&mut world, TIDE, 3.0, 1.0);
        let go = command(&[ours], to(10.0, 1.0), false);
        let mut come = command(&[theirs], to(10.0, 1.0), false);
        come.side = TIDE;
        let commands = if keepers_first {
            [go, come]
        } else {
            [come, go]
        };
        for command in commands {
            world.submit(command).unwrap();
        }
        run(&mut world, 10.0);
        world.checksum()
    };
    assert_eq!(both(true), both(false));
}
