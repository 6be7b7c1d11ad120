//! A pointer behind a camera that looks at hilly ground from the south: a box, a double click,
//! and an order, all in screen pixels.
//!
//! `cargo run --example leaning_camera`

use yarrick::geom::{Mat4, Vec3, Vec4};
use yarrick::select::{Button, Camera, GestureSettings, MatrixView, PointerAction, PointerInput};
use yarrick::world::{HandOutput, Rank};
use yarrick::{Ground, Hand, Kind, Side, SideId, Terrain, Vec2, World, WorldSetup};

const SCREEN: Vec2 = Vec2::new(1280.0, 800.0);

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let mut world = hilly_world()?;
    let keepers = SideId(0);
    place_units(&mut world, keepers)?;
    let camera = leaning_camera()?;
    let mut hand = Hand::new(keepers, camera, GestureSettings::default());

    // Where the units are on the screen, as a player sees them.
    let on_screen = |x: f32, y: f32| {
        let at = Vec2::new(x, y);
        camera
            .to_screen(at.extend(world.ground().height_at(at)))
            .ok_or("behind the eye")
    };
    let (low, high) = (on_screen(16.0, 12.0)?, on_screen(24.0, 18.0)?);
    let warden = on_screen(20.0, 14.0)?;
    let goal = on_screen(26.0, 30.0)?;
    let (primary, secondary) = (Button::Primary, Button::Secondary);
    let mut command = None;
    for (action, at, time_s) in [
        (PointerAction::Press(primary), low, 0.0),
        (PointerAction::Release(primary), high, 0.3),
        (PointerAction::Press(primary), warden, 1.0),
        (PointerAction::Release(primary), warden, 1.05),
        (PointerAction::Press(primary), warden, 1.2),
        (PointerAction::Release(primary), warden, 1.25),
        (PointerAction::Press(secondary), goal, 2.0),
        (PointerAction::Release(secondary), goal, 2.1),
    ] {
        match hand.pointer(&world, PointerInput::new(action, at, time_s)) {
            Some(HandOutput::Selected { dragged }) => {
                let by = if dragged.is_some() { "box" } else { "click" };
                println!("{time_s:.2} s, {by}: {:?}", hand.selection().ids());
            }
            Some(HandOutput::Commanded(given)) => command = Some(given),
            Some(HandOutput::NotPlaced(_)) | None => {}
        }
    }
    let command = command.ok_or("nothing was ordered")?;
    println!("ordered: {:?} to {:?}", command.units, command.action);
    world.submit(command)?;
    for _ in 0..400 {
        world.step();
    }
    for unit in world.units() {
        println!(
            "{} {} at {:.1}",
            unit.kind().name,
            unit.id(),
            unit.position()
        );
    }
    println!("checksum {:016x}", world.checksum());
    Ok(())
}

fn place_units(world: &mut World, keepers: SideId) -> Result<(), Box<dyn std::error::Error>> {
    for (kind, x, y) in [
        ("raker", 18.0, 14.0),
        ("warden", 20.0, 14.0),
        ("warden", 22.0, 15.0),
        ("warden", 30.0, 26.0),
    ] {
        let kind = world.kind(kind).ok_or("no such kind")?;
        world.spawn(kind, keepers, Vec2::new(x, y), 0.0)?;
    }
    Ok(())
}

/// A flat of 48 by 48 metres that rises towards the north.
fn hilly_world() -> Result<World, Box<dyn std::error::Error>> {
    let cells = (0..48 * 48).map(|k| (k / 48) as f32);
    let heights: Vec<f32> = cells.map(|row| (row - 16.0).max(0.0) * 0.2).collect();
    let terrains = vec![Terrain::open("sand")];
    let ground = Ground::new(48, 48, 1.0, terrains, vec![0; 48 * 48])?.with_heights(heights)?;
    let raker = Kind {
        rank: Rank::Worker,
        ..Kind::walker("raker", 0.4, 1.5)
    };
    Ok(World::new(WorldSetup {
        sides: vec![Side::new("keepers")],
        kinds: vec![raker, Kind::walker("warden", 0.45, 1.8)],
        ..WorldSetup::on(ground)
    })?)
}

/// An eye 20 m up in the south that looks at the middle of the flat. A game has this matrix
/// already: it draws with it.
fn leaning_camera() -> Result<Camera, Box<dyn std::error::Error>> {
    let (eye, aim) = (Vec3::new(24.0, -8.0, 20.0), Vec3::new(24.0, 20.0, 0.0));
    let forward = (aim - eye).normalize();
    let right = forward.cross(Vec3::Z).normalize();
    let up = right.cross(forward);
    let view = Mat4::from_cols(
        Vec4::new(right.x, up.x, -forward.x, 0.0),
        Vec4::new(right.y, up.y, -forward.y, 0.0),
        Vec4::new(right.z, up.z, -forward.z, 0.0),
        Vec4::new(-right.dot(eye), -up.dot(eye), forward.dot(eye), 1.0),
    );
    let zoom = 1.4;
    let projection = Mat4::from_cols(
        Vec4::new(zoom * SCREEN.y / SCREEN.x, 0.0, 0.0, 0.0),
        Vec4::new(0.0, zoom, 0.0, 0.0),
        Vec4::new(0.0, 0.0, 0.0, -1.0),
        Vec4::new(0.0, 0.0, 0.1, 0.0),
    );
    Ok(Camera::Matrix(MatrixView::new(projection * view, SCREEN)?))
}
