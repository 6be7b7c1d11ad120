//! Weapons that fire projectiles, turn, and need a clear line.

use crate::doors::Doors as _;
use core::f32::consts::PI;
use proptest::prelude::*;
use yarrick::combat::{Flight, Turret, Weapon};
use yarrick::ground::Ground;
use yarrick::world::{Body, Change, Senses};
use yarrick::{Action, Event, Kind, Side, SideId, Terrain, UnitId, Vec2};
use yarrick::{World, WorldSetup};

const KEEPERS: SideId = SideId(0);
const TIDE: SideId = SideId(1);

const SLING: Weapon = Weapon {
    range_m: 9.0,
    damage: 4.0,
    cooldown_s: 0.5,
    flight: Some(Flight {
        speed: 12.0,
        reach_m: 11.0,
    }),
    ..Weapon::PLAIN
};

/// A world of sand `.`, reed `,` and dykes `#`, with a tower, a slinger and a nipper that are armed as given.
fn flats(rows: &[&str], weapon: Weapon) -> World {
    let legend = [
        ('.', Terrain::open("sand")),
        (',', Terrain::open("reed").blocking_sight()),
        ('#', Terrain::closed("dyke")),
    ];
    let slow = |kind: Kind| Kind {
        body: Body {
            turn_rate: PI,
            ..kind.body
        },
        ..kind
    };
    World::new(WorldSetup {
        sides: vec![Side::new("keepers"), Side::new("tide")],
        kinds: vec![
            Kind::building("tower", Vec2::splat(2.0)).armed(weapon),
            slow(Kind::walker("slinger", 0.4, 2.0)).armed(weapon),
            Kind::walker("nipper", 0.3, 3.0).with_health(20.0),
        ],
        ..WorldSetup::on(Ground::from_rows(1.0, rows, &legend).unwrap())
    })
    .unwrap()
}

fn open(weapon: Weapon) -> World {
    flats(&[&".".repeat(40) as &str; 40], weapon)
}

fn put(world: &mut World, kind: &str, side: SideId, at: (f32, f32), facing: f32) -> UnitId {
    let kind = world.kind(kind).unwrap();
    world.spawn(kind, side, at.into(), facing).unwrap()
}

/// Steps for some seconds, and gives what happened with the time of each.
fn run(world: &mut World, seconds: f32) -> Vec<(f64, Event)> {
    let mut events = Vec::new();
    for _ in 0..(seconds / world.tick_s()).round() as u32 {
        let happened = world.step().to_vec();
        events.extend(happened.into_iter().map(|event| (world.time_s(), event)));
    }
    events
}

fn fired(events: &[(f64, Event)]) -> Vec<f64> {
    let fired = events
        .iter()
        .filter(|(_, event)| matches!(event, Event::Fired { .. }));
    fired.map(|(time_s, _)| *time_s).collect()
}

fn struck(events: &[(f64, Event)]) -> Vec<f64> {
    let struck = events
        .iter()
        .filter(|(_, event)| matches!(event, Event::Struck { .. }));
    struck.map(|(time_s, _)| *time_s).collect()
}

fn spent(events: &[(f64, Event)]) -> usize {
    let is_spent = |(_, event): &&(f64, Event)| matches!(event, Event::Spent { .. });
    events.iter().filter(is_spent).count()
}

