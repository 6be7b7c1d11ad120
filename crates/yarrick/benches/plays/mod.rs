//! Worlds for the benchmark of stalls, and the orders that are given in them.

use yarrick::ground::{Cell, Patch};
use yarrick::{
    Action, Change, Command, Ground, Kind, Side, SideId, Terrain, UnitId, Vec2, When, World,
    WorldSetup,
};

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
pub(crate) fn river(side: u32) -> World {
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

/// Some units in corridors 7 cells wide, one above the other and joined at alternating ends: in the first, or all over the map.
pub(crate) fn winding(side: u32, (count, all_over): (u32, bool)) -> World {
    let is_closed = |x: u32, y: u32| {
        let opening = if (y / 8).is_multiple_of(2) {
            x + 6 >= side
        } else {
            x < 6
        };
        y % 8 == 7 && !opening
    };
    let classes = (0..side * side).map(|k| u8::from(is_closed(k % side, k / side)));
    let terrains = vec![Terrain::open("sand"), Terrain::closed("dyke")];
    let ground = Ground::new(side, side, 1.0, terrains, classes.collect::<Vec<u8>>()).unwrap();
    let mut world = world_on(ground);
    let kind = world.kind("warden").unwrap();
    for k in 0..count {
        let at = if all_over {
            Vec2::new((k * 37 % side) as f32, (k * 13 % (side / 8) * 8 + 1) as f32)
        } else {
            Vec2::new((k % 6) as f32, (k / 6 % 5) as f32) * 0.9 + 1.0
        };
        world.spawn(kind, SideId(0), at + 0.5, 0.0).unwrap();
    }
    world
}

/// Sends all units through the corridors to the end of the last one.
pub(crate) fn send_winding(world: &mut World, side: u32) {
    let units = world.units().map(|unit| unit.id()).collect();
    order(world, units, Vec2::splat(side as f32 - 3.5));
}

/// Some units in a closed place, of 3 by 3 cells for one unit, in a corner of an open map.
pub(crate) fn courtyard(side: u32, count: u32) -> World {
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
pub(crate) fn send(world: &mut World, side: u32, together: bool) {
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

pub(crate) fn order(world: &mut World, units: Vec<UnitId>, to: Vec2) {
    let command = Command {
        side: SideId(0),
        units,
        action: Action::move_to(to),
        when: When::Now,
    };
    world.submit(command).unwrap();
}

/// A mostly open map: a block of 12 by 12 cells stands in every square of 64.
fn blocks(side: u32) -> Ground {
    let mut ground = sand(side);
    let blocks = (0..side / 64).flat_map(|x| (0..side / 64).map(move |y| (x * 64, y * 64)));
    let cells = blocks.flat_map(|(x, y)| {
        let (x, y) = (x as i32 + 26, y as i32 + 26);
        Patch::between(Cell::new(x, y), Cell::new(x + 11, y + 11)).cells()
    });
    ground.block(cells);
    ground
}

/// Groups along one side of a mostly open map.
pub(crate) fn groups(side: u32, (count, members): (u32, u32)) -> World {
    let mut world = world_on(blocks(side));
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
pub(crate) fn send_groups(world: &mut World, side: u32, members: u32) {
    let units: Vec<_> = world.units().map(|unit| unit.id()).collect();
    let count = units.len() as u32 / members;
    for (k, group) in (0..).zip(units.chunks(members as usize)) {
        let y = ((k * 7 + 3) % count * side / count) as f32 + 5.5;
        order(world, group.to_vec(), Vec2::new(side as f32 - 8.5, y));
    }
}

/// Groups of 100 spread over a mostly open map of 2048 by 2048 cells, up to 1024 of them.
pub(crate) fn throng(count: u32) -> World {
    let mut world = world_on(blocks(THRONG_SIDE));
    let kind = world.kind("warden").unwrap();
    for group in 0..count {
        let corner = square(group * 1024 / count);
        for member in 0..100 {
            let at = corner + Vec2::new((member % 10) as f32, (member / 10) as f32) * 1.2;
            world.spawn(kind, SideId(0), at, 0.0).unwrap();
        }
    }
    world
}

const THRONG_SIDE: u32 = 2048;

/// A corner of the open ground in one of the 1024 squares of that map.
fn square(number: u32) -> Vec2 {
    Vec2::new((number % 32) as f32, (number / 32) as f32) * 64.0 + 5.5
}

/// Sends each group to the square opposite, by the middle of the map; together, or each unit to a point of its own there.
pub(crate) fn send_throng(world: &mut World, together: bool) {
    let units: Vec<_> = world.units().map(|unit| unit.id()).collect();
    let count = units.len() as u32 / 100;
    for (k, group) in (0..).zip(units.chunks(100)) {
        let to = square(1023 - k * 1024 / count);
        if together {
            order(world, group.to_vec(), to + 6.0);
            continue;
        }
        for (member, unit) in group.iter().enumerate() {
            let at = Vec2::new((member % 10) as f32, (member / 10) as f32) * 1.9;
            order(world, vec![*unit], to + at);
        }
    }
}

/// Sends each of 1,000 units to a closed place of its own: the blocks of that map.
pub(crate) fn send_into_blocks(world: &mut World) {
    let units: Vec<_> = world.units().map(|unit| unit.id()).collect();
    for (k, unit) in (0..).zip(units) {
        order(world, vec![unit], square(k) + 26.0);
    }
}

/// Units that have been sent to the far corner, each to a point of its own, and walk.
pub(crate) fn on_the_way(side: u32) -> World {
    let mut world = world_on(sand(side));
    let kind = world.kind("warden").unwrap();
    for k in 0..30 {
        let at = Vec2::new(11.5 + (k % 6) as f32, 11.5 + (k / 6) as f32);
        world.spawn(kind, SideId(0), at, 0.0).unwrap();
    }
    send(&mut world, side, false);
    world
}

/// Closes the ring of cells round these.
pub(crate) fn close_in(world: &mut World) {
    let inner = Patch::between(Cell::new(9, 9), Cell::new(22, 22));
    let ring = inner.grown(1).cells().filter(|cell| !inner.contains(*cell));
    let cells = ring.collect();
    world.change(Change::Block { cells }).unwrap();
}

/// Groups of 50 on a mostly open map of 1024 by 1024 cells, up to 80 of them.
pub(crate) fn soaked(count: u32) -> World {
    let mut world = world_on(blocks(1024));
    let kind = world.kind("warden").unwrap();
    for k in 0..count {
        let (group, member) = (k / 50, k % 50);
        let corner = Vec2::new((group / 8) as f32, (group % 8) as f32) * 128.0;
        let at = corner + Vec2::new((member % 8) as f32, (member / 8) as f32);
        world.spawn(kind, SideId(0), at + 5.5, 0.0).unwrap();
    }
    world
}

/// What happens in a tick of the soak, by its number: orders, buildings that are put up and torn down, deaths and births.
pub(crate) fn soak(world: &mut World, tick: u32) {
    // Some mixing, the same on all machines.
    let roll = |what: u32| {
        let mixed = (tick ^ what.wrapping_mul(0x9E37_79B9)).wrapping_mul(0x85EB_CA6B);
        (mixed ^ mixed >> 13).wrapping_mul(0xC2B2_AE35) >> 8 & 0xF_FFFF
    };
    let point =
        |what: u32| Vec2::new((roll(what) % 1000) as f32, (roll(what + 1) % 1000) as f32) + 12.0;
    let units: Vec<UnitId> = world.units().map(|unit| unit.id()).collect();
    if tick % 20 == 1 {
        let first = roll(2) as usize % units.len();
        let count = [1, 10, 50][roll(3) as usize % 3];
        let some: Vec<UnitId> = units.iter().copied().skip(first).take(count).collect();
        order(world, some, point(4));
    }
    // A building stands for a while at one of 64 places.
    let corner = |number: u32| {
        let mixed = number.wrapping_mul(0x9E37_79B9) >> 8;
        Cell::new((mixed % 1000) as i32 + 4, (mixed / 1000 % 1000) as i32 + 4)
    };
    let site = |number: u32| {
        let low = corner(number % 64);
        Patch::between(low, Cell::new(low.x + 5, low.y + 3))
            .cells()
            .collect()
    };
    match tick % 30 {
        10 => drop(world.change(Change::Block {
            cells: site(tick / 30),
        })),
        25 if tick > 300 => drop(world.change(Change::Unblock {
            cells: site(tick / 30 - 10),
        })),
        _ => {}
    }
    if tick % 100 == 50 {
        let unit = units[roll(6) as usize % units.len()];
        world.change(Change::Remove { unit }).unwrap();
        let kind = world.kind("warden").unwrap();
        let at = point(7);
        world
            .change(Change::Spawn {
                kind,
                side: SideId(0),
                at,
                facing: 0.0,
            })
            .unwrap();
    }
}
