//! A tick in which nothing is ordered allocates nothing, however many walk.

use yarrick::{
    Action, Command, Ground, Kind, Side, SideId, Terrain, UnitId, Vec2, When, World, WorldSetup,
};

#[global_allocator]
static ALLOCATOR: dhat::Alloc = dhat::Alloc;

#[test]
fn a_steady_tick_allocates_nothing() {
    let _profiler = dhat::Profiler::builder().testing().build();
    let ground = Ground::from_rows(
        1.0,
        &["................................"; 32],
        &[('.', Terrain::open("sand"))],
    );
    let mut world = World::new(WorldSetup {
        sides: vec![Side::new("keepers")],
        kinds: vec![Kind::walker("raker", 0.3, 1.0)],
        ..WorldSetup::on(ground.unwrap())
    })
    .unwrap();
    let raker = world.kind("raker").unwrap();
    let units: Vec<UnitId> = (0..100)
        .map(|k| {
            let at = Vec2::new(1.0 + (k % 10) as f32, 1.0 + (k / 10) as f32);
            world.spawn(raker, SideId(0), at, 0.0).unwrap()
        })
        .collect();
    let command = Command {
        side: SideId(0),
        units,
        action: Action::Move {
            to: Vec2::new(25.0, 25.0),
        },
        when: When::Now,
    };
    world.submit(command).unwrap();
    // Routes are found, and the workspace grows to its size.
    for _ in 0..40 {
        world.step();
    }
    let before = dhat::HeapStats::get();
    for _ in 0..200 {
        world.step();
    }
    let after = dhat::HeapStats::get();
    assert!(
        world.units().any(|unit| unit.velocity() != Vec2::ZERO),
        "they walk"
    );
    assert_eq!(after.total_blocks - before.total_blocks, 0);
}
