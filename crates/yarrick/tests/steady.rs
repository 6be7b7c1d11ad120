//! A tick in which nothing is ordered allocates nothing, however many walk, and on more than one thread.

use stats_alloc::{INSTRUMENTED_SYSTEM, Region, StatsAlloc};
use std::alloc::System;
use yarrick::{
    Action, Command, Ground, Kind, Side, SideId, Terrain, Threads, UnitId, Vec2, When, World,
    WorldSetup,
};

#[global_allocator]
static ALLOCATOR: &StatsAlloc<System> = &INSTRUMENTED_SYSTEM;

/// Ticks that are looked at.
const TICKS: usize = 200;

/// A pool queues what comes from outside in blocks of 63 entries, and a tick hands in one.
const PER_BLOCK: usize = 63;

#[test]
fn a_steady_tick_allocates_nothing() {
    assert_eq!(blocks_of_steady_ticks(100, &Threads::new(1)), 0);
    let two = Threads::new(2);
    assert_eq!(two.run(|| blocks_of_steady_ticks(1000, &two)), 0);
    let from_outside = blocks_of_steady_ticks(1000, &two);
    assert!(from_outside <= TICKS.div_ceil(PER_BLOCK), "{from_outside}");
}

/// How many blocks of memory are allocated while some units walk and nothing is ordered.
fn blocks_of_steady_ticks(count: usize, threads: &Threads) -> usize {
    let ground = Ground::from_rows(
        1.0,
        &["................................................................"; 64],
        &[('.', Terrain::open("sand"))],
    );
    let mut world = World::new(WorldSetup {
        sides: vec![Side::new("keepers")],
        kinds: vec![Kind::walker("raker", 0.3, 1.0)],
        ..WorldSetup::on(ground.unwrap())
    })
    .unwrap();
    world.share_threads(threads);
    let raker = world.kind("raker").unwrap();
    let units: Vec<UnitId> = (0..count)
        .map(|k| {
            let at = Vec2::new(1.0 + (k % 32) as f32, 1.0 + (k / 32) as f32);
            world.spawn(raker, SideId(0), at, 0.0).unwrap()
        })
        .collect();
    let command = Command {
        side: SideId(0),
        units,
        action: Action::move_to(Vec2::new(50.0, 50.0)),
        when: When::Now,
    };
    world.submit(command).unwrap();
    // Routes are found, and the workspace grows to its size.
    for _ in 0..60 {
        world.step();
    }
    let region = Region::new(ALLOCATOR);
    for _ in 0..TICKS {
        world.step();
    }
    let stats = region.change();
    assert!(
        world.units().any(|unit| unit.velocity() != Vec2::ZERO),
        "they walk"
    );
    stats.allocations + stats.reallocations
}
