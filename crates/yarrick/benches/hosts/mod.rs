//! Two hosts that are sent through each other.

use yarrick::combat::Weapon;
use yarrick::{
    Action, Command, Ground, Kind, Side, SideId, Terrain, Vec2, When, World, WorldSetup,
};

/// How many there are of both together.
pub(crate) const COUNT: usize = 10_000;
/// The radius of each, in metres.
pub(crate) const RADIUS: f32 = 0.4;
/// Its speed, in metres a second.
pub(crate) const SPEED: f32 = 2.0;
/// What it fights with.
pub(crate) const WEAPON: Weapon = Weapon {
    range_m: 2.0,
    damage: 1.0,
    cooldown_s: 1.0,
    ..Weapon::PLAIN
};

/// A world with both, in loose order, each sent to where the other begins.
pub(crate) fn hosts(action: fn(Vec2) -> Action) -> World {
    const ROWS: usize = 250;
    let (width, height) = (200, ROWS * 2 + 4);
    let terrains = vec![Terrain::open("sand")];
    let classes = vec![0_u8; width * height];
    let ground = Ground::new(width as u32, height as u32, 1.0, terrains, classes).unwrap();
    let mut world = World::new(WorldSetup {
        sides: vec![Side::new("keepers"), Side::new("tide")],
        kinds: vec![Kind::walker("warden", RADIUS, SPEED).armed(WEAPON)],
        plan_budget: u32::MAX,
        ..WorldSetup::on(ground)
    })
    .unwrap();
    let kind = world.kind("warden").unwrap();
    for k in 0..COUNT {
        let side = SideId((k % 2) as u8);
        let (column, row) = ((k / 2) % 20, (k / 2) / 20);
        let x = match side.0 {
            0 => 60.0 + column as f32 * 1.5,
            _ => 140.0 - column as f32 * 1.5,
        };
        let at = Vec2::new(x, row as f32 * 2.0 + 2.0);
        let unit = world.spawn(kind, side, at, 0.0).unwrap();
        let to = Vec2::new(200.0 - x, at.y);
        let command = Command {
            side,
            units: vec![unit],
            action: action(to),
            when: When::Now,
        };
        world.submit(command).unwrap();
    }
    world
}
