//! Ten minutes with orders, buildings that are put up and torn down, deaths and births: what planning costs in a tick, and
//! how long anybody waits for a way.

use crate::throngs::blocks;
use proptest::prelude::Rng;
use rand_pcg::Pcg64Mcg;
use std::collections::BTreeMap;
use yarrick::ground::{Cell, Patch};
use yarrick::world::{Change, Doing};
use yarrick::{Action, Command, Kind, Side, SideId, UnitId, Vec2, When, World, WorldSetup};

const SIDE: u32 = 1024;
const BUDGET: u32 = 100_000;

/// More than a way costs on this map: a search comes upon 12,000 cells at the most.
const DEAREST: u32 = 20_000;

/// Ticks until the budget is used in full.
const PACED: u32 = 36;

fn world() -> World {
    let ground = blocks(SIDE);
    let mut world = World::new(WorldSetup {
        sides: vec![Side::new("keepers")],
        kinds: vec![Kind::walker("warden", 0.4, 2.0)],
        plan_budget: BUDGET,
        ..WorldSetup::on(ground)
    })
    .unwrap();
    let kind = world.kind("warden").unwrap();
    for k in 0..80 {
        let at = Vec2::new((k % 8) as f32 + 5.5, (k / 8) as f32 * 70.0 + 5.5);
        world.spawn(kind, SideId(0), at, 0.0).unwrap();
    }
    world
}

/// Hands in what happens in a tick. Gives whether the ground changes.
fn stir(world: &mut World, tick: u32, roll: &mut impl FnMut(u32) -> u32) -> bool {
    let units: Vec<UnitId> = world.units().map(|unit| unit.id()).collect();
    let mut point = || Vec2::new(roll(1000) as f32, roll(1000) as f32) + 12.0;
    let (to, born) = (point(), point());
    if tick.is_multiple_of(20) {
        let (first, count) = (roll(units.len() as u32), [1, 10, 40][roll(3) as usize]);
        let some = units.iter().copied().skip(first as usize).take(count);
        let command = Command {
            side: SideId(0),
            units: some.collect(),
            action: Action::move_to(to),
            when: When::Now,
        };
        world.submit(command).unwrap();
    }
    if tick % 100 == 50 {
        let unit = units[roll(units.len() as u32) as usize];
        world.change(Change::Remove { unit }).unwrap();
        let (kind, side) = (world.kind("warden").unwrap(), SideId(0));
        let spawn = Change::Spawn {
            kind,
            side,
            at: born,
            facing: 0.0,
        };
        world.change(spawn).unwrap();
    }
    // Buildings stand at 40 places, each for a while.
    let site = |number: u32| {
        let low = Cell::new(
            (number * 197 % 1000) as i32 + 4,
            (number * 389 % 1000) as i32 + 4,
        );
        Patch::between(low, Cell::new(low.x + 5, low.y + 3))
            .cells()
            .collect()
    };
    let number = tick / 30;
    match tick % 30 {
        10 => world
            .change(Change::Block {
                cells: site(number % 40),
            })
            .unwrap(),
        25 => world
            .change(Change::Unblock {
                cells: site((number + 20) % 40),
            })
            .unwrap(),
        _ => return false,
    };
    true
}

#[test]
fn in_ten_minutes_no_tick_exceeds_its_budget_and_nobody_waits_longer_than_the_bound() {
    let mut world = world();
    let mut stream = Pcg64Mcg::new(7);
    let mut roll = move |below: u32| stream.next_u32() % below;
    // Who waits, until which tick at the latest.
    let mut latest: BTreeMap<UnitId, u32> = BTreeMap::new();
    let (mut planned, mut waited) = (0_u64, 0_u32);
    for tick in 0..12_000_u32 {
        let changes = stir(&mut world, tick, &mut roll);
        world.step();
        assert!(world.planning_work() <= BUDGET, "tick {tick}");
        planned += u64::from(world.planning_work());
        let all = world.waiting_for_routes() as u32;
        let waiting = world
            .units()
            .filter(|unit| unit.doing() == Doing::AwaitingRoute);
        let waiting: Vec<UnitId> = waiting.map(|unit| unit.id()).collect();
        latest.retain(|unit, _| waiting.contains(unit));
        for unit in waiting {
            let most = (all * DEAREST).div_ceil(BUDGET - 2600) + 1 + PACED;
            let until = latest.entry(unit).or_insert(tick + most);
            // A change of the ground restarts the search under way, and units that are cut off go first.
            *until += 2 * u32::from(changes);
            assert!(tick <= *until, "{unit:?} waits in tick {tick}");
            waited += 1;
        }
    }
    assert!(planned > 1_000_000 && waited > 0, "{planned} {waited}");
}
