//! A group in formation: chosen and drawn up with the pointer, through a gate too narrow for it, and on again; then the
//! same group as a heap, for comparison.
//!
//! `cargo run --example marching`

use yarrick::combat::Weapon;
use yarrick::motion::formation::{Form, Formation};
use yarrick::select::{Button, Camera, FlatView, GestureSettings, PointerAction, PointerInput};
use yarrick::world::HandOutput;
use yarrick::{Event, Ground, Hand, Kind, Side, Terrain, Vec2, World, WorldSetup};

const PX_PER_M: f32 = 20.0;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let mut world = world()?;
    let keepers = world.side("keepers").ok_or("no keepers")?;
    let camera = Camera::Flat(FlatView {
        corner: Vec2::new(0.0, 24.0),
        px_per_m: PX_PER_M,
        size_px: Vec2::new(50.0, 24.0) * PX_PER_M,
    });
    let mut hand = Hand::new(keepers, camera, GestureSettings::default());
    hand.select(world.units().map(|unit| unit.id()));

    // The player has chosen the line, and drags with the secondary button: there, looking up the bank.
    hand.choose_formation(Some(Formation::new(Form::Line)));
    let on_screen = |x: f32, y: f32| Vec2::new(x, 24.0 - y) * PX_PER_M;
    let drag = [
        (
            PointerAction::Press(Button::Secondary),
            on_screen(40.0, 12.0),
        ),
        (PointerAction::Move, on_screen(40.0, 15.0)),
        (
            PointerAction::Release(Button::Secondary),
            on_screen(40.0, 16.0),
        ),
    ];
    for (k, (action, at)) in drag.into_iter().enumerate() {
        let input = PointerInput::new(action, at, 0.1 * k as f64);
        if let Some(HandOutput::Commanded(command)) = hand.pointer(&world, input) {
            println!("ordered: {:?}", command.action);
            world.submit(command)?;
        }
    }

    for second in 1..=60 {
        let mut done = 0;
        for _ in 0..world.ticks_per_second() {
            let ended = |event: &&Event| matches!(event, Event::Ended { .. });
            done += world.step().iter().filter(ended).count();
        }
        if second % 6 == 0 {
            println!("{second:>2} s  {}", described(&world));
        }
        if second == 12 {
            explain_motion(&world)?;
        }
        if done > 0 && world.units().all(|unit| !unit.has_orders()) {
            println!("all stand after {second} s");
            break;
        }
    }
    println!("checksum {:016x}", world.checksum());
    Ok(())
}

/// Prints why the first unit moves as it does: it is in the gate.
fn explain_motion(world: &World) -> Result<(), &'static str> {
    let first = world.units().next().ok_or("nobody left")?;
    let urges = world
        .motion_breakdown(first.id())
        .ok_or("it has just come")?;
    println!(
        "      {} {} wants {:.2} m/s",
        first.kind().name,
        first.id(),
        urges.wanted
    );
    println!(
        "      turns aside by {:.2}, is pushed by {:.2}",
        urges.aside, urges.pushed
    );
    println!(
        "      and held by {:.2}: it goes {:.2}",
        urges.held,
        first.velocity()
    );
    Ok(())
}

/// How wide the group is, and how well it keeps its shape.
fn described(world: &World) -> String {
    let y = || world.units().map(|unit| unit.position().y);
    let width = y().fold(0.0, f32::max) - y().fold(f32::INFINITY, f32::min);
    let Some(march) = world.marches().find(|march| march.guide.is_some()) else {
        return format!("{width:>4.1} m wide, at the end of the march");
    };
    let slots = march.slots.iter().filter_map(|(unit, slot)| {
        let unit = world.unit(*unit)?;
        Some(unit.position().distance(*slot) < unit.radius())
    });
    let (kept, all) = slots.fold((0, 0), |(kept, all), is_kept| {
        (kept + u32::from(is_kept), all + 1)
    });
    format!("{width:>4.1} m wide, {kept} of {all} in their slots")
}

fn world() -> Result<World, Box<dyn std::error::Error>> {
    // A dyke across the flats, with a gate of four metres.
    let row = |y: usize| match y {
        10..14 => ".".repeat(50),
        _ => format!("{}#{}", ".".repeat(24), ".".repeat(25)),
    };
    let rows: Vec<String> = (0..24).map(row).collect();
    let rows: Vec<&str> = rows.iter().map(String::as_str).collect();
    let legend = [
        ('.', Terrain::open("sand")),
        ('#', Terrain::closed("dyke").blocking_sight()),
    ];
    let weapon = |range_m| Weapon {
        range_m,
        damage: 5.0,
        cooldown_s: 1.0,
        ..Weapon::PLAIN
    };
    let mut world = World::new(WorldSetup {
        sides: vec![Side::new("keepers")],
        kinds: vec![
            Kind::walker("warden", 0.45, 2.0).armed(weapon(1.0)),
            Kind::walker("slinger", 0.4, 2.4).armed(weapon(8.0)),
        ],
        ..WorldSetup::on(Ground::from_rows(1.0, &rows, &legend)?)
    })?;
    let keepers = world.side("keepers").ok_or("no keepers")?;
    for k in 0..16 {
        let kind = if k % 2 == 0 { "warden" } else { "slinger" };
        let kind = world.kind(kind).ok_or("no such kind")?;
        let at = Vec2::new(4.0 + 1.2 * (k % 4) as f32, 8.0 + 1.2 * (k / 4) as f32);
        world.spawn(kind, keepers, at, 0.0)?;
    }
    Ok(world)
}
