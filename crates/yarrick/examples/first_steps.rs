//! The whole loop, as a game embeds it: a map, two rakers, a dragged box, a click, frames.
//!
//! `cargo run --example first_steps`

use yarrick::select::{Button, FlatView, GestureSettings, PointerAction, PointerInput};
use yarrick::world::Deed;
use yarrick::{Event, Ground, Hand, Kind, Pacer, Side, Terrain, Vec2, World, WorldSetup};

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let ground = Ground::from_rows(
        1.0, // metres a cell
        &[
            "..........",
            "....~~....",
            "....~~....",
            "....~~....",
            "..........",
        ],
        &[
            ('.', Terrain::open("sand")),
            ('~', Terrain::closed("creek")),
        ],
    )?;
    let mut world = World::new(WorldSetup {
        sides: vec![Side::new("keepers")],
        kinds: vec![Kind::walker("raker", 0.4, 1.5)],
        ..WorldSetup::on(ground)
    })?;
    let keepers = world.side("keepers").ok_or("no such side")?;
    let raker = world.kind("raker").ok_or("no such kind")?;
    world.spawn(raker, keepers, Vec2::new(1.0, 2.0), 0.0)?;
    world.spawn(raker, keepers, Vec2::new(1.0, 3.0), 0.0)?;

    // The player's pointer: a box round both, then a click beyond the creek. Screen pixels.
    let view = FlatView {
        corner: Vec2::new(0.0, 5.0),
        px_per_m: 20.0,
    };
    let mut hand = Hand::new(keepers, view, GestureSettings::default());
    let (primary, secondary) = (Button::Primary, Button::Secondary);
    for (action, x, y, time_s) in [
        (PointerAction::Press(primary), 5.0, 20.0, 0.00),
        (PointerAction::Move, 40.0, 80.0, 0.10),
        (PointerAction::Release(primary), 40.0, 80.0, 0.20),
        (PointerAction::Press(secondary), 170.0, 50.0, 0.50),
        (PointerAction::Release(secondary), 170.0, 50.0, 0.55),
    ] {
        let input = PointerInput::new(action, Vec2::new(x, y), time_s);
        if let Some(Deed::Commanded(command)) = hand.pointer(&world, input) {
            world.submit(command)?;
        }
    }

    // Frames of 1/60 s. The pacer says how many ticks each of them takes.
    let mut pacer = Pacer::new(world.tick_s(), 5);
    for frame in 0..600 {
        let paced = pacer.frame(1.0 / 60.0);
        for _ in 0..paced.ticks {
            for event in world.step() {
                if let Event::Ended { unit, outcome, .. } = event {
                    println!("unit {unit}: {outcome}");
                }
            }
        }
        if frame % 60 == 0 {
            // A game draws every unit here, where it is between two ticks.
            let poses = hand
                .selection()
                .ids()
                .iter()
                .filter_map(|id| world.pose(*id, paced.fraction));
            let places: Vec<_> = poses
                .map(|p| format!("({:.1}, {:.1})", p.position.x, p.position.y))
                .collect();
            println!("{:4.1} s  {}", world.time_s(), places.join("  "));
        }
    }
    println!("checksum {:016x}", world.checksum());
    Ok(())
}
