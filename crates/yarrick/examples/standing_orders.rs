//! Orders of all sorts: a click that means something else for each unit, its preview for the
//! cursor, an intent, a guard, a hold, a rally point; and what comes of them.
//!
//! `cargo run --example standing_orders`

use std::error::Error;
use yarrick::combat::Weapon;
use yarrick::select::{Button, Camera, FlatView, GestureSettings, PointerAction, PointerInput};
use yarrick::world::{HandOutput, Rank};
use yarrick::{
    Action, Command, Event, Ground, Hand, Kind, Side, SideId, Spot, Terrain, UnitId, Vec2, Verb,
    When, World, WorldSetup,
};

const KEEPERS: SideId = SideId(0);
const TIDE: SideId = SideId(1);

/// Those who are on the flats at the start.
struct Cast {
    wardens: [UnitId; 2],
    lookout: UnitId,
    raker: UnitId,
    yard: UnitId,
    foe: UnitId,
}

fn main() -> Result<(), Box<dyn Error>> {
    let mut world = flats()?;
    let cast = put_in(&mut world)?;
    world.step();
    let [first, second] = cast.wardens;

    // Twenty pixels a metre, north up.
    let camera = Camera::Flat(FlatView {
        corner: Vec2::new(0.0, 20.0),
        px_per_m: 20.0,
        size_px: Vec2::new(640.0, 400.0),
    });
    let mut hand = Hand::new(KEEPERS, camera, GestureSettings::default());
    let on_screen = |at: Vec2| camera.to_screen(at.extend(0.0)).ok_or("behind the eye");

    // What would a click on the foe do? The cursor shows it before anybody clicks.
    hand.select([first, second, cast.raker, cast.yard]);
    let foe_at = world.unit(cast.foe).ok_or("it lives")?.position();
    print_preview(&hand, &world, on_screen(foe_at)?)?;

    // The player presses the attack-move key instead, and clicks beyond the foes.
    hand.select([first, second, cast.raker]);
    hand.intend(Some(Verb::AttackMove));
    click(&mut hand, &mut world, on_screen(Vec2::new(29.0, 10.0))?)?;

    // Orders without a pointer: one holds the gap, and whoever comes out of the yard goes there.
    let gap = Spot::Ground(Vec2::new(20.0, 15.0));
    for (unit, action, when) in [
        (cast.lookout, Action::Hold, When::Now),
        (cast.yard, Action::Rally { to: gap }, When::Now),
        (cast.raker, Action::follow(first), When::Afterwards),
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
    let yard = world.unit(cast.yard).ok_or("it stands")?;
    println!("the yard sends units to {:?}", yard.rally_points());
    println!("checksum {:016x}", world.checksum());
    Ok(())
}

fn print_preview(hand: &Hand, world: &World, at: Vec2) -> Result<(), &'static str> {
    let preview = hand.preview(world, at).ok_or("nothing there")?;
    println!("a click on the {:?} would make them:", preview.aspect);
    for (verb, units) in &preview.shares {
        println!("  {}: {units:?}", verb.word());
    }
    Ok(())
}

/// A click with the primary button; what comes of it is handed in.
fn click(hand: &mut Hand, world: &mut World, at: Vec2) -> Result<(), Box<dyn Error>> {
    for (action, time_s) in [
        (PointerAction::Press(Button::Primary), 0.0),
        (PointerAction::Release(Button::Primary), 0.1),
    ] {
        let input = PointerInput::new(action, at, time_s);
        if let Some(HandOutput::Commanded(command)) = hand.pointer(world, input) {
            world.submit(command)?;
        }
    }
    Ok(())
}

fn put_in(world: &mut World) -> Result<Cast, Box<dyn Error>> {
    let mut put = |kind: &str, side, x, y| -> Result<UnitId, Box<dyn Error>> {
        let kind = world.kind(kind).ok_or("no such kind")?;
        Ok(world.spawn(kind, side, Vec2::new(x, y), 0.0)?)
    };
    let cast = Cast {
        wardens: [
            put("warden", KEEPERS, 6.0, 9.0)?,
            put("warden", KEEPERS, 6.0, 11.0)?,
        ],
        lookout: put("warden", KEEPERS, 20.0, 16.0)?,
        raker: put("raker", KEEPERS, 4.0, 10.0)?,
        yard: put("yard", KEEPERS, 3.0, 5.0)?,
        foe: put("nipper", TIDE, 24.0, 10.0)?,
    };
    put("nipper", TIDE, 26.0, 11.0)?;
    Ok(cast)
}

fn flats() -> Result<World, Box<dyn Error>> {
    let weapon = |range_m, damage, cooldown_s| Weapon {
        range_m,
        damage,
        cooldown_s,
        ..Weapon::PLAIN
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
            Kind::walker("nipper", 0.35, 2.4)
                .with_health(20.0)
                .armed(weapon(0.4, 2.0, 0.6)),
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
            println!("{time_s:5.2} s  order {order} for {units:?}: {action:?}");
        }
        Event::Engaged { unit, foe } => println!("{time_s:5.2} s  {unit} turns on {foe}"),
        Event::Died { unit, by: Some(by) } => {
            println!("{time_s:5.2} s  {unit} is struck down by {by}");
        }
        Event::Ended {
            unit,
            order,
            outcome,
            ..
        } => {
            println!("{time_s:5.2} s  order {order} has ended for {unit}: {outcome}");
        }
        _ => {}
    }
}
