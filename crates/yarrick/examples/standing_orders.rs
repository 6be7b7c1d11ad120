//! Orders of all sorts: a click that means something else for each unit, its preview for the
//! cursor, an intent, a guard, a hold, a rally point; and what comes of them.
//!
//! `cargo run --example standing_orders`

use std::error::Error;
use yarrick::combat::Weapon;
use yarrick::select::{Button, Camera, FlatView, GestureSettings, PointerAction, PointerInput};
use yarrick::world::{Deed, Rank};
use yarrick::{
    Action, Command, Event, Ground, Hand, Kind, Side, SideId, Spot, Terrain, Vec2, Verb, When,
    World, WorldSetup,
};

const KEEPERS: SideId = SideId(0);
const TIDE: SideId = SideId(1);

fn main() -> Result<(), Box<dyn Error>> {
    let mut world = flats()?;
    let kind = |world: &World, name: &str| world.kind(name).ok_or("no such kind");
    let (warden, raker) = (kind(&world, "warden")?, kind(&world, "raker")?);
    let (yard, nipper) = (kind(&world, "yard")?, kind(&world, "nipper")?);
    let mut put = |kind, side, x, y| world.spawn(kind, side, Vec2::new(x, y), 0.0);
    let wardens = [
        put(warden, KEEPERS, 6.0, 9.0)?,
        put(warden, KEEPERS, 6.0, 11.0)?,
    ];
    let lookout = put(warden, KEEPERS, 20.0, 16.0)?;
    let raker = put(raker, KEEPERS, 4.0, 10.0)?;
    let yard = put(yard, KEEPERS, 3.0, 5.0)?;
    let foe = put(nipper, TIDE, 24.0, 10.0)?;
    put(nipper, TIDE, 26.0, 11.0)?;
    world.step();

    // Half a screen of pixels a metre, north up.
    let camera = Camera::Flat(FlatView {
        corner: Vec2::new(0.0, 20.0),
        px_per_m: 20.0,
        size_px: Vec2::new(640.0, 400.0),
    });
    let mut hand = Hand::new(KEEPERS, camera, GestureSettings::default());
    let on_screen = |at: Vec2| camera.to_screen(at.extend(0.0)).ok_or("behind the eye");

    // What would a click on the foe do? The cursor shows it before anybody clicks.
    hand.select([wardens[0], wardens[1], raker, yard]);
    let foe_at = world.unit(foe).ok_or("it lives")?.position();
    let preview = hand
        .preview(&world, on_screen(foe_at)?)
        .ok_or("nothing there")?;
    println!("a click on the {:?} would make them:", preview.aspect);
    for (verb, units) in &preview.shares {
        println!("  {}: {units:?}", verb.word());
    }

    // The player presses the attack-move key instead, and clicks beyond the foes.
    hand.select([wardens[0], wardens[1], raker]);
    hand.intend(Some(Verb::AttackMove));
    let at = on_screen(Vec2::new(29.0, 10.0))?;
    for (action, time_s) in [
        (PointerAction::Press(Button::Primary), 0.0),
        (PointerAction::Release(Button::Primary), 0.1),
    ] {
        let input = PointerInput::new(action, at, time_s);
        if let Some(Deed::Commanded(command)) = hand.pointer(&world, input) {
            world.submit(command)?;
        }
    }

    // Orders without a pointer: one holds the gap, and whoever comes out of the yard goes there.
    let gap = Spot::Ground(Vec2::new(20.0, 15.0));
    for (unit, action, when) in [
        (lookout, Action::Hold, When::Now),
        (yard, Action::Rally { to: gap }, When::Now),
        (
            raker,
            Action::Follow { target: wardens[0] },
            When::Afterwards,
        ),
    ] {
        let (side, units) = (KEEPERS, vec![unit]);
        world.submit(Command {
            side,
            units,
            action,
            when,
        })?;
    }

    for _ in 0..600 {
        let events = world.step().to_vec();
        for event in events {
            tell(&world, &event);
        }
    }
    println!(
        "the yard sends units to {:?}",
        world.unit(yard).ok_or("it stands")?.rally_points()
    );
    println!("checksum {:016x}", world.checksum());
    Ok(())
}

fn flats() -> Result<World, Box<dyn Error>> {
    let weapon = |range_m, damage, cooldown_s| Weapon {
        range_m,
        damage,
        cooldown_s,
    };
    let row = ".".repeat(32);
    let ground = Ground::from_rows(
        1.0,
        &vec![row.as_str(); 20],
        &[('.', Terrain::open("sand"))],
    )?;
    Ok(World::new(WorldSetup {
        sides: vec![Side::new("keepers"), Side::new("tide")],
        kinds: vec![
            Kind::walker("warden", 0.45, 2.0).armed(weapon(0.6, 6.0, 0.8)),
            Kind {
                rank: Rank::Worker,
                ..Kind::walker("raker", 0.4, 1.6)
            },
            Kind {
                rank: Rank::Building,
                rallies: true,
                ..Kind::walker("yard", 1.2, 0.0)
            },
            Kind {
                health: 20.0,
                ..Kind::walker("nipper", 0.35, 2.4).armed(weapon(0.4, 2.0, 0.6))
            },
        ],
        ..WorldSetup::on(ground)
    })?)
}

/// Tells what a game would show or sound.
fn tell(world: &World, event: &Event) {
    let time_s = world.time_s();
    match event {
        Event::Ordered {
            order,
            units,
            action,
            ..
        } => {
            println!("{time_s:5.2} s  {order} for {units:?}: {action:?}");
        }
        Event::Engaged { unit, foe } => println!("{time_s:5.2} s  {unit} turns on {foe}"),
        Event::Died { unit, by } => println!("{time_s:5.2} s  {unit} is struck down by {by}"),
        Event::Ended {
            unit,
            order,
            outcome,
        } => {
            println!("{time_s:5.2} s  {order} has ended for {unit}: {outcome}");
        }
        _ => {}
    }
}
