//! A whole game in a program: the day on the saltmarsh from its files, with one tower less than it takes. The player
//! places that tower with the pointer, as soon as there is salt for it.
//!
//! `cargo run --example a_day`

use std::error::Error;
use yarrick::scenario::{Play, PlayEvent, Scenario};
use yarrick::select::{
    Button, Camera, FlatView, GestureSettings, Keys, PointerAction, PointerInput,
};
use yarrick::world::{Change, HandOutput, PlanRules};
use yarrick::{Event, Hand, Vec2, World};

/// A file of the scenario. A game has them in its binary, as here, or reads them from its folder.
macro_rules! file {
    ($name:literal) => {
        (
            $name,
            include_str!(concat!("../../../scenarios/day/", $name)),
        )
    };
}

const FILES: [(&str, &str); 6] = [
    file!("without-tower.toml"),
    file!("ground.toml"),
    file!("roster.toml"),
    file!("keepers.toml"),
    file!("waves.toml"),
    file!("creatures.drill"),
];

fn main() -> Result<(), Box<dyn Error>> {
    let read = |name: &str| {
        let mut files = FILES.iter();
        let file = files.find(|(known, _)| *known == name);
        file.map(|(_, text)| (*text).to_owned())
            .ok_or("no such file".to_owned())
    };
    let scenario = Scenario::load(FILES[0].0, &read)?;
    let mut play = scenario.play(None)?;
    let world = play.world();
    let keepers = world.side("keepers").ok_or("no keepers")?;
    let tower = world.kind("sling tower").ok_or("no tower")?;
    // A screen of 800 by 512 pixels shows the whole map.
    let camera = Camera::Flat(FlatView {
        corner: Vec2::new(0.0, 32.0),
        px_per_m: 16.0,
        size_px: Vec2::new(800.0, 512.0),
    });
    let mut hand = Hand::new(keepers, camera, GestureSettings::default());
    let plain = Keys::default();

    // The player selects Joss with a click, and chooses the tower from a menu.
    play.run_until(3.0, report);
    let joss = where_is(&play, "Joss")?;
    click(&mut hand, &mut play, Button::Primary, joss, plain)?;
    hand.plan_site(tower, PlanRules::default());
    // On the dyke it may not stand, and the verdict says why.
    point(&mut hand, &play, Vec2::new(31.0, 28.0));
    for objection in hand.plan_verdict(play.world()) {
        println!("{:6.2} s  the plan: {objection}", play.world().time_s());
    }
    // Elsewhere it may, as soon as there is salt: the player waits for the picture to say so.
    let site = Vec2::new(25.0, 23.0);
    point(&mut hand, &play, site);
    while !hand.plan_verdict(play.world()).is_empty() && !play.is_past(scenario.duration_s) {
        step(&mut play);
    }
    click(&mut hand, &mut play, Button::Primary, site, plain)?;
    // With shift, a click on a pan sends the builder there afterwards.
    let pan = where_is(&play, "east pan")?;
    let shift = Keys {
        shift: true,
        ..plain
    };
    click(&mut hand, &mut play, Button::Secondary, pan, shift)?;

    while !play.is_past(scenario.duration_s) {
        step(&mut play);
    }
    println!("checksum {:016x}", play.world().checksum());
    Ok(())
}

fn where_is(play: &Play, name: &str) -> Result<Vec2, &'static str> {
    let unit = play.unit_named(name).and_then(|id| play.world().unit(id));
    Ok(unit.ok_or("no unit of this name")?.position())
}

fn step(play: &mut Play) {
    let happened = play.step().to_vec();
    report(play.world(), &happened);
}

/// What the player does at a point of the ground, now.
fn input(play: &Play, hand: &Hand, action: PointerAction, at: Vec2) -> PointerInput {
    let height = play.world().ground().height_at(at);
    let screen = hand.camera().to_screen(at.extend(height));
    PointerInput::new(action, screen.unwrap_or_default(), play.world().time_s())
}

fn point(hand: &mut Hand, play: &Play, at: Vec2) {
    hand.pointer(play.world(), input(play, hand, PointerAction::Move, at));
}

/// A click. What it orders is handed in.
fn click(
    hand: &mut Hand,
    play: &mut Play,
    button: Button,
    at: Vec2,
    keys: Keys,
) -> Result<(), Box<dyn Error>> {
    for action in [PointerAction::Press(button), PointerAction::Release(button)] {
        let input = input(play, hand, action, at);
        let output = hand.pointer(play.world(), PointerInput { keys, ..input });
        if let Some(HandOutput::Commanded(command)) = output {
            play.change(Change::Command(command))?;
        }
    }
    Ok(())
}

/// Prints the story of the day.
fn report(world: &World, happened: &[PlayEvent]) {
    for happening in happened {
        let line = match happening {
            PlayEvent::Event(Event::WaveBegan { wave }) => format!("wave {} begins", wave + 1),
            PlayEvent::Event(Event::WaveOver { wave, tally }) => {
                let (wave, killed, leaked) = (wave + 1, tally.killed, tally.leaked);
                format!("wave {wave} is over: {killed} killed, {leaked} leaked")
            }
            PlayEvent::Event(Event::Built { unit, .. }) => {
                let kind = world.unit(*unit).map(|unit| &unit.kind().name);
                format!("a {} stands", kind.map_or("?", String::as_str))
            }
            PlayEvent::Event(Event::Decided { decision }) => {
                let side = &world.sides()[usize::from(decision.ending.side.0)].name;
                format!("{side} have {}", decision.ending.result)
            }
            _ => continue,
        };
        println!("{:6.2} s  {line}", world.time_s());
    }
}