#[test]
fn a_tower_turns_its_arms_and_fires_when_they_point_at_the_foe() {
    let turret = Turret {
        turn_rate: PI / 2.0,
        arc: 2.0 * PI,
    };
    let mut world = open(Weapon {
        turret: Some(turret),
        ..SLING
    });
    let tower = put(&mut world, "tower", KEEPERS, (20.0, 20.0), 0.0);
    let nipper = put(&mut world, "nipper", TIDE, (14.0, 20.0), 0.0);
    let events = run(&mut world, 4.0);
    // It stands behind: 180 degrees at 90 a second, less the 10 that may be missing.
    let first = fired(&events)[0];
    assert!((1.85..2.2).contains(&first), "{first}");
    let view = world.unit(tower).unwrap();
    assert!(
        (view.pointing().abs() - PI).abs() < 0.01,
        "{}",
        view.pointing()
    );
    assert_eq!(view.facing(), 0.0, "the building itself does not turn");
    // Every shot hits: 0.5 s apart, after a flight of 4.7 m.
    let hits = struck(&events);
    assert!((hits[0] - first - 0.4).abs() <= 0.05, "{}", hits[0] - first);
    assert!(spent(&events) == 0 && hits.len() >= 3);
    assert!(world.unit(nipper).unwrap().health() < 20.0);
}

#[test]
fn a_tower_with_a_sector_leaves_alone_what_stands_outside_of_it() {
    let turret = Turret {
        turn_rate: 8.0,
        arc: PI / 2.0,
    };
    let mut world = open(Weapon {
        turret: Some(turret),
        ..SLING
    });
    let tower = put(&mut world, "tower", KEEPERS, (20.0, 20.0), 0.0);
    put(&mut world, "nipper", TIDE, (18.0, 16.0), 0.0);
    let seen = put(&mut world, "nipper", TIDE, (25.0, 23.0), 0.0);
    let events = run(&mut world, 2.0);
    let aimed = |(_, event): &(f64, Event)| match event {
        Event::Fired { target, .. } => *target == seen,
        _ => true,
    };
    assert!(events.iter().all(aimed) && fired(&events).len() >= 3);
    assert_eq!(world.unit(tower).unwrap().foe(), Some(seen));
}

#[test]
fn a_unit_turns_to_its_foe_before_it_strikes() {
    let pole = Weapon {
        flight: None,
        ..SLING
    };
    let mut world = open(pole);
    let slinger = put(&mut world, "slinger", KEEPERS, (20.0, 20.0), 0.0);
    let nipper = put(&mut world, "nipper", TIDE, (16.0, 20.0), 0.0);
    world.order(KEEPERS, slinger, Action::Attack { target: nipper });
    let events = run(&mut world, 3.0);
    // 170 degrees at 180 a second.
    let first = struck(&events)[0];
    assert!((0.9..1.1).contains(&first), "{first}");
    // Whose arms point anywhere need not turn.
    let mut world = open(Weapon {
        aim_within: PI,
        ..pole
    });
    let slinger = put(&mut world, "slinger", KEEPERS, (20.0, 20.0), 0.0);
    let nipper = put(&mut world, "nipper", TIDE, (16.0, 20.0), 0.0);
    world.order(KEEPERS, slinger, Action::Attack { target: nipper });
    assert!(struck(&run(&mut world, 3.0))[0] <= 0.1);
}

#[test]
fn a_unit_that_strikes_on_the_way_looks_at_its_foe_and_not_where_it_goes() {
    let mut world = open(SLING);
    let slinger = put(&mut world, "slinger", KEEPERS, (20.0, 20.0), PI);
    let nipper = put(&mut world, "nipper", TIDE, (14.0, 20.0), 0.0);
    for action in [
        Action::move_to(Vec2::new(20.0, 26.0)),
        Action::Fire { target: nipper },
    ] {
        let unit = slinger;
        world.change(Change::Start { unit, action }).unwrap();
    }
    let events = run(&mut world, 2.5);
    assert!(fired(&events).len() >= 4);
    let view = world.unit(slinger).unwrap();
    assert!(view.position().y > 24.0 && view.velocity().y > 1.9);
    let to_foe = Vec2::new(14.0, 20.0) - view.position();
    let off = to_foe.angle_to(Vec2::from_angle(view.facing()));
    assert!(off.abs() < 0.1, "{off} off");
}

