//! Plays the scenario of the folder in which it is run: the end of the guide's "Your first game".

use std::error::Error;
use yarrick::scenario::Scenario;

fn main() -> Result<(), Box<dyn Error>> {
    let read = |name: &str| std::fs::read_to_string(name).map_err(|error| error.to_string());
    let scenario = Scenario::load("scenario.toml", &read)?;
    let mut play = scenario.play(None)?;
    while !play.is_past(scenario.duration_s) {
        play.step();
        let world = play.world();
        // Here a game would draw. This one prints where everybody is, every 30 s.
        if world.tick().is_multiple_of(600) {
            println!("after {:.0} s:", world.time_s());
            for unit in world.units() {
                let (kind, at) = (&unit.kind().name, unit.position());
                println!("  {kind} at ({:.1}, {:.1})", at.x, at.y);
            }
        }
    }
    match play.world().decision() {
        Some(decision) => println!("the keepers have {}", decision.ending.result),
        None => println!("nothing was decided"),
    }
    Ok(())
}
