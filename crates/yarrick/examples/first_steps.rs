//! The whole loop, as a game embeds it: a map, two rakers, a dragged box, a click, frames.
//!
//! `cargo run --example first_steps`

use yarrick::select::{Button, Camera, FlatView, GestureSettings, PointerAction, PointerInput};
use yarrick::world::{HandOutput, KindId, SideId};
use yarrick::{Event, Ground, Hand, Kind, Pacer, Side, Terrain, Vec2, World, WorldSetup};

const FLATS: [&str; 5] = [
    "..........",
    "....~~....",
    "....~~....",
    "....~~....",
    "..........",
];

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let legend = [
        ('.', Terrain::open("sand")),
        ('~', Terrain::closed("creek")),
    ];
    let ground = Ground::from_rows(1.0, &FLATS, &legend)?; // cells of one metre
    let mut world = World::new(WorldSetup {
        sides: vec![Side::new("keepers")],
        kinds: vec![Kind::walker("raker", 0.4, 1.5)],
        ..WorldSetup::on(ground)
    })?;
    let (keepers, raker) = (SideId(0), KindId(0));
    world.spawn(raker, keepers, Vec2::new(1.0, 2.0), 0.0)?;
    world.spawn(raker, keepers, Vec2::new(1.0, 3.0), 0.0)?;

    // The player's pointer: a box round both, then a click beyond the creek. Screen pixels.
    let camera = Camera::Flat(FlatView {
        corner: Vec2::new(0.0, 5.0),
        px_per_m: 20.0,
        size_px: Vec2::new(200.0, 100.0),
    });
    let mut hand = Hand::new(keepers, camera, GestureSettings::default());
    let (primary, secondary) = (Button::Primary, Button::Secondary);
    for (action, x, y, time_s) in [
        (PointerAction::Press(primary), 5.0, 20.0, 0.00),
        (PointerAction::Move, 40.0, 80.0, 0.10),
        (PointerAction::Release(primary), 40.0, 80.0, 0.20),
        (PointerAction::Press(secondary), 170.0, 50.0, 0.50),
        (PointerAction::Release(secondary), 170.0, 50.0, 0.55),
    ] {
        let input = PointerInput::new(action, Vec2::new(x, y), time_s);
        if let Some(HandOutput::Commanded(command)) = hand.pointer(&world, input) {
            world.submit(command)?;
        }
    }

    // Frames of 1/60 s. The pacer says how many ticks each of them takes.
    let mut pacer = Pacer::new(world.tick_s(), 5);
    for frame in 0..480 {
        let paced = pacer.frame(1.0 / 60.0);
        for _ in 0..paced.ticks {
            for event in world.step() {
                if let Event::Ended { unit, outcome, .. } = event {
                    println!("unit {unit}: {outcome}");
                }
            }
        }
        for id in hand.selection().ids().iter().filter(|_| frame % 60 == 0) {
            // A game draws the unit here, where it is between two ticks.
            let pose = world.pose(*id, paced.fraction).ok_or("it is gone")?;
            println!("{:.1} s: unit {id} at {:.1}", world.time_s(), pose.position);
        }
    }
    println!("checksum {:016x}", world.checksum());
    Ok(())
}