#[test]
fn no_shot_goes_through_reed_and_an_attacker_walks_round_to_where_it_sees() {
    let mut rows = vec!["....................".to_owned(); 20];
    for row in rows.iter_mut().take(16) {
        row.replace_range(10..11, ",");
    }
    let rows: Vec<&str> = rows.iter().map(String::as_str).collect();
    let weapon = Weapon {
        clear_line: true,
        ..SLING
    };
    let mut world = flats(&rows, weapon);
    // Rows are given from above: reed all the way but for the lowest 4 m.
    let tower = put(&mut world, "tower", KEEPERS, (6.0, 12.0), 0.0);
    let nipper = put(&mut world, "nipper", TIDE, (13.5, 12.0), 0.0);
    let events = run(&mut world, 3.0);
    assert!(fired(&events).is_empty());
    assert_eq!(world.unit(tower).unwrap().foe(), None);
    let slinger = put_later(&mut world, "slinger", KEEPERS, (7.0, 8.0));
    world.order(KEEPERS, slinger, Action::Attack { target: nipper });
    let events = run(&mut world, 12.0);
    assert!(events.contains(&(events.last().unwrap().0, events.last().unwrap().1.clone())));
    assert!(world.unit(nipper).is_none(), "it was got at");
    assert_eq!(spent(&events), 0);
}

fn put_later(world: &mut World, kind: &str, side: SideId, at: (f32, f32)) -> UnitId {
    let kind = world.kind(kind).unwrap();
    let change = Change::Spawn {
        kind,
        side,
        at: at.into(),
        facing: 0.0,
    };
    world.change(change).unwrap();
    world.step();
    world.units().map(|unit| unit.id()).max().unwrap()
}

#[test]
fn a_low_shot_ends_at_reed_and_a_high_one_does_not() {
    for (clear_line, arrives) in [(true, false), (false, true)] {
        let mut rows = vec!["....................".to_owned(); 12];
        rows[5].replace_range(12..13, ",");
        let rows: Vec<&str> = rows.iter().map(String::as_str).collect();
        let flight = Some(Flight {
            speed: 4.0,
            reach_m: 14.0,
        });
        let mut world = flats(
            &rows,
            Weapon {
                clear_line,
                flight,
                ..SLING
            },
        );
        put(&mut world, "tower", KEEPERS, (6.5, 5.5), 0.0);
        let nipper = put(&mut world, "nipper", TIDE, (14.0, 4.0), 0.0);
        while world.projectiles().len() == 0 {
            world.step();
        }
        // It is put behind the reed, straight in the line of nothing that flies: the next shots are aimed there.
        let to = Vec2::new(14.5, 6.5);
        let unit = nipper;
        let facing = None;
        let change = Change::Teleport { unit, to, facing };
        world.change(change).unwrap();
        let events = run(&mut world, 6.0);
        assert_eq!(!struck(&events).is_empty(), arrives);
    }
}

#[test]
fn the_dead_may_still_kill_and_nobody_aims_at_the_dead() {
    let mut world = open(SLING);
    let slinger = put(&mut world, "slinger", KEEPERS, (20.0, 20.0), 0.0);
    let others = [16.0, 24.0].map(|y| put(&mut world, "slinger", KEEPERS, (22.0, y), 0.0));
    let nipper = put(&mut world, "nipper", TIDE, (27.0, 20.0), 0.0);
    let harm = |unit, damage| Change::Harm {
        unit,
        damage,
        by: None,
    };
    world.change(harm(nipper, 19.0)).unwrap();
    for unit in others {
        // They look on, and cannot reach it in time.
        world.order(KEEPERS, unit, Action::Attack { target: nipper });
    }
    world.order(KEEPERS, slinger, Action::Attack { target: nipper });
    while world.projectiles().len() == 0 {
        world.step();
    }
    let shooter = world.projectiles().next().unwrap().fired_by();
    world.change(harm(shooter, 1e6)).unwrap();
    let died = loop {
        let died = world.step().iter().find_map(|event| match event {
            Event::Died { unit, by } if *unit == nipper => Some(*by),
            _ => None,
        });
        assert!(world.unit(shooter).is_none());
        if let Some(by) = died {
            break by;
        }
    };
    assert_eq!(died, Some(shooter));
    assert!(world.units().all(|unit| unit.foe().is_none()));
}

