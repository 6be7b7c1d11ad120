//! Ticks that must not stall: of orders that cannot be carried out, and of many orders at once, against the median tick of
//! the same play.
//!
//! `cargo bench --bench stalls`

#[path = "measure/mod.rs"]
mod measure;

use std::hint::black_box;
use yarrick::ground::{Cell, Patch};
use yarrick::{
    Action, Command, Ground, Kind, Side, SideId, Terrain, Vec2, When, World, WorldSetup,
};

fn main() {
    measure::head("the longest tick", "after an order", "the median tick");
    for side in [512, 1024, 2048] {
        let name = format!("1 in a courtyard, {side}²");
        let world = courtyard(side, 1);
        play(&name, world, 60, |world| send(world, side, true));
    }
    let world = courtyard(512, 30);
    play("30 in a courtyard, 512²", world, 60, |world| {
        send(world, 512, false);
    });
    let world = river(2048);
    play("1 beside a river, 2048²", world, 60, |world| {
        send(world, 2048, true);
    });
    for members in [23, 24] {
        let name = format!("10 groups of {members}, 1024²");
        let world = groups(1024, (10, members));
        play(&name, world, 200, |world| send_groups(world, 1024, members));
    }
}

/// Steps a world by some ticks after an order, and prints the longest against the median; and until when units waited.
fn play(name: &str, mut world: World, ticks: u32, order: impl FnOnce(&mut World)) {
    for _ in 0..10 {
        world.step();
    }
    order(&mut world);
    let (mut times, mut work, mut waits) = (Vec::new(), (0, 0_u64), 0);
    for tick in 1..=ticks {
        times.push(measure::time(|| {
            black_box(world.step());
        }));
        let spent = world.planning_work();
        work = (work.0.max(spent), work.1 + u64::from(spent));
        if world.waiting_for_routes() > 0 {
            waits = tick;
        }
    }
    let longest = times.iter().copied().fold(0.0, f64::max);
    measure::report(name, vec![longest], times);
    let (most, all) = work;
    println!("  {all} cells, {most} in a tick at the most; nobody waits after tick {waits}");
}

fn world_on(ground: Ground) -> World {
    World::new(WorldSetup {
        sides: vec![Side::new("keepers")],
        kinds: vec![Kind::walker("warden", 0.4, 2.0)],
        ..WorldSetup::on(ground)
    })
    .unwrap()
}

fn sand(side: u32) -> Ground {
    let classes = vec![0_u8; (side * side) as usize];
    Ground::new(side, side, 1.0, vec![Terrain::open("sand")], classes).unwrap()
}

/// A unit on a bank of a river that takes up a third of the map, from top to bottom.
fn river(side: u32) -> World {
    let classes =
        (0..side * side).map(|k| u8::from((side / 3..side / 3 * 2).contains(&(k % side))));
    let terrains = vec![Terrain::open("sand"), Terrain::closed("river")];
    let ground = Ground::new(side, side, 1.0, terrains, classes.collect::<Vec<u8>>()).unwrap();
    let mut world = world_on(ground);
    let kind = world.kind("warden").unwrap();
    let at = Vec2::new(20.5, 20.5);
    world.spawn(kind, SideId(0), at, 0.0).unwrap();
    world
}

/// Some units in a closed place, of 3 by 3 cells for one unit, in a corner of an open map.
fn courtyard(side: u32, count: u32) -> World {
    let mut ground = sand(side);
    let wide = if count == 1 { 3 } else { 8 };
    let inner = Patch::between(Cell::new(11, 11), Cell::new(10 + wide, 10 + wide));
    ground.block(inner.grown(1).cells().filter(|cell| !inner.contains(*cell)));
    let mut world = world_on(ground);
    let kind = world.kind("warden").unwrap();
    for k in 0..count {
        let at = Vec2::new(11.5 + (k % 6) as f32, 11.5 + (k / 6) as f32);
        world.spawn(kind, SideId(0), at, 0.0).unwrap();
    }
    world
}

/// Sends all units to the far corner: together, or each to a point of its own there.
fn send(world: &mut World, side: u32, together: bool) {
    let units: Vec<_> = world.units().map(|unit| unit.id()).collect();
    let far = Vec2::splat(side as f32 - 1.5);
    if together {
        return order(world, units, far);
    }
    for (k, unit) in units.into_iter().enumerate() {
        let to = far - Vec2::new((k % 6) as f32, (k / 6) as f32) * 8.0;
        order(world, vec![unit], to);
    }
}

fn order(world: &mut World, units: Vec<yarrick::UnitId>, to: Vec2) {
    let command = Command {
        side: SideId(0),
        units,
        action: Action::move_to(to),
        when: When::Now,
    };
    world.submit(command).unwrap();
}

/// Groups along one side of a mostly open map: a block of 12 by 12 cells stands in every square of 64.
fn groups(side: u32, (count, members): (u32, u32)) -> World {
    let mut ground = sand(side);
    let blocks = (0..side / 64).flat_map(|x| (0..side / 64).map(move |y| (x * 64, y * 64)));
    let cells = blocks.flat_map(|(x, y)| {
        let (x, y) = (x as i32 + 26, y as i32 + 26);
        Patch::between(Cell::new(x, y), Cell::new(x + 11, y + 11)).cells()
    });
    ground.block(cells);
    let mut world = world_on(ground);
    let kind = world.kind("warden").unwrap();
    for k in 0..count * members {
        let (group, member) = (k / members, k % members);
        let y = (group * side / count) as f32 + 4.5 + (member / 5) as f32;
        let at = Vec2::new(4.5 + (member % 5) as f32, y);
        world.spawn(kind, SideId(0), at, 0.0).unwrap();
    }
    world
}

/// Sends each group across the map, to where another would be opposite.
fn send_groups(world: &mut World, side: u32, members: u32) {
    let units: Vec<_> = world.units().map(|unit| unit.id()).collect();
    let count = units.len() as u32 / members;
    for (k, group) in (0..).zip(units.chunks(members as usize)) {
        let y = ((k * 7 + 3) % count * side / count) as f32 + 5.5;
        order(world, group.to_vec(), Vec2::new(side as f32 - 8.5, y));
    }
}
