//! Walls across a large map: what is worked out anew of it takes several ticks, none of which exceeds its budget.

use crate::throngs::blocks;
use yarrick::combat::{Preference, Weapon};
use yarrick::ground::{Cell, Patch};
use yarrick::waves::{AssaultPlan, Batch, Wave};
use yarrick::world::{AssaultSetup, Change, Doing, Entry, GoalArea};
use yarrick::{Action, Command, Kind, Side, SideId, UnitId, Vec2, When, World, WorldSetup};

const BUDGET: u32 = 60_000;
const SIDE: u32 = 512;

/// Thirty units in the west, and an assault for which a tower knows what is left from everywhere.
fn world() -> World {
    let sling = Weapon {
        prefers: Preference::FarthestAlong,
        ..Weapon::PLAIN
    };
    let batch = |kind, delay| Batch {
        kind,
        count: 4,
        delay,
        spacing: 20,
        entry: 0,
        goal: 0,
    };
    let at = Vec2::new(12.0, 300.0);
    let mut world = World::new(WorldSetup {
        sides: vec![Side::new("keepers"), Side::new("tide")],
        kinds: vec![
            Kind::walker("warden", 0.4, 3.0),
            Kind::walker("hulk", 0.9, 1.0).with_health(60.0),
            Kind::building("sling tower", Vec2::splat(2.0)).armed(sling),
        ],
        assault: Some(AssaultSetup {
            side: SideId(1),
            plan: AssaultPlan {
                first_after: 5,
                lull: 40,
                waves: vec![Wave {
                    batches: vec![batch(0, 0), batch(1, 10)],
                }],
            },
            entries: vec![Entry {
                name: "creek".to_owned(),
                at,
                spread_m: 6.0,
                facing: 0.0,
            }],
            goals: vec![GoalArea {
                name: "pans".to_owned(),
                at: Vec2::new(500.0, 250.0),
                radius_m: 2.0,
            }],
            leak_cost: None,
        }),
        plan_budget: BUDGET,
        ..WorldSetup::on(blocks(SIDE))
    })
    .unwrap();
    let (warden, tower) = (world.kind("warden"), world.kind("sling tower"));
    let tower_at = Vec2::new(470.0, 250.0);
    world
        .spawn(tower.unwrap(), SideId(0), tower_at, 0.0)
        .unwrap();
    for k in 0..30 {
        let at = Vec2::new(4.5 + (k % 5) as f32, 10.5 + (k / 5) as f32 * 80.0);
        world.spawn(warden.unwrap(), SideId(0), at, 0.0).unwrap();
    }
    world
}

fn wall(x: i32, rows: core::ops::Range<i32>) -> Vec<Cell> {
    let (low, high) = (Cell::new(x, rows.start), Cell::new(x + 1, rows.end - 1));
    Patch::between(low, high).cells().collect()
}

fn wardens(world: &World) -> Vec<UnitId> {
    let own = world.units().filter(|unit| unit.side_id() == SideId(0));
    own.filter(|unit| unit.block().is_none())
        .map(|unit| unit.id())
        .collect()
}

/// What happens in each of the ticks of a play.
fn stir(world: &mut World, tick: u32) {
    let change = match tick {
        // A wall that leaves a gap, another behind it while the first is still being taken in, and the first comes down.
        30 => Change::Block {
            cells: wall(256, 0..500),
        },
        31 => Change::Block {
            cells: wall(300, 12..512),
        },
        32 | 33 => Change::Block {
            cells: wall(100 + tick as i32, 200..203),
        },
        120 => Change::Unblock {
            cells: wall(256, 0..500),
        },
        _ => return,
    };
    world.change(change).unwrap();
}

fn send(world: &mut World) {
    for unit in wardens(world) {
        let y = world.unit(unit).unwrap().position().y;
        let command = Command {
            side: SideId(0),
            units: vec![unit],
            action: Action::move_to(Vec2::new(500.5, y)),
            when: When::Now,
        };
        world.submit(command).unwrap();
    }
}

#[test]
fn walls_across_a_map_are_taken_in_within_the_budget_of_each_tick() {
    let mut world = world();
    let (mut busy, mut longest) = (0, 0);
    for tick in 0..180 {
        if tick == 10 {
            send(&mut world);
        }
        stir(&mut world, tick);
        world.step();
        let work = world.planning_work();
        assert!(work <= BUDGET, "{work} in tick {tick}");
        busy += u32::from(work > BUDGET / 4);
        let waits = world.waiting_for_routes() > 0;
        longest = if waits { longest + 1 } else { 0 };
        assert!(longest < 40, "somebody waits in tick {tick}");
    }
    // It was more than one tick can do.
    assert!(busy > 5, "{busy}");
    // All know of the gap in the wall that still stands.
    for unit in wardens(&world) {
        let unit = world.unit(unit).unwrap();
        assert_ne!(unit.doing(), Doing::AwaitingRoute);
        let last = unit.way_ahead().last().unwrap();
        assert!((last.x - 500.5).abs() < 3.0, "{last}");
        assert!(unit.way_ahead().iter().any(|point| point.y < 13.0));
    }
}

#[test]
fn a_world_saved_while_walls_are_taken_in_goes_on_in_the_same_way() {
    let mut world = world();
    let mut copies: Vec<World> = Vec::new();
    for tick in 0..140 {
        for world in copies.iter_mut().chain([&mut world]) {
            if tick == 10 {
                send(world);
            }
            stir(world, tick);
            world.step();
        }
        for copy in &copies {
            if copy.checksum() != world.checksum() {
                let difference = copy.first_difference(&world);
                panic!("in tick {tick}: {difference:?}");
            }
        }
        if matches!(tick, 30 | 31 | 34 | 121) {
            let copy = World::load(&world.save()).unwrap();
            assert_eq!(copy.checksum(), world.checksum());
            copies.push(copy);
        }
    }
    assert_eq!(copies.len(), 4);
}