#[test]
fn looking_for_foes_has_an_interval_of_its_own() {
    let mut times = Vec::new();
    for look_every_s in [0.05, 3.0] {
        let mut world = open(SLING);
        let mut kinds = world.kinds().to_vec();
        kinds[0].senses = Some(Senses {
            look_every_s,
            ..Senses::noticing(12.0)
        });
        world = World::new(WorldSetup {
            sides: world.sides().to_vec(),
            kinds,
            ..WorldSetup::on(world.ground().clone())
        })
        .unwrap();
        put(&mut world, "tower", KEEPERS, (20.0, 20.0), 0.0);
        put(&mut world, "nipper", TIDE, (26.0, 20.0), 0.0);
        let shots = fired(&run(&mut world, 6.0));
        assert!((shots[1] - shots[0] - 0.5).abs() < 0.01, "at its rhythm");
        times.push(shots[0]);
    }
    assert!(times[0] <= 0.1, "{times:?}");
    assert!((2.9..3.1).contains(&times[1]), "{times:?}");
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 100, failure_persistence: None, ..ProptestConfig::default() })]

    /// A foe that stands is hit by every shot, from wherever it is fired and however fast it flies.
    #[test]
    fn no_shot_misses_a_target_that_stands(
        x in 2.0_f32..38.0, y in 2.0_f32..38.0,
        speed in prop_oneof![0.5_f32..4.0, 4.0_f32..60.0, Just(10_000.0_f32)],
        tower in any::<bool>(),
    ) {
        let at = Vec2::new(x, y);
        prop_assume!((2.5..8.0).contains(&at.distance(Vec2::splat(20.0))));
        let flight = Some(Flight { speed, reach_m: 12.0 });
        let mut world = open(Weapon { flight, damage: 0.1, ..SLING });
        let kind = if tower { "tower" } else { "slinger" };
        put(&mut world, kind, KEEPERS, (20.0, 20.0), 0.0);
        put(&mut world, "nipper", TIDE, (x, y), 0.0);
        let events = run(&mut world, 25.0);
        prop_assert_eq!(spent(&events[..]), 0);
        prop_assert!(struck(&events).len() >= 5);
    }

    /// Whatever is fired hits, ends, or is in flight.
    #[test]
    fn projectiles_add_up_in_every_tick(
        units in proptest::collection::vec((0_usize..3, 0_u8..2, 1.5_f32..22.0, 1.5_f32..22.0), 4..16),
        speed in 1.0_f32..40.0, reach_m in 0.0_f32..15.0, clear_line in any::<bool>(),
    ) {
        let row = ["......,,.....#..........", ".....................,.."].map(|row| row);
        let rows: Vec<&str> = (0..24).map(|k| row[k % 2]).collect();
        let flight = Some(Flight { speed, reach_m });
        let mut world = flats(&rows, Weapon { flight, clear_line, cooldown_s: 0.2, ..SLING });
        for (kind, side, x, y) in units {
            let kind = yarrick::world::KindId(kind as u16);
            // Some do not fit.
            let _ = world.spawn(kind, SideId(side), Vec2::new(x, y), 0.0);
        }
        let (mut shot, mut done) = (0, 0);
        for _ in 0..300 {
            for event in world.step() {
                match event {
                    Event::Fired { .. } => shot += 1,
                    Event::Spent { .. } | Event::Struck { projectile: Some(_), .. } => done += 1,
                    _ => {}
                }
            }
            prop_assert_eq!(shot, done + world.projectiles().len());
            for projectile in world.projectiles() {
                prop_assert!(world.ground().bounds().contains(projectile.position(1.0)));
            }
        }
    }
}
